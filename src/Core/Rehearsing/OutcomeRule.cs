namespace Vellumkeep.Core.Rehearsing;

/// <summary>What a rehearsal met, from which its outcome follows.</summary>
/// <param name="Open">What is not known yet.</param>
/// <param name="Obstacles">What stops it.</param>
/// <param name="Wanted">The pairs that are wanted.</param>
/// <param name="Passing">Those that pass whole.</param>
/// <param name="Narrowed">Those of which a part passes.</param>
internal sealed record Met(
    ImmutableArray<SubnetPair> Wanted,
    IReadOnlyCollection<Obstacle> Obstacles,
    IReadOnlyCollection<OpenQuestion> Open,
    IReadOnlyCollection<SubnetPair> Passing,
    IReadOnlyCollection<SubnetPair> Narrowed
);

/// <summary>The outcome of what was met: nothing unknown is ever counted as up.</summary>
internal static class OutcomeRule
{
    internal static Outcome Of(Met met)
    {
        if (met.Obstacles.Any(o => o.Stage == Stage.Start))
            return Outcome.DoesNotStart;
        if (met.Obstacles.Any(o => o.Stage < Stage.Child))
            return Outcome.Down;
        if (met.Open.Any(o => o.Stage < Stage.Child))
            return Outcome.Undetermined;
        if (met.Obstacles.Any(o => o.Stage == Stage.Child) || AllRefused(met))
            return Outcome.IkeOnly;
        if (met.Open.Any(o => o.Stage == Stage.Child || o.Pairs.IsEmpty))
            return Outcome.Undetermined;
        if (!met.Wanted.IsEmpty && met.Passing.Count == met.Wanted.Length)
            return Outcome.Up;
        if (met.Open.Count > 0)
            return Outcome.Undetermined;
        if (met.Passing.Count + met.Narrowed.Count > 0)
            return Outcome.UpWithFewerPairs;
        return met.Obstacles.Any(o => o.Stage == Stage.Traffic) ? Outcome.NothingPasses : Outcome.IkeOnly;
    }

    /// <summary>Whether no wanted pair gets a child SA.</summary>
    private static bool AllRefused(Met met)
    {
        var refused = met
            .Obstacles.Where(o => o.Stage is Stage.Selectors or Stage.FurtherPairs && o.Cause is not SelectorsNarrowed)
            .ToArray();
        return refused.Any(o => o.Pairs.IsEmpty)
            || (!met.Wanted.IsEmpty && met.Wanted.All(p => refused.Any(o => o.Pairs.Contains(p))));
    }
}

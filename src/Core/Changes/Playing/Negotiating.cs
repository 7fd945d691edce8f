using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Changes.Playing;

/// <summary>What a tunnel would negotiate at a moment.</summary>
/// <param name="State">What it would carry.</param>
/// <param name="Passing">The pairs that would pass.</param>
/// <param name="Why">Why it would not carry everything.</param>
internal sealed record Negotiated(Carriage State, ImmutableArray<SubnetPair> Passing, Sentence? Why)
{
    /// <summary>Whether there would be child SAs, also where nothing passes through them.</summary>
    public bool ChildSas { get; init; } = State is Carriage.Up or Carriage.FewerPairs;
}

/// <summary>A rehearsal from both sides, as a moment of a play takes it.</summary>
internal static class Negotiating
{
    /// <summary>What a tunnel would carry if it were negotiated now, whoever initiates.</summary>
    public static Negotiated Of(Tunnel tunnel, Inventory inventory, DateOnly today)
    {
        var about = new Checked(new(inventory, tunnel, today));
        var both = about.Rehearsals.ToArray();
        var up = both.Where(r => r.ComesUp).ToArray();
        if (up.Length > 0)
        {
            ImmutableArray<SubnetPair> passing = [.. up.SelectMany(r => r.Passing.Concat(r.Narrowed)).Distinct()];
            var state =
                up.Any(r => r.Outcome == Outcome.Up) ? Carriage.Up
                : passing.IsEmpty ? Carriage.NoTraffic
                : Carriage.FewerPairs;
            return new(state, passing, state == Carriage.Up ? null : Why(about, up[0]));
        }

        if (both.FirstOrDefault(r => r.Outcome == Outcome.Undetermined) is { } open)
            return new(Carriage.Undetermined, [], Unknown(about, open));
        if (both.FirstOrDefault(r => r.Outcome is Outcome.IkeOnly or Outcome.NothingPasses) is { } only)
            return new(Carriage.NoTraffic, [], Why(about, only)) { ChildSas = only.Outcome == Outcome.NothingPasses };
        var stopped = both.FirstOrDefault(r => r.Outcome != Outcome.DoesNotStart) ?? both[0];
        return new(Carriage.Down, [], Why(about, stopped));
    }

    private static Sentence? Why(Checked about, Rehearsal r) =>
        r.Stop is { } stop ? FindingText.Why(about, r, stop) : null;

    private static Sentence Unknown(Checked about, Rehearsal open) =>
        open.Open.FirstOrDefault() is { } question
            ? FindingText.FindOut(about, question)
            : Sentence.Of($"The records do not tell.");
}

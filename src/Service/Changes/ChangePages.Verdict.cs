using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>What an expert would say of a change as it stands.</summary>
public static partial class ChangePages
{
    /// <summary>What an expert would say of the change as it stands: its plan, and where the work has got to.</summary>
    private static IReadOnlyList<VerdictSentence> Verdict(Change c, Scope scope)
    {
        var parts = new List<VerdictPart>();
        var failed = c
            .Plan.Steps.Select((s, i) => (s, Number: i + 1))
            .Where(s => c.LastAttempt(s.s.Key)?.Outcome == Outcome.Failed)
            .ToArray();
        var deviations = c.Attempts.Where(t => t.Deviation is not null).ToArray();
        switch (c.State)
        {
            case ChangeState.UnderWay:
                parts.Add(
                    new(
                        Tone.Plain,
                        Sentence.Of(
                            $"Under way: {c.Settled} of {c.Plan.Steps.Length} steps settled. "
                                + $"{Progress(c, Where.A)}; {Progress(c, Where.B)}."
                        )
                    )
                );
                foreach (var (step, number) in failed)
                    parts.Add(
                        new(
                            Tone.Stops,
                            Sentence.Of($"Step {number} failed: {c.LastAttempt(step.Key)!.Remark!.TrimEnd('.'):w}.")
                        )
                    );
                break;
            case ChangeState.Done:
                parts.Add(
                    new(
                        Tone.Plain,
                        Sentence.Of(
                            $"Done by {c.StatusHistory[^1].By:w} on "
                                + $"{c.StatusHistory[^1].At.ToString("d MMMM", CultureInfo.InvariantCulture):w}"
                                + $"{(deviations.Length == 0 ? ", as planned" : ""):w}."
                        )
                    )
                );
                break;
            case ChangeState.BackedOut:
                parts.Add(
                    new(
                        Tone.Plain,
                        Sentence.Of(
                            $"Backed out by {c.StatusHistory[^1].By:w}: {c.StatusHistory[^1].Remark!:w}. The "
                                + $"records were not changed."
                        )
                    )
                );
                break;
            case ChangeState.Dropped:
                parts.Add(
                    new(
                        Tone.Plain,
                        Sentence.Of(
                            $"Dropped by {c.StatusHistory[^1].By:w}{(c.StatusHistory[^1].Remark is { } why ? $": {why}" : ""):w}."
                        )
                    )
                );
                break;
            default:
                parts.AddRange(c.Plan.Verdict);
                break;
        }

        if (c.UrgentAsked is { } ask)
            parts.Add(
                new(
                    Tone.Weak,
                    Sentence.Of(
                        $"{ask.By:w} asked {ask.Reviewer:w} to confirm that it begins as urgent: "
                            + $"{ask.Reason.TrimEnd('.'):w}. It begins when {ask.Reviewer:w} confirms it."
                    )
                )
            );
        foreach (var d in deviations)
            parts.Add(
                new(
                    Tone.Weak,
                    Sentence.Of(
                        $"Step {c.Plan.Steps.ToList().FindIndex(s => s.Key == d.StepKey) + 1} was set to "
                            + $"{d.Deviation!.Set}, not {d.Deviation.Planned}: {d.Deviation.Reason:w}."
                    )
                )
            );
        return parts.Show(scope.Sees);
    }

    private static Sentence Progress(Change c, Where where)
    {
        var steps = c
            .Plan.Steps.Where(s => s.Where == where && s.Part is Part.Build or Part.Switch && s.Where == where)
            .ToArray();
        var done = steps.Count(s => c.LastAttempt(s.Key)?.Outcome == Outcome.Done);
        var end = where == Where.A ? EndName.A : EndName.B;
        if (steps.Length == 0)
            return Sentence.Of($"{end}: nothing to enter");
        return done == steps.Length
            ? Sentence.Of($"{end}: all {steps.Length} entered")
            : Sentence.Of($"{end}: {done} of {steps.Length} entered");
    }
}

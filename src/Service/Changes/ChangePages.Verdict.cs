namespace Vellumkeep.Service.Changes;

/// <summary>What an expert would say of a change as it stands.</summary>
public static partial class ChangePages
{
    /// <summary>What an expert would say of the change as it stands: its plan, and where the work has got to.</summary>
    private static IReadOnlyList<VerdictSentence> Verdict(Change c, Scope scope, DateTimeOffset now)
    {
        var parts = new List<VerdictPart>();
        var last = c.LastAttempts.ToArray();
        parts.AddRange(AsItStands(c, last, now));
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
        parts.AddRange(OfWindow(c, now));
        foreach (var d in last.Where(t => t.Deviation is not null))
            parts.Add(
                new(
                    Tone.Weak,
                    Sentence.Of(
                        $"Step {c.Plan.NumberOf(d.StepKey)} was set to {d.Deviation!.Set}, not {d.Deviation.Planned}: "
                            + $"{d.Deviation.Reason.TrimEnd('.'):w}."
                    )
                )
            );
        foreach (var w in last.Where(t => t.WithoutProof is not null))
            parts.Add(
                new(
                    Tone.Weak,
                    Sentence.Of(
                        $"Step {c.Plan.NumberOf(w.StepKey)} is done without proof: {w.WithoutProof!.TrimEnd('.'):w}."
                    )
                )
            );
        return parts.Show(scope.Sees);
    }

    /// <summary>What is said by where it stands.</summary>
    private static IEnumerable<VerdictPart> AsItStands(Change c, Attempt[] last, DateTimeOffset now)
    {
        var (by, remark) = (c.StatusHistory[^1].By, c.StatusHistory[^1].Remark);
        return c.State switch
        {
            ChangeState.UnderWay =>
            [
                Plain(
                    $"Under way: {c.Settled} of {c.Plan.Steps.Length} steps settled. "
                        + $"{Progress(c, Where.A)}; {Progress(c, Where.B)}."
                ),
                .. FailedSteps(c),
            ],
            ChangeState.Done =>
            [
                Plain(
                    $"Done by {by:w} on {Day(c.StatusHistory[^1].At, now):w}"
                        + $"{(c.WorkedAsPlanned ? ", as planned" : ""):w}."
                ),
                .. Left(c, last),
            ],
            ChangeState.BackedOut =>
            [
                Plain($"Backed out by {by:w}: {remark!.TrimEnd('.'):w}. {RecordsAre(c):w}."),
                .. Stays(c),
            ],
            ChangeState.Dropped => [Plain($"Dropped by {by:w}{(remark is { } why ? $": {why}" : ""):w}."), .. Stays(c)],
            _ => c.Plan.Verdict,
        };
    }

    private static VerdictPart Plain(Sentence says) => new(Tone.Plain, says);

    private static IEnumerable<VerdictPart> FailedSteps(Change c) =>
        from step in c.Plan.Steps
        let last = c.LastAttempt(step.Key)
        where last?.Outcome == AttemptOutcome.Failed
        select new VerdictPart(Tone.Stops, $"Step {c.Plan.NumberOf(step.Key)} failed: {last.Remark!.TrimEnd('.'):w}.");

    /// <summary>What was not done as planned: left out, or done only at a later attempt.</summary>
    private static IEnumerable<VerdictPart> Left(Change c, Attempt[] last)
    {
        foreach (var skipped in last.Where(t => t.Outcome == AttemptOutcome.Skipped))
            yield return new(
                Tone.Weak,
                Sentence.Of($"Step {c.Plan.NumberOf(skipped.StepKey)} was skipped: {skipped.Remark!.TrimEnd('.'):w}.")
            );
        foreach (
            var failed in c.Attempts.Where(t => t.Outcome == AttemptOutcome.Failed && t.Counts).GroupBy(t => t.StepKey)
        )
            yield return new(
                Tone.Plain,
                Sentence.Of(
                    $"Step {c.Plan.NumberOf(failed.Key)} failed {Times(failed.Count()):w} before: "
                        + $"{failed.Last().Remark!.TrimEnd('.'):w}."
                )
            );
    }

    /// <summary>What is to be known of the window besides when it is.</summary>
    private static IEnumerable<VerdictPart> OfWindow(Change c, DateTimeOffset now)
    {
        string Said(Window? window) => window is null ? "none" : $"{WallTime.Said(window, TimeZoneInfo.Utc, now)} UTC";
        if (c.WindowAsked is { } asked)
            yield return new(
                Tone.Weak,
                Sentence.Of(
                    $"{asked.By:w} changed the window after {asked.Approved.By:w} had approved it: it was {Said(asked.Was):w}. "
                        + $"A reviewer must confirm the new window."
                )
            );
        if (c.Window?.WhyShort is { } why)
            yield return new(
                Tone.Weak,
                Sentence.Of($"The window is shorter than the planned work: {why.TrimEnd('.'):w}.")
            );
        if (c.Outside is { } outside)
            yield return new(
                Tone.Weak,
                Sentence.Of(
                    $"Begun by {c.StatusHistory.Last(s => s.To == ChangeState.UnderWay).By:w} at "
                        + $"{WallTime.Said(outside.At, TimeZoneInfo.Utc, now):w} UTC, outside its window"
                        + $"{(outside.Window == c.Window ? "" : $" ({Said(outside.Window)})"):w}: "
                        + $"{outside.Reason.TrimEnd('.'):w}."
                )
            );
        if (c.OverBy is { } over)
            yield return new(
                Tone.Weak,
                Sentence.Of(
                    $"Steps were done up to {Core.Quantities.Lifetime.Say((long)over.TotalSeconds):w} after the window closed."
                )
            );
    }

    /// <summary>A day, with its year where that is not this one.</summary>
    private static string Day(DateTimeOffset at, DateTimeOffset now) =>
        at.ToString(at.Year == now.Year ? "d MMMM" : "d MMMM yyyy", CultureInfo.InvariantCulture);

    private static string Times(int count) => count == 1 ? "once" : $"{count} times";

    private static string RecordsAre(Change c) =>
        c.Filled.IsEmpty ? "The records are as they were" : "Nothing that the steps entered is in the records";

    /// <summary>What was filled in and stays in the records, because somebody altered it since.</summary>
    private static IEnumerable<VerdictPart> Stays(Change c) =>
        c.Filled.Select(f => new VerdictPart(
            Tone.Weak,
            Sentence.Of($"The {f.At.Label:w} stays as it is now: it was altered after {f.By:w} filled in {f.Value}.")
        ));

    private static Sentence Progress(Change c, Where where)
    {
        var steps = c
            .Plan.Steps.Where(s => s.Where == where && s.Part is Part.Build or Part.Switch && s.Where == where)
            .ToArray();
        var done = steps.Count(s => c.LastAttempt(s.Key)?.Outcome == AttemptOutcome.Done);
        var end = where == Where.A ? EndName.A : EndName.B;
        if (steps.Length == 0)
            return Sentence.Of($"{end}: nothing to enter");
        return done == steps.Length
            ? Sentence.Of($"{end}: all {steps.Length} entered")
            : Sentence.Of($"{end}: {done} of {steps.Length} entered");
    }
}

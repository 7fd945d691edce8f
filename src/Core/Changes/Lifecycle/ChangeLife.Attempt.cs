namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>Attempts at steps.</summary>
public static partial class ChangeLife
{
    /// <summary>Notes an attempt at a step: done, skipped with a reason, or failed with what happened.</summary>
    /// <param name="remark">The reason, or what happened.</param>
    /// <param name="deviation">What was set otherwise; it is bound to the places where the inventory keeps it.</param>
    /// <param name="proof">What proves it, as text.</param>
    /// <param name="file">What proves it, as a file that is kept beside the record.</param>
    public static Next<Change> Attempt(
        Change c,
        string stepKey,
        Outcome outcome,
        string by,
        DateTimeOffset at,
        string? remark,
        Deviation? deviation,
        string? proof = null,
        ProofFile? file = null
    )
    {
        if (Stop(ChangeAct.Step, c, by) is { } stopped)
            return stopped;
        if (c.Plan.StepOf(stepKey) is not { } step)
            return No(null, $"{c.Code} has no step {stepKey}.", $"Its steps are 1 to {c.Plan.Steps.Length}.");
        var number = c.Plan.NumberOf(stepKey);
        if (outcome != Outcome.Done && string.IsNullOrWhiteSpace(remark))
            return No(
                null,
                $"Step {number} of {c.Code} was not recorded: {Change.Outcomes.Of(outcome):w} needs a remark.",
                outcome == Outcome.Skipped
                    ? Sentence.Of($"Enter why it is skipped.")
                    : Sentence.Of($"Enter what happened.")
            );
        if (deviation is not null)
        {
            if (outcome != Outcome.Done)
                return No(
                    null,
                    $"Step {number} of {c.Code} is not done, so it can have no deviation.",
                    $"Record it as done, with the value that was set."
                );
            var (bound, refused) = Deviations.Bind(c, step, deviation);
            if (refused is not null)
                return new(null, refused);
            deviation = bound;
        }

        if (outcome == Outcome.Done && (Waits(c, step) ?? Needs(c, step)) is { } first)
            return first;
        var attempt = new Attempt(stepKey, outcome, by, at, Trimmed(remark), deviation, Trimmed(proof), file);
        return Yes(c with { Attempts = c.Attempts.Add(attempt) });
    }

    /// <summary>A step that enters a value waits until it is known.</summary>
    private static Next<Change>? Waits(Change c, Step step)
    {
        var waits = step.Enter.Select(v => v.Waits).OfType<Place>().ToArray();
        return waits.Length > 0 && c.Plan.Pending.FirstOrDefault(p => p.At.At == waits[0]) is { } pending
            ? No(
                "PLAN-04",
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} needs the {pending.At.Label:w}, which is "
                    + $"pending{(pending.At.WhoKnows is { } who ? $" from {who}" : ""):w}.",
                $"Fill it in first: vellumkeep change fill {c.Code} {c.Plan.Pending.IndexOf(pending) + 1} <value>."
            )
            : null;
    }

    private static Next<Change>? Needs(Change c, Step step) =>
        step.Needs.FirstOrDefault(n => c.LastAttempt(n) is not { Outcome: not Outcome.Failed }) is { } need
            ? No(
                null,
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} needs step {c.Plan.NumberOf(need)} first.",
                $"Do that step first, or skip it with a reason."
            )
            : null;
}

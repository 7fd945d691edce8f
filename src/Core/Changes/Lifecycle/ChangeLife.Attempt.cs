namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>Attempts at steps.</summary>
public static partial class ChangeLife
{
    /// <summary>Minutes for which an attempt that was recorded by mistake can be taken back.</summary>
    private const int MinutesToTakeBack = 10;

    /// <summary>
    /// Notes an attempt at a step: done, skipped with a reason, or failed with what happened. What waits for something
    /// cannot be done, and what proves needs its proof, or the reason why there is none.
    /// </summary>
    /// <param name="c">The change as it stands.</param>
    /// <param name="stepKey">The step, by its key in the plan.</param>
    /// <param name="told">What was told of the attempt.</param>
    /// <param name="by">The sign-in name of who acts.</param>
    /// <param name="at">When, with its distance from UTC.</param>
    /// <param name="made">The versions of keys that exist.</param>
    public static Next<Change> Attempt(
        Change c,
        string stepKey,
        StepTold told,
        string by,
        DateTimeOffset at,
        IReadOnlySet<VersionOfKey> made
    )
    {
        if (Stop(ChangeAct.Step, c, by) is { } stopped)
            return stopped;
        if (c.Plan.StepOf(stepKey) is not { } step)
            return No(null, $"{c.Code} has no step {stepKey}.", $"Its steps are 1 to {c.Plan.Steps.Length}.");
        var deviation = told.Deviation;
        if (deviation is not null)
        {
            var (bound, refused) = Bound(c, step, told.Outcome, deviation);
            if (refused is not null)
                return new(null, refused);
            deviation = bound;
        }

        if (deviation is not null && NotMade(c, step, deviation, made) is { } unmade)
            return new(null, unmade);
        if ((told.Outcome == AttemptOutcome.Done ? NotDone(c, step, told, made) : NotTold(c, step, told)) is { } no)
            return new(null, no);
        var attempt = new Attempt(
            stepKey,
            told.Outcome,
            by,
            at,
            Trimmed(told.Remark),
            deviation,
            Trimmed(told.Proof),
            told.File
        )
        {
            WithoutProof = told.IsProven ? null : Trimmed(told.WithoutProof),
        };
        return Yes(c with { Attempts = c.Attempts.Add(attempt) });
    }

    /// <summary>
    /// Takes the last attempt at a step back: it stays in the record, says who took it back, and no longer counts.
    /// </summary>
    public static Next<Change> TakeBack(Change c, string stepKey, string by, DateTimeOffset at)
    {
        if (Stop(ChangeAct.Step, c, by) is { } stopped)
            return stopped;
        if (c.Plan.StepOf(stepKey) is not { } step)
            return No(null, $"{c.Code} has no step {stepKey}.", $"Its steps are 1 to {c.Plan.Steps.Length}.");
        var number = c.Plan.NumberOf(stepKey);
        if (c.LastAttempt(stepKey) is not { } last)
            return No(
                null,
                $"Step {number} of {c.Code} has no attempt to take back.",
                $"Choose a step that was recorded."
            );
        if (at > last.At.AddMinutes(MinutesToTakeBack))
            return No(
                null,
                $"Step {number} of {c.Code} was recorded more than {MinutesToTakeBack} minutes ago.",
                $"Record another attempt: failed, with what happened."
            );
        if (Rests(c, step) is { } later)
            return No(
                null,
                $"Step {c.Plan.NumberOf(later.Key)} of {c.Code} was recorded after step {number} and needs it.",
                $"Take step {c.Plan.NumberOf(later.Key)} back first."
            );
        if (step.Kind is StepKind.MakeKey or StepKind.FillIn)
            return No(
                null,
                $"Vellumkeep saw for itself that step {number} of {c.Code} is done.",
                $"Nothing has to be taken back."
            );
        return Yes(c with { Attempts = c.Attempts.Replace(last, last with { TakenBack = new(by, at) }) });
    }

    /// <summary>Until when the last attempt at a step can be taken back; null when it cannot.</summary>
    public static DateTimeOffset? CanBeTakenBackUntil(Change c, Step step, DateTimeOffset now) =>
        c.LastAttempt(step.Key) is { } last && TakeBack(c, step.Key, last.By, now) is { Refused: null }
            ? last.At.AddMinutes(MinutesToTakeBack)
            : null;

    /// <summary>A settled step that could not have been worked without this one.</summary>
    private static Step? Rests(Change c, Step step) =>
        c.Plan.Steps.LastOrDefault(s => s != step && c.IsSettled(s) && StepOrder.NeedsFirst(c, s, step));

    /// <summary>What can be seen without anybody's word is done by itself: a key that was made.</summary>
    /// <param name="c">The change as it stands.</param>
    /// <param name="by">The sign-in name of who acts.</param>
    /// <param name="at">When, with its distance from UTC.</param>
    /// <param name="made">The versions of keys that exist.</param>
    public static Change SeenDone(Change c, string by, DateTimeOffset at, IReadOnlySet<VersionOfKey> made)
    {
        if (c.State != ChangeState.UnderWay)
            return c;
        var seen = c.Plan.Steps.Where(s => IsMade(c, s, made) && !c.IsDone(s)).ToArray();
        return c with
        {
            Attempts = c.Attempts.AddRange(
                seen.Select(s => new Attempt(s.Key, AttemptOutcome.Done, by, at, "the key exists", null))
            ),
        };
    }

    private static bool IsMade(Change c, Step step, IReadOnlySet<VersionOfKey> made) =>
        step.Kind == StepKind.MakeKey && StepOrder.KeysOf(c, step).Any(k => made.Contains(new(k.TunnelId, k.Version)));

    private static (Deviation? Bound, Refused? Refused) Bound(
        Change c,
        Step step,
        AttemptOutcome outcome,
        Deviation deviation
    ) =>
        outcome == AttemptOutcome.Done
            ? Deviations.Bind(c, step, deviation)
            : (
                null,
                new(
                    null,
                    $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} is not done, so it can have no deviation.",
                    $"Record it as done, with the value that was set."
                )
            );

    /// <summary>A version of a key that was entered instead of the planned one exists too.</summary>
    private static Refused? NotMade(Change c, Step step, Deviation deviation, IReadOnlySet<VersionOfKey> made)
    {
        var isKey = deviation.At.Any(p =>
            p.Kind == RecordKind.Tunnel
            && TunnelPaths.EndOf(p.Path) is { } end
            && p.Path.IsWithin(TunnelPaths.Of(end).KeyHeld)
        );
        if (!isKey || step.TunnelId is not { } tunnel)
            return null;
        var replaced = c.Plan.Keys.Where(k => k.TunnelId == tunnel).SelectMany(k => k.Replaces);
        var unknown = Scalars
            .KeyVersions(deviation.Set)
            .Value.Except(replaced)
            .Where(v => !made.Contains(new(tunnel, v)))
            .ToArray();
        return unknown.Length == 0
            ? null
            : new(
                null,
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code}: key version {unknown[0]} was never made.",
                $"Enter a version that exists."
            );
    }

    private static Refused? NotTold(Change c, Step step, StepTold told) =>
        string.IsNullOrWhiteSpace(told.Remark)
            ? new(
                null,
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} was not recorded: "
                    + $"{Change.Outcomes.Of(told.Outcome):w} needs a remark.",
                told.Outcome == AttemptOutcome.Skipped
                    ? Sentence.Of($"Enter why it is skipped.")
                    : Sentence.Of($"Enter what happened.")
            )
            : null;

    private static Refused? NotDone(Change c, Step step, StepTold told, IReadOnlySet<VersionOfKey> made) =>
        StepOrder.Waits(c, step, made) ?? NotProven(c, step, told);

    private static Refused? NotProven(Change c, Step step, StepTold told) =>
        step.Proves && !told.IsProven && string.IsNullOrWhiteSpace(told.WithoutProof)
            ? new(
                null,
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} proves, and has no proof.",
                $"Enter the proof ({step.Proof!}), or why there is none: --proof or --without-proof."
            )
            : null;
}

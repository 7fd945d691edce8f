namespace Vellumkeep.Core.Changes;

/// <summary>A remark on the change, on one step, or on one value of a step.</summary>
/// <param name="By">The sign-in name of who did it.</param>
/// <param name="At">When, with its distance from UTC.</param>
/// <param name="Text">What was said, as it was typed.</param>
/// <param name="StepKey">The step that it is on; null when it is on the whole.</param>
/// <param name="Value">The label of the value of that step; null when it is on the step.</param>
public sealed record Remark(string By, DateTimeOffset At, string Text, string? StepKey, string? Value = null);

/// <summary>Who approved, when.</summary>
/// <param name="By">The sign-in name of who did it.</param>
/// <param name="At">When, with its distance from UTC.</param>
public sealed record Approval(string By, DateTimeOffset At);

/// <summary>What came of an attempt at a step.</summary>
public enum AttemptOutcome
{
    /// <summary>It was done.</summary>
    Done,

    /// <summary>It was left out, with a reason.</summary>
    Skipped,

    /// <summary>It was tried and did not work.</summary>
    Failed,
}

/// <summary>That a value was set otherwise than planned, and why.</summary>
/// <param name="Planned">What the step says.</param>
/// <param name="Set">What was really entered.</param>
/// <param name="Reason">Why, as it was typed.</param>
/// <param name="Label">Which value of the step, where it says so: two of them may be planned alike.</param>
public sealed record Deviation(string Planned, string Set, string Reason, string? Label = null)
{
    /// <summary>
    /// Where the inventory keeps what was set otherwise, bound when it was said; none where the inventory does not keep
    /// it.
    /// </summary>
    public ImmutableArray<Place> At { get; init; } = [];
}

/// <summary>A file kept as proof, beside the record.</summary>
/// <param name="Name">As it was called where it came from.</param>
/// <param name="Digest">SHA-256 of its octets (FIPS 180-4), in lower-case hexadecimal: what is kept can be held against
/// it.</param>
/// <param name="Size">In octets.</param>
public sealed record ProofFile(string Name, string Digest, int Size);

/// <summary>One attempt at a step: what came of it, by whom and when. The last attempt counts.</summary>
/// <param name="StepKey">The step, by its key in the plan.</param>
/// <param name="Outcome">What came of it.</param>
/// <param name="By">The sign-in name of who did it.</param>
/// <param name="At">When, with its distance from UTC.</param>
/// <param name="Remark">What else was said; null when nothing.</param>
/// <param name="Deviation">What was set otherwise than planned; null when nothing.</param>
/// <param name="Proof">What proves it: a line, or pasted output.</param>
/// <param name="File">A file kept as proof; null when there is none.</param>
public sealed record Attempt(
    string StepKey,
    AttemptOutcome Outcome,
    string By,
    DateTimeOffset At,
    string? Remark,
    Deviation? Deviation,
    string? Proof = null,
    ProofFile? File = null
)
{
    /// <summary>Why a proving step that is done has no proof; null where it has some, or needs none.</summary>
    public string? WithoutProof { get; init; }

    /// <summary>
    /// Who took it back and when: it stays in the record and no longer counts; null for one that counts.
    /// </summary>
    public TakenBack? TakenBack { get; init; }

    /// <summary>Whether it counts: nobody has taken it back.</summary>
    public bool Counts => TakenBack is null;
}

/// <summary>That an attempt was recorded by mistake: who said so, and when.</summary>
/// <param name="By">The sign-in name of who did it.</param>
/// <param name="At">When, with its distance from UTC.</param>
public sealed record TakenBack(string By, DateTimeOffset At);

/// <summary>That somebody asked a second person to let urgent work begin.</summary>
/// <param name="By">The sign-in name of who did it.</param>
/// <param name="Reviewer">The sign-in name of who was asked.</param>
/// <param name="Reason">Why it cannot wait for a review.</param>
/// <param name="At">When, with its distance from UTC.</param>
public sealed record UrgentAsk(string By, string Reviewer, string Reason, DateTimeOffset At);

/// <summary>
/// That urgent work began on somebody's word, who said so for themselves: whose, and until when it has to be reviewed
/// afterwards.
/// </summary>
/// <param name="Reviewer">The sign-in name of who let it begin.</param>
/// <param name="Reason">Why it could not wait for a review.</param>
/// <param name="ReviewBy">Until when it has to be reviewed.</param>
/// <param name="ReviewedBy">Who reviewed it afterwards; null while nobody has.</param>
/// <param name="ReviewedAt">When that was; null while nobody has.</param>
public sealed record UrgentConfirmation(
    string Reviewer,
    string Reason,
    DateTimeOffset ReviewBy,
    string? ReviewedBy = null,
    DateTimeOffset? ReviewedAt = null
);

/// <summary>A value that was pending and was filled in: it can be corrected, and taken back by backing out.</summary>
/// <param name="Number">The number that it had as a pending value, and keeps.</param>
/// <param name="At">The pending value that it was.</param>
/// <param name="Was">What stood there before: who knows it, and by when.</param>
/// <param name="Value">What it is now.</param>
/// <param name="By">The sign-in name of who did it.</param>
/// <param name="Time">When it was filled in.</param>
public sealed record FilledValue(int Number, PendingAt At, Node? Was, string Value, string By, DateTimeOffset Time);

/// <summary>An entry of the status history of a change.</summary>
/// <param name="To">The state that it came to.</param>
/// <param name="By">The sign-in name of who did it.</param>
/// <param name="At">When, with its distance from UTC.</param>
/// <param name="Remark">What was said with it; null when nothing.</param>
public sealed record StatusEntry(ChangeState To, string By, DateTimeOffset At, string? Remark);

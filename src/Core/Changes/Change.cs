namespace Vellumkeep.Core.Changes;

public enum ChangeState
{
    Draft,
    InReview,
    Approved,
    UnderWay,
    Done,
    BackedOut,
    Dropped,
}

/// <summary>When the work may be done.</summary>
public sealed record Window(DateTimeOffset Start, int Minutes);

/// <summary>A remark on the change, on one step, or on one value of a step.</summary>
public sealed record Remark(string By, DateTimeOffset At, string Text, string? StepKey, string? Value = null);

/// <summary>Who approved, when.</summary>
public sealed record Approval(string By, DateTimeOffset At);

public enum Outcome
{
    Done,
    Skipped,
    Failed,
}

/// <summary>That a value was set otherwise than planned, and why.</summary>
/// <param name="Label">Which value of the step, where it says so: two of them may be planned alike.</param>
public sealed record Deviation(string Planned, string Set, string Reason, string? Label = null);

/// <summary>A file kept as proof, beside the record.</summary>
/// <param name="Digest">SHA-256 of its octets (FIPS 180-4), in lower-case hexadecimal: what is kept can be held against
/// it.</param>
/// <param name="Size">In octets.</param>
public sealed record ProofFile(string Name, string Digest, int Size);

/// <summary>One attempt at a step: what came of it, by whom and when. The last attempt counts.</summary>
/// <param name="Proof">What proves it: a line, or pasted output.</param>
public sealed record Tick(
    string StepKey,
    Outcome Outcome,
    string By,
    DateTimeOffset At,
    string? Remark,
    Deviation? Deviation,
    string? Proof = null,
    ProofFile? File = null
);

/// <summary>That somebody asked a second person to let urgent work begin.</summary>
public sealed record UrgentAsk(string By, string Named, string Why, DateTimeOffset At);

/// <summary>
/// That urgent work began on somebody's word, who said so for themselves: whose, and until when it has to be reviewed
/// afterwards.
/// </summary>
public sealed record UrgentWord(
    string Named,
    string Why,
    DateTimeOffset ReviewBy,
    string? ReviewedBy = null,
    DateTimeOffset? ReviewedAt = null
);

/// <summary>A passage of the change's own life.</summary>
public sealed record Passage(ChangeState To, string By, DateTimeOffset At, string? Remark);

/// <summary>
/// A reviewed piece of work: the wish, the plan the core made of it, and everything that happened to it.
/// </summary>
public sealed record Change(
    string Id,
    string Code,
    string Title,
    string Why,
    string CustomerId,
    Wish Wish,
    Plan Plan,
    ChangeState State,
    Window? Window,
    string Author,
    ImmutableArray<Remark> Remarks,
    Approval? Approval,
    ImmutableArray<Tick> Ticks,
    ImmutableArray<Passage> Passages
) : IRecord
{
    public static readonly Words<ChangeState> States = new(
        "a state of a change",
        (ChangeState.Draft, "draft"),
        (ChangeState.InReview, "in review"),
        (ChangeState.Approved, "approved"),
        (ChangeState.UnderWay, "under way"),
        (ChangeState.Done, "done"),
        (ChangeState.BackedOut, "backed out"),
        (ChangeState.Dropped, "dropped")
    );

    public static readonly Words<Outcome> Outcomes = new(
        "what came of a step",
        (Outcome.Done, "done"),
        (Outcome.Skipped, "skipped"),
        (Outcome.Failed, "failed")
    );

    public RecordKind Kind => RecordKind.Change;

    /// <summary>
    /// Every customer whose tunnels or gateways it is about; empty where that is <see cref="CustomerId"/> alone.
    /// </summary>
    public ImmutableArray<string> Customers { get; init; } = [];

    /// <summary>
    /// Who confirmed that urgent work may begin before it is reviewed; null when it was reviewed first.
    /// </summary>
    public UrgentWord? Urgent { get; init; }

    /// <summary>Who was asked to let urgent work begin; null when nobody was, and when it has begun.</summary>
    public UrgentAsk? UrgentAsked { get; init; }

    /// <summary>Everybody whose right it needs.</summary>
    public ImmutableArray<string> AllCustomers => Customers.IsEmpty ? [CustomerId] : Customers;

    public bool Open => State is not (ChangeState.Done or ChangeState.BackedOut or ChangeState.Dropped);

    /// <summary>The last attempt at a step; null when none was made.</summary>
    public Tick? LastTick(string stepKey) => Ticks.LastOrDefault(t => t.StepKey == stepKey);

    public int Settled => Plan.Steps.Count(s => LastTick(s.Key) is { Outcome: not Outcome.Failed });
}

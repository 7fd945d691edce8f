namespace Vellumkeep.Core.Changes;

/// <summary>Where a change stands.</summary>
public enum ChangeState
{
    /// <summary>It is written, and nobody else has looked at it.</summary>
    Draft,

    /// <summary>Somebody other than its author is to look at it.</summary>
    InReview,

    /// <summary>It may be worked.</summary>
    Approved,

    /// <summary>It is being worked.</summary>
    UnderWay,

    /// <summary>It is closed, and the inventory is as built.</summary>
    Done,

    /// <summary>It was begun and given up; the inventory is as it was.</summary>
    BackedOut,

    /// <summary>It was given up before it was begun.</summary>
    Dropped,
}

/// <summary>
/// A reviewed piece of work: the request, the plan the core made of it, and everything that happened to it.
/// </summary>
public sealed record Change : IRecord
{
    /// <summary>The words of the states.</summary>
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

    /// <summary>The words of what comes of a step.</summary>
    public static readonly Words<AttemptOutcome> Outcomes = new(
        "what came of a step",
        (AttemptOutcome.Done, "done"),
        (AttemptOutcome.Skipped, "skipped"),
        (AttemptOutcome.Failed, "failed")
    );

    /// <inheritdoc/>
    public required string Id { get; init; }

    /// <inheritdoc/>
    public required string Code { get; init; }

    /// <summary>What it does, in a few words.</summary>
    public required string Title { get; init; }

    /// <summary>Reason.</summary>
    public required string Reason { get; init; }

    /// <summary>The customer under whose code it is numbered.</summary>
    public required string CustomerId { get; init; }

    /// <summary>What is wanted.</summary>
    public required ChangeRequest Request { get; init; }

    /// <summary>What the core made of it.</summary>
    public required Plan Plan { get; init; }

    /// <summary>Where it stands.</summary>
    public required ChangeState State { get; init; }

    /// <summary>When the work may be done; null when nobody said.</summary>
    public Window? Window { get; init; }

    /// <summary>The sign-in name of whoever wrote it.</summary>
    public required string Author { get; init; }

    /// <summary>What was remarked on it, the oldest first.</summary>
    public ImmutableArray<Remark> Remarks { get; init; } = [];

    /// <summary>Who approved it; null when nobody did, or when approval lapsed.</summary>
    public Approval? Approval { get; init; }

    /// <summary>Every attempt at a step, the oldest first.</summary>
    public ImmutableArray<Attempt> Attempts { get; init; } = [];

    /// <summary>The values that were pending and were filled in, as they are now.</summary>
    public ImmutableArray<FilledValue> Filled { get; init; } = [];

    /// <summary>How it came to where it stands, the oldest first.</summary>
    public ImmutableArray<StatusEntry> StatusHistory { get; init; } = [];

    /// <summary>
    /// Every customer whose tunnels or gateways it is about; empty where that is <see cref="CustomerId"/> alone.
    /// </summary>
    public ImmutableArray<string> Customers { get; init; } = [];

    /// <summary>
    /// The codes of all the changes that were drafted together, this one among them, in their order; empty where it was
    /// drafted alone.
    /// </summary>
    public ImmutableArray<string> Batches { get; init; } = [];

    /// <summary>
    /// Who confirmed that urgent work may begin before it is reviewed; null when it was reviewed first.
    /// </summary>
    public UrgentConfirmation? Urgent { get; init; }

    /// <summary>
    /// That its window was altered after it was approved; null when it was not, and when somebody approved it since.
    /// </summary>
    public WindowAsk? WindowAsked { get; init; }

    /// <summary>That the work began outside its window; null when it began in it, or there was none.</summary>
    public OutsideWindow? Outside { get; init; }

    /// <summary>Who was asked to let urgent work begin; null when nobody was, and when it has begun.</summary>
    public UrgentAsk? UrgentAsked { get; init; }

    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Change;

    /// <summary>Everybody whose right it needs.</summary>
    public ImmutableArray<string> AllCustomers => Customers.IsEmpty ? [CustomerId] : Customers;

    /// <summary>The states in which anything may still come of a change.</summary>
    public static readonly ImmutableArray<ChangeState> OpenStates =
    [
        ChangeState.Draft,
        ChangeState.InReview,
        ChangeState.Approved,
        ChangeState.UnderWay,
    ];

    /// <summary>Whether anything may still come of it.</summary>
    public bool Open => OpenStates.Contains(State);

    /// <summary>The last attempt at a step that counts; null when none does.</summary>
    public Attempt? LastAttempt(string stepKey) => Attempts.LastOrDefault(t => t.StepKey == stepKey && t.Counts);

    /// <summary>Whether the last attempt at a step did it.</summary>
    public bool IsDone(Step step) => LastAttempt(step.Key)?.Outcome == AttemptOutcome.Done;

    /// <summary>Whether a step was done or skipped.</summary>
    public bool IsSettled(Step step) => LastAttempt(step.Key) is { Outcome: not AttemptOutcome.Failed };

    /// <summary>The attempts that count: the last one at each step, in the order of the steps.</summary>
    public IEnumerable<Attempt> LastAttempts => Plan.Steps.Select(s => LastAttempt(s.Key)).OfType<Attempt>();

    /// <summary>
    /// Whether every step was done at the first attempt, in the window, with the planned values, and with its proof
    /// where it proves.
    /// </summary>
    public bool WorkedAsPlanned =>
        Plan.Steps.All(IsDone)
        && Outside is null
        && OverBy is null
        && Attempts
            .Where(t => t.Counts)
            .All(t => t is { Outcome: AttemptOutcome.Done, Deviation: null, WithoutProof: null });

    /// <summary>
    /// By how long the last attempt at a step came after the window had closed; null when it did not.
    /// </summary>
    public TimeSpan? OverBy =>
        Window is { } window
        && Attempts.Where(t => t.Counts).Select(t => (DateTimeOffset?)t.At).Max() is { } last
        && last > window.End
            ? last - window.End
            : null;

    /// <summary>How many steps were done or skipped.</summary>
    public int Settled => Plan.Steps.Count(IsSettled);
}

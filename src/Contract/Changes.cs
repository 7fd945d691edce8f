namespace Vellumkeep.Contract;

/// <summary>A change in a list. Settled: steps done or skipped.</summary>
public sealed record ChangeSummary
{
    public required string Code { get; init; }

    public required string Title { get; init; }

    [ChangeState]
    public required string State { get; init; }

    public required string Customer { get; init; }

    public required string Tunnel { get; init; }

    public required string Author { get; init; }

    public required DateTimeOffset WrittenAt { get; init; }

    public required int Steps { get; init; }

    public required int Settled { get; init; }

    public required int Failed { get; init; }

    public required DateTimeOffset? WindowStart { get; init; }

    public required int? WindowMinutes { get; init; }
}

/// <summary>A change: the plan as the core made it, and everything that happened to it.</summary>
public sealed record ChangePage
{
    public required string Code { get; init; }

    public required int Version { get; init; }

    public required string Title { get; init; }

    public required string Reason { get; init; }

    public required string Kind { get; init; }

    [ChangeState]
    public required string State { get; init; }

    public required string Author { get; init; }

    public required DateTimeOffset WrittenAt { get; init; }

    public required string Customer { get; init; }

    public required string CustomerName { get; init; }

    public required string Tunnel { get; init; }

    public required string TunnelName { get; init; }

    public required ChangeEnd A { get; init; }

    public required ChangeEnd B { get; init; }

    public required string? SideRequested { get; init; }

    public required DateTimeOffset? WindowStart { get; init; }

    public required int? WindowMinutes { get; init; }

    public required string? WindowAtA { get; init; }

    public required string? WindowAtB { get; init; }

    public required int PlannedMinutes { get; init; }

    public required IReadOnlyList<VerdictSentence> Verdict { get; init; }

    public required IReadOnlyList<BeforeAfterLine> Differs { get; init; }

    public required IReadOnlyList<StepPage> Steps { get; init; }

    public required IReadOnlyList<FindingPage> FindingsAdded { get; init; }

    public required IReadOnlyList<FindingPage> FindingsRemoved { get; init; }

    public required IReadOnlyList<FindingPage> FindingsStanding { get; init; }

    public required IReadOnlyList<WayBackStep> WayBack { get; init; }

    public required IReadOnlyList<RemarkLine> Remarks { get; init; }

    public required string? ApprovedBy { get; init; }

    public required DateTimeOffset? ApprovedAt { get; init; }

    public required IReadOnlyList<StatusLine> StatusHistory { get; init; }

    public required IReadOnlyList<ChangedValue> Changed { get; init; }

    public required IReadOnlyList<string> OtherOpenChanges { get; init; }

    public required IReadOnlyList<AllowedAct> Acts { get; init; }

    /// <summary>Every tunnel of the change.</summary>
    public required IReadOnlyList<ChangeTunnel> Tunnels { get; init; }

    /// <summary>What a reviewer would look for in the plan (PLAN-01 to PLAN-12).</summary>
    public required IReadOnlyList<PlanFindingLine> PlanFindings { get; init; }

    public required IReadOnlyList<PendingLine> Pending { get; init; }

    /// <summary>All the changes that were drafted together, in their order; empty when it was drafted alone.</summary>
    public required IReadOnlyList<string> Batches { get; init; }

    /// <summary>The values that were pending and were filled in; each can be corrected by its number.</summary>
    public required IReadOnlyList<FilledLine> Filled { get; init; }

    /// <summary>Tunnels that the change is not about and that are affected.</summary>
    public required IReadOnlyList<TouchedLine> Touches { get; init; }

    /// <summary>
    /// The plan carried out on model devices, in the minutes of its steps; null for one that was made before plans were
    /// played.
    /// </summary>
    public PlayPage? Play { get; init; }

    public required IReadOnlyList<TranslatedLine> Translations { get; init; }

    /// <summary>Versions of keys that the change brings into use.</summary>
    public required IReadOnlyList<ChangeKeyLine> Keys { get; init; }

    public UrgentLine? Urgent { get; init; }

    /// <summary>That somebody was asked to let urgent work begin, and has not answered yet.</summary>
    public UrgentAskedLine? UrgentAsked { get; init; }

    /// <summary>What came of it is not what was planned: skipped steps, and pending values that stayed so.</summary>
    public required IReadOnlyList<string> LeftOver { get; init; }

    /// <summary>The skipped steps, as a free change takes them.</summary>
    public required IReadOnlyList<FreeStepGiven> LeftSteps { get; init; }
}

/// <summary>A tunnel of a change: its ends, what it does before and after, and how long it carries nothing.</summary>
public sealed record ChangeTunnel(
    string Code,
    string Name,
    ChangeEnd A,
    ChangeEnd B,
    IReadOnlyList<VerdictSentence> Before,
    IReadOnlyList<VerdictSentence> After,
    SentenceLine? Interruption,
    int? InterruptionSeconds
);

public sealed record PlanFindingLine(
    string Code,
    [property: Severity] string Severity,
    SentenceLine What,
    SentenceLine Do
);

/// <summary>
/// A value that nobody knows yet. Number: by which it is filled in. Steps: the numbers of those that wait for it.
/// </summary>
public sealed record PendingLine(int Number, string Label, string? WhoKnows, string? By, IReadOnlyList<int> Steps);

/// <summary>A value that was pending and was filled in. Number: by which it is corrected.</summary>
public sealed record FilledLine(int Number, string Label, string Value, string By, DateTimeOffset At);

public sealed record TouchedLine(string Tunnel, SentenceLine How);

/// <summary>A setting carried to another platform. Carries: kept, changed, impossible.</summary>
public sealed record TranslatedLine(
    string Tunnel,
    string End,
    string What,
    string? Before,
    string? After,
    [property: Carries] string Carries,
    SentenceLine Why
);

/// <summary>
/// A version of a key that a change needs. State: not made, or that of the version. CheckCode: what two people read
/// to each other.
/// </summary>
public sealed record ChangeKeyLine(
    string Tunnel,
    int Version,
    IReadOnlyList<int> Replaces,
    [property: KeyState] string State,
    string? CheckCode
);

/// <summary>That urgent work began on a word, and the review it owes.</summary>
public sealed record UrgentLine(
    string Reviewer,
    string Reason,
    DateTimeOffset ReviewBy,
    string? ReviewedBy,
    DateTimeOffset? ReviewedAt,
    bool Overdue
);

/// <summary>Who asked whom to let urgent work begin, why and when.</summary>
public sealed record UrgentAskedLine(string By, string Reviewer, string Reason, DateTimeOffset At);

/// <summary>An end of the tunnel of a change.</summary>
public sealed record ChangeEnd(string Site, string Gateway, string Platform, string TakesEffect, string RunBy);

/// <summary>Whether the asker may do something now, and if not, why.</summary>
public sealed record AllowedAct([property: ChangeAct] string Act, bool Allowed, string? WhyNot);

/// <summary>Before and after, for reading. End: A, B, or null for what is agreed.</summary>
public sealed record BeforeAfterLine(
    string? End,
    string What,
    string Before,
    string After,
    IReadOnlyList<string> Added
);

public sealed record WayBackStep(int Number, string Where, SentenceLine Do);

public sealed record RemarkLine(string By, DateTimeOffset At, string Text, int? Step, string? Value = null);

public sealed record StatusLine(string To, string By, DateTimeOffset At, string? Remark);

/// <summary>A value the approval rests on that has changed.</summary>
public sealed record ChangedValue(string Record, string Path, string? Then, string? Now);

/// <summary>A file kept as proof: got by its digest (SHA-256).</summary>
public sealed record ProofFileLine(string Name, string Digest, int Size);

/// <summary>What waits for the asker.</summary>
public sealed record TodayPage(
    IReadOnlyList<VerdictSentence> Verdict,
    IReadOnlyList<ChangeSummary> ToReview,
    IReadOnlyList<ChangeSummary> UnderWay,
    IReadOnlyList<ChangeSummary> Windows,
    IReadOnlyList<ChangeSummary> Mine,
    IReadOnlyList<FindingPage> Blocking,
    int Risks,
    int Tunnels
);

/// <summary>
/// A plan carried out on model devices. Times are seconds from the first step; WorkFrom: when the first step begins that
/// is done in the window, after what only prepares.
/// </summary>
public sealed record PlayPage(
    string Change,
    int Seconds,
    int WorkFrom,
    IReadOnlyList<PlayedStepLine> Steps,
    IReadOnlyList<PlayedTunnelLine> Tunnels
);

/// <summary>When a step is done. Gateway: null where it is done on none.</summary>
public sealed record PlayedStepLine(
    int Number,
    [property: StepPlace] string Where,
    string? Gateway,
    int From,
    int To,
    bool Proves
);

/// <summary>A tunnel through a play. Own: whether the change is about it.</summary>
public sealed record PlayedTunnelLine(
    string Code,
    bool Own,
    IReadOnlyList<PlayedSpanLine> Spans,
    IReadOnlyList<PlayedRestartLine> Restarts
);

/// <summary>What a tunnel carries for a while. Step: since which; null for how it was found.</summary>
public sealed record PlayedSpanLine(int From, int To, [property: Carriage] string State, int? Step, SentenceLine? Why);

/// <summary>
/// That a tunnel loses its SAs and negotiates anew. Seconds: null where the profile does not say. Certain: false where it
/// does not say whether anything stops.
/// </summary>
public sealed record PlayedRestartLine(int At, int Step, int? Seconds, bool Certain, SentenceLine Why);

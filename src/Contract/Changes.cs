namespace Vellumkeep.Contract;

/// <summary>A change of kind subnets: these prefixes, on this side of this tunnel. Reach: which prefixes on the other side; all when left out.</summary>
public sealed record DraftSubnets(string Tunnel, string End, IReadOnlyList<string> Add, IReadOnlyList<string>? Reach, string? Title, string Why, DateTimeOffset? WindowStart, int? WindowMinutes);

/// <summary>A change in a list. Settled: steps done or skipped.</summary>
public sealed record ChangeSummary(string Code, string Title, string State, string Customer, string Tunnel, string Author, DateTimeOffset WrittenAt, int Steps, int Settled, int Failed, DateTimeOffset? WindowStart, int? WindowMinutes);

/// <summary>A change: the plan as the core made it, and everything that happened to it.</summary>
public sealed record ChangePage(
    string Code, int Version, string Title, string Why, string Kind, string State, string Author, DateTimeOffset WrittenAt, string Customer, string CustomerName, string Tunnel, string TunnelName,
    ChangeEnd A, ChangeEnd B, string SideWished, DateTimeOffset? WindowStart, int? WindowMinutes, string? WindowAtA, string? WindowAtB, int PlannedMinutes,
    IReadOnlyList<VerdictSentence> Verdict, IReadOnlyList<BeforeAfterLine> Differs, IReadOnlyList<StepPage> Steps,
    IReadOnlyList<FindingPage> FindingsAdded, IReadOnlyList<FindingPage> FindingsRemoved, IReadOnlyList<FindingPage> FindingsStanding,
    IReadOnlyList<WayBackStep> WayBack, IReadOnlyList<RemarkLine> Remarks, string? ApprovedBy, DateTimeOffset? ApprovedAt, IReadOnlyList<PassageLine> Passages,
    IReadOnlyList<MovedValue> Moved, IReadOnlyList<string> OtherOpenChanges, IReadOnlyList<AllowedAct> Acts);

/// <summary>An end of the tunnel of a change.</summary>
public sealed record ChangeEnd(string Site, string Gateway, string Platform, string TakesEffect, string RunBy);

/// <summary>Whether the asker may do something now, and if not, why.</summary>
public sealed record AllowedAct(string Act, bool Allowed, string? WhyNot);

/// <summary>Before and after, for reading. End: A, B, or null for what is agreed.</summary>
public sealed record BeforeAfterLine(string? End, string What, string Before, string After, IReadOnlyList<string> Added);

/// <summary>A value of a step.</summary>
public sealed record StepValueLine(string Label, string Text);

/// <summary>One step. Where: A, B or us. Outcome: done, skipped, failed, or null.</summary>
public sealed record StepPage(
    int Number, string Key, string Part, string Where, string? Asked, Said Do, IReadOnlyList<StepValueLine> Enter, IReadOnlyList<StepValueLine> Expect, Said? Proof, int Minutes, Said? Stops, Said? Undo,
    string? Outcome, IReadOnlyList<AttemptLine> Attempts);

/// <summary>One attempt at a step.</summary>
public sealed record AttemptLine(string Outcome, string By, DateTimeOffset At, string? Remark, string? Planned, string? Set, string? Reason);

public sealed record WayBackStep(int Number, string Where, Said Do);

public sealed record RemarkLine(string By, DateTimeOffset At, string Text, int? Step);

public sealed record PassageLine(string To, string By, DateTimeOffset At, string? Remark);

/// <summary>A value the approval rests on that has moved.</summary>
public sealed record MovedValue(string Record, string Path, string? Then, string? Now);

/// <summary>A remark with an act on a change.</summary>
public sealed record ActRemark(string? Remark, int? Step);

/// <summary>An attempt at a step: done, skipped (with a reason) or failed (with what was seen). Set and Reason: a deviation from the value Planned.</summary>
public sealed record AttemptStep(string Outcome, string? Remark, string? Planned, string? Set, string? Reason);

/// <summary>What waits for the asker.</summary>
public sealed record TodayPage(
    IReadOnlyList<VerdictSentence> Verdict, IReadOnlyList<ChangeSummary> ToReview, IReadOnlyList<ChangeSummary> UnderWay, IReadOnlyList<ChangeSummary> Windows, IReadOnlyList<ChangeSummary> Mine,
    IReadOnlyList<FindingPage> Blocking, int Risks, int Tunnels);

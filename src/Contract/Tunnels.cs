namespace Vellumkeep.Contract;

/// <summary>A tunnel in a list.</summary>
public sealed record TunnelSummary
{
    public required string Code { get; init; }

    public required string Name { get; init; }

    public required string Customer { get; init; }

    public required string CustomerName { get; init; }

    [TunnelState]
    public required string State { get; init; }

    public required string EndA { get; init; }

    public required string EndB { get; init; }

    [Worst]
    public required string Worst { get; init; }

    public required DrawnForm Form { get; init; }

    public required IReadOnlyList<VerdictSentence> Verdict { get; init; }
}

/// <summary>A tunnel with both ends, compared.</summary>
public sealed record TunnelPage
{
    public required string Code { get; init; }

    public required int Version { get; init; }

    public required string Name { get; init; }

    public required string? Purpose { get; init; }

    public required string Customer { get; init; }

    public required string CustomerName { get; init; }

    [TunnelState]
    public required string State { get; init; }

    public required string? Since { get; init; }

    [TunnelForm]
    public required string Form { get; init; }

    public required IReadOnlyList<string> Tags { get; init; }

    public required string? Notes { get; init; }

    [Standing]
    public required string Standing { get; init; }

    public required IReadOnlyList<VerdictSentence> Verdict { get; init; }

    public required EndPage A { get; init; }

    public required EndPage B { get; init; }

    public required IkeLine Ike { get; init; }

    public required IReadOnlyList<PairLine> Pairs { get; init; }

    public required IReadOnlyList<PlannedPair> Planned { get; init; }

    public required IReadOnlyList<CompareRow> Rows { get; init; }

    public required IReadOnlyList<FindingPage> Findings { get; init; }

    public required IReadOnlyList<ChangeSummary> OpenChanges { get; init; }

    public required LastChange? LastChange { get; init; }

    /// <summary>The day it is shown as of; null for now.</summary>
    public string? AsOf { get; init; }
}

/// <summary>What was last done to it.</summary>
public sealed record LastChange(string What, string Who, DateTimeOffset At);

/// <summary>One end. RunBy: us, customer or other party.</summary>
public sealed record EndPage
{
    public required string End { get; init; }

    public required string Site { get; init; }

    public required string Gateway { get; init; }

    public required string Platform { get; init; }

    public required string RunBy { get; init; }

    public required string Owner { get; init; }

    public required string OuterAddress { get; init; }

    public required bool AddressIsDynamic { get; init; }

    public required string? Nat { get; init; }

    public required string? DeviceAddress { get; init; }

    public required IReadOnlyList<string> Networks { get; init; }
}

/// <summary>The line of the IKE SA.</summary>
public sealed record IkeLine(DrawnForm Form, string Label, SentenceLine? Says, string? After);

/// <summary>The line of a wanted pair, with what each end has for it. After: when a block bites later.</summary>
public sealed record PairLine
{
    public required string A { get; init; }

    public required string B { get; init; }

    public required string? AName { get; init; }

    public required string? BName { get; init; }

    public required DrawnForm Form { get; init; }

    public required SentenceLine? Says { get; init; }

    public required string? After { get; init; }

    public required string? Code { get; init; }

    public required PairEnd AtA { get; init; }

    public required PairEnd AtB { get; init; }
}

/// <summary>What an end has for a pair: yes, no, unknown or not needed.</summary>
public sealed record PairEnd(string Selector, string RuleIn, string RuleOut, string NoNat, string Route);

/// <summary>A pair that an open change would add.</summary>
public sealed record PlannedPair(
    string A,
    string B,
    string? AName,
    string? BName,
    string Change,
    [property: ChangeState] string State
);

/// <summary>
/// One row of the comparison. Relation: agrees, agrees, not confirmed, differs, undetermined. WorthALook: a finding
/// minds it, or it is open.
/// </summary>
public sealed record CompareRow
{
    public required string Key { get; init; }

    public required string Label { get; init; }

    public required CompareCell A { get; init; }

    public required CompareCell B { get; init; }

    public required string Relation { get; init; }

    public required DrawnForm Form { get; init; }

    public required bool WorthALook { get; init; }

    public required IReadOnlyList<string> Codes { get; init; }
}

/// <summary>
/// A value with its source (set, agreed, default, unknown) and how it was confirmed. It can be confirmed where somebody
/// can look at the device and there is a value; it can be corrected where it is entered at this end.
/// </summary>
public sealed record CompareCell(
    string? Text,
    string Source,
    string? Via,
    string? Confirmed,
    string? ConfirmedOn,
    string? Note,
    bool CanBeConfirmed,
    bool CanBeCorrected
);

/// <summary>
/// Findings that nobody had accepted at the end of a day, by severity, and of how many tunnels. On: year, month, day.
/// </summary>
public sealed record FindingsOn(string On, int Tunnels, int Blocks, int Degrades, int Risk);

/// <summary>Findings week by week, the oldest first; today last.</summary>
public sealed record FindingsOverTimePage(IReadOnlyList<FindingsOn> Points);

/// <summary>A finding: severity is blocks, degrades, risk or note.</summary>
public sealed record FindingPage
{
    public required string Code { get; init; }

    public required string Title { get; init; }

    [Severity]
    public required string Severity { get; init; }

    [Standing]
    public required string Standing { get; init; }

    public required string Tunnel { get; init; }

    public required string Subject { get; init; }

    public required string? RowKey { get; init; }

    public required string? After { get; init; }

    public required SentenceLine What { get; init; }

    public required SentenceLine Why { get; init; }

    public required SentenceLine Do { get; init; }

    public required string? Standard { get; init; }

    public required IReadOnlyList<EvidenceLine> Evidence { get; init; }

    public required DateTimeOffset? Since { get; init; }

    public required string Digest { get; init; }

    public required AcceptedLine? Accepted { get; init; }

    /// <summary>How grave it was before, where a change alters only that.</summary>
    public string? Was { get; init; }
}

/// <summary>That a finding was accepted: why, by whom, when, and until when.</summary>
public sealed record AcceptedLine(string Reason, string By, string On, string Until);

/// <summary>A value that a finding rests on.</summary>
public sealed record EvidenceLine(string? End, string Label, string Value, string From);

/// <summary>
/// Confirms that an end has a value: somebody looked. How: read, saved configuration, other party's sheet, typed. Date:
/// a date; today when left out.
/// </summary>
public sealed record ConfirmValue(string End, IReadOnlyList<string> Rows, string How, string? Date, string? Value);

/// <summary>
/// Corrects what is recorded ("the device has always had this"): needs a reason. The value is text as it is typed, or
/// has its parts in braces, such as <c>{time: 3600 s, margin: 20 %}</c>.
/// </summary>
public sealed record CorrectValue(string End, string Row, string Value, string Reason, string? How, string? Date);

/// <summary>Descriptive fields, edited directly. A field left out stays as it is.</summary>
public sealed record EditTunnel(string? Name, string? Purpose, string? Notes, IReadOnlyList<string>? Tags);

/// <summary>One entry of a record's history.</summary>
public sealed record HistoryEntry
{
    public required long Commit { get; init; }

    public required int Version { get; init; }

    public required DateTimeOffset At { get; init; }

    public required string Who { get; init; }

    public required string What { get; init; }

    public required string? Reason { get; init; }

    public required string? Change { get; init; }

    public required IReadOnlyList<Difference> Differences { get; init; }

    public required string Digest { get; init; }
}

/// <summary>A customer in a list, with how its tunnels stand.</summary>
public sealed record CustomerSummary(string Code, string Name, string Owner, int Tunnels, int Blocked);

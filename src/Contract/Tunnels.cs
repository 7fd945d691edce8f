namespace Vellumkeep.Contract;

/// <summary>A tunnel in a list.</summary>
public sealed record TunnelSummary(
    string Code,
    string Name,
    string Customer,
    string CustomerName,
    [property: TunnelState] string State,
    string EndA,
    string EndB,
    [property: Worst] string Worst,
    DrawnForm Form,
    IReadOnlyList<VerdictSentence> Verdict
);

/// <summary>A tunnel with both ends, compared.</summary>
public sealed record TunnelPage(
    string Code,
    int Version,
    string Name,
    string? Purpose,
    string Customer,
    string CustomerName,
    [property: TunnelState] string State,
    string? Since,
    [property: TunnelForm] string Form,
    IReadOnlyList<string> Tags,
    string? Notes,
    IReadOnlyList<VerdictSentence> Verdict,
    EndPage A,
    EndPage B,
    IkeLine Ike,
    IReadOnlyList<PairLine> Pairs,
    IReadOnlyList<PlannedPair> Planned,
    IReadOnlyList<CompareRow> Rows,
    IReadOnlyList<FindingPage> Findings,
    IReadOnlyList<ChangeSummary> OpenChanges,
    LastChange? LastChange
)
{
    /// <summary>The day it is shown as of; null for now.</summary>
    public string? On { get; init; }
}

/// <summary>What was last done to it.</summary>
public sealed record LastChange(string What, string Who, DateTimeOffset At);

/// <summary>One bank. RunBy: us, customer or other party.</summary>
public sealed record EndPage(
    string End,
    string Site,
    string Gateway,
    string Platform,
    string RunBy,
    string Owner,
    string OuterAddress,
    bool AddressMoves,
    string? Translation,
    string? DeviceAddress,
    IReadOnlyList<string> Networks
);

/// <summary>The line of the IKE SA.</summary>
public sealed record IkeLine(DrawnForm Form, string Label, Said? Says, string? After);

/// <summary>The line of a wanted pair, with what each end has for it. After: when a block bites later.</summary>
public sealed record PairLine(
    string A,
    string B,
    string? AName,
    string? BName,
    DrawnForm Form,
    Said? Says,
    string? After,
    string? Code,
    PairEnd AtA,
    PairEnd AtB
);

/// <summary>What an end has for a pair: yes, no, unknown or not needed.</summary>
public sealed record PairEnd(string Selector, string RuleIn, string RuleOut, string NoTranslation, string Route);

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
/// One row of the comparison. Answer: agrees, as far as known, differs, undetermined. WorthALook: a finding minds it,
/// or it is open.
/// </summary>
public sealed record CompareRow(
    string Key,
    string Label,
    CompareCell A,
    CompareCell B,
    string Answer,
    DrawnForm Form,
    bool WorthALook,
    IReadOnlyList<string> Codes,
    bool CanBeSet
);

/// <summary>A value with its source (set, agreed, default, unknown) and how it was seen.</summary>
public sealed record CompareCell(string? Text, string Source, string? Via, string? Seen, string? SeenOn, string? Note);

/// <summary>A finding: severity is blocks, degrades, risk or note.</summary>
public sealed record FindingPage(
    string Code,
    string Title,
    [property: Severity] string Severity,
    string Tunnel,
    string Subject,
    string? RowKey,
    string? After,
    Said What,
    Said Why,
    Said Do,
    string? Standard,
    IReadOnlyList<EvidenceLine> Evidence,
    DateTimeOffset? FirstSeen,
    string Digest,
    AcceptedLine? Accepted
)
{
    /// <summary>How grave it was before, where a change alters only that.</summary>
    public string? Was { get; init; }
}

/// <summary>That a finding was accepted: why, by whom, when, and until when.</summary>
public sealed record AcceptedLine(string Reason, string By, string On, string Until);

/// <summary>A value that a finding rests on.</summary>
public sealed record EvidenceLine(string? End, string Label, string Value, string From);

/// <summary>
/// Confirms that an end has a value: somebody looked. How: read, saved configuration, other party's sheet, typed. On: a
/// date; today when left out.
/// </summary>
public sealed record ConfirmValue(string End, IReadOnlyList<string> Rows, string How, string? On, string? Value);

/// <summary>Corrects what is recorded ("the device has always had this"): needs a reason.</summary>
public sealed record CorrectValue(string End, string Row, string Value, string Reason, string? How, string? On);

/// <summary>Descriptive fields, edited directly. A field left out stays as it is.</summary>
public sealed record EditTunnel(string? Name, string? Purpose, string? Notes, IReadOnlyList<string>? Tags);

/// <summary>One entry of a record's history.</summary>
public sealed record HistoryEntry(
    long Commit,
    int Version,
    DateTimeOffset At,
    string Who,
    string What,
    string? Reason,
    string? Change,
    IReadOnlyList<Difference> Differences,
    string Digest
);

/// <summary>A customer in a list, with how its tunnels stand.</summary>
public sealed record CustomerSummary(string Code, string Name, string Owner, int Tunnels, int Blocked);

namespace Vellumkeep.Contract;

/// <summary>The negotiation of a tunnel, rehearsed from both sides, and what comes after.</summary>
/// <param name="Fallback">What carries the traffic after this tunnel in its fallback order, and when; null when it is
/// in none.</param>
/// <param name="Pairings">Every pairing of uplinks with its outcomes; one line when there is only one.</param>
public sealed record RehearsalPage
{
    public required string Tunnel { get; init; }

    public required string Name { get; init; }

    [Standing]
    public required string Standing { get; init; }

    public required IReadOnlyList<VerdictSentence> Verdict { get; init; }

    public required EndPage A { get; init; }

    public required EndPage B { get; init; }

    public required RehearsedSide FromA { get; init; }

    public required RehearsedSide FromB { get; init; }

    public required TimelinePage Timeline { get; init; }

    public required IReadOnlyList<PairingLine> Pairings { get; init; }

    public required IReadOnlyList<DetectionLine> Detection { get; init; }

    public required SentenceLine? Fallback { get; init; }
}

/// <summary>
/// One side. Initiator: A or B. Outcome: up; up, with fewer pairs; IKE SA up, no child SA; down; undetermined; does not
/// start. Stops: the first is the stop, the rest what would be met if it were fixed.
/// </summary>
public sealed record RehearsedSide
{
    public required string Initiator { get; init; }

    public required SentenceLine Title { get; init; }

    public required string? Version { get; init; }

    public required string? Mode { get; init; }

    [Outcome]
    public required string Outcome { get; init; }

    public required IReadOnlyList<ExchangeLine> Exchanges { get; init; }

    public required IReadOnlyList<StopLine> Stops { get; init; }

    public required IReadOnlyList<SentenceLine> FindOut { get; init; }

    public required IReadOnlyList<SentenceLine> Assumed { get; init; }

    public required string? IkeProposal { get; init; }

    public required string? EspProposal { get; init; }

    public required string? Pfs { get; init; }

    public required bool Encapsulated { get; init; }

    public required IReadOnlyList<string> Passing { get; init; }

    public required IReadOnlyList<string> Lost { get; init; }

    public required SentenceLine? Later { get; init; }

    public required IReadOnlyList<FixLine> Fixes { get; init; }

    public required IReadOnlyList<FixLine> LaterFixes { get; init; }
}

/// <summary>One message. IfFixed: it lies beyond the stop.</summary>
public sealed record ExchangeLine(
    int Number,
    string Name,
    string From,
    SentenceLine Carries,
    SentenceLine? Decides,
    bool IfFixed
);

/// <summary>
/// An obstacle. Exchange: the message at which it shows, 0 before the first. RefusedBy: A, B, or null when nothing
/// arrives. Kind: in what way it stops. Notify: the standard's, or no answer.
/// </summary>
public sealed record StopLine(
    int Exchange,
    string ExchangeName,
    string? RefusedBy,
    [property: StopKind] string Kind,
    string Notify,
    string Code,
    string? RowKey,
    SentenceLine Why,
    IReadOnlyList<string> Pairs
);

/// <summary>
/// A change that was tried and fixes the stop. Outcome: of the same side with it. Risks: codes of findings it would
/// add. Interrupts: what entering it disturbs, as a sentence. Next: the obstacle met then.
/// </summary>
public sealed record FixLine(
    SentenceLine Says,
    IReadOnlyList<FixValueLine> Values,
    [property: Outcome] string Outcome,
    bool Passes,
    IReadOnlyList<string> Risks,
    string? Interrupts,
    SentenceLine? Next
);

/// <summary>A value of a fix: a row of the comparison at an end, as it would be typed.</summary>
public sealed record FixValueLine(string End, string Row, string Value);

/// <summary>The hours after the tunnel is up, in seconds.</summary>
public sealed record TimelinePage(
    long Length,
    IReadOnlyList<LifeLine> Lives,
    IReadOnlyList<TimelineMark> Marks,
    IReadOnlyList<string> Notes
);

/// <summary>
/// Lifetimes of one layer (IKE or ESP) at one end: when it rekeys, as a range, and when it drops; null where not known.
/// </summary>
public sealed record LifeLine(string End, string Layer, long? RekeysFrom, long? RekeysTo, long? Drops);

/// <summary>A moment: rekey, rekey by data, reauthentication, rekey refused, or lost.</summary>
public sealed record TimelineMark(
    [property: TimelineMarkKind] string Kind,
    string Layer,
    string By,
    long From,
    long To
);

/// <summary>A pairing of uplinks with the outcome of each side, and the stop where there is one.</summary>
public sealed record PairingLine(
    string UplinkA,
    string UplinkB,
    string WhenAInitiates,
    string WhenBInitiates,
    SentenceLine? Stop
);

/// <summary>
/// How long a dead peer stays undetected at an end, over a pairing of uplinks; null when never, or not known. Working:
/// the calculation.
/// </summary>
public sealed record DetectionLine(string End, string UplinkA, string UplinkB, decimal? Seconds, string Working);

/// <summary>
/// A rehearsal of something that is not kept: a keepfile with one tunnel (and what it refers to that is not kept yet),
/// or a tunnel that is kept with other values.
/// </summary>
public sealed record HypotheticalTunnel(
    [property: MostCharacters(200_000)] string? Keepfile,
    string? Tunnel,
    IReadOnlyList<FixValueLine>? Values
);

/// <summary>
/// Accepts a finding of a tunnel as it stands. Digest: that of the finding as it was read. Until: the last day, at most
/// a year ahead.
/// </summary>
public sealed record AcceptFinding(string Code, string Subject, string Digest, string Reason, string Until);

/// <summary>Takes an acceptance back.</summary>
public sealed record WithdrawAcceptance(string Code, string Subject);

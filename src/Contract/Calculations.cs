namespace Vellumkeep.Contract;

/// <summary>One term of a calculation, in octets.</summary>
public sealed record TermLine(string What, int Octets);

/// <summary>The largest inner packet, with every term. All in octets.</summary>
public sealed record PacketResult
{
    public required string Proposal { get; init; }

    public required string Outer { get; init; }

    public required bool Udp { get; init; }

    public required int LinkMtu { get; init; }

    public required IReadOnlyList<TermLine> Terms { get; init; }

    public required int Left { get; init; }

    public required int Alignment { get; init; }

    public required int Aligned { get; init; }

    /// <summary>What is taken off within the encrypted part; negative where the packet's own header is outside.</summary>
    public required IReadOnlyList<TermLine> Inside { get; init; }

    public required int Inner { get; init; }

    public required int MssIPv4 { get; init; }

    public required int MssIPv6 { get; init; }

    public required string? Note { get; init; }
}

/// <summary>A member of a proposal. Bits: strength, 0 when under 80.</summary>
public sealed record MemberLine(string Name, int Bits, string Word, string Standard);

/// <summary>A proposal graded by what the standard asks of its members and by the strength of its weakest.</summary>
public sealed record GradeResult(
    string Proposal,
    string Layer,
    int Bits,
    string Weakest,
    string Word,
    IReadOnlyList<MemberLine> Members
);

/// <summary>
/// What two platforms can both do under one IKE version. BothSpeak: whether both know the version at all; null when a
/// profile does not say. Unknown: what a profile does not say, so that what they have in common is unknown there.
/// </summary>
public sealed record CommonResult(
    string A,
    string B,
    string Version,
    bool? BothSpeak,
    IReadOnlyList<GradeResult> Ike,
    IReadOnlyList<GradeResult> Esp,
    IReadOnlyList<string> Groups,
    IReadOnlyList<NotCommonLine> NotCommon,
    IReadOnlyList<NotSaidLine> Unknown
);

/// <summary>What the profile at an end does not say.</summary>
public sealed record NotSaidLine(string End, string Platform, IReadOnlyList<string> What);

/// <summary>What is not in common between the two, and what follows.</summary>
public sealed record NotCommonLine(string What, string A, string B, string Follows);

/// <summary>A lifetime worked out. Readings: what a number without a unit would mean in each.</summary>
public sealed record LifetimeWorked(
    string Typed,
    long? Seconds,
    string? Says,
    decimal? DataSeconds,
    decimal? GigabytesInTime,
    string? Ends,
    IReadOnlyList<ReadingLine> Readings
);

public sealed record ReadingLine(string Unit, string Reads, long Seconds);

/// <summary>How long a dead peer stays undetected, in seconds; null when never or not known.</summary>
public sealed record DetectResult(string Dpd, string Version, string? Schedule, decimal? Seconds, string Working);

/// <summary>Prefix arithmetic: what was asked of which prefixes, and the answer.</summary>
public sealed record PrefixResult(
    string Did,
    IReadOnlyList<string> Prefixes,
    IReadOnlyList<string> Result,
    IReadOnlyList<string> Working
);

/// <summary>Where a prefix or address lies: what contains it, what lies within, by owner and place.</summary>
public sealed record AddressResult(
    string Asked,
    IReadOnlyList<PlaceLine> Containing,
    IReadOnlyList<PlaceLine> Within,
    IReadOnlyList<string> Free
);

/// <summary>
/// A prefix that is in use. Kind: network, presented, remote (claimed by a tunnel at a gateway), entered (at an end of
/// a tunnel), tunnel address, tunnel pool, outer, behind NAT, peer address, or planned (by an open change).
/// </summary>
public sealed record PlaceLine(string Prefix, string Kind, string Owner, string Code, string Name);

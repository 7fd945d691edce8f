namespace Vellumkeep.Contract;

/// <summary>
/// A record as a picker shows it. Detail: what tells it from others, such as site, platform and outer address.
/// </summary>
public sealed record ChoiceLine(string Code, string Name, string Detail);

/// <summary>What a field that names a record can be filled with.</summary>
public sealed record ChoicesPage(IReadOnlyList<ChoiceLine> Items);

/// <summary>What a change of a tunnel can name at each end.</summary>
public sealed record TunnelChoicesPage(EndChoices A, EndChoices B);

/// <summary>
/// What a change can name at an end: the networks of its site as the other end sees them, the clock that hangs there,
/// and the other tunnels with an end at the site.
/// </summary>
public sealed record EndChoices
{
    public required string Site { get; init; }

    /// <summary>An IANA time zone.</summary>
    public required string TimeZone { get; init; }

    public required IReadOnlyList<NetworkChoice> Networks { get; init; }

    public required IReadOnlyList<ChoiceLine> Beside { get; init; }
}

/// <summary>A network of a site. InTunnel: a pair of the tunnel has it, or a part of it, already.</summary>
public sealed record NetworkChoice(string Prefix, string Name, bool InTunnel);

/// <summary>Prefixes as they were typed, in that order.</summary>
public sealed record PrefixesRead(IReadOnlyList<PrefixRead> Prefixes);

/// <summary>
/// One of them: as it is read, or what is wrong and what would be right. Overlaps: those before it that share
/// addresses.
/// </summary>
public sealed record PrefixRead(
    string Text,
    string? Prefix,
    string? Wrong,
    string? Right,
    IReadOnlyList<string> Overlaps
);

/// <summary>
/// A tunnel between two gateways: a code that nobody has, a name, whose it is, and what each end offers.
/// </summary>
public sealed record NewTunnelChoicesPage(
    string Code,
    string Name,
    string Customer,
    GatewayChoicesPage A,
    GatewayChoicesPage B
);

/// <summary>What a change of a gateway can name.</summary>
public sealed record GatewayChoicesPage
{
    public required string Gateway { get; init; }

    public required string Site { get; init; }

    public required string Customer { get; init; }

    /// <summary>An IANA time zone.</summary>
    public required string TimeZone { get; init; }

    public required IReadOnlyList<NetworkChoice> Networks { get; init; }

    /// <summary>Code: the label; Name: the outer address.</summary>
    public required IReadOnlyList<ChoiceLine> Uplinks { get; init; }

    /// <summary>Named parts that tunnels may share. Code: the name on the device; Name: what it holds.</summary>
    public required IReadOnlyList<ChoiceLine> SharedEntries { get; init; }

    /// <summary>In which unit its operator types lifetimes; null when the profile does not say.</summary>
    public string? LifetimeUnit { get; init; }
}

/// <summary>Proposals as they were typed; Wrong and Right where they cannot be read.</summary>
public sealed record ProposalsRead(IReadOnlyList<ProposalRead> Proposals, string? Wrong, string? Right);

/// <summary>
/// A proposal as it is written here. Strength: of its weakest algorithm, in bits. Weak: which of its algorithms SHOULD
/// NOT or MUST NOT be used, and which standard says so; null where none is.
/// </summary>
public sealed record ProposalRead(string Proposal, string? Strength, string? Weak);

/// <summary>A code that nobody has.</summary>
public sealed record CodeSuggested(string Code);

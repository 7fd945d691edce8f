namespace Vellumkeep.Contract;

/// <summary>A platform profile in a list.</summary>
public sealed record PlatformSummary(
    string Code,
    string Name,
    string Family,
    IReadOnlyList<string> IkeVersions,
    string? SupportEnds,
    int Gateways,
    int Unknown
);

/// <summary>A platform profile: what it can do, what it does by default, and what it does not say.</summary>
public sealed record PlatformPage
{
    public required string Code { get; init; }

    public required string Name { get; init; }

    public required string Family { get; init; }

    public required string? SupportEnds { get; init; }

    public required IReadOnlyList<FactLine> Can { get; init; }

    public required IReadOnlyList<FactLine> Does { get; init; }

    public required IReadOnlyList<FactLine> Defaults { get; init; }

    public required IReadOnlyList<string> Silent { get; init; }

    public required IReadOnlyList<string> Gateways { get; init; }

    public required int GatewaysInAll { get; init; }

    public required string? Notes { get; init; }
}

/// <summary>One fact of a profile or suite.</summary>
public sealed record FactLine(string What, string Value);

/// <summary>A suite in a list.</summary>
public sealed record SuiteSummary(string Code, string? About, string? Ike, int Tunnels);

/// <summary>A suite: its proposals graded, its other settings, and who uses it.</summary>
public sealed record SuitePage(
    string Code,
    string? About,
    IReadOnlyList<GradeResult> Ike,
    IReadOnlyList<GradeResult> Esp,
    IReadOnlyList<FactLine> Settings,
    IReadOnlyList<TunnelSummary> Tunnels,
    int TunnelsInAll
);

/// <summary>A gateway: its verdict, where it is, and everything that runs through it.</summary>
public sealed record GatewayPage
{
    public required string Code { get; init; }

    public required string Site { get; init; }

    public required string SiteCode { get; init; }

    public required string Customer { get; init; }

    public required string CustomerCode { get; init; }

    public required string Platform { get; init; }

    public required string PlatformName { get; init; }

    public required string RunBy { get; init; }

    public required IReadOnlyList<VerdictSentence> Verdict { get; init; }

    public required IReadOnlyList<UplinkLine> Uplinks { get; init; }

    public required IReadOnlyList<SharedEntryLine> Held { get; init; }

    public required IReadOnlyList<TunnelSummary> Tunnels { get; init; }

    public required int TunnelsInAll { get; init; }

    public required int Others { get; init; }
}

public sealed record UplinkLine(string Label, string Outer, string? OnDevice, string? Nat, int? Mtu);

/// <summary>A shared entry and the tunnels that use it.</summary>
public sealed record SharedEntryLine(string Name, string What, string Holds, IReadOnlyList<string> Tunnels);

public sealed record GatewaySummary(
    string Code,
    string Site,
    string Customer,
    string Platform,
    string Outer,
    int Tunnels,
    int Blocked
);

/// <summary>
/// A customer: its verdict, its first sites by code and its tunnels. SiteCount: how many sites there are; the list of
/// sites has them all.
/// </summary>
public sealed record CustomerPage(
    string Code,
    string Name,
    string Owner,
    IReadOnlyList<VerdictSentence> Verdict,
    IReadOnlyList<SiteLine> Sites,
    int SiteCount,
    IReadOnlyList<TunnelSummary> Tunnels,
    int TunnelsInAll
);

public sealed record SiteLine(
    string Code,
    string Name,
    string TimeZone,
    IReadOnlyList<string> Networks,
    IReadOnlyList<string> Gateways
);

/// <summary>
/// A site: its networks with the tunnels that carry each, its gateways, and the tunnels that end there.
/// </summary>
public sealed record SitePage
{
    public required string Code { get; init; }

    public required string Name { get; init; }

    public required string Customer { get; init; }

    public required string CustomerName { get; init; }

    public required string TimeZone { get; init; }

    public required string? Notes { get; init; }

    public required string? Retired { get; init; }

    public required int Version { get; init; }

    public required IReadOnlyList<VerdictSentence> Verdict { get; init; }

    public required IReadOnlyList<NetworkLine> Networks { get; init; }

    public required IReadOnlyList<SiteGatewayLine> Gateways { get; init; }

    public required IReadOnlyList<TunnelSummary> Tunnels { get; init; }

    public required int TunnelsInAll { get; init; }
}

/// <summary>
/// A network at a site. PresentedAs: the prefix that it is presented as in tunnels (1:1 NAT), null without NAT.
/// </summary>
public sealed record NetworkLine(
    string Prefix,
    string Name,
    string? Purpose,
    string? PresentedAs,
    IReadOnlyList<TestPointLine> TestPoints,
    IReadOnlyList<CarriedLine> Carried
);

/// <summary>A host that proof is taken from or to.</summary>
public sealed record TestPointLine(string Address, string? Service, string? ConfirmedBy);

/// <summary>A tunnel that carries a network, and the end that the network lies at.</summary>
public sealed record CarriedLine(string Tunnel, string End);

/// <summary>A gateway of a site.</summary>
public sealed record SiteGatewayLine(string Code, string Platform, string Outer);

/// <summary>The addresses of a customer, in areas that can be drawn to scale.</summary>
public sealed record AddressPlanPage(string Customer, string Name, IReadOnlyList<PlanAreaLine> Areas);

/// <summary>A piece of address space. Free: the largest prefixes in which nothing lies, in order.</summary>
public sealed record PlanAreaLine(string Space, IReadOnlyList<PlanItemLine> Items, IReadOnlyList<string> Free);

/// <summary>
/// A prefix of the plan. Real: as it is at the site; otherwise what is seen inside tunnels. Overlaps: the first sites
/// it overlaps with; More: how many others; Harmless: all of those are separated by NAT.
/// </summary>
public sealed record PlanItemLine
{
    public required string Prefix { get; init; }

    public required bool Real { get; init; }

    public required string Name { get; init; }

    public required string Site { get; init; }

    public required string SiteName { get; init; }

    public required string? PresentedAs { get; init; }

    public required IReadOnlyList<string> Overlaps { get; init; }

    public required int More { get; init; }

    public required bool Harmless { get; init; }
}

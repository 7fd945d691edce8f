namespace Vellumkeep.Contract;

/// <summary>A platform profile in a list.</summary>
public sealed record PlatformSummary(string Code, string Name, string Family, IReadOnlyList<string> IkeVersions, string? SupportEnds, int Gateways, int Unknown);

/// <summary>A platform profile: what it can do, what it does by default, and what it does not say.</summary>
public sealed record PlatformPage(string Code, string Name, string Family, string? SupportEnds, IReadOnlyList<FactLine> Can, IReadOnlyList<FactLine> Does, IReadOnlyList<FactLine> Defaults, IReadOnlyList<string> Silent, IReadOnlyList<string> Gateways, string? Notes);

/// <summary>One fact of a profile or suite.</summary>
public sealed record FactLine(string What, string Value);

/// <summary>A suite in a list.</summary>
public sealed record SuiteSummary(string Code, string? About, string? Ike, int Tunnels);

/// <summary>A suite: its proposals graded, its other settings, and who uses it.</summary>
public sealed record SuitePage(string Code, string? About, IReadOnlyList<GradeAnswer> Ike, IReadOnlyList<GradeAnswer> Esp, IReadOnlyList<FactLine> Settings, IReadOnlyList<TunnelSummary> Tunnels);

/// <summary>A gateway: its verdict, where it is, and everything that runs through it.</summary>
public sealed record GatewayPage(string Code, string Site, string Customer, string Platform, string PlatformName, string RunBy, IReadOnlyList<VerdictSentence> Verdict, IReadOnlyList<UplinkLine> Uplinks, IReadOnlyList<HeldLine> Held, IReadOnlyList<TunnelSummary> Tunnels, int Others);

public sealed record UplinkLine(string Label, string Outer, string? OnDevice, string? Translation, int? Mtu);

/// <summary>A held part and the tunnels that use it.</summary>
public sealed record HeldLine(string Name, string What, string Holds, IReadOnlyList<string> Tunnels);

public sealed record GatewaySummary(string Code, string Site, string Customer, string Platform, string Outer, int Tunnels, int Blocked);

/// <summary>A customer: its verdict, its sites and its tunnels.</summary>
public sealed record CustomerPage(string Code, string Name, string Owner, IReadOnlyList<VerdictSentence> Verdict, IReadOnlyList<SiteLine> Sites, IReadOnlyList<TunnelSummary> Tunnels);

public sealed record SiteLine(string Code, string Name, string TimeZone, IReadOnlyList<string> Networks, IReadOnlyList<string> Gateways);

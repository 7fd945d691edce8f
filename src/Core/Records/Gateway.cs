namespace Vellumkeep.Core.Records;

/// <summary>How a NAT stands in front of a gateway.</summary>
public enum NatKind
{
    /// <summary>One address for the gateway alone.</summary>
    StaticNat,

    /// <summary>One address shared by ports with others.</summary>
    Napt,
}

/// <summary>What has to come in from outside for a tunnel.</summary>
public enum Inbound
{
    /// <summary>IKE, over UDP 500 and 4500 (RFC 7296 section 2.23).</summary>
    Ike,

    /// <summary>ESP, IP protocol 50 (RFC 4303).</summary>
    Esp,
}

/// <summary>
/// A NAT in front of an uplink, with the public address it shows; null when that is not known.
/// </summary>
/// <param name="Type">Whether it maps ports.</param>
/// <param name="PublicAddress">What it shows outside; null when not known.</param>
/// <param name="Forwards">What it lets in; null when not known.</param>
public sealed record Nat(NatKind Type, Address? PublicAddress, ImmutableArray<Inbound>? Forwards = null)
{
    /// <summary>Its name in sentences: <c>NAPT</c> or <c>1:1 NAT</c>.</summary>
    public string Name => Type == NatKind.Napt ? "NAPT" : "1:1 NAT";

    /// <summary>What can be allowed inbound and forwarded, in words.</summary>
    public static readonly Words<Inbound> Forwardable = new(
        "something allowed inbound",
        (Inbound.Ike, "IKE"),
        (Inbound.Esp, "ESP")
    );

    /// <summary>The words of the kinds.</summary>
    public static readonly Words<NatKind> Kinds = new(
        "a kind of NAT",
        (NatKind.StaticNat, "1:1"),
        (NatKind.Napt, "NAPT")
    );
}

/// <summary>The address on the device: fixed, by name, or dynamic.</summary>
/// <param name="Fixed">The address; null when it is dynamic or only a name is known.</param>
/// <param name="Name">A name that follows it; null when there is none.</param>
public sealed record UplinkAddress(Address? Fixed, string? Name)
{
    /// <summary>An address that changes.</summary>
    public static readonly UplinkAddress Dynamic = new(null, null);

    /// <summary>Whether it changes.</summary>
    public bool IsDynamic => Fixed is null && Name is null;

    /// <summary>Reads an address, a name, or <c>dynamic</c>.</summary>
    public static Parsed<UplinkAddress> Parse(string text) =>
        text.Equals("dynamic", StringComparison.OrdinalIgnoreCase) ? Parsed<UplinkAddress>.Of(Dynamic)
        : PeerAddress.Parse(text) is { Ok: true, Value.IsAny: false } read
            ? Parsed<UplinkAddress>.Of(new(read.Value.Address, read.Value.Name))
        : Parsed<UplinkAddress>.Fail(
            $"'{Typed.Short(text)}' is not an outer address",
            "an address such as 198.51.100.10, a name such as gw.brindle.example, or dynamic"
        );

    /// <inheritdoc/>
    public override string ToString() => Fixed?.ToString() ?? Name ?? "dynamic";
}

/// <summary>
/// One way out of a gateway. The outer address that a peer sees is derived from the address on the device and the
/// nat.
/// </summary>
/// <param name="Label">What it is called on the gateway, and in every sentence about it.</param>
/// <param name="Address">The address on the device.</param>
/// <param name="Mtu">In octets; null when not known.</param>
/// <param name="Nat">What translates in front of it; null when nothing does.</param>
/// <param name="AllowsInbound">What comes in from outside; null when not known.</param>
public sealed record Uplink(
    string Label,
    Recorded<UplinkAddress> Address,
    int? Mtu,
    Nat? Nat,
    ImmutableArray<Inbound>? AllowsInbound = null
)
{
    /// <summary>The VRF on the outer side.</summary>
    public string OuterVrf { get; init; } = "outside";

    /// <summary>The subnet of the uplink.</summary>
    public Prefix? Subnet { get; init; }

    /// <summary>Whether names are resolved reliably over it; null when nobody said.</summary>
    public bool? NamesReliable { get; init; }

    /// <summary>
    /// Whether <paramref name="what"/> from outside reaches the device: allowed inbound, and forwarded by the
    /// nat; null when not known.
    /// </summary>
    public bool? Reached(Inbound what)
    {
        var let = AllowsInbound is { } l ? l.Contains(what) : (bool?)null;
        // NAPT forwards inbound only what is configured; 1:1 NAT stands for its
        // address.
        bool? forwarded = Nat switch
        {
            null => true,
            { Forwards: { } forwards } => forwards.Contains(what),
            { Type: NatKind.Napt } => false,
            _ => null,
        };
        if (let == false || forwarded == false)
            return false;
        return let == true && forwarded == true ? true : null;
    }

    /// <summary>What the other end sees; null while it is pending or not fixed.</summary>
    public Address? Outer => Nat is null ? Address.Value?.Fixed : Nat.PublicAddress;

    /// <summary>Whether what a peer sees changes: nothing fixed is on the device, nor in front of it.</summary>
    public bool IsDynamic => Outer is null && Address.Value?.IsDynamic == true;

    /// <summary>
    /// For reading: the outer address, a name, <c>dynamic</c>, <c>pending</c>, or <c>unknown</c> behind a NAT whose
    /// public address nobody recorded.
    /// </summary>
    public string OuterText =>
        Outer?.ToString()
        ?? (
            Address.Value is null ? "pending"
            : Nat is not null && Address.Value.Fixed is not null ? "unknown"
            : Address.Value.ToString()
        );
}

/// <summary>
/// Something named on a gateway that several of its tunnels may share: a subnet list, a proposal set, a key entry.
/// </summary>
/// <param name="Name">As it is called on the device.</param>
/// <param name="Called">What it is, where that does not follow from what it holds.</param>
/// <param name="Members">The prefixes in it.</param>
public sealed record SharedEntry(string Name, string? Called, ImmutableArray<Prefix> Members)
{
    private const string SubnetList = "subnet list",
        ProposalSet = "proposal set";

    /// <summary>What it is, where that does not follow from what it holds.</summary>
    public string? Called
    {
        get;
        init => field = value is SubnetList or ProposalSet ? null : value;
    } = Called;

    /// <summary>What it is, in words.</summary>
    public string What => Called ?? (IkeProposals.IsEmpty && EspProposals.IsEmpty ? SubnetList : ProposalSet);

    /// <summary>The IKE proposals in it, preferred first.</summary>
    public ImmutableArray<IkeProposal> IkeProposals { get; init; } = [];

    /// <summary>The ESP proposals in it, preferred first.</summary>
    public ImmutableArray<EspProposal> EspProposals { get; init; } = [];
}

/// <summary>A device at a site that ends tunnels.</summary>
public sealed record Gateway : IRecord
{
    /// <summary>What identifies it; never shown.</summary>
    public string Id { get; init; } = "";

    /// <inheritdoc/>
    public string Code { get; init; } = "";

    /// <summary>The site where it stands.</summary>
    public string SiteId { get; init; } = "";

    /// <summary>The platform profile.</summary>
    public string PlatformId { get; init; } = "";

    /// <summary>Who runs it.</summary>
    public RunBy RunBy { get; init; } = RunBy.Us;

    /// <summary>The ways out, preferred first; at least one.</summary>
    public ImmutableArray<Uplink> Uplinks { get; init; } = [];

    /// <summary>Named parts that several of its tunnels may share.</summary>
    public ImmutableArray<SharedEntry> SharedEntries { get; init; } = [];

    /// <summary>How it is managed; null when nobody said.</summary>
    public ManagementAccess? ManagementAccess { get; init; }

    /// <summary>Anything else.</summary>
    public string? Notes { get; init; }

    /// <summary>Where its tunnel addresses are taken from.</summary>
    public Prefix? TunnelPool { get; init; }

    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Gateway;

    /// <inheritdoc/>
    public DateOnly? Retired { get; init; }

    /// <summary>Whether it is managed through a tunnel, as far as this record says.</summary>
    public bool IsManagedThrough(Tunnel tunnel) => ManagementAccess?.TunnelId == tunnel.Id;

    /// <summary>The part with a name; null when there is none.</summary>
    public SharedEntry? Held(string name) => SharedEntries.FirstOrDefault(h => h.Name == name);
}

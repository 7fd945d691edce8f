namespace Vellumkeep.Core.Records;

/// <summary>One side of a tunnel: a gateway, the uplinks it may use, and every setting as that side has it.</summary>
public sealed record TunnelEnd
{
    /// <summary>The gateway.</summary>
    public string GatewayId { get; init; } = "";

    /// <summary>
    /// The labels of the uplinks that it may use, preferred first; none for every one of the gateway.
    /// </summary>
    public ImmutableArray<string> Uplinks { get; init; } = [];

    /// <summary>The VRF inside.</summary>
    public string ProtectedVrf { get; init; } = "main";

    /// <summary>The versions of the key that it holds; null when nobody said.</summary>
    public KeyHeld? KeyHeld { get; init; }

    /// <summary>The selectors as entered; null when nobody recorded them.</summary>
    public EnteredSubnets? Subnets { get; init; }

    /// <summary>The address of the peer as entered; null when nobody recorded it.</summary>
    public Recorded<PeerAddress>? PeerAddress { get; init; }

    /// <summary>
    /// Further addresses of the peer, in the order in which the device tries them after <see cref="PeerAddress"/>;
    /// empty where it takes one only.
    /// </summary>
    public ImmutableArray<PeerAddress> FurtherPeers { get; init; } = [];

    /// <summary>The identity that it sends (RFC 7296 section 3.5); null when nobody recorded it.</summary>
    public Recorded<Identity>? IdentitySent { get; init; }

    /// <summary>The identity that it expects; null when nobody recorded it.</summary>
    public Recorded<Identity>? IdentityExpected { get; init; }

    /// <summary>Every setting that is set there.</summary>
    public SettingSet Set { get; init; } = SettingSet.Empty;

    /// <summary>The firewall rules; null when nobody recorded them.</summary>
    public Recorded<Several<Rule>>? Rules { get; init; }

    /// <summary>Its no-NAT rules; null when they are not recorded.</summary>
    public Recorded<Several<LocalRemote>>? NoNat { get; init; }

    /// <summary>The routes; null when nobody recorded them.</summary>
    public Recorded<Several<Route>>? Routes { get; init; }

    /// <summary>What was entered, is active and was saved.</summary>
    public Progress Progress { get; init; } = Progress.None;

    /// <summary>
    /// The shared entry of the gateway from which IKE and ESP proposals come, unless they are set here.
    /// </summary>
    public string? ProposalsFrom { get; init; }

    /// <summary>
    /// What the pre-shared key is entered for: an address, a name or any; null when the key belongs to the peer entry
    /// itself.
    /// </summary>
    public PeerAddress? KeyFor { get; init; }

    /// <summary>The address of the tunnel interface; null when there is none.</summary>
    public Recorded<TunnelAddress>? TunnelAddress { get; init; }

    /// <summary>The address on its tunnel interface; null where it has none, or none is known.</summary>
    public TunnelAddress? InterfaceAddress => TunnelAddress?.Value is { IsNone: false } given ? given : null;

    /// <summary>The certificate; null when nobody recorded one.</summary>
    public Certificate? Certificate { get; init; }

    /// <summary>CAs whose certificates this end accepts; null when not known.</summary>
    public ImmutableArray<string>? Anchors { get; init; }

    /// <summary>Certificate checks that were switched off at this end.</summary>
    public ImmutableArray<string> RelaxedChecks { get; init; } = [];

    /// <summary>Dynamic routing through the tunnel; null when there is none.</summary>
    public DynamicRouting? Routing { get; init; }

    /// <summary>What prefixes are called on the device.</summary>
    public ImmutableArray<NamedPrefix> PrefixNames { get; init; } = [];
}

namespace Vellumkeep.Core.Forms;

/// <summary>The places in the written form of a tunnel.</summary>
public static class TunnelPaths
{
    /// <summary>Planned, building, in service, suspended or retired.</summary>
    public static readonly FieldPath State = FieldPath.Of("state");

    /// <summary>Since when it is in its state.</summary>
    public static readonly FieldPath Since = FieldPath.Of("since");

    /// <summary>Route-based or policy-based.</summary>
    public static readonly FieldPath Form = FieldPath.Of("form");

    /// <summary>What both parties agreed.</summary>
    public static readonly FieldPath Agreed = FieldPath.Of("agreed");

    /// <summary>The subnet pairs that should reach each other.</summary>
    public static readonly FieldPath Pairs = Agreed.Key("pairs");

    /// <summary>One subnet pair.</summary>
    public static FieldPath Pair(SubnetPair pair) => Pairs.Item(pair.ToString());

    /// <summary>One end.</summary>
    public static EndPaths Of(EndName end) => end == EndName.A ? EndPaths.A : EndPaths.B;

    /// <summary>The end within which a place stands; null when it stands within neither.</summary>
    public static EndName? EndOf(FieldPath path) =>
        path.Top == EndPaths.A.Whole.Top ? EndName.A
        : path.Top == EndPaths.B.Whole.Top ? EndName.B
        : null;
}

/// <summary>The places in the written form of one end of a tunnel.</summary>
public sealed class EndPaths
{
    /// <summary>Those of end A.</summary>
    public static readonly EndPaths A = new(EndName.A);

    /// <summary>Those of end B.</summary>
    public static readonly EndPaths B = new(EndName.B);

    private EndPaths(EndName end) => Whole = FieldPath.Of(end.Key());

    /// <summary>The end itself.</summary>
    public FieldPath Whole { get; }

    /// <summary>The gateway.</summary>
    public FieldPath Gateway => Whole.Key("gateway");

    /// <summary>The VRF inside.</summary>
    public FieldPath ProtectedVrf => Whole.Key("protectedVrf");

    /// <summary>The address of the peer as entered.</summary>
    public FieldPath PeerAddress => Whole.Key("peerAddress");

    /// <summary>Further addresses of the peer, in order.</summary>
    public FieldPath FurtherPeers => Whole.Key("furtherPeers");

    /// <summary>The identity it sends (IKEv2 IDi or IDr, RFC 7296 section 3.5).</summary>
    public FieldPath IdentitySent => Whole.Key("identitySent");

    /// <summary>The identity it expects of the peer.</summary>
    public FieldPath IdentityExpected => Whole.Key("identityExpected");

    /// <summary>What its pre-shared key is entered for.</summary>
    public FieldPath KeyFor => Whole.Key("keyFor");

    /// <summary>The versions of the key that it holds.</summary>
    public FieldPath KeyHeld => Whole.Key("keyHeld");

    /// <summary>Its certificate.</summary>
    public FieldPath Certificate => Whole.Key("certificate");

    /// <summary>The CAs whose certificates it accepts.</summary>
    public FieldPath Anchors => Whole.Key("anchors");

    /// <summary>The part of the gateway that holds its proposals.</summary>
    public FieldPath ProposalsFrom => Whole.Key("proposalsFrom");

    /// <summary>Every setting as it is set there.</summary>
    public FieldPath Settings => Whole.Key("set");

    /// <summary>One setting.</summary>
    public FieldPath Setting(Setting setting) => Settings.Key(setting.Key);

    /// <summary>Its selectors as entered.</summary>
    public FieldPath Subnets => Whole.Key("subnets");

    /// <summary>The own side of its selectors.</summary>
    public FieldPath LocalSubnets => Subnets.Key("local");

    /// <summary>The peer side of its selectors.</summary>
    public FieldPath RemoteSubnets => Subnets.Key("remote");

    /// <summary>The part of the gateway that holds the own or the peer side of its selectors.</summary>
    public FieldPath SubnetsFrom(bool own) => Subnets.Key(own ? "localFrom" : "remoteFrom");

    /// <summary>Its selectors as pairs.</summary>
    public FieldPath SubnetPairs => Subnets.Key("pairs");

    /// <summary>One pair of its selectors.</summary>
    public FieldPath SubnetPair(LocalRemote pair) => SubnetPairs.Item(Edits.KeyOf(WrittenTunnel.Write(pair)));

    /// <summary>That its selectors were confirmed.</summary>
    public FieldPath SubnetsConfirmed => Subnets.Key("confirmed");

    /// <summary>Its firewall rules.</summary>
    public FieldPath Rules => Whole.Key("rules");

    /// <summary>One firewall rule.</summary>
    public FieldPath Rule(Rule rule) => Rules.Item(Edits.KeyOf(WrittenTunnel.Write(rule)));

    /// <summary>Its no-NAT rules.</summary>
    public FieldPath NoNat => Whole.Key("noNat");

    /// <summary>One no-NAT rule.</summary>
    public FieldPath NoNatRule(LocalRemote pair) => NoNat.Item(Edits.KeyOf(WrittenTunnel.Write(pair)));

    /// <summary>Its routes into the tunnel, and its discard routes.</summary>
    public FieldPath Routes => Whole.Key("routes");

    /// <summary>One route.</summary>
    public FieldPath Route(Route route) => Routes.Item(Edits.KeyOf(WrittenTunnel.Write(route)));

    /// <summary>The address of its tunnel interface.</summary>
    public FieldPath TunnelAddress => Whole.Key("tunnelAddress");

    /// <summary>Its dynamic routing through the tunnel.</summary>
    public FieldPath Routing => Whole.Key("routing");

    /// <summary>The prefixes that it announces.</summary>
    public FieldPath Announces => Routing.Key("announces");

    /// <summary>The prefixes that it accepts.</summary>
    public FieldPath Accepts => Routing.Key("accepts");

    /// <summary>That its work was entered, is active and was saved.</summary>
    public FieldPath Progress => Whole.Key("progress");

    /// <summary>What prefixes are called on the device.</summary>
    public FieldPath PrefixNames => Whole.Key("prefixNames");

    /// <summary>The uplinks that it may use.</summary>
    public FieldPath Uplinks => Whole.Key("uplinks");
}

/// <summary>The places in the written form of a gateway.</summary>
public static class GatewayPaths
{
    /// <summary>The platform.</summary>
    public static readonly FieldPath Platform = FieldPath.Of("platform");

    /// <summary>Named parts that several tunnels may share.</summary>
    public static readonly FieldPath SharedEntries = FieldPath.Of("sharedEntries");

    /// <summary>The ways out.</summary>
    public static readonly FieldPath Uplinks = FieldPath.Of("uplinks");

    /// <summary>Who runs it.</summary>
    public static readonly FieldPath RunBy = FieldPath.Of("runBy");

    /// <summary>One part that several tunnels may share.</summary>
    public static FieldPath SharedEntry(string name) => SharedEntries.Item(name);

    /// <summary>A prefix in a list that several tunnels may share.</summary>
    public static FieldPath Member(string sharedEntry, Prefix prefix) =>
        SharedEntry(sharedEntry).Key("members").Item(prefix.ToString());

    /// <summary>The address on the device, of one uplink.</summary>
    public static FieldPath Address(string uplink) => Uplinks.Item(uplink).Key("address");

    /// <summary>The address that the NAT in front of one uplink shows.</summary>
    public static FieldPath NatAddress(string uplink) => Uplinks.Item(uplink).Key("nat").Key("publicAddress");
}

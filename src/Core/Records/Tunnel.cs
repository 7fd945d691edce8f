namespace Vellumkeep.Core.Records;

/// <summary>
/// One A-side prefix with one B-side prefix that should reach each other, as seen inside the tunnel. Known by its two
/// prefixes.
/// </summary>
public readonly record struct SubnetPair(Prefix A, Prefix B) : IComparable<SubnetPair>
{
    public Prefix On(EndName end) => end == EndName.A ? A : B;

    public int CompareTo(SubnetPair other) => A.CompareTo(other.A) is var byA and not 0 ? byA : B.CompareTo(other.B);

    public override string ToString() => $"{A} - {B}";
}

public enum RuleWay
{
    Both,
    In,
    Out,
}

/// <summary>A firewall rule on an end that lets a pair pass: into its own subnet, out of it, or both.</summary>
public sealed record Rule(RuleWay Way, Prefix Own, Prefix Peer)
{
    public static readonly Words<RuleWay> Ways = new(
        "a direction of a rule",
        (RuleWay.Both, "both"),
        (RuleWay.In, "in"),
        (RuleWay.Out, "out")
    );

    public bool Lets(RuleWay way, Prefix own, Prefix peer) =>
        (Way == RuleWay.Both || Way == way) && Own.Contains(own) && Peer.Contains(peer);
}

/// <summary>An own and a peer prefix: a selector as entered, or a no-translation rule.</summary>
public sealed record OwnPeer(Prefix Own, Prefix Peer);

/// <summary>
/// A route on an end: into the tunnel, or a discard route that keeps traffic from leaking while the tunnel is down.
/// </summary>
public sealed record Route(Prefix To, bool Discard);

/// <summary>
/// The selectors as entered on an end: own and peer lists (written out, or a held part of the gateway), or pairs where
/// the platform takes pairs.
/// </summary>
public sealed record EnteredSubnets(
    ImmutableArray<Prefix>? Own,
    string? OwnFrom,
    ImmutableArray<Prefix>? Peer,
    string? PeerFrom,
    ImmutableArray<OwnPeer>? Pairs,
    Seen? Seen
);

/// <summary>
/// The key versions an end holds, one list for both directions or one each; a list, because some platforms hold two
/// while a key is replaced.
/// </summary>
public sealed record KeyHeld(ImmutableArray<int> Send, ImmutableArray<int> Receive)
{
    public bool OneForBoth => Send.SequenceEqual(Receive);

    public override string ToString() =>
        OneForBoth ? Versions(Send) : $"send {Versions(Send)}, receive {Versions(Receive)}";

    private static string Versions(ImmutableArray<int> list) =>
        list.IsEmpty ? "none" : (list.Length == 1 ? "version " : "versions ") + string.Join(", ", list);
}

/// <summary>Entered, active, saved: each with the day it was done, or null.</summary>
public sealed record Ticks(DateOnly? Entered, DateOnly? Active, DateOnly? Saved)
{
    public static readonly Ticks None = new(null, null, null);
}

/// <summary>What both parties agreed for a tunnel.</summary>
public sealed record Agreed(
    string? SuiteId,
    SettingSet Both,
    SettingSet OnlyA,
    SettingSet OnlyB,
    Identity? IdentityA,
    Identity? IdentityB,
    ImmutableArray<SubnetPair> Pairs
)
{
    /// <summary>Nothing is agreed yet.</summary>
    public static readonly Agreed Nothing = new(
        null,
        SettingSet.Empty,
        SettingSet.Empty,
        SettingSet.Empty,
        null,
        null,
        []
    );

    public SettingSet Only(EndName end) => end == EndName.A ? OnlyA : OnlyB;

    public Identity? IdentityOf(EndName end) => end == EndName.A ? IdentityA : IdentityB;
}

/// <summary>The address on a tunnel interface, with the length of the network it lies in.</summary>
public sealed record TunnelAddress(Address Address, int Length)
{
    public Prefix Network => Prefix.Around(Address, Length);

    /// <summary>
    /// Reads <c>169.254.10.1/30</c>; host bits are expected here. A bare address stands for itself alone.
    /// </summary>
    public static Parsed<TunnelAddress> Parse(string text)
    {
        var cut = text.IndexOf('/');
        var address = Addressing.Address.Parse(cut < 0 ? text : text[..cut]);
        if (!address.Ok)
            return Parsed<TunnelAddress>.Fail(address.Wrong!, "an address with its length, such as 169.254.10.1/30");
        return cut < 0
            ? Parsed<TunnelAddress>.Of(new(address.Value, address.Value.Width))
            : Scalars
                .Number(text[(cut + 1)..], 0, address.Value.Width, "a length")
                .To(n => new TunnelAddress(address.Value, n));
    }

    public override string ToString() => Length == Address.Width ? Address.ToString() : $"{Address}/{Length}";
}

/// <summary>
/// The certificate an end authenticates with: the names it bears, who issued it, and from when until when it is valid,
/// both included.
/// </summary>
public sealed record Certificate(
    ImmutableArray<Identity> Names,
    string Issuer,
    DateOnly? From,
    DateOnly? Until,
    bool? MayAuthenticate
);

/// <summary>A dynamic routing protocol through the tunnel as an end has it.</summary>
public sealed record DynamicRouting(
    string Protocol,
    string? Own,
    string? Peer,
    Address? PeerAddress,
    ImmutableArray<Prefix> Announces,
    ImmutableArray<Prefix> Accepts,
    Lifetime? Hold
);

/// <summary>What a prefix is called on a device.</summary>
public sealed record NamedPrefix(Prefix Prefix, string Name);

/// <summary>The place of a tunnel in a fallback order: 1 carries the traffic first.</summary>
public sealed record FallbackPlace(string Order, int Place);

/// <summary>
/// That a finding was accepted: as it was then (its digest), why, by whom, and until when, that day included.
/// </summary>
public sealed record Acceptance(
    string Code,
    string Subject,
    string Digest,
    string Reason,
    DateOnly Until,
    string By,
    DateOnly On
);

/// <summary>One side of a tunnel: a gateway, the uplinks it may use, and every setting as that side has it.</summary>
public sealed record TunnelEnd
{
    public string GatewayId { get; init; } = "";

    public ImmutableArray<string> Uplinks { get; init; } = [];

    public string Inside { get; init; } = "main";

    public KeyHeld? KeyHeld { get; init; }

    public EnteredSubnets? Subnets { get; init; }

    public Recorded<PeerAddress>? PeerAddress { get; init; }

    public Recorded<Identity>? IdentitySent { get; init; }

    public Recorded<Identity>? IdentityExpected { get; init; }

    public SettingSet Set { get; init; } = SettingSet.Empty;

    public Recorded<Several<Rule>>? Rules { get; init; }

    public Recorded<Several<OwnPeer>>? NoTranslation { get; init; }

    public Recorded<Several<Route>>? Routes { get; init; }

    public Ticks Ticks { get; init; } = Ticks.None;

    /// <summary>The held part of the gateway from which IKE and ESP proposals come, unless they are set here.</summary>
    public string? ProposalsFrom { get; init; }

    /// <summary>
    /// What the pre-shared key is entered for: an address, a name or any; null when the key belongs to the peer entry
    /// itself.
    /// </summary>
    public PeerAddress? KeyFor { get; init; }

    public Recorded<TunnelAddress>? TunnelAddress { get; init; }

    public Certificate? Certificate { get; init; }

    /// <summary>Issuers whose certificates this end takes; null when not known.</summary>
    public ImmutableArray<string>? Anchors { get; init; }

    /// <summary>Certificate checks that were switched off at this end.</summary>
    public ImmutableArray<string> RelaxedChecks { get; init; } = [];

    public DynamicRouting? Routing { get; init; }

    public ImmutableArray<NamedPrefix> PrefixNames { get; init; } = [];
}

/// <summary>A tunnel with both ends: one record with one version.</summary>
public sealed record Tunnel : IRecord
{
    public string Id { get; init; } = "";

    public string Code { get; init; } = "";

    public string CustomerId { get; init; } = "";

    public string Name { get; init; } = "";

    public string? Purpose { get; init; }

    public TunnelState State { get; init; }

    public DateOnly? Since { get; init; }

    public TunnelForm Form { get; init; }

    public ImmutableArray<string> Tags { get; init; } = [];

    public ImmutableArray<Contact> Contacts { get; init; } = [];

    public Agreed Agreed { get; init; } = Agreed.Nothing;

    public TunnelEnd A { get; init; } = new();

    public TunnelEnd B { get; init; } = new();

    public string? Notes { get; init; }

    public Importance? Importance { get; init; }

    /// <summary>Expected throughput in Mbit/s, 1 to 400,000.</summary>
    public int? Throughput { get; init; }

    public FallbackPlace? Fallback { get; init; }

    public ImmutableArray<Acceptance> Accepted { get; init; } = [];

    public RecordKind Kind => RecordKind.Tunnel;

    public TunnelEnd End(EndName end) => end == EndName.A ? A : B;
}

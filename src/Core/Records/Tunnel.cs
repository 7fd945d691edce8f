namespace Vellumkeep.Core.Records;

/// <summary>What both parties agreed for a tunnel.</summary>
/// <param name="SuiteId">What identifies the suite at its version; null when none was agreed.</param>
/// <param name="Both">What was agreed for both ends beside the suite.</param>
/// <param name="OnlyA">What was agreed for A alone.</param>
/// <param name="OnlyB">What was agreed for B alone.</param>
/// <param name="IdentityA">What A is to send; null when nobody said.</param>
/// <param name="IdentityB">What B is to send; null when nobody said.</param>
/// <param name="Pairs">What should reach what.</param>
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

    /// <summary>What was agreed for an end alone.</summary>
    public SettingSet Only(EndName end) => end == EndName.A ? OnlyA : OnlyB;

    /// <summary>What an end was agreed to call itself; null when nothing was.</summary>
    public Identity? IdentityOf(EndName end) => end == EndName.A ? IdentityA : IdentityB;
}

/// <summary>The address on a tunnel interface, with the length of the network it lies in.</summary>
/// <param name="Address">Of the interface, host bits kept.</param>
/// <param name="Length">Of the network it lies in, in bits.</param>
public sealed record TunnelAddress(Address Address, int Length)
{
    /// <summary>The interface has no address, or there is no interface.</summary>
    public static readonly TunnelAddress None = new(default, -1);

    /// <summary>Whether there is none.</summary>
    public bool IsNone => Length < 0;

    /// <summary>The network that the address lies in.</summary>
    public Prefix Network => Prefix.Around(Address, Length);

    /// <summary>
    /// Reads <c>10.255.10.0/31</c> or <c>none</c>; host bits are expected here. A bare address stands for itself alone.
    /// </summary>
    public static Parsed<TunnelAddress> Parse(string text)
    {
        if (text.Equals("none", StringComparison.OrdinalIgnoreCase))
            return Parsed<TunnelAddress>.Of(None);
        var cut = text.IndexOf('/');
        var address = Addressing.Address.Parse(cut < 0 ? text : text[..cut]);
        if (!address.Ok)
            return Parsed<TunnelAddress>.Fail(address.Wrong!, "an address with its length, such as 10.255.10.0/31");
        return cut < 0
            ? Parsed<TunnelAddress>.Of(new(address.Value, address.Value.Width))
            : Scalars
                .Number(text[(cut + 1)..], 0, address.Value.Width, "a length")
                .To(n => new TunnelAddress(address.Value, n));
    }

    /// <inheritdoc/>
    public override string ToString() =>
        IsNone ? "none"
        : Length == Address.Width ? Address.ToString()
        : $"{Address}/{Length}";
}

/// <summary>
/// The certificate an end authenticates with: its subject alternative names, its CA, and from when until when it is
/// valid, both included.
/// </summary>
/// <param name="Names">Its subject alternative names.</param>
/// <param name="Ca">Who issued it.</param>
/// <param name="From">The first day it is valid; null when not known.</param>
/// <param name="Until">The last day it is valid; null when not known.</param>
/// <param name="MayAuthenticate">Whether its key usage allows it; null when not known.</param>
public sealed record Certificate(
    ImmutableArray<Identity> Names,
    string Ca,
    DateOnly? From,
    DateOnly? Until,
    bool? MayAuthenticate
);

/// <summary>A dynamic routing protocol through the tunnel as an end has it.</summary>
/// <param name="Protocol">Such as BGP.</param>
/// <param name="LocalAs">The own autonomous system; null when the protocol has none.</param>
/// <param name="RemoteAs">The peer's autonomous system; null when the protocol has none.</param>
/// <param name="PeerAddress">Of the other end's neighbour; null when not known.</param>
/// <param name="Announces">The prefixes that it tells; empty when nothing is held back.</param>
/// <param name="Accepts">The prefixes that it takes; empty when nothing is held back.</param>
/// <param name="Hold">After which silence the neighbour counts as gone; null when not known.</param>
public sealed record DynamicRouting(
    string Protocol,
    string? LocalAs,
    string? RemoteAs,
    Address? PeerAddress,
    ImmutableArray<Prefix> Announces,
    ImmutableArray<Prefix> Accepts,
    Lifetime? Hold
);

/// <summary>What a prefix is called on a device.</summary>
/// <param name="Prefix">The prefix.</param>
/// <param name="Name">As the device calls it.</param>
public sealed record NamedPrefix(Prefix Prefix, string Name);

/// <summary>The place of a tunnel in a fallback order: 1 carries the traffic first.</summary>
/// <param name="Order">The name of the order that its tunnels share.</param>
/// <param name="Place">From 1.</param>
public sealed record FallbackPlace(string Order, int Place);

/// <summary>
/// That a finding was accepted: as it was then (its digest), why, by whom, and until when, that day included.
/// </summary>
/// <param name="Code">The code of the finding.</param>
/// <param name="Subject">What of the tunnel the finding is about.</param>
/// <param name="Digest">The finding as it was then, in hex.</param>
/// <param name="Reason">Why it may stand.</param>
/// <param name="Until">The last day on which it may.</param>
/// <param name="By">The sign-in name of who did it.</param>
/// <param name="On">The day on which it was accepted.</param>
public sealed record Acceptance(
    string Code,
    string Subject,
    string Digest,
    string Reason,
    DateOnly Until,
    string By,
    DateOnly On
);

/// <summary>A tunnel with both ends: one record with one version.</summary>
public sealed record Tunnel : IRecord
{
    /// <summary>What identifies it; never shown.</summary>
    public string Id { get; init; } = "";

    /// <inheritdoc/>
    public string Code { get; init; } = "";

    /// <summary>The customer it belongs to.</summary>
    public string CustomerId { get; init; } = "";

    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";

    /// <summary>Reason.</summary>
    public string? Purpose { get; init; }

    /// <summary>Planned, building, in service, suspended or retired.</summary>
    public TunnelState State { get; init; }

    /// <summary>Since when it is in that state.</summary>
    public DateOnly? Since { get; init; }

    /// <summary>Route-based or policy-based.</summary>
    public TunnelForm Form { get; init; }

    /// <summary>Words to find it by.</summary>
    public ImmutableArray<string> Tags { get; init; } = [];

    /// <summary>The people at the other party.</summary>
    public ImmutableArray<Contact> Contacts { get; init; } = [];

    /// <summary>What both parties agreed.</summary>
    public Agreed Agreed { get; init; } = Agreed.Nothing;

    /// <summary>End A.</summary>
    public TunnelEnd A { get; init; } = new();

    /// <summary>End B.</summary>
    public TunnelEnd B { get; init; } = new();

    /// <summary>Anything else.</summary>
    public string? Notes { get; init; }

    /// <summary>How much hangs on it; null when nobody said.</summary>
    public Importance? Importance { get; init; }

    /// <summary>Expected throughput in Mbit/s, 1 to 400,000.</summary>
    public int? Throughput { get; init; }

    /// <summary>Its place in a fallback order; null when it stands alone.</summary>
    public FallbackPlace? Fallback { get; init; }

    /// <summary>The findings that were accepted.</summary>
    public ImmutableArray<Acceptance> Accepted { get; init; } = [];

    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Tunnel;

    /// <summary>One of its ends.</summary>
    public TunnelEnd End(EndName end) => end == EndName.A ? A : B;

    /// <summary>The tunnel with one end altered.</summary>
    public Tunnel WithEnd(EndName end, Func<TunnelEnd, TunnelEnd> alter) =>
        end == EndName.A ? this with { A = alter(A) } : this with { B = alter(B) };
}

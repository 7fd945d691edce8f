namespace Vellumkeep.Core.Resolution;

/// <summary>
/// One end of a tunnel with everything it refers to, and its values resolved: set, else agreed, else default, else
/// unknown.
/// </summary>
public sealed class EndView
{
    private readonly TunnelView tunnel;

    // Resolved once: comparison, both rehearsals and the checks ask again and again.
    private ImmutableArray<Uplink>? uplinks;
    private Resolved<PeerAddress>? peerAddress;
    private Resolved<Identity>? sent;
    private Resolved<Identity>? expected;
    private Resolved<Several<Prefix>>? local;
    private Resolved<Several<Prefix>>? remote;

    internal EndView(TunnelView tunnel, EndName name, Inventory inventory)
    {
        this.tunnel = tunnel;
        Name = name;
        End = tunnel.Tunnel.End(name);
        Gateway = inventory.Get<Gateway>(End.GatewayId);
        Platform = inventory.Get<Platform>(Gateway.PlatformId);
        Site = inventory.Get<Site>(Gateway.SiteId);
        Owner = inventory.Get<Customer>(Site.CustomerId);
    }

    /// <summary>A or B.</summary>
    public EndName Name { get; }

    /// <summary>The record of the end.</summary>
    public TunnelEnd End { get; }

    /// <summary>Its gateway.</summary>
    public Gateway Gateway { get; }

    /// <summary>The platform of its gateway.</summary>
    public Platform Platform { get; }

    /// <summary>The site of its gateway.</summary>
    public Site Site { get; }

    /// <summary>Whose site it is: the customer, or another party.</summary>
    public Customer Owner { get; }

    /// <summary>The other end.</summary>
    public EndView Other => tunnel.End(Name.Other());

    /// <summary>The tunnel.</summary>
    public TunnelView Tunnel => tunnel;

    /// <summary>Whether its selectors are from any to any, so that routes alone decide what goes in.</summary>
    public bool AnyToAny =>
        Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.AnyToAny
        && End.Subnets is null or { Local: null, LocalFrom: null, Pairs: null };

    /// <summary>The uplinks this tunnel may use, preferred first; all of the gateway's when none is named.</summary>
    public ImmutableArray<Uplink> Uplinks =>
        uplinks ??= End.Uplinks.IsEmpty
            ? Gateway.Uplinks
            : [.. End.Uplinks.Select(l => Gateway.Uplinks.FirstOrDefault(u => u.Label == l)).OfType<Uplink>()];

    /// <summary>
    /// The address the other end sees first; null when it is dynamic, pending or behind a NAT of unknown
    /// address.
    /// </summary>
    public Address? Outer => Uplinks.FirstOrDefault()?.Outer;

    /// <summary>The outer address for reading.</summary>
    public string OuterText => Uplinks.FirstOrDefault()?.OuterText ?? "unknown";

    /// <summary>Whether the other end cannot know where to send.</summary>
    public bool AddressIsDynamic => Uplinks.FirstOrDefault()?.IsDynamic == true;

    private string PlatformVia => Platform.Title;

    /// <summary>The value of a setting, and where it comes from.</summary>
    public Resolved<T> Get<T>(Setting<T> setting)
        where T : class => Final(Now(setting), setting);

    private Resolved<T> Final<T>(Resolved<T> now, RowKey row)
        where T : class =>
        now.ForNow is { } until && tunnel.IsFinal(Name, row) ? now with { Value = until.Final } : now;

    private Resolved<T> Now<T>(Setting<T> setting)
        where T : class
    {
        if (End.Set.Get(setting) is { } set)
            return Resolved<T>.Set(set);
        if (End.ProposalsFrom is { } held && Gateway.Held(held) is { } part && SharedValue(part, setting) is { } shared)
            return new(shared, Source.Set, part.Name, End.Subnets?.Confirmed);
        var agreed = tunnel.Tunnel.Agreed;
        if ((agreed.Only(Name).Get(setting) ?? agreed.Both.Get(setting)) is { } said)
            return new(said.Value, Source.Agreed, null, null, said.Temporary, said.Pending);
        if (tunnel.Suite?.Settings.Get(setting) is { } suite)
            return new(suite.Value, Source.Agreed, tunnel.Suite.Code);
        return Platform.Defaults.Get(setting) is { } byDefault
            ? new(byDefault.Value, Source.Default, PlatformVia)
            : Resolved<T>.Unknown;
    }

    private static T? SharedValue<T>(SharedEntry part, Setting<T> setting)
        where T : class =>
        setting == (Setting)Settings.IkeProposals && !part.IkeProposals.IsEmpty
            ? new Several<IkeProposal>(part.IkeProposals) as T
        : setting == (Setting)Settings.EspProposals && !part.EspProposals.IsEmpty
            ? new Several<EspProposal>(part.EspProposals) as T
        : null;

    /// <summary>
    /// How long before the end of <paramref name="setting"/> this end rekeys; null when neither the value nor the
    /// platform profile says.
    /// </summary>
    public Margin? MarginRuleOf(Setting<Life> setting) =>
        Get(setting).Value is { } life ? life.Margin ?? Platform.Defaults.Get(setting)?.Value?.Margin : null;

    /// <summary>
    /// What this end entered as the address of the other, of several the first that the other end has; when nothing is
    /// set, the other end's outer address, agreed by being recorded there.
    /// </summary>
    public Resolved<PeerAddress> PeerAddress => peerAddress ??= Final(PeerAddressNow(), RowKey.AddressOf(Name.Other()));

    private Resolved<PeerAddress> PeerAddressNow()
    {
        if (End.PeerAddress is { } set)
            return TriedFirst(Resolved<PeerAddress>.Set(set));
        var uplink = Other.Uplinks.FirstOrDefault();
        var there = $"{Other.Gateway.Code} {uplink?.Label}";
        if (Other.Outer is { } outer)
            return new(new(outer, null), Source.Agreed, there);
        return uplink?.Address.Value?.Name is { } name
            ? new(new(null, name), Source.Agreed, there)
            : new(null, Source.Unknown, null, null, null, uplink?.Address.Pending);
    }

    /// <summary>
    /// Of several peer addresses the first that the other end has; the first where it has none of them.
    /// </summary>
    private Resolved<PeerAddress> TriedFirst(Resolved<PeerAddress> set)
    {
        if (End.FurtherPeers.IsEmpty || set.Value is not { } first)
            return set;
        var fits = End.FurtherPeers.Prepend(first).FirstOrDefault(p => Other.Uplinks.Any(p.Names));
        return set with { Value = fits ?? first };
    }

    /// <summary>The identity that it sends.</summary>
    public Resolved<Identity> IdentitySent =>
        sent ??= Final(
            IdentityNow(End.IdentitySent, Name, Uplinks.FirstOrDefault()?.Address.Value?.Fixed),
            RowKey.IdentityOf(Name)
        );

    /// <summary>The identity that it expects.</summary>
    public Resolved<Identity> IdentityExpected =>
        expected ??= Final(
            IdentityNow(End.IdentityExpected, Name.Other(), PeerAddress.Value?.Address),
            RowKey.IdentityOf(Name.Other())
        );

    /// <summary>
    /// An identity as it is set, as it was agreed, or the address where that is the platform's default.
    /// </summary>
    private Resolved<Identity> IdentityNow(Recorded<Identity>? set, EndName of, Address? address)
    {
        if (set is not null)
            return Resolved<Identity>.Set(set);
        if (tunnel.Tunnel.Agreed.IdentityOf(of) is { } agreed)
            return new(agreed, Source.Agreed);
        return Platform.SendsAddressByDefault == true && address is { } local
            ? new(new(IdentityKind.Address, local.ToString()), Source.Default, PlatformVia)
            : Resolved<Identity>.Unknown;
    }

    /// <summary>The own side of its selectors.</summary>
    public Resolved<Several<Prefix>> LocalSubnets =>
        local ??= Subnets(End.Subnets?.Local, End.Subnets?.LocalFrom, p => p.Local, p => p.On(Name));

    /// <summary>The peer side of its selectors.</summary>
    public Resolved<Several<Prefix>> RemoteSubnets =>
        remote ??= Subnets(End.Subnets?.Remote, End.Subnets?.RemoteFrom, p => p.Remote, p => p.On(Name.Other()));

    /// <summary>Whether a selector of this end covers the pair; null when its subnets are not known.</summary>
    public bool? Selects(SubnetPair pair)
    {
        Prefix mine = pair.On(Name),
            theirs = pair.On(Name.Other());
        if (AnyToAny)
            return true;
        if (End.Subnets?.Pairs is { } entered)
            return entered.Any(p => p.Local == mine && p.Remote == theirs && p.Traffic.Contains(pair.TrafficAt(Name)));
        if (!LocalSubnets.Known || !RemoteSubnets.Known)
            return null;
        return LocalSubnets.Value!.Items.Any(p => p.Contains(mine))
            && RemoteSubnets.Value!.Items.Any(p => p.Contains(theirs));
    }

    /// <summary>PFS of the child SA that carries a pair: that of its selector, or that of the end; null when not known.</summary>
    public Pfs? PfsOf(SubnetPair pair) =>
        End.Subnets?.Pairs?.FirstOrDefault(p =>
            p.Pfs is not null
            && p.Local.Contains(pair.On(Name))
            && p.Remote.Contains(pair.On(Name.Other()))
            && p.Traffic.Contains(pair.TrafficAt(Name))
        )?.Pfs
        ?? Get(Settings.Pfs).Value;

    private Resolved<Several<Prefix>> Subnets(
        ImmutableArray<Prefix>? list,
        string? held,
        Func<LocalRemote, Prefix> ofPair,
        Func<SubnetPair, Prefix> ofWanted
    )
    {
        var confirmation = End.Subnets?.Confirmed;
        if (list is { } said)
            return new(new(said), Source.Set, null, confirmation);
        if (held is not null)
            return Gateway.Held(held) is { } part
                ? new(new(part.Members), Source.Set, part.Name, confirmation)
                : new(null, Source.Unknown, held);
        if (End.Subnets?.Pairs is { } pairs)
            return new(new([.. pairs.Select(ofPair).Distinct()]), Source.Set, null, confirmation);
        var wanted = tunnel.Tunnel.Agreed.Pairs;
        return wanted.IsEmpty
            ? Resolved<Several<Prefix>>.Unknown
            : new(new([.. wanted.Select(ofWanted).Distinct()]), Source.Agreed);
    }
}

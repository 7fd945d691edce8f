namespace Vellumkeep.Core.Records;

/// <summary>That a tunnel, at one of its ends, claims a remote prefix.</summary>
/// <param name="Tunnel">The tunnel that claims it.</param>
/// <param name="End">The end at which it is claimed.</param>
public sealed record RemoteClaim(Tunnel Tunnel, EndName End);

/// <summary>
/// A set of records that belong together: the whole of a keepfile, or just what one tunnel touches. Immutable; records
/// are found by id. What is not in it does not exist for a computation, so whoever puts it together must bring
/// everything the tunnels refer to.
/// </summary>
public sealed class Inventory
{
    private readonly ImmutableDictionary<string, IRecord> records;
    private readonly Lazy<ILookup<string, (Tunnel Tunnel, EndName End)>> onGateway;
    private readonly Lazy<ILookup<Address, Gateway>> atAddress;
    private readonly System.Collections.Concurrent.ConcurrentDictionary<
        string,
        ILookup<(string Inside, Address Address), Tunnel>
    > tunnelAddresses = new();
    private readonly System.Collections.Concurrent.ConcurrentDictionary<string, PeerEntries> entries = new();
    private readonly System.Collections.Concurrent.ConcurrentDictionary<string, PrefixIndex<RemoteClaim>> remotes =
        new();

    private Inventory(ImmutableDictionary<string, IRecord> records)
    {
        this.records = records;
        atAddress = new(() =>
            records
                .Values.OfType<Gateway>()
                .SelectMany(g => g.Uplinks.Select(u => u.Outer).OfType<Address>().Distinct().Select(a => (a, g)))
                .ToLookup(x => x.a, x => x.g)
        );
        onGateway = new(() =>
            Tunnels
                .Where(t => t.State != TunnelState.Retired)
                .SelectMany(t => new[] { (t.A.GatewayId, (t, EndName.A)), (t.B.GatewayId, (t, EndName.B)) })
                .ToLookup(p => p.Item1, p => p.Item2)
        );
    }

    /// <summary>No records.</summary>
    public static readonly Inventory Empty = new(ImmutableDictionary<string, IRecord>.Empty);

    /// <summary>An inventory of these records.</summary>
    public static Inventory Of(IEnumerable<IRecord> records) => new(records.ToImmutableDictionary(r => r.Id));

    /// <summary>The inventory with records added or replaced, by their ids.</summary>
    public Inventory With(params IEnumerable<IRecord> changed) =>
        new(records.SetItems(changed.Select(r => KeyValuePair.Create(r.Id, r))));

    /// <summary>Every record, by kind and code.</summary>
    public IEnumerable<IRecord> All =>
        records.Values.OrderBy(r => r.Kind).ThenBy(r => r.Code, StringComparer.OrdinalIgnoreCase);

    /// <summary>Every tunnel, by code.</summary>
    public IEnumerable<Tunnel> Tunnels =>
        records.Values.OfType<Tunnel>().OrderBy(t => t.Code, StringComparer.OrdinalIgnoreCase);

    /// <summary>The record with that id.</summary>
    /// <exception cref="KeyNotFoundException">It is not in this inventory, or of another kind.</exception>
    public T Get<T>(string id)
        where T : class, IRecord =>
        Find<T>(id) ?? throw new KeyNotFoundException($"No {typeof(T).Name} has the id {id}.");

    /// <summary>A record by its id; null when there is none, or one of another kind.</summary>
    public T? Find<T>(string? id)
        where T : class, IRecord => id is not null && records.TryGetValue(id, out var r) ? r as T : null;

    /// <summary>A record by its code, whatever the case; null when there is none.</summary>
    public T? ByCode<T>(string code)
        where T : class, IRecord =>
        records.Values.OfType<T>().FirstOrDefault(r => r.Code.Equals(code, StringComparison.OrdinalIgnoreCase));

    /// <summary>The tunnels that are not retired and have an end on the gateway, with that end, by code.</summary>
    public IEnumerable<(Tunnel Tunnel, EndName End)> On(string gatewayId) => onGateway.Value[gatewayId];

    /// <summary>The gateways that show an outer address.</summary>
    public IEnumerable<Gateway> At(Address outer) => atAddress.Value[outer];

    /// <summary>
    /// The tunnels of a gateway that have an address on their tunnel interface there, within one VRF.
    /// </summary>
    public IEnumerable<Tunnel> WithTunnelAddress(string gatewayId, string inside, Address address) =>
        tunnelAddresses.GetOrAdd(gatewayId, id =>
            On(id)
                .Select(o => (o.Tunnel, End: o.Tunnel.End(o.End)))
                .Where(o => o.End.InterfaceAddress is not null)
                .ToLookup(o => (o.End.ProtectedVrf, o.End.InterfaceAddress!.Address), o => o.Tunnel)
        )[(inside, address)];

    /// <summary>The peer entries of a gateway, by what they are looked up by.</summary>
    public PeerEntries EntriesOf(string gatewayId) => entries.GetOrAdd(gatewayId, id => PeerEntries.Of(this, id));

    /// <summary>
    /// What the tunnels of a gateway that exist claim as remote prefixes, planned and retired ones left out.
    /// </summary>
    public PrefixIndex<RemoteClaim> RemotesOf(string gatewayId) =>
        remotes.GetOrAdd(gatewayId, id =>
            new(
                On(id)
                    .Where(o => o.Tunnel.State != TunnelState.Planned)
                    .SelectMany(o =>
                        o.Tunnel.Agreed.Pairs.Select(p => p.On(o.End.Other()))
                            .Distinct()
                            .Select(p => (p, new RemoteClaim(o.Tunnel, o.End)))
                    )
            )
        );

    /// <summary>The tunnels other than <paramref name="but"/> that use a shared entry of a gateway.</summary>
    public IEnumerable<Tunnel> UsersOf(string gatewayId, string sharedEntry, string but) =>
        On(gatewayId)
            .Where(t =>
                t.Tunnel.Id != but
                && t.Tunnel.End(t.End).Subnets is var s
                && (
                    s?.LocalFrom == sharedEntry
                    || s?.RemoteFrom == sharedEntry
                    || t.Tunnel.End(t.End).ProposalsFrom == sharedEntry
                )
            )
            .Select(t => t.Tunnel);
}

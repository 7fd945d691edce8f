namespace Vellumkeep.Core.Records;

/// <summary>
/// The peer entries of one gateway by what they are looked up by. Built once for a gateway, so that a hub with
/// thousands of tunnels answers one source without a walk.
/// </summary>
public sealed class PeerEntries
{
    private readonly Dictionary<Address, List<Tunnel>> byAddress = [];
    private readonly List<Tunnel> forAny = [];

    private PeerEntries() { }

    internal static PeerEntries Of(Inventory inventory, string gatewayId)
    {
        var made = new PeerEntries();
        foreach (var (tunnel, end) in inventory.On(gatewayId))
        {
            if (tunnel.State == TunnelState.Planned)
                continue;
            var entered = tunnel.End(end).PeerAddress?.Value;
            if (entered?.IsAny == true)
                made.forAny.Add(tunnel);
            else
                foreach (var address in AddressesOf(inventory, tunnel, end))
                    (made.byAddress.TryGetValue(address, out var list) ? list : made.byAddress[address] = []).Add(
                        tunnel
                    );
        }

        return made;
    }

    /// <summary>Entries for exactly that address, other than those of <paramref name="but"/>.</summary>
    public IEnumerable<Tunnel> For(Address address, string but) =>
        byAddress.TryGetValue(address, out var list) ? list.Where(t => t.Id != but) : [];

    /// <summary>Entries for any address, other than those of <paramref name="but"/>.</summary>
    public IEnumerable<Tunnel> ForAny(string but) => forAny.Where(t => t.Id != but);

    private static IEnumerable<Address> AddressesOf(Inventory inventory, Tunnel tunnel, EndName end)
    {
        var near = tunnel.End(end);
        var first = near.PeerAddress?.Value is { } entered
            ? entered.Address
            : OuterOf(inventory, tunnel.End(end.Other()));
        return near.FurtherPeers.Select(p => p.Address).Prepend(first).OfType<Address>().Distinct();
    }

    private static Address? OuterOf(Inventory inventory, TunnelEnd end)
    {
        var uplinks = inventory.Find<Gateway>(end.GatewayId)?.Uplinks ?? [];
        return (
            end.Uplinks.IsEmpty ? uplinks.FirstOrDefault() : uplinks.FirstOrDefault(u => u.Label == end.Uplinks[0])
        )?.Outer;
    }
}

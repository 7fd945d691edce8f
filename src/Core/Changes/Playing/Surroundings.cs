using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Playing;

/// <summary>
/// The records that a negotiation at the gateways of a change can meet. A play asks for many inventories that differ in
/// one tunnel, and each has its own look-ups: they are not to be made of the whole fleet.
/// </summary>
internal static class Surroundings
{
    public static Inventory Of(Inventory all, IReadOnlyList<TunnelStages> about)
    {
        var hubs = about.SelectMany(t => t.Was.Ends.Concat(t.Then.Ends)).Select(e => e.Gateway.Id).Distinct().ToArray();
        var tunnels = about
            .Select(t => t.Was.Tunnel)
            .Concat(hubs.SelectMany(all.On).Select(o => o.Tunnel))
            .DistinctBy(t => t.Id)
            .ToArray();
        var gateways = tunnels
            .SelectMany(t => new[] { t.A.GatewayId, t.B.GatewayId })
            .Concat(hubs)
            .Distinct()
            .Select(all.Get<Gateway>)
            .ToArray();
        var sites = gateways.Select(g => g.SiteId).Distinct().Select(all.Get<Site>).ToArray();
        var customers = sites.Select(s => s.CustomerId).Concat(tunnels.Select(t => t.CustomerId)).Distinct();
        return Inventory.Of([
            .. tunnels,
            .. gateways,
            .. sites,
            .. customers.Select(all.Find<Customer>).OfType<Customer>(),
            .. gateways
                .Select(g => all.Get<Platform>(g.PlatformId))
                .Concat(about.SelectMany(t => t.Then.Ends).Select(e => e.Platform))
                .DistinctBy(p => p.Id),
            .. tunnels
                .Concat(about.Select(t => t.Then.Tunnel))
                .Select(t => t.Agreed.SuiteId)
                .Distinct()
                .Select(all.Find<Suite>)
                .OfType<Suite>(),
        ]);
    }
}

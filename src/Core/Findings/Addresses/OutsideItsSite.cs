using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-07: a wanted prefix lies in no network of its site.</summary>
public static class OutsideItsSite
{
    /// <summary>Selector not within any network of its site (ADR-07).</summary>
    public static readonly Check Check = new("ADR-07", "selector not within any network of its site", c =>
        c.View.Ends.Where(e => !e.Site.Networks.IsEmpty)
            .SelectMany(e =>
                c.View.Tunnel.Agreed.Pairs.Select(p => p.On(e.Name))
                    .Distinct()
                    .Where(p => !e.Site.Networks.Any(n => n.AsPresented.Contains(p)) && !IsReachedBeyond(e, p))
                    .Select(p => new Finding
                    {
                        Severity = Severity.Note,
                        Subject = $"{e.Name}:{p}",
                        RowKey = RowKey.SubnetsOf(e.Name),
                        Pairs = [.. c.View.Tunnel.Agreed.Pairs.Where(x => x.On(e.Name) == p)],
                        What = $"{p} behind {e.Name} is in no recorded network of {e.Site.Name:w}.",
                        Why = $"Either the site's networks are not all recorded, or the selector is wrong.",
                        Do = $"Record the network at {e.Site.Name:w}, or correct the pair.",
                        Evidence = [new Evidence(e.Name, "Subnet", p.ToString(), "agreed")],
                    })
            )
    );

    /// <summary>
    /// Whether a hub has it behind another of its tunnels: then it is of no network of the hub's own site, and right.
    /// </summary>
    private static bool IsReachedBeyond(EndView end, Prefix prefix) =>
        end
            .Tunnel.Inventory.On(end.Gateway.Id)
            .Where(o => o.Tunnel.Id != end.Tunnel.Tunnel.Id && o.Tunnel.State != TunnelState.Retired)
            .Any(o => o.Tunnel.Agreed.Pairs.Any(p => p.On(o.End.Other()).Contains(prefix)));
}

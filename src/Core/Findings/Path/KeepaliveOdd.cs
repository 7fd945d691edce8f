namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-07: keepalives on a hub, on both ends, or at a target outside the pairs.</summary>
public static class KeepaliveOdd
{
    /// <summary>
    /// From so many tunnels on that are not retired, a gateway is a hub. Whoever runs the check on a part of an
    /// inventory brings that many of each gateway.
    /// </summary>
    public const int Hub = 5;

    /// <summary>Keepalive on a hub, on both ends, or outside the pairs (PATH-07).</summary>
    public static readonly Check Check = new("PATH-07", "keepalive on a hub, on both ends, or outside the pairs", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        var with = c.View.Ends.Where(e => e.Get(Settings.Keepalive).Value is { At: not null }).ToArray();
        var row = c.Row(Settings.Keepalive);
        foreach (var e in with)
        {
            // A retired tunnel sends nothing any more.
            var sends = c.View.Tunnel.State != TunnelState.Retired;
            var living = c.View.Inventory.On(e.Gateway.Id).Where(o => o.Tunnel.State != TunnelState.Retired);
            if (sends && living.Take(Hub).Count() == Hub)
                yield return new()
                {
                    Severity = Severity.Note,
                    Subject = $"{e.Name}:hub",
                    RowKey = Settings.Keepalive,
                    What = $"{e.Name} sends keepalives from {e.Gateway.Code}, which is a hub.",
                    Why =
                        $"A hub that probes every spoke keeps initiating tunnels that are down, and loads itself for nothing.",
                    Do = $"Send keepalives from {e.Name.Other()} instead.",
                    Evidence = Checked.Of(row),
                };
            if (
                e.Get(Settings.Keepalive).Value!.Address is { } target
                && !c.View.Tunnel.Agreed.Pairs.IsEmpty
                && !c.View.Tunnel.Agreed.Pairs.Any(p => p.On(e.Name.Other()).Contains(target))
            )
                yield return new()
                {
                    Severity = Severity.Degrades,
                    Subject = $"{e.Name}:target",
                    RowKey = Settings.Keepalive,
                    What = $"{e.Name} sends keepalives to {target}, which lies in no pair of the tunnel.",
                    Why = $"They match no selector, so they do not keep the tunnel up.",
                    Do = $"Use a test point behind {e.Name.Other()} as the target.",
                    Consequence = $"Keepalives of {e.Name} go to {target}, outside the tunnel.",
                    Evidence = Checked.Of(row),
                };
        }

        if (with.Length == 2)
            yield return new()
            {
                Severity = Severity.Note,
                Subject = "both",
                RowKey = Settings.Keepalive,
                What = $"Both ends send keepalives.",
                Why = $"Keepalives from one end are enough. From both, the two ends initiate at the same time.",
                Do = $"Send keepalives from the spoke only.",
                Evidence = Checked.Of(row),
            };
    }
}

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-10: a fallback order of one, or one whose tunnels share an uplink.</summary>
public static class FallbackAlone
{
    /// <summary>Fallback order without a second path, or through one uplink (PATH-10).</summary>
    public static readonly Check Check = new(
        "PATH-10",
        "fallback order without a second path, or through one uplink",
        c =>
        {
            if (c.View.Tunnel.Fallback is not { } place)
                return [];
            var mates = c
                .View.Ends.SelectMany(e => c.View.Inventory.On(e.Gateway.Id))
                .Select(o => o.Tunnel)
                .Where(t => t.Id != c.View.Tunnel.Id && t.Fallback?.Order == place.Order)
                .DistinctBy(t => t.Id)
                .ToArray();
            if (mates.Length == 0)
                return
                [
                    new Finding
                    {
                        Severity = Severity.Risk,
                        What = $"{c.View.Tunnel} is the only tunnel in the fallback order {place.Order}.",
                        Why = $"There is no second tunnel to fall back to.",
                        Do = $"Plan a second tunnel over another uplink, or remove the fallback order.",
                        Consequence = $"The fallback order {place.Order} has no second path.",
                        Evidence =
                        [
                            new Evidence(
                                null,
                                "Fallback order",
                                $"{place.Order}, place {place.Place}",
                                c.View.Tunnel.Code
                            ),
                        ],
                    },
                ];
            return c
                .View.Ends.Where(e =>
                    e.Uplinks.FirstOrDefault() is { } mine
                    && mates.All(m =>
                        Of(c, m, e.Gateway.Id) is { } end
                        && (end.Uplinks.IsEmpty ? e.Gateway.Uplinks.FirstOrDefault()?.Label : end.Uplinks[0])
                            == mine.Label
                    )
                )
                .Where(e => e.Gateway.Uplinks.Length > 1)
                .Select(e => new Finding
                {
                    Severity = Severity.Risk,
                    Subject = e.Name.ToString(),
                    What =
                        $"All tunnels of the fallback order {place.Order} leave {e.Gateway.Code} at {e.Name} over "
                        + $"{e.Uplinks.First().Label}.",
                    Why = $"When that uplink fails, all of them fail.",
                    Do = $"Set another uplink of {e.Gateway.Code} as preferred for one of them.",
                    Evidence = [new Evidence(e.Name, "Uplink", e.Uplinks.First().Label, e.Gateway.Code)],
                });
        }
    );

    private static TunnelEnd? Of(Checked c, Tunnel tunnel, string gatewayId) =>
        tunnel.A.GatewayId == gatewayId ? tunnel.A
        : tunnel.B.GatewayId == gatewayId ? tunnel.B
        : null;
}

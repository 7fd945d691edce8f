using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Gateways: listed and opened.</summary>
internal static class GatewayCommands
{
    public static Command Make(Frame f) => Frame.Thing("gateway", "gateways and their tunnels", List(f), Show(f));

    private static Command List(Frame f)
    {
        var s = f.Screen;
        var customer = Frame.Text("--customer", "code");
        return f.List(
            "list",
            "gateways by code",
            "gateways",
            p => [("customer", p.GetValue(customer))],
            async (p, c, ct) =>
            {
                var list = await c.GatewaysAsync(p.GetValue(customer), ct);
                f.Shows(p, list, () =>
                    s.Table(
                        ["gateway", "customer", "outer address", "tunnels", "platform", "site"],
                        list.Select(g =>
                            (IReadOnlyList<string>)
                                [
                                    s.In("strong", g.Code),
                                    g.Customer,
                                    g.Outer,
                                    g.Blocked > 0
                                        ? $"{g.Tunnels}, {s.In("stops", $"{g.Blocked} blocked")}"
                                        : $"{g.Tunnels}",
                                    g.Platform,
                                    g.Site,
                                ]
                        )
                    )
                );
                return 0;
            },
            customer
        );
    }

    private static Command Show(Frame f)
    {
        var s = f.Screen;
        var gateway = Frame.Name("gateway");
        return f.Verb(
            "show",
            "a gateway: verdict, uplinks, shared entries, tunnels",
            async (p, c, ct) =>
            {
                var g = await c.GatewayAsync(p.GetValue(gateway)!, ct);
                f.Shows(p, g, () =>
                {
                    s.Line($"{s.In("strong", g.Code)}  {g.Site}, {g.Customer} · {g.PlatformName} · run by {g.RunBy}\n");
                    s.Verdict(g.Verdict);
                    s.Line();
                    s.Table(
                        ["uplink", "outer address", "on the device", "NAT", "MTU"],
                        g.Uplinks.Select(u =>
                            (IReadOnlyList<string>)
                                [
                                    u.Label,
                                    u.Outer,
                                    u.OnDevice ?? "",
                                    u.Nat ?? "",
                                    u.Mtu?.ToString(System.Globalization.CultureInfo.InvariantCulture) ?? "",
                                ]
                        )
                    );
                    s.Line();
                    s.Table(
                        ["shared entry", "what", "tunnels", "holds"],
                        g.Held.Select(h =>
                            (IReadOnlyList<string>)[h.Name, h.What, string.Join(", ", h.Tunnels), h.Holds]
                        )
                    );
                    if (g.Held.Count > 0)
                        s.Line();
                    Printing.Tunnels(s, g.Tunnels, g.TunnelsInAll);
                    if (g.Others > 0)
                        s.Line(s.In("soft", $"{g.Others} more of other customers."));
                });
                return g.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
            },
            gateway
        );
    }
}

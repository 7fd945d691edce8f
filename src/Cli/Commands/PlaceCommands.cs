using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Commands;

/// <summary>Gateways, customers, platforms, suites and addresses: listed and opened.</summary>
internal static partial class PlaceCommands
{
    public static IEnumerable<Command> Make(Frame f) =>
        [Gateways(f), Customers(f), Platforms(f), Suites(f), Addresses(f)];

    private static Command Gateways(Frame f) =>
        Frame.Thing("gateway", "gateways and their tunnels", ListGateways(f), ShowGateway(f));

    private static Command ListGateways(Frame f)
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

    private static Command ShowGateway(Frame f)
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
                    Tunnels(s, g.Tunnels, g.TunnelsInAll);
                    if (g.Others > 0)
                        s.Line(s.In("soft", $"{g.Others} more of other customers."));
                });
                return g.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
            },
            gateway
        );
    }

    private static Command Customers(Frame f) =>
        Frame.Thing(
            "customer",
            "customers and other parties",
            ListCustomers(f),
            ShowCustomer(f),
            DrawCustomer(f),
            CustomerAddresses(f)
        );

    private static Command ListCustomers(Frame f)
    {
        var s = f.Screen;
        return f.List(
            "list",
            "customers by code",
            "customers",
            _ => [],
            async (p, c, ct) =>
            {
                var list = await c.CustomersAsync(ct);
                f.Shows(p, list, () =>
                    s.Table(
                        ["customer", "", "tunnels", "name"],
                        list.Select(x =>
                            (IReadOnlyList<string>)
                                [
                                    s.In("strong", x.Code),
                                    x.Owner,
                                    x.Blocked > 0
                                        ? $"{x.Tunnels}, {s.In("stops", $"{x.Blocked} blocked")}"
                                        : $"{x.Tunnels}",
                                    x.Name,
                                ]
                        )
                    )
                );
                return 0;
            }
        );
    }

    private static Command ShowCustomer(Frame f)
    {
        var s = f.Screen;
        var owner = Frame.Name("customer");
        return f.Verb(
            "show",
            "a customer: verdict, sites, tunnels",
            async (p, c, ct) =>
            {
                var x = await c.CustomerAsync(p.GetValue(owner)!, ct);
                f.Shows(p, x, () =>
                {
                    s.Line($"{s.In("strong", x.Code)}  {x.Name}\n");
                    s.Verdict(x.Verdict);
                    s.Line();
                    s.Table(
                        ["site", "name", "gateways", "networks"],
                        x.Sites.Select(t =>
                            (IReadOnlyList<string>)
                                [t.Code, t.Name, string.Join(", ", t.Gateways), string.Join("; ", t.Networks)]
                        )
                    );
                    if (x.Sites.Count < x.SiteCount)
                        s.Line(
                            s.In(
                                "soft",
                                $"{x.SiteCount - x.Sites.Count} more: vellumkeep site list --customer {x.Code}"
                            )
                        );
                    s.Line();
                    Tunnels(s, x.Tunnels, x.TunnelsInAll);
                });
                return x.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
            },
            owner
        );
    }

    private static Command DrawCustomer(Frame f)
    {
        var owner = Frame.Name("customer");
        var output = new Option<string>("--output")
        {
            Description = "the file to write, such as brindlecombe.svg",
            Required = true,
        };
        return f.Verb(
            "draw",
            "its sites and tunnels as SVG",
            async (p, c, ct) =>
                await DrawAsync(f, await c.DrawingAsync(p.GetValue(owner)!, false, ct), p.GetValue(output)!, ct),
            owner,
            output
        );
    }

    private static Command CustomerAddresses(Frame f)
    {
        var s = f.Screen;
        var owner = Frame.Name("customer");
        var within = Frame.Text("--within", "only what overlaps this prefix");
        var svg = Frame.Text("--output", "a file to draw it into, as SVG");
        return f.Verb(
            "addresses",
            "its address plan: what is where, overlaps, has NAT, is free; with --output as SVG to scale",
            async (p, c, ct) =>
            {
                if (p.GetValue(svg) is { } to)
                    return await DrawAsync(
                        f,
                        await c.DrawingAsync(p.GetValue(owner)!, true, ct, p.GetValue(within)),
                        to,
                        ct
                    );
                var plan = await c.AddressPlanAsync(p.GetValue(owner)!, p.GetValue(within), ct);
                f.Shows(p, plan, () =>
                {
                    s.Line($"{s.In("strong", plan.Customer)}  {plan.Name}");
                    foreach (var area in plan.Areas)
                    {
                        s.Line();
                        s.Table(
                            [area.Space, "in tunnels", "network", "site", "overlaps"],
                            area.Items.Where(i => i.Real)
                                .Select(i =>
                                    (IReadOnlyList<string>)
                                        [
                                            i.Prefix,
                                            i.PresentedAs ?? "unchanged",
                                            i.Name,
                                            i.Site,
                                            i.Overlaps.Count == 0
                                                ? ""
                                                : s.In(
                                                    i.Harmless ? "weak" : "stops",
                                                    $"{string.Join(", ", i.Overlaps)}"
                                                        + $"{(i.More == 0 ? "" : $" and {i.More} more")}"
                                                        + $"{(i.Harmless ? ", separated by NAT" : ", not separated")}"
                                                ),
                                        ]
                                )
                        );
                        if (area.Free.Count > 0)
                            s.Wrapped($"free: {string.Join(", ", area.Free)}", 2, "soft");
                    }
                });
                return plan.Areas.SelectMany(a => a.Items).Any(i => i.Overlaps.Count > 0 && !i.Harmless) ? 1 : 0;
            },
            owner,
            within,
            svg
        );
    }

    /// <summary>Tunnels as rows; how many more there are than those that a page holds.</summary>
    public static void Tunnels(Screen s, IReadOnlyList<TunnelSummary> tunnels, int inAll)
    {
        s.Table(
            ["tunnel", "", "state", "A", "B", "verdict"],
            tunnels.Select(t =>
                (IReadOnlyList<string>)
                    [
                        s.In("strong", t.Code),
                        s.Stroke(t.Form),
                        t.State,
                        s.In("a", t.EndA),
                        s.In("b", t.EndB),
                        string.Join(" ", t.Verdict.Select(v => v.Says.Text)),
                    ]
            )
        );
        if (inAll > tunnels.Count)
            s.Line(s.In("soft", $"{inAll - tunnels.Count} more tunnels: vellumkeep tunnel list"));
    }

    private static void Facts(Screen s, string head, IReadOnlyList<FactLine> facts)
    {
        if (facts.Count == 0)
            return;
        s.Line("\n" + s.In("strong", head));
        var wide = facts.Max(x => x.What.Length) + 2;
        foreach (var x in facts)
        {
            var lines = Screen.Lines(x.Value, s.Width - wide - 2).ToArray();
            s.Line($"  {x.What.PadRight(wide)}{lines[0]}");
            foreach (var line in lines[1..])
                s.Line(new string(' ', wide + 2) + line);
        }
    }
}

using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Customers and other parties: listed, opened, drawn, their addresses.</summary>
internal static class CustomerCommands
{
    public static Command Make(Frame f) =>
        Frame.Thing("customer", "customers and other parties", List(f), Show(f), Draw(f), Addresses(f));

    private static Command List(Frame f)
    {
        var s = f.Screen;
        return f.List(
            "customers by code",
            "customers",
            (c, ct) => c.CustomersAsync(ct),
            ["customer", "", "tunnels", "name"],
            x =>
                [
                    s.In("strong", x.Code),
                    x.Owner,
                    x.Blocked > 0 ? $"{x.Tunnels}, {s.In("stops", $"{x.Blocked} blocked")}" : $"{x.Tunnels}",
                    x.Name,
                ]
        );
    }

    private static Command Show(Frame f)
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
                    Printing.Tunnels(s, x.Tunnels, x.TunnelsInAll);
                });
                return x.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
            },
            owner
        );
    }

    private static Command Draw(Frame f)
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
                await f.DrawAsync(await c.DrawingAsync(p.GetValue(owner)!, false, ct), p.GetValue(output)!, ct),
            owner,
            output
        );
    }

    private static Command Addresses(Frame f)
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
                    return await f.DrawAsync(
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
}

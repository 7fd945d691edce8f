using System.CommandLine;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Commands;

/// <summary>Gateways, customers, platforms, suites and addresses: listed and opened.</summary>
internal static class PlaceCommands
{
    public static IEnumerable<Command> Make(Frame f)
    {
        var s = f.Screen;
        var customer = Frame.Text("--customer", "code");
        var output = new Option<string>("--output")
        {
            Description = "the file to write, such as brindlecombe.svg",
            Required = true,
        };
        var within = Frame.Text("--within", "only what overlaps this prefix");
        var svg = Frame.Text("--output", "a file to draw it into, as SVG");
        var (gateway, owner, platform, suite) = (
            Frame.Name("gateway"),
            Frame.Name("customer"),
            Frame.Name("platform profile"),
            Frame.Name("suite")
        );
        var (what, space, length) = (
            new Argument<string>("address")
            {
                Description = "an address (what contains it) or a prefix (what overlaps it)",
            },
            new Argument<string>("prefix") { Description = "where to look" },
            new Option<int>("--length") { Description = "length wanted", Required = true }
        );

        yield return Frame.Thing(
            "gateway",
            "gateways and what runs through them",
            f.List(
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
            ),
            Frame.Verb(
                "show",
                "a gateway: verdict, uplinks, held parts, tunnels",
                async (p, c, ct) =>
                {
                    var g = await c.GatewayAsync(p.GetValue(gateway)!, ct);
                    f.Shows(p, g, () =>
                    {
                        s.Line(
                            $"{s.In("strong", g.Code)}  {g.Site}, {g.Customer} · {g.PlatformName} · run by {g.RunBy}\n"
                        );
                        s.Verdict(g.Verdict);
                        s.Line();
                        s.Table(
                            ["uplink", "outer address", "on the device", "translation", "MTU"],
                            g.Uplinks.Select(u =>
                                (IReadOnlyList<string>)
                                    [
                                        u.Label,
                                        u.Outer,
                                        u.OnDevice ?? "",
                                        u.Translation ?? "",
                                        u.Mtu?.ToString(System.Globalization.CultureInfo.InvariantCulture) ?? "",
                                    ]
                            )
                        );
                        s.Line();
                        s.Table(
                            ["held part", "what", "tunnels", "holds"],
                            g.Held.Select(h =>
                                (IReadOnlyList<string>)[h.Name, h.What, string.Join(", ", h.Tunnels), h.Holds]
                            )
                        );
                        if (g.Held.Count > 0)
                            s.Line();
                        Tunnels(s, g.Tunnels);
                        if (g.Others > 0)
                            s.Line(s.In("soft", $"{g.Others} more of other customers."));
                    });
                    return g.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
                },
                gateway
            )
        );

        yield return Frame.Thing(
            "customer",
            "customers and other parties",
            f.List(
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
            ),
            Frame.Verb(
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
                        Tunnels(s, x.Tunnels);
                    });
                    return x.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
                },
                owner
            ),
            Frame.Verb(
                "draw",
                "its sites and tunnels as SVG",
                async (p, c, ct) =>
                    await DrawAsync(s, await c.DrawingAsync(p.GetValue(owner)!, false, ct), p.GetValue(output)!, ct),
                owner,
                output
            ),
            Frame.Verb(
                "addresses",
                "its address plan: what lies where, overlaps, is translated, is free; with --output as SVG to scale",
                async (p, c, ct) =>
                {
                    if (p.GetValue(svg) is { } to)
                        return await DrawAsync(
                            s,
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
                                [area.Space, "inside tunnels", "network", "site", "overlaps"],
                                area.Items.Where(i => i.Real)
                                    .Select(i =>
                                        (IReadOnlyList<string>)
                                            [
                                                i.Prefix,
                                                i.PresentedAs ?? "as it is",
                                                i.Name,
                                                i.Site,
                                                i.Overlaps.Count == 0
                                                    ? ""
                                                    : s.In(
                                                        i.Harmless ? "weak" : "stops",
                                                        $"{string.Join(", ", i.Overlaps)}{(i.More == 0 ? "" : $" and {i.More} more")}{(i.Harmless ? ", told apart by translation" : ", not told apart")}"
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
            )
        );

        yield return Frame.Thing(
            "platform",
            "platform profiles",
            f.List(
                "list",
                "platform profiles by code",
                "platforms",
                _ => [],
                async (p, c, ct) =>
                {
                    var list = await c.PlatformsAsync(ct);
                    f.Shows(p, list, () =>
                        s.Table(
                            ["platform", "what", "IKE versions", "gateways", "support ends", "not said"],
                            list.Select(x =>
                                (IReadOnlyList<string>)
                                    [
                                        s.In("strong", x.Code),
                                        x.Family,
                                        string.Join(", ", x.IkeVersions),
                                        $"{x.Gateways}",
                                        x.SupportEnds ?? "",
                                        x.Unknown == 0 ? "" : Core.Wording.Say.Count(x.Unknown, "thing"),
                                    ]
                            )
                        )
                    );
                    return 0;
                }
            ),
            Frame.Verb(
                "show",
                "what it can do, does by default, and does not say",
                async (p, c, ct) =>
                {
                    var x = await c.PlatformAsync(p.GetValue(platform)!, ct);
                    f.Shows(p, x, () =>
                    {
                        s.Line(
                            $"{s.In("strong", x.Code)}  {x.Name}, {x.Family}{(x.SupportEnds is { } end ? $", support ends {end}" : "")}"
                        );
                        Facts(s, "Can", x.Can);
                        Facts(s, "Does", x.Does);
                        Facts(s, "By default", x.Defaults);
                        if (x.Silent.Count > 0)
                            s.Wrapped($"\nNot said: {string.Join("; ", x.Silent)}.", 0, "weak");
                        s.Wrapped($"\nGateways: {(x.Gateways.Count == 0 ? "none" : string.Join(", ", x.Gateways))}");
                    });
                    return 0;
                },
                platform
            )
        );

        yield return Frame.Thing(
            "suite",
            "suites: named proposals with lifetimes and PFS",
            f.List(
                "list",
                "suites by code",
                "suites",
                _ => [],
                async (p, c, ct) =>
                {
                    var list = await c.SuitesAsync(ct);
                    f.Shows(p, list, () =>
                        s.Table(
                            ["suite", "tunnels", "first IKE proposal", "about"],
                            list.Select(x =>
                                (IReadOnlyList<string>)
                                    [s.In("strong", x.Code), $"{x.Tunnels}", x.Ike ?? "", x.About ?? ""]
                            )
                        )
                    );
                    return 0;
                }
            ),
            Frame.Verb(
                "show",
                "a suite, graded, and who uses it",
                async (p, c, ct) =>
                {
                    var x = await c.SuiteAsync(p.GetValue(suite)!, ct);
                    f.Shows(p, x, () =>
                    {
                        s.Line($"{s.In("strong", x.Code)}  {x.About}\n");
                        s.Table(
                            ["layer", "proposal", "strength", "weakest", "standard asks"],
                            x.Ike.Concat(x.Esp)
                                .Select(g =>
                                    (IReadOnlyList<string>)
                                        [g.Layer, g.Proposal, g.Bits == 0 ? "under 80" : $"{g.Bits}", g.Weakest, g.Word]
                                )
                        );
                        Facts(s, "Besides", x.Settings);
                        s.Line();
                        Tunnels(s, x.Tunnels);
                    });
                    return 0;
                },
                suite
            )
        );

        yield return Frame.Thing(
            "address",
            "where addresses are used",
            Frame.Verb(
                "find",
                "what contains an address, what overlaps a prefix",
                async (p, c, ct) =>
                {
                    var x = await c.AddressesAsync(p.GetValue(what)!, null, null, p.GetValue(customer), ct);
                    f.Shows(p, x, () =>
                    {
                        if (x.Containing.Count + x.Within.Count == 0)
                            s.Line($"Nothing uses {x.Asked}.");
                        Places(s, $"contains {x.Asked}", x.Containing);
                        if (x.Containing.Count > 0 && x.Within.Count > 0)
                            s.Line();
                        Places(s, $"within {x.Asked}", x.Within);
                    });
                    return 0;
                },
                what,
                customer
            ),
            Frame.Verb(
                "free",
                "what is free of a length within a prefix",
                async (p, c, ct) =>
                {
                    var x = await c.AddressesAsync(
                        null,
                        p.GetValue(space),
                        p.GetValue(length),
                        p.GetValue(customer),
                        ct
                    );
                    f.Shows(p, x, () =>
                    {
                        foreach (var free in x.Free)
                            s.Line(free);
                        if (x.Free.Count == 0)
                            s.Line($"No /{p.GetValue(length)} is free in {x.Asked}.");
                    });
                    return x.Free.Count == 0 ? 1 : 0;
                },
                space,
                length,
                customer
            )
        );
    }

    public static void Tunnels(Screen s, IEnumerable<TunnelSummary> tunnels) =>
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

    public static Command Site(Frame f)
    {
        var s = f.Screen;
        var site = Frame.Name("site");
        return Frame.Verb(
            "show",
            "a site: its networks with the tunnels that carry each, gateways, tunnels",
            async (p, c, ct) =>
            {
                var x = await c.SiteAsync(p.GetValue(site)!, ct);
                f.Shows(p, x, () =>
                {
                    s.Line(
                        $"{s.In("strong", x.Code)}  {x.Name}, {x.CustomerName} · {x.TimeZone}{(x.Retired is { } day ? $" · retired {day}" : "")}\n"
                    );
                    s.Verdict(x.Verdict);
                    s.Line();
                    s.Table(
                        ["network", "inside tunnels", "name", "carried by", "test points"],
                        x.Networks.Select(n =>
                            (IReadOnlyList<string>)
                                [
                                    n.Prefix,
                                    n.PresentedAs ?? "as it is",
                                    n.Name,
                                    string.Join(", ", n.Carried.Select(t => $"{t.Tunnel} as {t.End}")),
                                    string.Join(", ", n.TestPoints.Select(t => t.Address)),
                                ]
                        )
                    );
                    s.Line();
                    s.Table(
                        ["gateway", "outer address", "platform"],
                        x.Gateways.Select(g => (IReadOnlyList<string>)[g.Code, g.Outer, g.Platform])
                    );
                    s.Line();
                    Tunnels(s, x.Tunnels);
                });
                return x.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
            },
            site
        );
    }

    private static async Task<int> DrawAsync(Screen s, string svg, string file, CancellationToken ct)
    {
        await File.WriteAllTextAsync(file, svg, ct);
        s.Line($"Written: {file}");
        return 0;
    }

    private static void Places(Screen s, string head, IReadOnlyList<PlaceLine> places) =>
        s.Table(
            [head, "as", "customer", "code", "name"],
            places.Select(x => (IReadOnlyList<string>)[x.Prefix, x.Kind, x.Owner, x.Code, x.Name])
        );
}

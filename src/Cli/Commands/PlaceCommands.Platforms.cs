using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Platform profiles, suites and addresses.</summary>
internal static partial class PlaceCommands
{
    private static Command Platforms(Frame f)
    {
        var s = f.Screen;
        var platform = Frame.Name("platform profile");
        return Frame.Thing(
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
                            ["platform", "what", "IKE versions", "gateways", "support ends", "unknown"],
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
            f.Verb(
                "show",
                "what it supports, its defaults, and what its profile does not say",
                async (p, c, ct) =>
                {
                    var x = await c.PlatformAsync(p.GetValue(platform)!, ct);
                    f.Shows(p, x, () =>
                    {
                        s.Line(
                            $"{s.In("strong", x.Code)}  {x.Name}, "
                                + $"{x.Family}{(x.SupportEnds is { } end ? $", support ends {end}" : "")}"
                        );
                        Facts(s, "Can", x.Can);
                        Facts(s, "Does", x.Does);
                        Facts(s, "By default", x.Defaults);
                        if (x.Silent.Count > 0)
                            s.Wrapped($"\nUnknown: {string.Join("; ", x.Silent)}.", 0, "weak");
                        s.Wrapped($"\nGateways: {(x.Gateways.Count == 0 ? "none" : string.Join(", ", x.Gateways))}");
                    });
                    return 0;
                },
                platform
            )
        );
    }

    private static Command Suites(Frame f)
    {
        var s = f.Screen;
        var suite = Frame.Name("suite");
        return Frame.Thing(
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
            f.Verb(
                "show",
                "a suite, graded, and its tunnels",
                async (p, c, ct) =>
                {
                    var x = await c.SuiteAsync(p.GetValue(suite)!, ct);
                    f.Shows(p, x, () =>
                    {
                        s.Line($"{s.In("strong", x.Code)}  {x.About}\n");
                        s.Table(
                            ["layer", "proposal", "strength", "weakest", "RFC level"],
                            x.Ike.Concat(x.Esp)
                                .Select(g =>
                                    (IReadOnlyList<string>)
                                        [g.Layer, g.Proposal, g.Bits == 0 ? "under 80" : $"{g.Bits}", g.Weakest, g.Word]
                                )
                        );
                        Facts(s, "Besides", x.Settings);
                        s.Line();
                        Tunnels(s, x.Tunnels, x.TunnelsInAll);
                    });
                    return 0;
                },
                suite
            )
        );
    }

    private static Command Addresses(Frame f)
    {
        var s = f.Screen;
        var customer = Frame.Text("--customer", "code");
        var what = new Argument<string>("address")
        {
            Description = "an address (what contains it) or a prefix (what overlaps it)",
        };
        var space = new Argument<string>("prefix") { Description = "where to look" };
        var length = new Option<int>("--length") { Description = "length wanted", Required = true };
        return Frame.Thing(
            "address",
            "where addresses are used",
            f.Verb(
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
            f.Verb(
                "free",
                "free prefixes of a length within a prefix",
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
}

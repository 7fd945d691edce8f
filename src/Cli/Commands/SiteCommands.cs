using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>A site: opened and drawn.</summary>
internal static class SiteCommands
{
    public static Command Show(Frame f)
    {
        var s = f.Screen;
        var site = Frame.Name("site");
        return f.Verb(
            "show",
            "a site: its networks with their tunnels, gateways, tunnels",
            async (p, c, ct) =>
            {
                var x = await c.SiteAsync(p.GetValue(site)!, ct);
                f.Shows(p, x, () =>
                {
                    s.Line(
                        $"{s.In("strong", x.Code)}  {x.Name}, {x.CustomerName} · "
                            + $"{x.TimeZone}{(x.Retired is { } day ? $" · retired {day}" : "")}\n"
                    );
                    s.Verdict(x.Verdict);
                    s.Line();
                    s.Table(
                        ["network", "in tunnels", "name", "tunnels", "test points"],
                        x.Networks.Select(n =>
                            (IReadOnlyList<string>)
                                [
                                    n.Prefix,
                                    n.PresentedAs ?? "unchanged",
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
                    Printing.Tunnels(s, x.Tunnels, x.TunnelsInAll);
                });
                return x.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
            },
            site
        );
    }
}

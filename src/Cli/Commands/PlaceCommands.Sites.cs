using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Commands;

/// <summary>A site with its networks, and drawings as files.</summary>
internal static partial class PlaceCommands
{
    public static Command Site(Frame f)
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
                    Tunnels(s, x.Tunnels, x.TunnelsInAll);
                });
                return x.Tunnels.Any(t => t.Worst == "blocks") ? 1 : 0;
            },
            site
        );
    }

    private static async Task<int> DrawAsync(Frame f, string svg, string file, CancellationToken ct)
    {
        await File.WriteAllTextAsync(f.Around.Written(file), svg, ct);
        f.Screen.Line($"Written: {file}");
        return 0;
    }

    private static void Places(Screen s, string head, IReadOnlyList<PlaceLine> places) =>
        s.Table(
            [head, "as", "customer", "code", "name"],
            places.Select(x => (IReadOnlyList<string>)[x.Prefix, x.Kind, x.Owner, x.Code, x.Name])
        );
}

using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Suites: listed and opened.</summary>
internal static class SuiteCommands
{
    public static Command Make(Frame f)
    {
        var s = f.Screen;
        var suite = Frame.Name("suite");
        return Frame.Thing(
            "suite",
            "suites: named proposals with lifetimes and PFS",
            f.List(
                "suites by code",
                "suites",
                (c, ct) => c.SuitesAsync(ct),
                ["suite", "tunnels", "first IKE proposal", "about"],
                x => [s.In("strong", x.Code), $"{x.Tunnels}", x.Ike ?? "", x.About ?? ""]
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
                        Printing.Facts(s, "Besides", x.Settings);
                        s.Line();
                        Printing.Tunnels(s, x.Tunnels, x.TunnelsInAll);
                    });
                    return 0;
                },
                suite
            )
        );
    }
}

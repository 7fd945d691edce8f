using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Platform profiles: listed and opened.</summary>
internal static class PlatformCommands
{
    public static Command Make(Frame f)
    {
        var s = f.Screen;
        var platform = Frame.Name("platform profile");
        return Frame.Thing(
            "platform",
            "platform profiles",
            f.List(
                "platform profiles by code",
                "platforms",
                (c, ct) => c.PlatformsAsync(ct),
                ["platform", "what", "IKE versions", "gateways", "support ends", "unknown"],
                x =>
                    [
                        s.In("strong", x.Code),
                        x.Family,
                        string.Join(", ", x.IkeVersions),
                        $"{x.Gateways}",
                        x.SupportEnds ?? "",
                        x.Unknown == 0 ? "" : Core.Wording.Say.Count(x.Unknown, "thing"),
                    ]
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
                        Printing.Facts(s, "Can", x.Can);
                        Printing.Facts(s, "Does", x.Does);
                        Printing.Facts(s, "By default", x.Defaults);
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
}

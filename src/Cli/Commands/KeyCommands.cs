using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Commands;

/// <summary>Pre-shared keys: what is known about them, made, and shown to who says why.</summary>
internal static class KeyCommands
{
    public static Command Make(Frame f)
    {
        var s = f.Screen;
        var tunnel = Frame.Name("tunnel");
        var version = new Argument<int>("version") { Description = "version of the key" };
        var why = new Option<string>("--reason")
        {
            Description = "why it must be shown; it is recorded",
            Required = true,
        };
        var change = Frame.Text("--change", "the change that the key is for");
        var madeBy = Frame.Text("--made-by", "who made it elsewhere; only its check code is then known here");
        var checkCode = Frame.Text("--check-code", "its check code as it was read out, with --made-by");

        return Frame.Thing(
            "key",
            "pre-shared keys: made here, encrypted at rest, shown with a reason",
            f.Verb(
                "list",
                "the versions of a tunnel's key, and who has viewed them",
                async (p, c, ct) =>
                {
                    var page = await c.KeysAsync(p.GetValue(tunnel)!, ct);
                    f.Shows(p, page, () => Told(s, page));
                    return 0;
                },
                tunnel
            ),
            All(f),
            f.Verb(
                "make",
                "make a key within both platforms' limits",
                async (p, c, ct) =>
                {
                    var page = await c.MakeKeyAsync(
                        p.GetValue(tunnel)!,
                        new(p.GetValue(change)) { MadeBy = p.GetValue(madeBy), CheckCode = p.GetValue(checkCode) },
                        ct
                    );
                    f.Shows(p, page, () => Told(s, page));
                    return 0;
                },
                tunnel,
                change,
                madeBy,
                checkCode
            ),
            f.Verb(
                "show",
                "show a key; who, when, why and from where is recorded",
                async (p, c, ct) =>
                {
                    var shown = await c.ShowKeyAsync(
                        p.GetValue(tunnel)!,
                        p.GetValue(version),
                        new(p.GetValue(why)!),
                        ct
                    );
                    f.Shows(p, shown, () =>
                    {
                        s.Line(
                            $"{shown.Tunnel}, key version {shown.Version}, {shown.Bits} bits. To read aloud, without the blanks:"
                        );
                        s.Line();
                        s.Line("  " + s.In("strong", shown.Grouped));
                        s.Line();
                        s.Line($"To paste:    {shown.Key}");
                        s.Line($"Check code:  {shown.CheckCode}");
                    });
                    return 0;
                },
                tunnel,
                version,
                why
            )
        );
    }

    private static void Told(Screen s, KeysPage page)
    {
        if (page.Versions.Count == 0)
            s.Line($"No key of {page.Tunnel} is stored here. Next: vellumkeep key make {page.Tunnel}");
        else
            s.Table(
                ["version", "state", "check code", "strength", "length", "made", "viewed by"],
                page.Versions.Select(k =>
                    (IReadOnlyList<string>)
                        [
                            $"{k.Version}",
                            k.State,
                            k.CheckCode.Length == 0 ? "not told" : s.In("strong", k.CheckCode),
                            k.Bits == 0 ? "not known" : $"{k.Bits} bits",
                            k.Length == 0 ? "not known" : $"{k.Length}",
                            $"{k.MadeAt.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)} "
                                + $"by {k.MadeBy}{(k.Change is null ? "" : $" for {k.Change}")}",
                            k.Viewed.Count == 0 ? "nobody" : string.Join(", ", k.Viewed.Select(x => x.Who).Distinct()),
                        ]
                )
            );
        s.Line(
            s.In("soft", $"A has {page.HeldAtA ?? "an unrecorded key"}, B has {page.HeldAtB ?? "an unrecorded key"}.")
        );
    }

    private static Command All(Frame f)
    {
        var viewedBy = Frame.Text("--viewed-by", "only keys that this person has viewed");
        return f.Verb(
            "all",
            "the keys of all tunnels: age, when they should be replaced, who has viewed them",
            async (p, c, ct) =>
            {
                var keys = await c.AllKeysAsync(p.GetValue(viewedBy), ct);
                f.Shows(p, keys, () =>
                {
                    f.Screen.Table(
                        ["tunnel", "version", "state", "made", "due", "viewed by"],
                        keys.Items.Select(k =>
                            (IReadOnlyList<string>)
                                [
                                    k.Tunnel,
                                    $"{k.Version}",
                                    k.State,
                                    k.MadeAt.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture),
                                    k.Due ?? "not in use",
                                    k.ViewedBy.Count == 0 ? "nobody" : string.Join(", ", k.ViewedBy),
                                ]
                        )
                    );
                    f.Screen.Line(
                        keys.Items.Count == 0 ? "No key is stored here. Next: vellumkeep key make TUNNEL"
                        : keys.More ? $"These are the first {keys.Items.Count}; there are more."
                        : keys.Items.Count == 1 ? "1 key."
                        : $"{keys.Items.Count} keys."
                    );
                });
                return 0;
            },
            viewedBy
        );
    }
}

using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using Vellumkeep.Core.Parsing;

namespace Vellumkeep.Cli.Commands;

/// <summary>Sites, standing offers, and copies; and what is printed of a record that was written.</summary>
internal static class RecordCommands
{
    public static Command[] Verbs(Frame f, string plural, string kind, bool history = true) =>
        new RecordVerbs(f, plural, kind).Make(history);

    /// <summary>The kinds that have no page of their own on the command line beyond their form.</summary>
    public static IEnumerable<Command> Make(Frame f)
    {
        var s = f.Screen;
        foreach (
            var (plural, kind, about) in new[]
            {
                ("sites", "site", "sites, their networks and test points"),
                ("offers", "offer", "standing offers: what another party asks of everyone"),
            }
        )
        {
            var customer = Frame.Text("--customer", "code");
            var on = Frame.Text("--as-of", "a day: as they were recorded then");
            yield return Frame.Thing(
                kind,
                about,
                [
                    f.List(
                        "list",
                        $"{plural} by code",
                        $"records/{plural}",
                        p => [("customer", p.GetValue(customer)), ("on", p.GetValue(on))],
                        async (p, c, ct) =>
                        {
                            var list = await c.RecordsAsync(plural, p.GetValue(customer), p.GetValue(on), ct);
                            f.Shows(p, list, () =>
                                s.Table(
                                    [kind, "state", "name"],
                                    list.Select(r =>
                                        (IReadOnlyList<string>)[s.In("strong", r.Code), r.State ?? "", r.Name]
                                    )
                                )
                            );
                            return 0;
                        },
                        customer,
                        on
                    ),
                    .. Verbs(f, plural, kind == "offer" ? "standing offer" : kind),
                ]
            );
        }

        var (source, target) = (
            Frame.Name("tunnel"),
            new Argument<string>("new-code") { Description = "code of the new tunnel" }
        );
        yield return f.Verb(
            "copy",
            "a copy of a tunnel in keepfile text, for: tunnel add CODE --form -",
            async (p, c, ct) =>
            {
                var form = await c.CopyAsync(p.GetValue(source)!, p.GetValue(target)!, ct);
                f.Shows(p, form, () => f.Screen.Write(form.Text));
                return 0;
            },
            source,
            target
        );
    }

    public static void Written(Screen s, RecordWritten w)
    {
        s.Line(
            $"{s.In("strong", w.Code)} "
                + $"{(w.As == "nothing" ? "is so already" : w.DryRun ? $"would be {w.As}" : $"{w.As}, version {w.Version}")}."
        );
        foreach (var d in w.Derived)
            s.Line($"  {d.Path}  {d.Value}  {s.In("soft", $"from {d.From}")}");
        Differences(s, w.Differences);
        if (w.DryRun && w.Altered.Count > 0)
            s.Wrapped(
                $"{string.Join(", ", w.Altered)} alter{(w.Altered.Count == 1 ? "s" : "")} how tunnels work. Add --reason.",
                0,
                "weak"
            );
        Printing.FindingChanges(s, w.DryRun, w.FindingsAdded, w.FindingsRemoved);
    }

    internal static void Differences(Screen s, IReadOnlyList<Difference> differences)
    {
        foreach (var d in differences)
            s.Wrapped($"{d.Path}: {d.Before ?? "nothing"} → {d.After ?? "nothing"}", 2);
    }
}

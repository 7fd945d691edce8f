using System.Globalization;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Terminal;

/// <summary>How each answer is written for people.</summary>
internal static partial class Printing
{
    public static void Tunnel(Screen s, TunnelPage t, bool all)
    {
        Head(s, $"{s.In("strong", t.Code)}  {t.Name}", $"{t.State}{(t.Since is null ? "" : $" since {Day(t.Since)}")}");
        s.Line();
        s.Verdict(t.Verdict);
        s.Line();
        Compare(s, t, all);
        if (t.Findings.Count > 0)
            s.Line();
        Findings(s, t.Findings.Where(f => all || f.Severity != "note"), false);
        foreach (var c in t.OpenChanges)
            s.Line(
                $"{c.Code}  {c.Title}, {c.State}{(c.State == "under way" ? $", {c.Settled} of {c.Steps} steps done" : "")}"
            );
    }

    public static void Compare(Screen s, TunnelPage t, bool all)
    {
        var rows = t.Rows.Where(r => all || r.WorthALook).ToArray();
        var label = Math.Max(12, rows.Select(r => r.Label.Length).DefaultIfEmpty(0).Max()) + 2;
        var stroke = rows.Select(r => Screen.Plain(s.Stroke(r.Form)).Length).DefaultIfEmpty(4).Max() + 4;
        var half = Math.Max(24, (s.Width - label - stroke) / 2);
        s.Line(
            new string(' ', label)
                + s.In("a", $"A  {t.A.Site}")
                + new string(' ', Math.Max(1, half + stroke - t.A.Site.Length - 3))
                + s.In("b", $"B  {t.B.Site}")
        );
        s.Line(
            new string(' ', label)
                + s.In("soft", Cut($"{t.A.Gateway} {t.A.OuterAddress}", half))
                + new string(' ', Math.Max(1, half + stroke - Cut($"{t.A.Gateway} {t.A.OuterAddress}", half).Length))
                + s.In("soft", $"{t.B.Gateway} {t.B.OuterAddress}")
        );
        foreach (var r in rows)
        {
            var (a, b) = (Cell(r.A, half), Cell(r.B, half));
            var drawn = s.Stroke(r.Form);
            for (var i = 0; i < Math.Max(a.Length, b.Length); i++)
            {
                var left = i < a.Length ? a[i] : (Text: "", Soft: false);
                var right = i < b.Length ? b[i] : (Text: "", Soft: false);
                s.Line(
                    (
                        (i == 0 ? r.Label : "").PadRight(label)
                        + Shown(s, left)
                        + new string(' ', half - left.Text.Length)
                        + (
                            i == 0
                                ? "  " + drawn + new string(' ', stroke - 2 - Screen.Plain(drawn).Length)
                                : new string(' ', stroke)
                        )
                        + Shown(s, right)
                    ).TrimEnd()
                );
            }
        }

        var rest = t.Rows.Count - rows.Length;
        var open = t.Rows.Any(r => r.Relation == "agrees, not confirmed" && !r.WorthALook);
        if (rest > 0)
            s.Line(s.In("soft", $"{rest} more rows agree{(open ? ", not all confirmed" : "")}: --all shows them."));
    }

    public static void Findings(Screen s, IEnumerable<FindingPage> findings, bool withTunnel)
    {
        foreach (var f in findings)
        {
            var hue = f.Severity switch
            {
                "blocks" => "stops",
                "degrades" or "risk" => "weak",
                _ => "soft",
            };
            s.Line(
                $"{s.In(hue, f.Severity)}{(f.After is null ? "" : $" after {f.After}")}  "
                    + $"{f.Code}{(withTunnel ? $"  {s.In("strong", f.Tunnel)}" : "")}"
            );
            s.Wrapped(f.What.Text, 2);
            s.Wrapped(f.Do.Text, 2, "soft");
            if (f.Accepted is { } a)
                s.Wrapped($"Accepted until {a.Until} by {a.By}: {a.Reason}", 2, "holds");
        }
    }

    /// <summary>
    /// The gateway of a step, where several tunnels leave it open which device A or B is and the sentence does not name
    /// it.
    /// </summary>
    public static string? Device(ChangePage c, StepPage step) =>
        c.Tunnels.Count > 1 && step.Gateway is { } gateway && !step.Do.Text.Contains(gateway, StringComparison.Ordinal)
            ? gateway
            : null;

    public static void History(Screen s, IEnumerable<HistoryEntry> entries)
    {
        foreach (var h in entries)
        {
            s.Line(
                $"{h.At.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)}  {h.Who, -8} "
                    + $"{s.In("strong", h.Change is null ? h.What : $"{h.What} {h.Change}")}"
                    + $"{(h.Reason is null ? "" : $"  {h.Reason}")}"
            );
            foreach (var d in h.Differences)
                s.Wrapped($"{d.Path}: {d.Before ?? "nothing"} → {d.After ?? "nothing"}", 4, "soft");
        }
    }

    public static void Import(Screen s, ImportOutcome o)
    {
        s.Line(o.DryRun ? "Dry run: nothing was changed." : "Imported.");
        s.Line($"New {o.Added.Count} · Altered {o.Changed.Count} · Same {o.Left}");
        foreach (var a in o.Added)
            s.Line($"  new      {a.Kind} {a.Code}  {s.In("soft", a.Name)}");
        foreach (var c in o.Changed)
        {
            s.Line($"  altered  {c.Kind} {c.Code}");
            foreach (var d in c.Differences)
                s.Wrapped($"{d.Path}: {d.Before ?? "nothing"} → {d.After ?? "nothing"}", 6, "soft");
        }

        FindingChanges(s, o.DryRun, o.FindingsAdded, o.FindingsRemoved);
    }

    public static void FindingChanges(
        Screen s,
        bool dryRun,
        IReadOnlyList<ImportFinding> added,
        IReadOnlyList<ImportFinding> removed
    )
    {
        foreach (var f in added)
            s.Wrapped(
                $"{(dryRun ? "would add" : "adds")} {f.Severity} {f.Code} on {f.Tunnel}: {f.What.Text}",
                2,
                f.Severity == "blocks" ? "stops" : "weak"
            );
        foreach (var f in removed)
            s.Wrapped($"{(dryRun ? "would remove" : "removes")} {f.Code} on {f.Tunnel}: {f.What.Text}", 2, "holds");
    }

    public static void Sheet(Screen s, SheetOutcome o)
    {
        s.Line($"{s.In("strong", o.Name)}  headings in row {o.HeadingRow}");
        s.Table(
            ["column", "read as", "", "heading", "first cells"],
            o.Columns.Select(c =>
                (IReadOnlyList<string>)
                    [
                        c.Column,
                        c.Field,
                        c.Sure ? "" : s.In("weak", "not certain"),
                        c.Heading.ReplaceLineEndings(" "),
                        string.Join(" · ", c.Samples).ReplaceLineEndings(" "),
                    ]
            )
        );
        foreach (var n in o.Notes)
            s.Wrapped(n.Text.TrimEnd('.') + ".", 0, "soft");
        foreach (var x in o.Problems)
            s.Wrapped(
                $"Row {x.Row}{(x.Column is null ? "" : $", column {x.Column}")}: "
                    + $"{(x.Cell.Length > 0 ? $"{x.Cell}: " : "")}{x.Wrong}. Expected: {x.Right}.",
                0,
                "stops"
            );
        s.Line();
        s.Line(
            $"{o.Tunnels} {(o.Tunnels == 1 ? "tunnel" : "tunnels")} read, {o.LeftOut} left out because of a cell that "
                + $"cannot be read."
        );
        if (o.Outcome is { } outcome)
            Import(s, outcome);
        if (o.Columns.Any(c => !c.Sure && c.Field != "nothing"))
            s.Line(
                s.In(
                    "soft",
                    $"Correct a column with --column "
                        + $"'{o.Columns.First(c => !c.Sure).Heading.Split(" / ")[^1]}=field'; fields: "
                        + $"{string.Join(", ", o.Fields.Take(6).Select(f => f.Field))}, ..."
                )
            );
    }

    private static void Head(Screen s, string left, string right) =>
        s.Line(left + new string(' ', Math.Max(2, s.Width - Screen.Plain(left).Length - right.Length)) + right);

    private static string Where(Screen s, string? end) =>
        end switch
        {
            "A" => s.In("a", "A"),
            "B" => s.In("b", "B"),
            null => "",
            _ => end,
        };

    private static string Shown(Screen s, (string Text, bool Soft) part) =>
        part.Soft ? s.In("soft", part.Text) : part.Text;

    /// <summary>
    /// A value, then its source on the same line where there is room, below it where not; long values fold between
    /// their members.
    /// </summary>
    private static (string Text, bool Soft)[] Cell(CompareCell c, int width)
    {
        var source = c.Source switch
        {
            "set" => c.Confirmed is null ? "set, not confirmed" : $"set, {c.Confirmed.Split(" by ")[0]}",
            "agreed" => c.Via is null ? "agreed" : $"agreed, {c.Via}",
            "default" => "default",
            _ => c.Note ?? "unknown",
        };
        if (c.Text is null)
            return [(Cut(source, width), true)];
        var lines = Screen.Lines(c.Text, width - 1).Select(l => (Cut(l, width - 1), false)).ToList();
        lines.Add((Cut(source, width), true));
        // Temporary, or what else is to be known of it: never without the value.
        if (c.Note is { } note)
            return [.. lines, .. Screen.Lines(note, width - 1).Select(l => (Cut(l, width - 1), true))];
        return lines.Count == 2 && c.Text.Length + 2 + source.Length < width
            ? [($"{c.Text}  {source}", false)]
            : [.. lines];
    }

    private static string Cut(string text, int width) => text.Length <= width ? text : text[..(width - 1)] + "…";

    private static string Day(string date) =>
        DateOnly
            .ParseExact(date, "yyyy-MM-dd", CultureInfo.InvariantCulture)
            .ToString("d MMMM yyyy", CultureInfo.InvariantCulture);
}

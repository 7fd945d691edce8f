using System.Globalization;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli;

/// <summary>How each answer is written for people.</summary>
internal static class Printing
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
                $"{c.Code}  {c.Title}, {c.State}{(c.State == "under way" ? $", {c.Settled} of {c.Steps} steps settled" : "")}"
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
        if (rest > 0)
            s.Line(
                s.In(
                    "soft",
                    $"{rest} more rows agree{(t.Rows.Any(r => r.Answer == "as far as known" && !r.WorthALook) ? " as far as known" : "")}: --all shows them."
                )
            );
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
                $"{s.In(hue, f.Severity)}{(f.After is null ? "" : $" after {f.After}")}  {f.Code}{(withTunnel ? $"  {s.In("strong", f.Tunnel)}" : "")}"
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

    /// <summary>What a step enters and takes out, where its sentence does not name it.</summary>
    public static void StepValues(Screen s, StepPage step, int indent)
    {
        foreach (
            var v in step.Enter.Where(v =>
                v.Label == "name" || !step.Do.Text.Contains(v.Text, StringComparison.Ordinal)
            )
        )
            s.Wrapped(
                $"{v.Label}  {v.Text}{(v.Before is null || v.Before == v.Text ? "" : $"   (was {v.Before})")}",
                indent,
                v.Waits ? "weak" : "soft"
            );
        foreach (var v in step.TakeOut)
            s.Wrapped($"take out {v.Label}  {v.Text}", indent, "soft");
    }

    public static void Change(Screen s, ChangePage c)
    {
        Head(s, $"{s.In("strong", c.Code)}  {c.Title}", c.State);
        s.Line(
            s.In(
                "soft",
                $"{c.Kind} · {c.Tunnel} · written by {c.Author}{(c.ApprovedBy is null ? "" : $" · approved by {c.ApprovedBy}")}"
            )
        );
        s.Line();
        s.Verdict(c.Verdict);
        if (c.WindowAtA is not null)
            s.Line(
                $"Window  {c.WindowAtA}{(c.WindowAtB != c.WindowAtA ? $"; at B {c.WindowAtB}" : "")}; planned {c.PlannedMinutes} min"
            );
        foreach (var m in c.Moved)
            s.Wrapped(
                $"Moved: {m.Path} of {m.Record} was {m.Then ?? "nothing"}, is {m.Now ?? "nothing"}. Next: vellumkeep change recompute {c.Code}",
                0,
                "stops"
            );
        PlanFindings(s, c);
        foreach (var p in c.Pending)
            s.Wrapped(
                $"Pending {p.Number}: {p.Label}{(p.WhoKnows is null ? "" : $", from {p.WhoKnows}")}{(p.By is null ? "" : $", by {p.By}")}. Next: vellumkeep change fill {c.Code} {p.Number} <value>",
                0,
                "weak"
            );
        foreach (var t in c.Tunnels.Where(t => t.Interruption is not null))
            s.Wrapped(t.Interruption!.Text, 0);
        s.Line();
        if (c.Translations.Count > 0)
        {
            s.Line(s.In("soft", "carried over"));
            // What goes the same way on several tunnels is said once.
            foreach (
                var same in c
                    .Translations.Where(t => t.Carries != "kept" || t.Before != t.After)
                    .GroupBy(t => (t.What, t.Before, t.After, t.Carries, t.Why.Text))
            )
            {
                var (what, before, after, _, why) = same.Key;
                s.Wrapped(
                    $"{what}{(c.Tunnels.Count > 1 ? $" of {string.Join(", ", same.Select(t => t.Tunnel))}" : "")}: {before ?? "nothing"} → {after ?? "impossible"}",
                    2,
                    after is null ? "stops" : ""
                );
                s.Wrapped(why, 6, "soft");
            }

            s.Line(
                s.In(
                    "soft",
                    $"{c.Translations.Count(t => t.Carries == "kept" && t.Before == t.After)} settings are kept as they are."
                )
            );
            s.Line();
        }

        s.Table(
            ["what differs", "before", "after"],
            c.Differs.Select(d =>
                (IReadOnlyList<string>)[$"{Where(s, d.End)} {d.What}".TrimStart(), d.Before, d.After]
            ),
            whole: true
        );
        foreach (var f in c.FindingsAdded)
            s.Wrapped(
                $"{(f.Was is null ? "adds" : $"was {f.Was}, then")} {f.Severity} {f.Code}{(c.Tunnels.Count > 1 ? $" on {f.Tunnel}" : "")}: {f.What.Text}",
                0,
                f.Severity == "blocks" ? "stops" : "weak"
            );
        foreach (var f in c.FindingsRemoved)
            s.Wrapped(
                $"takes away {f.Severity} {f.Code}{(c.Tunnels.Count > 1 ? $" on {f.Tunnel}" : "")}: {f.What.Text}",
                0,
                "holds"
            );
        foreach (
            var f in c.State is "draft" or "in review" or "approved"
                ? c.FindingsStanding.Where(f => f.Severity != "note")
                : []
        )
            s.Wrapped(
                $"stays {f.Severity} {f.Code}{(c.Tunnels.Count > 1 ? $" on {f.Tunnel}" : "")}: {f.What.Text}",
                0,
                "soft"
            );
        var part = "";
        foreach (var step in c.Steps)
        {
            if (step.Part != part)
                s.Line(s.In("soft", "\n" + (part = step.Part)));
            var mark = step.Outcome switch
            {
                "done" => s.In("holds", "done   "),
                "skipped" => s.In("weak", "skipped"),
                "failed" => s.In("stops", "failed "),
                _ => "       ",
            };
            var lines = Screen
                .Lines(
                    $"{(Device(c, step) is { } device ? $"{device}: " : "")}{(step.Asked is { } who ? $"Ask {who}: " : "")}{step.Do.Text}{(step.Stops is { } stops ? " " + stops.Text : "")}",
                    s.Width - 16
                )
                .ToArray();
            s.Line($"{step.Number, 3} {mark} {Where(s, step.Where), -2} {lines[0]}");
            foreach (var line in lines[1..])
                s.Line(new string(' ', 15) + line);
            StepValues(s, step, 15);
            foreach (var v in step.Expect)
                s.Line(s.In("soft", $"{new string(' ', 15)}{v.Label}: {v.Text}"));
            if (step.Outcome is null && step.Proof is not null)
                s.Wrapped($"proof: {step.Proof.Text}", 15, "soft");
            foreach (
                var a in step.Attempts.Where(a =>
                    a.Remark is not null || a.Set is not null || a.Proof is not null || a.File is not null
                )
            )
                s.Wrapped(
                    $"{a.Outcome} by {a.By}{(a.Set is null ? "" : $", set {a.Set} instead of {a.Planned}: {a.Reason}")}{(a.Remark is null ? "" : $": {a.Remark}")}{(a.Proof is null ? "" : $"; proof: {Screen.Lines(a.Proof, 90).First()}")}{(a.File is null ? "" : $"; proof: the file {a.File.Name}, SHA-256 {a.File.Digest[..12]}…")}",
                    15,
                    "soft"
                );
        }

        foreach (var r in c.Remarks)
            s.Wrapped(
                $"{r.By}{(r.Step is { } n ? $" on step {n}" : "")}{(r.Value is null ? "" : $", {r.Value}")}: {r.Text}",
                0
            );
        var next = c
            .Acts.Where(a => a.Allowed)
            .Select(a =>
                a.Act switch
                {
                    "approve" => $"change review {c.Code} --approve",
                    "return" => "",
                    "step" =>
                        $"change step {c.Code} {c.Steps.FirstOrDefault(x => x.Outcome is null or "failed")?.Number} --done",
                    "drop" => "",
                    "back-out" => "",
                    var act => $"change {act} {c.Code}",
                }
            )
            .Where(t => t.Length > 0)
            .ToArray();
        if (next.Length > 0)
            s.Line("\nNext: vellumkeep " + next[0]);
    }

    public static void PlanFindings(Screen s, ChangePage c)
    {
        foreach (var f in c.PlanFindings)
            s.Wrapped(
                $"{f.Severity} {f.Code}: {f.What.Text} {f.Do.Text}",
                0,
                f.Severity is "blocks" ? "stops"
                    : f.Severity is "note" ? "soft"
                    : "weak"
            );
    }

    public static void Changes(Screen s, IEnumerable<ChangeSummary> changes) =>
        s.Table(
            ["change", "state", "tunnel", "steps", "window", "title"],
            changes.Select(c =>
                (IReadOnlyList<string>)
                    [
                        c.Code,
                        c.Failed > 0 ? s.In("stops", $"{c.State}, failed") : c.State,
                        c.Tunnel,
                        $"{c.Settled}/{c.Steps}",
                        c.WindowStart?.ToString("ddd d MMM HH:mm", CultureInfo.InvariantCulture) ?? "",
                        c.Title,
                    ]
            )
        );

    public static void History(Screen s, IEnumerable<HistoryEntry> entries)
    {
        foreach (var h in entries)
        {
            s.Line(
                $"{h.At.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)}  {h.Who, -8} {s.In("strong", h.Change is null ? h.What : $"{h.What} {h.Change}")}{(h.Reason is null ? "" : $"  {h.Reason}")}"
            );
            foreach (var d in h.Differences)
                s.Wrapped($"{d.Path}: {d.Before ?? "nothing"} → {d.After ?? "nothing"}", 4, "soft");
        }
    }

    public static void Import(Screen s, ImportOutcome o)
    {
        s.Line(o.DryRun ? "Dry run: nothing was changed." : "Imported.");
        s.Line($"{o.Added.Count} added, {o.Changed.Count} changed, {o.Left} already so.");
        foreach (var a in o.Added)
            s.Line($"  + {a.Kind} {a.Code}  {s.In("soft", a.Name)}");
        foreach (var c in o.Changed)
        {
            s.Line($"  ~ {c.Kind} {c.Code}");
            foreach (var d in c.Differences)
                s.Wrapped($"{d.Path}: {d.Before ?? "nothing"} → {d.After ?? "nothing"}", 6, "soft");
        }

        FindingMoves(s, o.DryRun, o.FindingsAdded, o.FindingsRemoved);
    }

    public static void FindingMoves(
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
            s.Wrapped($"{(dryRun ? "would take" : "takes")} away {f.Code} on {f.Tunnel}: {f.What.Text}", 2, "holds");
    }

    public static void Sheet(Screen s, SheetOutcome o)
    {
        s.Line($"{s.In("strong", o.Name)}  headings in row {o.HeadingRow}");
        s.Table(
            ["column", "taken for", "", "heading", "holds"],
            o.Columns.Select(c =>
                (IReadOnlyList<string>)
                    [
                        c.Column,
                        c.Field,
                        c.Sure ? "" : s.In("weak", "a guess"),
                        c.Heading.ReplaceLineEndings(" "),
                        string.Join(" · ", c.Samples).ReplaceLineEndings(" "),
                    ]
            )
        );
        foreach (var n in o.Notes)
            s.Wrapped(n.Text.TrimEnd('.') + ".", 0, "soft");
        foreach (var x in o.Problems)
            s.Wrapped(
                $"Row {x.Row}{(x.Column is null ? "" : $", column {x.Column}")}: {(x.Cell.Length > 0 ? $"{x.Cell}: " : "")}{x.Wrong}. Right would be: {x.Right}.",
                0,
                "stops"
            );
        s.Line();
        s.Line($"{o.Tunnels} tunnels read, {o.LeftOut} left out because of a cell that cannot be read.");
        if (o.Outcome is { } outcome)
            Import(s, outcome);
        if (o.Columns.Any(c => !c.Sure && c.Field != "nothing"))
            s.Line(
                s.In(
                    "soft",
                    $"A guess is corrected with --column '{o.Columns.First(c => !c.Sure).Heading.Split(" / ")[^1]}=field'; fields: {string.Join(", ", o.Fields.Take(6).Select(f => f.Field))}, ..."
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
        var source =
            c.Source == "set"
                ? c.Seen is null
                    ? "set, not seen"
                    : $"set, {c.Seen.Split(" by ")[0]}"
                : c.Source == "agreed"
                    ? c.Via is null
                        ? "agreed"
                        : $"agreed, {c.Via}"
                    : c.Source == "default"
                        ? "default"
                        : c.Note ?? "unknown";
        if (c.Text is null)
            return [(Cut(source, width), true)];
        var lines = Screen.Lines(c.Text, width - 1).Select(l => (Cut(l, width - 1), false)).ToList();
        lines.Add((Cut(source, width), true));
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

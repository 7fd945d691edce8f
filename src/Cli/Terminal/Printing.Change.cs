using Vellumkeep.Contract;
using Vellumkeep.Core.Changes;

namespace Vellumkeep.Cli.Terminal;

/// <summary>A change as it is read in a terminal.</summary>
internal static partial class Printing
{
    /// <summary>What a step enters and removes, where its sentence does not name it.</summary>
    public static void StepValues(Screen s, StepPage step, int indent)
    {
        foreach (
            var v in step.Enter.Where(v =>
                v.Label == "name" || v.OnlyUntil is not null || !step.Do.Text.Contains(v.Text, StringComparison.Ordinal)
            )
        )
            s.Wrapped(
                $"{v.Label}  {v.Text}{(v.Before is null || v.Before == v.Text ? "" : $"   (was {v.Before})")}"
                    + (v.OnlyUntil is null ? "" : $"   ({v.OnlyUntil})"),
                indent,
                v.Waits ? "weak" : "soft"
            );
        foreach (var v in step.Remove)
            s.Wrapped($"remove {v.Label}  {v.Text}", indent, "soft");
    }

    public static void Change(Screen s, ChangePage c)
    {
        Head(s, $"{s.In("strong", c.Code)}  {c.Title}", c.State);
        s.Line(
            s.In(
                "soft",
                $"{c.Kind} · {c.Tunnel} · written by {c.Author}"
                    + (c.ApprovedBy is null ? "" : $" · approved by {c.ApprovedBy}")
            )
        );
        if (c.Batches.Count > 0)
            s.Wrapped(
                c.Batches.Contains(c.Code)
                    ? $"{c.Batches.ToList().IndexOf(c.Code) + 1} of {c.Batches.Count} changes that were drafted "
                        + $"together: {string.Join(", ", c.Batches)}"
                    : $"It would be {c.Batches.Count} changes, one for each window; this is the first.",
                0,
                "soft"
            );
        s.Line();
        s.Verdict(c.Verdict);
        Notices(s, c);
        s.Line();
        if (c.Translations.Count > 0)
            CarriedOver(s, c);
        s.Table(
            ["what differs", "before", "after"],
            c.Differs.Select(d =>
                (IReadOnlyList<string>)[$"{Where(s, d.End)} {d.What}".TrimStart(), d.Before, d.After]
            ),
            whole: true
        );
        FindingsOf(s, c);
        Steps(s, c);
        foreach (var r in c.Remarks)
            s.Wrapped(
                $"{r.By}{(r.Step is { } n ? $" on step {n}" : "")}{(r.Value is null ? "" : $", {r.Value}")}: {r.Text}",
                0
            );
        Next(s, c);
    }

    /// <summary>What stands in the way, what waits, and what it interrupts.</summary>
    private static void Notices(Screen s, ChangePage c)
    {
        if (c.WindowAtA is not null)
            s.Line(
                $"Window  {c.WindowAtA}{(c.WindowAtB != c.WindowAtA ? $"; at B {c.WindowAtB}" : "")}; planned "
                    + $"{c.PlannedMinutes} min"
            );
        foreach (var m in c.Changed)
            s.Wrapped(
                $"Changed: {m.Path} of {m.Record} was {m.Then ?? "nothing"}, is {m.Now ?? "nothing"}. Next: "
                    + $"vellumkeep change {(c.State == "under way" ? "take-in" : "recompute")} {c.Code}",
                0,
                "stops"
            );
        PlanFindings(s, c);
        foreach (var p in c.Pending)
            s.Wrapped(
                $"Pending {p.Number}: "
                    + $"{p.Label}{(p.WhoKnows is null ? "" : $", from {p.WhoKnows}")}{(p.By is null ? "" : $", by {p.By}")}. "
                    + $"Next: vellumkeep change fill {c.Code} {p.Number} <value>",
                0,
                "weak"
            );
        foreach (var f in c.Filled)
            s.Wrapped(
                $"Filled in {f.Number}: {f.Label} {f.Value}, by {f.By}"
                    + (Fillable(c) ? $". To correct it: vellumkeep change fill {c.Code} {f.Number} <value>" : ""),
                0,
                "soft"
            );
        foreach (var t in c.Tunnels.Where(t => t.Interruption is not null))
            s.Wrapped(t.Interruption!.Text, 0);
    }

    /// <summary>The settings that another platform takes otherwise.</summary>
    private static void CarriedOver(Screen s, ChangePage c)
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
                $"{what}{(c.Tunnels.Count > 1 ? $" of {string.Join(", ", same.Select(t => t.Tunnel))}" : "")}: "
                    + $"{before ?? "nothing"} → {after ?? "impossible"}",
                2,
                after is null ? "stops" : ""
            );
            s.Wrapped(why, 6, "soft");
        }

        s.Line(
            s.In(
                "soft",
                $"{c.Translations.Count(t => t.Carries == "kept" && t.Before == t.After)} settings are not changed."
            )
        );
        s.Line();
    }

    private static void FindingsOf(Screen s, ChangePage c)
    {
        foreach (var f in c.FindingsAdded)
            s.Wrapped(
                $"{(f.Was is null ? "adds" : $"was {f.Was}, then")} {f.Severity} "
                    + $"{f.Code}{(c.Tunnels.Count > 1 ? $" on {f.Tunnel}" : "")}: {f.What.Text}",
                0,
                f.Severity == "blocks" ? "stops" : "weak"
            );
        foreach (var f in c.FindingsRemoved)
            s.Wrapped(
                $"removes {f.Severity} {f.Code}{(c.Tunnels.Count > 1 ? $" on {f.Tunnel}" : "")}: {f.What.Text}",
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
    }

    private static void Steps(Screen s, ChangePage c)
    {
        var part = "";
        foreach (var step in c.Steps)
        {
            if (step.Part != part)
                s.Line(s.In("soft", "\n" + (part = step.Part)));
            Step(s, c, step);
            Attempts(s, step);
        }
    }

    private static void Step(Screen s, ChangePage c, StepPage step)
    {
        var mark = step.Outcome switch
        {
            "done" => s.In("holds", "done   "),
            "skipped" => s.In("weak", "skipped"),
            "failed" => s.In("stops", "failed "),
            _ => "       ",
        };
        var lines = Screen
            .Lines(
                $"{(Device(c, step) is { } device ? $"{device}: " : "")}"
                    + $"{(step.Asked is { } who ? $"Ask {who}: " : "")}{step.Do.Text}"
                    + $"{(step.Stops is { } stops ? " " + stops.Text : "")}",
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
        if (step.Waits is not null)
            s.Wrapped($"waits: {step.Waits.Text}", 15, "soft");
    }

    private static void Attempts(Screen s, StepPage step)
    {
        foreach (
            var a in step.Attempts.Where(a =>
                a.Remark is not null
                || a.Set is not null
                || a.Proof is not null
                || a.File is not null
                || a.WithoutProof is not null
                || a.TakenBack is not null
            )
        )
            s.Wrapped(
                $"{a.Outcome} by {a.By}"
                    + $"{(a.TakenBack is { } back ? $", taken back by {back.By}" : "")}"
                    + $"{(a.Set is null ? "" : $", set {a.Set} instead of {a.Planned}: {a.Reason}")}"
                    + $"{(a.Remark is null ? "" : $": {a.Remark}")}"
                    + $"{(a.WithoutProof is null ? "" : $", without proof: {a.WithoutProof}")}"
                    + $"{(a.Proof is null ? "" : $"; proof: {Screen.Lines(a.Proof, 90).First()}")}"
                    + $"{(a.File is null ? "" : $"; proof: the file {a.File.Name}, SHA-256 {a.File.Digest[..12]}…")}",
                15,
                "soft"
            );
    }

    private static void Next(Screen s, ChangePage c)
    {
        var next = c
            .Acts.Where(a => a.Allowed)
            .Select(a =>
                a.Act switch
                {
                    "approve" => $"change review {c.Code} --approve",
                    "return" => "",
                    "step" when c.Steps.FirstOrDefault(x => x.Outcome is null or "failed") is { } open =>
                        $"change step {c.Code} {open.Number} --done{(open.NeedsProof ? " --proof \"...\"" : "")}",
                    "step" => "",
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

    private static bool Fillable(ChangePage c) => c.Acts.Any(a => a is { Act: "fill", Allowed: true });

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
                        c.WindowStart is { } start ? WallTime.Said(start, TimeZoneInfo.Utc, DateTimeOffset.UtcNow) : "",
                        c.Title,
                    ]
            )
        );
}

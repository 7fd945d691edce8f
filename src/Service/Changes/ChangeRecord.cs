using System.Text;
using static Vellumkeep.Service.Changes.MarkdownText;

namespace Vellumkeep.Service.Changes;

/// <summary>
/// The record of a change as Markdown: what was requested, planned, approved, done, set otherwise, proven, and what is
/// left. Whatever people typed in it stays text.
/// </summary>
public static class ChangeRecord
{
    public static string Write(ChangePage c)
    {
        var text = new StringBuilder();
        Head(text, c);
        foreach (var tunnel in c.Tunnels)
            Tunnel(text, tunnel);
        if (c.WindowStart is not null)
            Line(text, $"Window: {Inline(c.WindowAtA)} at A; {Inline(c.WindowAtB)} at B.\n");
        Differences(text, c);
        Findings(text, "Findings added", c.FindingsAdded);
        Findings(text, "Findings removed", c.FindingsRemoved);
        Steps(text, c);
        End(text, c);
        return text.ToString();
    }

    private static void Line(StringBuilder text, string line = "") => text.Append(line).Append('\n');

    private static string Moment(DateTimeOffset at) =>
        at.ToUniversalTime().ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture) + " UTC";

    private static void Head(StringBuilder text, ChangePage c)
    {
        var approved = c.ApprovedBy is null ? "" : $" · approved by {c.ApprovedBy}, {Moment(c.ApprovedAt!.Value)}";
        Line(text, $"# {c.Code} {Inline(c.Title)}\n");
        Line(
            text,
            $"{Inline(c.CustomerName)} · {c.Kind} · **{c.State}** · written by {c.Author}, {Moment(c.WrittenAt)}{approved}\n"
        );
        foreach (var line in Quoted(c.Reason))
            Line(text, line);
        Line(text);
        foreach (var v in c.Verdict)
            Line(text, $"- {Inline(v.Says.Text)}");
        Line(text);
    }

    private static void Tunnel(StringBuilder text, ChangeTunnel t)
    {
        Line(text, $"## {t.Code}: {Inline(t.Name)}\n");
        Line(text, "| end | site | gateway | platform | run by |");
        Line(text, "|---|---|---|---|---|");
        foreach (var (end, e) in new[] { ("A", t.A), ("B", t.B) })
            Line(text, $"| {end} | {Cell(e.Site)} | {Cell(e.Gateway)} | {Cell(e.Platform)} | {Cell(e.RunBy)} |");
        Line(text);
        foreach (var (when, said) in new[] { ("Before", t.Before), ("After", t.After) })
            if (said.Count > 0)
                Line(text, $"{when}: {Inline(string.Join(" ", said.Select(x => x.Says.Text)))}  ");
        if (t.Interruption is not null)
            Line(text, $"{Inline(t.Interruption.Text)}  ");
        Line(text);
    }

    private static void Differences(StringBuilder text, ChangePage c)
    {
        Line(text, "## Before and after\n");
        Line(text, "| end | what | before | after |");
        Line(text, "|---|---|---|---|");
        foreach (var d in c.Differs)
            Line(text, $"| {d.End ?? ""} | {Cell(d.What)} | {Cell(d.Before)} | {Cell(d.After)} |");
        Line(text);
    }

    private static void Findings(StringBuilder text, string what, IReadOnlyList<FindingPage> findings)
    {
        if (findings.Count == 0)
            return;
        Line(text, $"{what}:\n");
        foreach (var f in findings)
            Line(
                text,
                $"- {f.Severity}{(f.Was is null ? "" : $" (was {f.Was})")} {f.Code} on {f.Tunnel}: {Inline(f.What.Text)}"
            );
        Line(text);
    }

    private static void Steps(StringBuilder text, ChangePage c)
    {
        Line(text, "## Steps");
        var part = "";
        foreach (var s in c.Steps)
        {
            if (s.Part != part)
                Line(text, $"\n### {char.ToUpperInvariant(s.Part[0])}{s.Part[1..]}\n");
            part = s.Part;
            var outcome = s.Outcome is null ? "" : $" {s.Outcome}";
            var asked = s.Asked is null ? "" : $"Ask {Inline(s.Asked)}: ";
            var stops = s.Stops is null ? "" : $" *{Inline(s.Stops.Text)}*";
            Line(text, $"{s.Number}. **{s.Where}**{outcome}: {asked}{Inline(s.Do.Text)}{stops}");
            foreach (var v in s.Enter)
                Line(
                    text,
                    $"   - {Inline(v.Label)}: {Code(v.Text)}{(v.Before is null ? "" : $" (was {Code(v.Before)})")}"
                        + (v.OnlyUntil is null ? "" : $", {Inline(v.OnlyUntil)}")
                );
            foreach (var v in s.Remove)
                Line(text, $"   - removed: {Inline(v.Label)} {Code(v.Text)}");
            foreach (var a in s.Attempts)
                Attempt(text, a);
        }

        Line(text);
    }

    private static void Attempt(StringBuilder text, AttemptLine a)
    {
        var deviation = a.Set is null
            ? ""
            : $": set {Code(a.Set)} instead of {Code(a.Planned)}, because {Inline(a.Reason)}";
        var unproven = a.WithoutProof is null ? "" : $", without proof: {Inline(a.WithoutProof)}";
        var remark = a.Remark is null ? "" : $". {Inline(a.Remark)}";
        var back = a.TakenBack is { } taken ? $" (taken back by {taken.By}, {Moment(taken.At)})" : "";
        Line(text, $"   - {a.Outcome} by {a.By}, {Moment(a.At)}{back}{deviation}{unproven}{remark}");
        if (a.File is { } f)
            Line(text, $"   - proof: the file {Inline(f.Name)}, {Say.Count(f.Size, "octet")}, SHA-256 `{f.Digest}`");
        if (a.Proof is not null)
            foreach (var line in Block(a.Proof))
                Line(text, "     " + line);
    }

    private static void End(StringBuilder text, ChangePage c)
    {
        if (c.WayBack.Count > 0)
        {
            Line(text, "## Way back\n");
            foreach (var w in c.WayBack)
                Line(text, $"- **{w.Where}** {Inline(w.Do.Text)} (undoes step {w.Number})");
            Line(text);
        }

        Line(text, "## Status history\n");
        foreach (var r in c.Remarks)
            Line(
                text,
                $"- "
                    + $"{r.By}{(r.Step is null ? "" : $" on step {r.Step}")}{(r.Value is null ? "" : $", {Inline(r.Value)}")}, "
                    + $"{Moment(r.At)}: {Inline(r.Text)}"
            );
        foreach (var p in c.StatusHistory)
            Line(text, $"- {Moment(p.At)} {p.To} by {p.By}{(p.Remark is null ? "" : $": {Inline(p.Remark)}")}");
        if (c.LeftOver.Count == 0)
            return;
        Line(text, "\n## Left over\n");
        foreach (var l in c.LeftOver)
            Line(text, $"- {Inline(l)}");
    }
}

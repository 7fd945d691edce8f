using System.Text;

namespace Vellumkeep.Service.Changes;

/// <summary>What a change is given out as: its window for calendars, its record for reading and printing.</summary>
public static class ChangeFiles
{
    /// <summary>A window as iCalendar (RFC 5545), in UTC, so that daylight saving at either site plays no part.</summary>
    public static string Calendar(IEnumerable<ChangePage> changes, DateTimeOffset now)
    {
        var text = new StringBuilder();
        void Line(string line)
        {
            // RFC 5545 section 3.1: no more than 75 octets to a line, the rest on lines that begin with a blank.
            var bytes = Encoding.UTF8.GetBytes(line);
            for (var at = 0; at < bytes.Length;)
            {
                var most = at == 0 ? 75 : 74;
                var take = Math.Min(most, bytes.Length - at);
                while (at + take < bytes.Length && (bytes[at + take] & 0xc0) == 0x80)
                    take--;
                text.Append(at == 0 ? "" : " ").Append(Encoding.UTF8.GetString(bytes, at, take)).Append("\r\n");
                at += take;
            }
        }

        static string Time(DateTimeOffset at) => at.ToUniversalTime().ToString("yyyyMMdd'T'HHmmss'Z'", CultureInfo.InvariantCulture);
        static string Told(string value) => value.Replace("\\", "\\\\").Replace(";", "\\;").Replace(",", "\\,").ReplaceLineEndings("\\n");
        Line("BEGIN:VCALENDAR");
        Line("VERSION:2.0");
        Line("PRODID:-//Vellumkeep//Windows//EN");
        foreach (var c in changes.Where(c => c.WindowStart is not null))
        {
            Line("BEGIN:VEVENT");
            Line($"UID:{c.Code.ToLowerInvariant()}@vellumkeep");
            Line($"DTSTAMP:{Time(now)}");
            Line($"SEQUENCE:{c.Version}");
            Line($"DTSTART:{Time(c.WindowStart!.Value)}");
            Line($"DTEND:{Time(c.WindowStart.Value.AddMinutes(c.WindowMinutes ?? 0))}");
            Line($"SUMMARY:{Told($"{c.Code} {c.Title}")}");
            Line($"DESCRIPTION:{Told($"{c.Kind}, {c.State}. {c.Why}\nAt A: {c.WindowAtA}\nAt B: {c.WindowAtB}\nPlanned: {c.PlannedMinutes} min")}");
            Line($"LOCATION:{Told($"{c.A.Site} and {c.B.Site}")}");
            Line($"STATUS:{(c.State is "approved" or "under way" or "done" ? "CONFIRMED" : c.State is "dropped" or "backed out" ? "CANCELLED" : "TENTATIVE")}");
            Line("END:VEVENT");
        }

        Line("END:VCALENDAR");
        return text.ToString();
    }

    /// <summary>The record of a change as Markdown: what was wished, planned, approved, done, set otherwise, proven, and what is left.</summary>
    public static string Markdown(ChangePage c)
    {
        var text = new StringBuilder();
        void Line(string line = "") => text.Append(line).Append('\n');
        static string Moment(DateTimeOffset at) => at.ToUniversalTime().ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture) + " UTC";
        static string Cell(string? value) => (value ?? "nothing").Replace("|", "\\|").ReplaceLineEndings(" ");
        Line($"# {c.Code} {c.Title}");
        Line();
        Line($"{c.CustomerName} · {c.Kind} · **{c.State}** · written by {c.Author}, {Moment(c.WrittenAt)}{(c.ApprovedBy is null ? "" : $" · approved by {c.ApprovedBy}, {Moment(c.ApprovedAt!.Value)}")}");
        Line();
        Line(c.Why);
        Line();
        foreach (var v in c.Verdict)
            Line($"- {v.Says.Text}");
        Line();
        foreach (var t in c.Tunnels)
        {
            Line($"## {t.Code}: {t.Name}");
            Line();
            Line("| end | site | gateway | platform | run by |");
            Line("|---|---|---|---|---|");
            Line($"| A | {Cell(t.A.Site)} | {Cell(t.A.Gateway)} | {Cell(t.A.Platform)} | {Cell(t.A.RunBy)} |");
            Line($"| B | {Cell(t.B.Site)} | {Cell(t.B.Gateway)} | {Cell(t.B.Platform)} | {Cell(t.B.RunBy)} |");
            Line();
            foreach (var (when, said) in new[] { ("Before", t.Before), ("After", t.After) })
                if (said.Count > 0)
                    Line($"{when}: {string.Join(" ", said.Select(x => x.Says.Text))}  ");
            if (t.Interruption is not null)
                Line($"{t.Interruption.Text}  ");
            Line();
        }

        if (c.WindowStart is not null)
        {
            Line($"Window: {c.WindowAtA} at A; {c.WindowAtB} at B.");
            Line();
        }

        Line("## Before and after");
        Line();
        Line("| end | what | before | after |");
        Line("|---|---|---|---|");
        foreach (var d in c.Differs)
            Line($"| {d.End ?? ""} | {Cell(d.What)} | {Cell(d.Before)} | {Cell(d.After)} |");
        Line();
        foreach (var (what, list) in new[] { ("Findings added", c.FindingsAdded), ("Findings taken away", c.FindingsRemoved) })
        {
            if (list.Count == 0)
                continue;
            Line($"{what}:");
            Line();
            foreach (var f in list)
                Line($"- {f.Severity}{(f.Was is null ? "" : $" (was {f.Was})")} {f.Code} on {f.Tunnel}: {f.What.Text}");
            Line();
        }

        Line("## Steps");
        var part = "";
        foreach (var s in c.Steps)
        {
            if (s.Part != part)
            {
                Line();
                Line($"### {char.ToUpperInvariant(s.Part[0])}{s.Part[1..]}");
                Line();
                part = s.Part;
            }

            Line($"{s.Number}. **{s.Where}**{(s.Outcome is null ? "" : $" {s.Outcome}")}: {(s.Asked is null ? "" : $"Ask {s.Asked}: ")}{s.Do.Text}{(s.Stops is null ? "" : $" *{s.Stops.Text}*")}");
            foreach (var v in s.Enter)
                Line($"   - {v.Label}: `{v.Text}`{(v.Before is null ? "" : $" (was `{v.Before}`)")}");
            foreach (var v in s.TakeOut)
                Line($"   - taken out: {v.Label} `{v.Text}`");
            foreach (var a in s.Attempts)
                Line($"   - {a.Outcome} by {a.By}, {Moment(a.At)}{(a.Set is null ? "" : $": set `{a.Set}` instead of `{a.Planned}`, because {a.Reason}")}{(a.Remark is null ? "" : $". {a.Remark}")}");
            foreach (var f in s.Attempts.Select(a => a.File).OfType<ProofFileLine>())
                Line($"   - proof: the file {f.Name}, {Say.Count(f.Size, "octet")}, SHA-256 `{f.Digest}`");
            foreach (var a in s.Attempts.Where(a => a.Proof is not null))
            {
                // What was pasted may hold fences of its own.
                var fence = a.Proof!.Contains("```", StringComparison.Ordinal) ? "``````" : "```";
                Line("     " + fence);
                foreach (var line in a.Proof!.ReplaceLineEndings("\n").Split('\n'))
                    Line("     " + line);
                Line("     " + fence);
            }
        }

        Line();
        if (c.WayBack.Count > 0)
        {
            Line("## Way back");
            Line();
            foreach (var w in c.WayBack)
                Line($"- **{w.Where}** {w.Do.Text} (undoes step {w.Number})");
            Line();
        }

        Line("## Passage");
        Line();
        foreach (var r in c.Remarks)
            Line($"- {r.By}{(r.Step is null ? "" : $" on step {r.Step}")}{(r.Value is null ? "" : $", {r.Value}")}, {Moment(r.At)}: {r.Text}");
        foreach (var p in c.Passages)
            Line($"- {Moment(p.At)} {p.To} by {p.By}{(p.Remark is null ? "" : $": {p.Remark}")}");
        if (c.LeftOver.Count > 0)
        {
            Line();
            Line("## Left over");
            Line();
            foreach (var l in c.LeftOver)
                Line($"- {l}");
        }

        return text.ToString();
    }
}

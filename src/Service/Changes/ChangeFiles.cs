using System.Text;

namespace Vellumkeep.Service.Changes;

/// <summary>What a change is given out as: its window for calendars, its record for reading and printing.</summary>
public static class ChangeFiles
{
    /// <summary>
    /// A window as iCalendar (RFC 5545), in UTC, so that daylight saving at either site plays no part.
    /// </summary>
    public static string Calendar(IEnumerable<ChangePage> changes, DateTimeOffset now)
    {
        var text = new StringBuilder();
        void Line(string line)
        {
            // RFC 5545 section 3.1: no more than 75 octets to a line, the rest on lines that begin with a blank.
            var bytes = Encoding.UTF8.GetBytes(line);
            for (var at = 0; at < bytes.Length; )
            {
                var most = at == 0 ? 75 : 74;
                var take = Math.Min(most, bytes.Length - at);
                while (at + take < bytes.Length && (bytes[at + take] & 0xc0) == 0x80)
                    take--;
                text.Append(at == 0 ? "" : " ").Append(Encoding.UTF8.GetString(bytes, at, take)).Append("\r\n");
                at += take;
            }
        }

        static string Time(DateTimeOffset at) =>
            at.ToUniversalTime().ToString("yyyyMMdd'T'HHmmss'Z'", CultureInfo.InvariantCulture);
        // What cannot be shown is left out: a line of a calendar holds no control character (RFC 5545, section 3.1).
        static string Told(string value) =>
            new string([
                .. value.Where(c => Characters.Unfit(c.ToString(), lines: true) is null || char.IsSurrogate(c)),
            ])
                .Replace("\\", "\\\\")
                .Replace(";", "\\;")
                .Replace(",", "\\,")
                .ReplaceLineEndings("\\n");
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
            Line(
                $"DESCRIPTION:{Told($"{c.Kind}, {c.State}. {c.Why}\nAt A: {c.WindowAtA}\nAt B: {c.WindowAtB}\nPlanned: {c.PlannedMinutes} min")}"
            );
            Line($"LOCATION:{Told($"{c.A.Site} and {c.B.Site}")}");
            Line(
                $"STATUS:{(c.State is "approved" or "under way" or "done" ? "CONFIRMED" : c.State is "dropped" or "backed out" ? "CANCELLED" : "TENTATIVE")}"
            );
            Line("END:VEVENT");
        }

        Line("END:VCALENDAR");
        return text.ToString();
    }
}

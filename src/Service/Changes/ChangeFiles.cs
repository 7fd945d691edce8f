using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.Serialization;

namespace Vellumkeep.Service.Changes;

/// <summary>What a change is given out as: its window for calendars, its record for reading and printing.</summary>
public static class ChangeFiles
{
    /// <summary>
    /// A window as iCalendar (RFC 5545), in UTC, so that daylight saving at either site plays no part.
    /// </summary>
    public static string Calendar(IEnumerable<ChangePage> changes, DateTimeOffset now)
    {
        var calendar = new Ical.Net.Calendar { ProductId = "-//Vellumkeep//Windows//EN" };
        foreach (var change in changes.Where(c => c.WindowStart is not null))
            calendar.Events.Add(Window(change, now));
        return new CalendarSerializer().SerializeToString(calendar)!;
    }

    private static CalendarEvent Window(ChangePage change, DateTimeOffset now) =>
        new()
        {
            Uid = $"{change.Code.ToLowerInvariant()}@vellumkeep",
            DtStamp = new(now.UtcDateTime),
            Sequence = change.Version,
            DtStart = new(change.WindowStart!.Value.UtcDateTime),
            DtEnd = new(change.WindowStart.Value.AddMinutes(change.WindowMinutes ?? 0).UtcDateTime),
            Summary = Told($"{change.Code} {change.Title}"),
            Description = Told(
                $"{change.Kind}, {change.State}. {change.Reason}\nAt A: {change.WindowAtA}\nAt B: "
                    + $"{change.WindowAtB}\nPlanned: {change.PlannedMinutes} min"
            ),
            Location = Told($"{change.A.Site} and {change.B.Site}"),
            Status = change.State switch
            {
                "approved" or "under way" or "done" => EventStatus.Confirmed,
                "dropped" or "backed out" => EventStatus.Cancelled,
                _ => EventStatus.Tentative,
            },
        };

    /// <summary>A line of a calendar holds no control character (RFC 5545, section 3.1): those are left out.</summary>
    private static string Told(string value) =>
        new([.. value.Where(c => Characters.Unfit(c.ToString(), lines: true) is null || char.IsSurrogate(c))]);
}

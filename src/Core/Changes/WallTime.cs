namespace Vellumkeep.Core.Changes;

/// <summary>
/// Times as clocks on a wall show them, where daylight saving makes one hour of the year come twice and another not at
/// all.
/// </summary>
public static class WallTime
{
    /// <summary>The zone of an IANA name; UTC when this machine does not know it.</summary>
    public static TimeZoneInfo Zone(string name) =>
        TimeZoneInfo.TryFindSystemTimeZoneById(name, out var zone) ? zone : TimeZoneInfo.Utc;

    /// <summary>The first and the last day that a window touches on the calendar of a zone.</summary>
    public static (DateOnly From, DateOnly To) Days(Window window, TimeZoneInfo zone)
    {
        DateOnly Day(DateTimeOffset at) => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(at, zone).DateTime);
        return (Day(window.Start), Day(window.Start.AddMinutes(Math.Max(0, window.Minutes - 1))));
    }

    /// <summary>
    /// A moment as a clock in a zone shows it, such as <c>Fri 27 Nov 21:00</c>; with its year in another one.
    /// </summary>
    public static string Said(DateTimeOffset at, TimeZoneInfo zone, DateTimeOffset now)
    {
        var local = TimeZoneInfo.ConvertTime(at, zone);
        var year = local.Year == TimeZoneInfo.ConvertTime(now, zone).Year ? "" : " yyyy";
        return local.ToString($"ddd d MMM{year} HH:mm", CultureInfo.InvariantCulture);
    }

    /// <summary>A window as a clock in a zone shows it, such as <c>Fri 27 Nov 21:00 to 23:00</c>.</summary>
    public static string Said(Window window, TimeZoneInfo zone, DateTimeOffset now)
    {
        var end = TimeZoneInfo.ConvertTime(window.End, zone);
        return $"{Said(window.Start, zone, now)} to {end.ToString("HH:mm", CultureInfo.InvariantCulture)}";
    }

    /// <param name="zone">Whose clock is meant.</param>
    /// <param name="wall">Such as <c>2026-11-27T21:00</c>.</param>
    /// <returns>The moment; refused when the clocks there never show it, or show it twice.</returns>
    public static Parsed<DateTimeOffset> In(string wall, TimeZoneInfo zone)
    {
        if (
            !DateTime.TryParseExact(
                wall.Trim(),
                ["yyyy-MM-dd'T'HH:mm", "yyyy-MM-dd HH:mm", "yyyy-MM-dd'T'HH:mm:ss"],
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out var at
            )
        )
            return Parsed<DateTimeOffset>.Fail(
                $"'{Typed.Short(wall)}' is not a time",
                "a date and a time, such as 2026-11-27T21:00"
            );
        if (zone.IsInvalidTime(at))
            return Parsed<DateTimeOffset>.Fail(
                $"{at:HH:mm} does not exist on {at.Day} {at.ToString("MMMM", CultureInfo.InvariantCulture)} in "
                    + $"{zone.Id} (clocks go forward)",
                $"{at.AddHours(1):HH:mm}, or an hour earlier"
            );
        if (zone.IsAmbiguousTime(at))
        {
            var offsets = zone.GetAmbiguousTimeOffsets(at)
                .OrderDescending()
                .Select(o => new DateTimeOffset(at, o).ToString("yyyy-MM-dd'T'HH:mmzzz", CultureInfo.InvariantCulture));
            return Parsed<DateTimeOffset>.Fail(
                $"{at:HH:mm} exists twice on {at.Day} {at.ToString("MMMM", CultureInfo.InvariantCulture)} in "
                    + $"{zone.Id} (clocks go back)",
                $"which of the two, {string.Join(" or ", offsets)}"
            );
        }

        return Parsed<DateTimeOffset>.Of(new(at, zone.GetUtcOffset(at)));
    }
}

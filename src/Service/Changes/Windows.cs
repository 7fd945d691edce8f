namespace Vellumkeep.Service.Changes;

/// <summary>Windows as they are given.</summary>
internal static class Windows
{
    /// <summary>A window from a moment on; null when no start is given.</summary>
    /// <param name="minutes">1 to 1440.</param>
    /// <exception cref="ProblemException">It is out of range, or has no length.</exception>
    /// <param name="whyShort">Why it is long enough although the work takes longer.</param>
    private static Window? Of(DateTimeOffset? start, int? minutes, string? whyShort)
    {
        if (start is not { } at)
            return null;
        if (at < Bounds.FirstMoment || at >= Bounds.LastMoment)
            throw ProblemException.Field(
                "start",
                $"{at:yyyy-MM-dd} is out of range",
                $"a day from {Scalars.Write(Scalars.FirstDay)} to {Scalars.Write(Scalars.LastDay)}"
            );
        return minutes is > 0 and <= 1440
            ? new(at, minutes.Value) { WhyShort = string.IsNullOrWhiteSpace(whyShort) ? null : whyShort.Trim() }
            : throw ProblemException.Field(
                "windowMinutes",
                "the length of the window is missing",
                "minutes, 1 to 1440"
            );
    }

    /// <summary>
    /// A window as it was given for a change: by a moment, or by the clock on the wall at one of its sites.
    /// </summary>
    public static Window? Of(Inventory around, Change change, WindowGiven given) =>
        given.LocalStart is { Length: > 0 } wall
            ? Of(AtSite(around, change, given.End, wall), given.Minutes, given.WhyShort)
            : Of(given.Start, given.Minutes, given.WhyShort);

    /// <summary>A window as it was given for a draft: by a moment, or by the clock of a time zone.</summary>
    public static Window? Of(DraftChange given) =>
        given.WindowLocalStart is { Length: > 0 } wall
            ? Of(
                InZone(given.WindowZone ?? "Etc/UTC", wall, "windowLocalStart"),
                given.WindowMinutes,
                given.WindowWhyShort
            )
            : Of(given.WindowStart, given.WindowMinutes, given.WindowWhyShort);

    private static DateTimeOffset InZone(string name, string wall, string field)
    {
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(name, out var zone))
            throw ProblemException.Field(
                "windowZone",
                $"'{Typed.Short(name)}' is not a time zone that is known here",
                "an IANA time zone such as Europe/London"
            );
        var at = WallTime.In(wall, zone);
        return at.Ok ? at.Value : throw ProblemException.Field(field, at.Wrong!, at.Right!);
    }

    /// <summary>A time on the wall at the site of an end of the change's first tunnel.</summary>
    private static DateTimeOffset AtSite(Inventory around, Change change, string? end, string wall)
    {
        var tunnel = around.Get<Tunnel>(change.Request.Tunnels[0]);
        var site = around.Get<Site>(around.Get<Gateway>(tunnel.End(Find.EndOf(end ?? "A")).GatewayId).SiteId);
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(site.TimeZone, out var zone))
            throw ProblemException.Field(
                "localStart",
                $"the time zone {site.TimeZone} of {site.Name} is not known on this machine",
                "a time with its offset, such as 2026-11-27T21:00+00:00"
            );
        var at = WallTime.In(wall, zone);
        return at.Ok ? at.Value : throw ProblemException.Field("localStart", at.Wrong!, at.Right!);
    }
}

using System.Globalization;
using Shouldly;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class WallTimeTests
{
    private static readonly TimeZoneInfo London = TimeZoneInfo.FindSystemTimeZoneById("Europe/London");

    [Theory]
    [InlineData("2026-11-27T21:00", "2026-11-27T21:00:00+00:00")]
    [InlineData("2026-07-01 21:00", "2026-07-01T21:00:00+01:00")]
    [InlineData("2026-03-29T02:00", "2026-03-29T02:00:00+01:00")]
    [InlineData("2026-10-25T00:59", "2026-10-25T00:59:00+01:00")]
    [InlineData("2026-10-25T02:00", "2026-10-25T02:00:00+00:00")]
    public void A_time_on_the_wall_is_a_moment(string wall, string moment) =>
        WallTime.In(wall, London).Value.ToString("yyyy-MM-dd'T'HH:mm:sszzz").ShouldBe(moment);

    [Fact]
    public void The_hour_that_does_not_come_and_the_hour_that_comes_twice_are_refused_with_what_would_be_right()
    {
        WallTime
            .In("2026-03-29T01:30", London)
            .ShouldSatisfyAllConditions(
                t => t.Wrong!.ShouldContain("does not exist"),
                t => t.Right!.ShouldContain("02:30")
            );
        WallTime
            .In("2026-10-25T01:30", London)
            .ShouldSatisfyAllConditions(
                t => t.Wrong!.ShouldContain("exists twice"),
                t => t.Right!.ShouldContain("01:30+01:00 or 2026-10-25T01:30+00:00")
            );
        WallTime.In("tonight", London).Wrong!.ShouldContain("'tonight' is not a time");
    }

    /// <summary>Zones that change their clocks by an hour, by half an hour, in the south, and never.</summary>
    public static TheoryData<string> Zones =>
        new(
            "Europe/London",
            "Europe/Lisbon",
            "America/St_Johns",
            "Australia/Lord_Howe",
            "America/Santiago",
            "Asia/Kathmandu",
            "UTC"
        );

    [Theory]
    [MemberData(nameof(Zones))]
    public void Every_quarter_of_a_year_is_the_one_moment_at_which_the_clocks_show_it(string name)
    {
        var zone = TimeZoneInfo.FindSystemTimeZoneById(name);
        var from = new DateTimeOffset(2026, 1, 2, 0, 0, 0, TimeSpan.Zero);
        var shown = Enumerable
            .Range(0, 4 * 24 * 362)
            .Select(q => TimeZoneInfo.ConvertTime(from.AddMinutes(15 * q), zone))
            .ToLookup(at => at.DateTime);
        for (var wall = from.AddDays(1).DateTime; wall < from.AddDays(361).DateTime; wall = wall.AddMinutes(15))
        {
            var read = WallTime.In(wall.ToString("yyyy-MM-dd'T'HH:mm", CultureInfo.InvariantCulture), zone);
            var moments = shown[wall].ToArray();
            if (moments.Length == 1)
                (read.Value, read.Value.Offset).ShouldBe((moments[0], moments[0].Offset), $"{wall:s} in {name}");
            else
                read.Wrong.ShouldNotBeNull($"{wall:s} in {name} is {moments.Length} moments");
            if (moments.Length == 2)
                moments.ShouldAllBe(m => read.Right!.Contains(m.ToString("yyyy-MM-dd'T'HH:mmzzz")));
            if (moments.Length == 0)
                shown.Contains(wall.Date + TimeSpan.Parse(read.Right![..5])).ShouldBeTrue(read.Right);
        }
    }

    [Theory]
    [InlineData("2026-11-27T21:00Z", 180, "Europe/London", "2026-11-27", "2026-11-27")]
    [InlineData("2026-11-27T21:00Z", 181, "Europe/London", "2026-11-27", "2026-11-28")]
    [InlineData("2026-11-27T21:00Z", 120, "Europe/London", "2026-11-27", "2026-11-27")]
    [InlineData("2026-11-27T21:00Z", 60, "Asia/Kathmandu", "2026-11-28", "2026-11-28")]
    [InlineData("2026-11-27T02:00Z", 30, "America/St_Johns", "2026-11-26", "2026-11-26")]
    [InlineData("2026-11-27T21:00Z", 0, "UTC", "2026-11-27", "2026-11-27")]
    public void A_window_touches_the_days_of_its_first_and_its_last_minute(
        string start,
        int minutes,
        string zone,
        string from,
        string to
    ) =>
        WallTime
            .Days(new(DateTimeOffset.Parse(start), minutes), TimeZoneInfo.FindSystemTimeZoneById(zone))
            .ShouldBe((DateOnly.Parse(from), DateOnly.Parse(to)));
}

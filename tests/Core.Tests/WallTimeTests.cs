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
                t => t.Wrong!.ShouldContain("does not come"),
                t => t.Right!.ShouldContain("02:30")
            );
        WallTime
            .In("2026-10-25T01:30", London)
            .ShouldSatisfyAllConditions(
                t => t.Wrong!.ShouldContain("comes twice"),
                t => t.Right!.ShouldContain("01:30+01:00 or 2026-10-25T01:30+00:00")
            );
        WallTime.In("tonight", London).Wrong!.ShouldContain("'tonight' is not a time");
    }
}

using Shouldly;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Number 3 of the doors: what was approved includes its window, and what happens outside of it is said.
/// </summary>
public class ChangeWindowTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 24, 20, 0, 0, TimeSpan.Zero);

    private static readonly Change Draft = Drafted();

    private static Window At(int hours, int minutes = 600) => new(Now.AddHours(hours), minutes);

    private static Change Drafted()
    {
        var request = new SubnetsRequest(
            DemoInventory.Tunnel("BRI-PETHER").Id,
            EndName.A,
            [Addressing.Prefix.Parse("10.61.40.0/24").Value],
            []
        );
        return TestValues.Change(request, Planner.Plan(DemoInventory.All, request, DemoInventory.Today).Plan!);
    }

    private static Change Approved(Window? window)
    {
        var windowed = ChangeLife.SetWindow(Draft, "ines", Now, window, null).Value!;
        return ChangeLife.Approve(ChangeLife.Submit(windowed, "ines", Now, []).Value!, "tomas", Now, null, []).Value!;
    }

    [Fact]
    public void A_window_moved_after_approval_lapses_it_and_a_reviewer_confirms_the_window_alone()
    {
        foreach (var moved in new[] { At(30), null })
        {
            var lapsed = ChangeLife.SetWindow(Approved(At(4)), "ines", Now, moved, null).Value!;
            (lapsed.State, lapsed.Approval, lapsed.WindowAsked?.Was).ShouldBe((ChangeState.InReview, null, At(4)));
            ChangeLife.Begin(lapsed, "ines", Now, [], TestValues.NoKeys).Refused.ShouldNotBeNull();
            ChangeLife
                .ConfirmWindow(lapsed, "ines", Now, [])
                .Refused!.Wrong.ToString()
                .ShouldContain("the author cannot approve");
            var confirmed = ChangeLife.ConfirmWindow(lapsed, "odile", Now, []).Value!;
            (confirmed.State, confirmed.Approval!.By, confirmed.Window, confirmed.WindowAsked).ShouldBe(
                (ChangeState.Approved, "odile", moved, null)
            );
        }
    }

    [Fact]
    public void Nothing_but_the_window_is_confirmed_alone()
    {
        var review = ChangeLife.Submit(Draft, "ines", Now, []).Value!;
        ChangeLife.ConfirmWindow(review, "tomas", Now, []).Refused.ShouldNotBeNull();
        // The same window once more alters nothing; another plan is no longer the one that was approved.
        var approved = Approved(At(4));
        ChangeLife.SetWindow(approved, "ines", Now, At(4), null).Value!.State.ShouldBe(ChangeState.Approved);
        var lapsed = ChangeLife.SetWindow(approved, "ines", Now, At(30), null).Value!;
        var changed = new RestsOn(Draft.Plan.RestsOn[0].At, null);
        ChangeLife.ConfirmWindow(lapsed, "tomas", Now, [changed]).Refused!.Code.ShouldBe("PLAN-07");
        var again = ChangeLife.Recompute(lapsed, Draft.Plan, "ines", Now, null, [changed]).Value!;
        ChangeLife.ConfirmWindow(again, "tomas", Now, []).Refused.ShouldNotBeNull();
        // Moved once more before anybody looked, it is still the window alone.
        var twice = ChangeLife.SetWindow(lapsed, "ines", Now, At(50), null).Value!;
        ChangeLife.ConfirmWindow(twice, "tomas", Now, []).Value!.Window.ShouldBe(At(50));
    }

    [Fact]
    public void A_window_that_is_over_is_refused_and_a_short_one_needs_a_reason()
    {
        ChangeLife.SetWindow(Draft, "ines", Now, At(-12), null).Refused!.Wrong.ToString().ShouldContain("ended before");
        // It ends at this very moment.
        ChangeLife.SetWindow(Draft, "ines", Now, At(-10), null).Refused.ShouldNotBeNull();
        ChangeLife.SetWindow(Draft, "ines", Now, At(-10, 601), null).Value.ShouldNotBeNull();
        var minutes = Draft.Plan.Minutes;
        ChangeLife.SetWindow(Draft, "ines", Now, At(4, minutes), null).Value.ShouldNotBeNull();
        ChangeLife.SetWindow(Draft, "ines", Now, At(4, minutes - 1), null).Refused!.Code.ShouldBe("PLAN-06");
        var reasoned = At(4, minutes - 1) with { WhyShort = "the preparation is done by day" };
        ChangeLife.SetWindow(Draft, "ines", Now, reasoned, null).Value!.Window!.WhyShort.ShouldNotBeNull();
    }

    [Theory]
    [InlineData(-1, false)]
    [InlineData(0, true)]
    [InlineData(59, true)]
    [InlineData(60, false)]
    public void Work_begins_outside_its_window_only_with_a_reason_that_is_kept(int minutesAfter, bool within)
    {
        var window = At(4, 60) with { WhyShort = "most of it is done" };
        var approved = Approved(window);
        var at = window.Start.AddMinutes(minutesAfter);
        var plain = ChangeLife.Begin(approved, "ines", at, [], TestValues.NoKeys);
        (plain.Value is not null).ShouldBe(within);
        var reasoned = ChangeLife.Begin(approved, "ines", at, [], TestValues.NoKeys, "the provider is early").Value!;
        reasoned.Outside?.Reason.ShouldBe("the provider is early");
        (reasoned.Outside is null).ShouldBe(within);
        // What is done by the minute at which it closes is done in it.
        Worked(reasoned, at).WorkedAsPlanned.ShouldBe(within);
    }

    [Fact]
    public void Under_way_a_window_moves_only_with_a_reason_that_stands_among_the_remarks()
    {
        var begun = ChangeLife.Begin(Approved(At(0)), "ines", Now, [], TestValues.NoKeys).Value!;
        ChangeLife.SetWindow(begun, "ines", Now, At(1), " ").Refused.ShouldNotBeNull();
        var moved = ChangeLife.SetWindow(begun, "ines", Now, At(1), "they asked for an hour").Value!;
        (moved.State, moved.Approval!.By).ShouldBe((ChangeState.UnderWay, "tomas"));
        moved.Remarks[^1].Text.ShouldContain("they asked for an hour");
    }

    [Fact]
    public void A_year_is_said_where_it_is_not_this_one()
    {
        WallTime.Said(Now, TimeZoneInfo.Utc, Now).ShouldBe("Tue 24 Nov 20:00");
        WallTime.Said(Now.AddYears(1), TimeZoneInfo.Utc, Now).ShouldBe("Wed 24 Nov 2027 20:00");
        // The year is the one on the wall there.
        var eve = new DateTimeOffset(2026, 12, 31, 23, 30, 0, TimeSpan.Zero);
        WallTime.Said(eve, WallTime.Zone("Europe/Berlin"), Now).ShouldBe("Fri 1 Jan 2027 00:30");
    }

    private static Change Worked(Change change, DateTimeOffset at)
    {
        foreach (var step in change.Plan.Steps)
            change = ChangeLife
                .Attempt(change, step.Key, TestValues.Proven, "ines", at.AddMinutes(1), TestValues.KeysOf(change))
                .Value!;
        return change;
    }
}

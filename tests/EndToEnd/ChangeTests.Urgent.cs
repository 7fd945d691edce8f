using System.Net;
using System.Text;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

public abstract partial class ChangeTests
{
    [Fact]
    public async Task The_second_change_on_a_gateway_is_told_of_the_first_and_has_to_be_computed_anew()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var odile = await demo.Service.ClientAsync("odile");
        var first = await Drafted(ines, new DraftRekey { Tunnel = "QUI-MOS", Reason = "perrin has left" });
        var second = await Drafted(ines, new DraftStrengthen { Tunnel = "QUI-MOS", Reason = "better" });
        second.PlanFindings.ShouldContain(f => f.Code == "PLAN-01" && f.What.Text.Contains(first.Code));
        await ines.ActAsync(second.Code, "submit", new(null, null), null, Ct);
        await odile.ActAsync(second.Code, "approve", new(null, null), 2, Ct);
        first = await Begun(ines, first);
        await ines.MakeKeyAsync("QUI-MOS", new(first.Code), Ct);
        foreach (var step in first.Steps)
            await ines.AttemptAsync(first.Code, step.Number, new("done", null, null, null, null, "5 of 5"), Ct);
        await ines.ActAsync(first.Code, "close", new(null, null), null, Ct);
        var refused = await Should.ThrowAsync<ServiceProblem>(
            ines.ActAsync(second.Code, "begin", new(null, null), null, Ct)
        );
        refused.Message.ShouldContain("have changed");
        var again = await ines.ActAsync(second.Code, "recompute", new(null, null), null, Ct);
        (again.State, again.ApprovedBy, again.Changed.Count).ShouldBe(("in review", null, 0));
        (await ines.TunnelAsync("QUI-MOS", Ct)).Rows.First(r => r.Key == "keyHeld").A.Text.ShouldBe("version 2");
    }

    [Fact]
    public async Task Urgent_work_begins_on_a_second_persons_word_and_owes_a_review()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var tomas = await demo.Service.ClientAsync("tomas");
        var change = await Drafted(
            ines,
            new DraftFree
            {
                Tunnel = "LAR-FEN",
                Reason = "the line is down",
                Steps = [new("switch", "B", "Take the uplink down and up", 2, "The tunnel falls for a moment.", null)],
            }
        );
        (
            await Should.ThrowAsync<ServiceProblem>(ines.UrgentAsync(change.Code, new("ines", "cannot wait"), Ct))
        ).Message.ShouldContain("second person");
        (
            await Should.ThrowAsync<ServiceProblem>(
                ines.UrgentAsync(change.Code, new("nobody-here", "cannot wait"), Ct)
            )
        ).Message.ShouldContain("cannot approve");
        // Somebody who may only read or work on it is no second person, however they are called.
        foreach (var name in new[] { "bram", "maud-audit", "perrin" })
            (
                await Should.ThrowAsync<ServiceProblem>(ines.UrgentAsync(change.Code, new(name, "cannot wait"), Ct))
            ).Message.ShouldContain("cannot approve");
        var asked = await ines.UrgentAsync(change.Code, new("tomas", "the surgeries are open"), Ct);
        (asked.State, asked.UrgentAsked!.Reviewer).ShouldBe(("draft", "tomas"));
        // A name that the author typed begins nothing: nobody but Tomas, by himself, for what he read.
        (
            await Should.ThrowAsync<ServiceProblem>(
                ines.ActAsync(change.Code, "confirm-urgent", new(null, null), asked.Version, Ct)
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
        using var odile = await demo.Service.ClientAsync("odile");
        (
            await Should.ThrowAsync<ServiceProblem>(
                odile.ActAsync(change.Code, "confirm-urgent", new(null, null), asked.Version, Ct)
            )
        ).Message.ShouldContain("tomas was asked");
        (
            await Should.ThrowAsync<ServiceProblem>(
                tomas.ActAsync(change.Code, "confirm-urgent", new(null, null), null, Ct)
            )
        ).Status.ShouldBe((HttpStatusCode)428);
        (
            await Should.ThrowAsync<ServiceProblem>(
                tomas.ActAsync(change.Code, "confirm-urgent", new(null, null), asked.Version - 1, Ct)
            )
        ).Status.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await tomas.TodayAsync(Ct)).Verdict.ShouldContain(v =>
            v.Says.Text.Contains("ines asks you to confirm that", StringComparison.Ordinal)
        );
        (
            await tomas.ActAsync(change.Code, "confirm-urgent", new("I see it too", null), asked.Version, Ct)
        ).State.ShouldBe("under way");
        (
            await Should.ThrowAsync<ServiceProblem>(
                ines.ActAsync(change.Code, "review-after", new(null, null), null, Ct)
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
        var after = await tomas.ActAsync(change.Code, "review-after", new("right to do it", null), null, Ct);
        (after.Urgent!.Reviewer, after.Urgent.ReviewedBy).ShouldBe(("tomas", "tomas"));
    }

    [Fact]
    public async Task A_window_meets_a_freeze_and_another_window_and_goes_into_a_calendar()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var frozen = DateTimeOffset.UtcNow.Date.AddDays(4).AddHours(20);
        var change = await Drafted(
            ines,
            new DraftRekey
            {
                Tunnel = "SAL-SPIT",
                Reason = "perrin has left; he saw it, twice",
                WindowStart = new DateTimeOffset(frozen, TimeSpan.Zero),
                WindowMinutes = 60,
            }
        );
        change.PlanFindings.ShouldContain(f => f.Code == "PLAN-02" && f.What.Text.Contains("holiday weekend"));
        var tonight = (await ines.ChangesAsync("approved", null, Ct)).First(c => c.Code == "SAL-0001");
        change = await ines.WindowAsync(
            change.Code,
            new(tonight.WindowStart!.Value.AddMinutes(10), 30) { WhyShort = "the preparation is done" },
            Ct
        );
        change.PlanFindings.ShouldContain(f => f.Code == "PLAN-02" && f.What.Text.Contains("SAL-0001"));
        change.PlanFindings.ShouldContain(f => f.Code == "PLAN-06");
        var calendar = await ines.TextAsync($"changes/{change.Code}/window.ics", Ct);
        calendar.ShouldContain(
            $"DTSTART:{tonight.WindowStart.Value.AddMinutes(10).ToUniversalTime():yyyyMMdd'T'HHmmss'Z'}\r\n"
        );
        calendar.ShouldContain("he saw it\\, twice");
        calendar.Split("\r\n").ShouldAllBe(l => Encoding.UTF8.GetByteCount(l) <= 75);
    }
}

using System.Collections.Immutable;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>What a reviewer would look for in a plan, and the life of a change around it.</summary>
public partial class PlanCheckTests
{
    private static readonly DateTimeOffset Night = new(2026, 11, 30, 21, 0, 0, TimeSpan.Zero);

    private static Change Of(
        ChangeRequest request,
        string id = "c1",
        Window? window = null,
        ChangeState state = ChangeState.Draft
    ) => TestValues.Change(request, state, id) with { Window = window };

    private static string[] Codes(Change c, params Change[] others) =>
        [.. PlanChecks.Run(c, DemoInventory.All, others, []).Select(f => f.Code)];

    private static RekeyRequest Rekey(string code) => new([DemoInventory.Tunnel(code).Id]);

    [Fact]
    public void Windows_that_meet_on_a_gateway_are_told_and_those_that_only_touch_are_not()
    {
        var first = Of(Rekey("BRI-ASHLOW"), "c1", new(Night, 120));
        Codes(Of(Rekey("BRI-PETHER"), "c2", new(Night.AddMinutes(119), 120)), first).ShouldContain("PLAN-02");
        Codes(Of(Rekey("BRI-PETHER"), "c2", new(Night.AddMinutes(120), 120)), first).ShouldNotContain("PLAN-02");
        // The same night on devices of their own is nobody's concern.
        Codes(Of(Rekey("TID-PUMP"), "c2", new(Night, 120)), first).ShouldNotContain("PLAN-02");
    }

    [Fact]
    public void A_freeze_counts_on_its_first_day_and_its_last_and_for_every_customer_that_is_touched()
    {
        var frozen = DemoInventory.All.All.OfType<Customer>().Single(c => c.Code == "SAL").Freezes.Single();
        Change At(DateOnly day) => Of(Rekey("QUI-SAL"), "c1", new(new(day.ToDateTime(new(10, 0)), TimeSpan.Zero), 200));
        foreach (
            var (day, meets) in new[]
            {
                (frozen.From.AddDays(-1), false),
                (frozen.From, true),
                (frozen.To, true),
                (frozen.To.AddDays(1), false),
            }
        )
            Codes(At(day)).Contains("PLAN-02").ShouldBe(meets, day.ToString());
    }

    [Fact]
    public void Steps_longer_than_the_window_and_a_way_in_that_the_work_cuts_are_told()
    {
        Codes(Of(Rekey("BRI-ASHLOW"), window: new(Night, 15))).ShouldContain("PLAN-06");
        Codes(Of(Rekey("BRI-ASHLOW"), window: new(Night, 600))).ShouldNotContain("PLAN-06");
        // Moor's router is managed through its own tunnel and no other way is recorded; Ashlow's has another.
        PlanChecks.Run(Of(Rekey("LAR-LOAN")), DemoInventory.All, [], []).ShouldNotContain(f => f.Code == "PLAN-10");
        PlanChecks
            .Run(Of(new RetireRequest(DemoInventory.Tunnel("LAR-MOOR").Id)), DemoInventory.All, [], [])
            .ShouldContain(f => f.Code == "PLAN-10" && f.Severity == Severity.Blocks);
        Codes(Of(new RetireRequest(DemoInventory.Tunnel("BRI-ASHLOW").Id))).ShouldNotContain("PLAN-10");
    }

    [Fact]
    public void A_gateway_is_managed_through_the_tunnel_that_is_recorded_and_never_through_what_words_say()
    {
        var churn = DemoInventory.All.ByCode<Gateway>("churn-gw1")!;
        bool Cut(ManagementAccess way)
        {
            var now = DemoInventory.All.With(churn with { ManagementAccess = way });
            var request = new RetireRequest(DemoInventory.Tunnel("QUI-BRI").Id);
            return PlanChecks.Run(Of(request), now, [], []).Any(f => f.Code == "PLAN-10");
        }

        Cut(new() { TunnelId = DemoInventory.Tunnel("QUI-BRI").Id }).ShouldBeTrue();
        Cut(new() { TunnelId = DemoInventory.Tunnel("QUI-BRI-2").Id }).ShouldBeFalse();
        Cut(new() { Otherwise = "the hub through QUI-BRI" }).ShouldBeFalse();
        Cut(new() { Uplink = "fibre" }).ShouldBeFalse();
    }

    [Fact]
    public void A_device_that_is_switched_off_is_a_step_without_a_way_back()
    {
        var gateway = DemoInventory.All.ByCode<Gateway>("tid-seal-gw")!;
        var change = Of(
            new PlatformRequest(
                gateway.Id,
                DemoInventory.All.ByCode<Platform>("teasel-minor@1")!.Id,
                [DemoInventory.Tunnel("TID-SEAL").Id]
            )
        );
        PlanChecks
            .Run(change, DemoInventory.All, [], [])
            .Where(f => f.Code == "PLAN-05")
            .ShouldHaveSingleItem()
            .What.ToString()
            .ShouldContain("Keep the old Brackwater Two");
        // Everything that is entered on the new device, and the cable, can be undone.
        change
            .Plan.Steps.Where(s => s.Part is Part.Build or Part.Switch && (s.Enter.Length > 0 || s.Stops is not null))
            .ShouldAllBe(s => s.Undo != null);
    }

    [Fact]
    public void What_cannot_be_recorded_as_set_is_refused_before_it_is_written()
    {
        var tunnel = DemoInventory.Tunnel("THR-PLATES-2");
        var change = Of(new NewTunnelRequest(tunnel.Id), state: ChangeState.UnderWay);
        Refused? Try(string label, string set)
        {
            var step = change.Plan.Steps.First(s =>
                s.Where == Where.A && s.Enter.Any(v => v.Label == label && v.Waits is null)
            );
            // What it waits for was done.
            var ready = change with
            {
                Attempts =
                [
                    .. change.Plan.Steps.Select(s => new Attempt(
                        s.Key,
                        AttemptOutcome.Done,
                        "ines",
                        Night,
                        null,
                        null
                    )),
                ],
            };
            return ChangeLife
                .Attempt(
                    ready,
                    step.Key,
                    new(AttemptOutcome.Done) { Deviation = new(label, set, "the device says so") },
                    "ines",
                    Night,
                    TestValues.KeysOf(change)
                )
                .Refused;
        }

        Try("tunnel address", "10.255.50.9/31").ShouldBeNull();
        Try("tunnel address", "10.255.50.999/31")!
            .Wrong.ToString()
            .ShouldContain("tunnel address cannot be 10.255.50.999/31");
        Try("pre-shared key", "version 7")!.Wrong.ToString().ShouldContain("was never made");
        Try("discard route to", "10.99.0.0/16").ShouldBeNull();
        Try("IKE lifetime", "8 hours of it")!.Wrong.ToString().ShouldContain("IKE lifetime cannot be");
        Try("IKE lifetime", "28800 s").ShouldBeNull();
    }

    [Fact]
    public void Urgent_work_needs_another_person_and_the_review_another_than_the_author()
    {
        var change = Of(Rekey("BRI-ASHLOW"));
        ChangeLife
            .AskUrgently(change, "tomas", Night, "ines", "down")
            .Refused!.Wrong.ToString()
            .ShouldContain("ines wrote it");
        ChangeLife
            .AskUrgently(change, "tomas", Night, "Tomas", "down")
            .Refused!.Wrong.ToString()
            .ShouldContain("Tomas asked for it");
        ChangeLife.AskUrgently(change, "tomas", Night, "odile", " ").Refused.ShouldNotBeNull();
        ChangeLife
            .ConfirmUrgently(change, "odile", Night, null, Night, [], TestValues.NoKeys)
            .Refused!.Wrong.ToString()
            .ShouldContain("was not asked");
        ChangeLife.ReviewAfter(change, "odile", Night, null).Refused!.Wrong.ToString().ShouldContain("needs no review");
        var asked = ChangeLife.AskUrgently(change, "ines", Night, "odile", "down").Value!;
        asked.State.ShouldBe(ChangeState.Draft, "a name that the author typed begins nothing");
        foreach (var other in new[] { "ines", "tomas" })
            ChangeLife
                .ConfirmUrgently(asked, other, Night, null, Night, [], TestValues.NoKeys)
                .Refused!.Wrong.ToString()
                .ShouldContain("odile was asked");
        var begun = ChangeLife
            .ConfirmUrgently(asked, "odile", Night, null, Night.AddHours(24), [], TestValues.NoKeys)
            .Value!;
        (begun.State, begun.Urgent!.Reviewer).ShouldBe((ChangeState.UnderWay, "odile"));
        ChangeLife
            .ReviewAfter(begun, "ines", Night, null)
            .Refused!.Wrong.ToString()
            .ShouldContain("the author cannot approve");
        ChangeLife
            .ReviewAfter(ChangeLife.ReviewAfter(begun, "odile", Night, "right").Value!, "odile", Night, null)
            .Refused.ShouldNotBeNull();
    }

    [Fact]
    public void A_design_starts_at_the_end_that_moves_and_there_is_none_where_both_do()
    {
        var all = DemoInventory.All;
        TunnelOutline Idea(string a, string b) =>
            new()
            {
                Code = "SAL-NEW",
                CustomerId = all.All.OfType<Customer>().Single(c => c.Code == "SAL").Id,
                Name = "n",
                A = new(all.ByCode<Gateway>(a)!.Id, []),
                B = new(all.ByCode<Gateway>(b)!.Id, []),
                Pairs = [new(Prefix.Parse("10.199.0.0/24").Value, Prefix.Parse("10.198.0.0/24").Value)],
            };
        var vessel = all
            .All.OfType<Gateway>()
            .Where(g => g.Uplinks[0].Address.Value?.IsDynamic == true)
            .Select(g => g.Code)
            .Order()
            .ToArray();
        vessel.Length.ShouldBeGreaterThan(1);
        var (made, _) = TunnelDesign.Of(all, "n1", Idea("harbour-gw", vessel[0]), DemoInventory.Today);
        (made!.Agreed.OnlyA.TextOf(Settings.Initiation), made.Agreed.OnlyB.TextOf(Settings.Initiation)).ShouldBe(
            ("responds only", "always")
        );
        (made.Agreed.IdentityA!.Type, made.Agreed.IdentityB!.Type).ShouldBe((IdentityKind.Address, IdentityKind.Fqdn));
        TunnelDesign
            .Of(all, "n1", Idea(vessel[0], vessel[1]), DemoInventory.Today)
            .Refused.ShouldHaveSingleItem()
            .Wrong.ToString()
            .ShouldContain("Neither");
        TunnelDesign
            .Of(all, "n1", Idea("harbour-gw", "harbour-gw"), DemoInventory.Today)
            .Refused[0]
            .Wrong.ToString()
            .ShouldContain("Both ends are harbour-gw");
    }

    /// <summary>A freeze is days on the calendar of whoever set it, and the house's holds for everybody.</summary>
    [Fact]
    public void A_freeze_is_met_by_its_own_calendar_and_the_house_freezes_everybody()
    {
        var ferries = DemoInventory.All.ByCode<Customer>("SAL")!;
        var house = DemoInventory.All.ByCode<Customer>("QUI")!;
        Freeze one = new(new(2026, 7, 10), new(2026, 7, 10), "regatta");
        string[] Freezes(string tunnel, string start, int minutes, Customer frozen, Customer? of = null) =>
            [
                .. PlanChecks
                    .Run(
                        Of(new RetireRequest(DemoInventory.Tunnel(tunnel).Id)) with
                        {
                            Window = new(
                                DateTimeOffset.Parse(start, System.Globalization.CultureInfo.InvariantCulture),
                                minutes
                            ),
                        },
                        DemoInventory.All.With(frozen),
                        [],
                        [],
                        of
                    )
                    .Where(f => f.Code == "PLAN-02" && f.What.ToString().Contains("regatta", StringComparison.Ordinal))
                    .Select(f => f.What.ToString()),
            ];

        var summer = ferries with { Freezes = [one] };
        // In London it is the tenth from 23:00 UTC of the ninth until 23:00 UTC of the tenth.
        Freezes("SAL-DUNLIN", "2026-07-09T22:00Z", 60, summer).ShouldBeEmpty();
        Freezes("SAL-DUNLIN", "2026-07-09T22:00Z", 61, summer)
            .ShouldHaveSingleItem()
            .ShouldContain("the freeze of Saltmarsh Ferries, 2026-07-10 to 2026-07-10");
        Freezes("SAL-DUNLIN", "2026-07-10T22:59Z", 5, summer).ShouldHaveSingleItem();
        Freezes("SAL-DUNLIN", "2026-07-10T23:00Z", 5, summer).ShouldBeEmpty();
        Freezes("LAR-FEN", "2026-07-10T12:00Z", 5, summer).ShouldBeEmpty();
        var shut = house with { Freezes = [one] };
        Freezes("LAR-FEN", "2026-07-10T12:00Z", 5, shut, shut)
            .ShouldHaveSingleItem()
            .ShouldContain("the freeze of Quillhaven Networks (ours)");
        Freezes("QUI-BRI", "2026-07-10T12:00Z", 5, shut, shut).ShouldHaveSingleItem();
    }
}

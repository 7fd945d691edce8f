using System.Collections.Immutable;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Records;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>What a reviewer would look for in a plan, and the life of a change around it.</summary>
public class PlanCheckTests
{
    private static readonly DateTimeOffset Night = new(2026, 11, 30, 21, 0, 0, TimeSpan.Zero);

    private static Change Of(Wish wish, string id = "c1", Window? window = null, ChangeState state = ChangeState.Draft) =>
        new(id, id.ToUpperInvariant(), "t", "w", DemoInventory.All.Get<Tunnel>(wish.Tunnels[0]).CustomerId, wish, Planner.Plan(DemoInventory.All, wish, DemoInventory.Today).Plan!, state, window, "ines", [], null, [], []);

    private static string[] Codes(Change c, params Change[] others) => [.. PlanChecks.Run(c, DemoInventory.All, others, []).Select(f => f.Code)];

    private static RekeyWish Rekey(string code) => new([DemoInventory.Tunnel(code).Id]);

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
        foreach (var (day, meets) in new[] { (frozen.From.AddDays(-1), false), (frozen.From, true), (frozen.To, true), (frozen.To.AddDays(1), false) })
            Codes(At(day)).Contains("PLAN-02").ShouldBe(meets, day.ToString());
    }

    [Fact]
    public void Steps_longer_than_the_window_and_a_way_in_that_the_work_cuts_are_told()
    {
        Codes(Of(Rekey("BRI-ASHLOW"), window: new(Night, 15))).ShouldContain("PLAN-06");
        Codes(Of(Rekey("BRI-ASHLOW"), window: new(Night, 600))).ShouldNotContain("PLAN-06");
        // Moor's router is managed through its own tunnel and no other way is recorded; Ashlow's has another.
        PlanChecks.Run(Of(Rekey("LAR-LOAN")), DemoInventory.All, [], []).ShouldNotContain(f => f.Code == "PLAN-10");
        PlanChecks.Run(Of(new RetireWish(DemoInventory.Tunnel("LAR-MOOR").Id)), DemoInventory.All, [], []).ShouldContain(f => f.Code == "PLAN-10" && f.Severity == Severity.Blocks);
        Codes(Of(new RetireWish(DemoInventory.Tunnel("BRI-ASHLOW").Id))).ShouldNotContain("PLAN-10");
    }

    [Fact]
    public void A_device_that_is_switched_off_is_a_step_without_a_way_back()
    {
        var gateway = DemoInventory.All.ByCode<Gateway>("tid-seal-gw")!;
        var change = Of(new PlatformWish(gateway.Id, DemoInventory.All.ByCode<Platform>("teasel-minor@1")!.Id, [DemoInventory.Tunnel("TID-SEAL").Id]));
        PlanChecks.Run(change, DemoInventory.All, [], []).Where(f => f.Code == "PLAN-05").ShouldHaveSingleItem().What.ToString().ShouldContain("Keep the old Brackwater Two");
        // Everything that is entered on the new device, and the cable, can be undone.
        change.Plan.Steps.Where(s => s.Part is Part.Build or Part.Switch && (s.Enter.Length > 0 || s.Stops is not null)).ShouldAllBe(s => s.Undo != null);
    }

    [Fact]
    public void What_cannot_be_recorded_as_set_is_refused_before_it_is_written()
    {
        var tunnel = DemoInventory.Tunnel("THR-PLATES-2");
        var change = Of(new NewTunnelWish(tunnel.Id), state: ChangeState.UnderWay);
        Refused? Try(string label, string set)
        {
            var step = change.Plan.Steps.First(s => s.Where == Where.A && s.Enter.Any(v => v.Label == label && v.Waits is null));
            return ChangeLife.Attempt(change, step.Key, Outcome.Done, "ines", Night, null, new(label, set, "the device says so")).Refused;
        }

        Try("tunnel address", "169.254.50.9/30").ShouldBeNull();
        Try("tunnel address", "169.254.50.999/30")!.Wrong.ToString().ShouldContain("tunnel address cannot be 169.254.50.999/30");
        Try("pre-shared key", "version 7")!.Right.ToString().ShouldContain("skipped with the reason");
        Try("discard route to", "10.99.0.0/16").ShouldBeNull();
        Try("IKE lifetime", "8 hours of it")!.Wrong.ToString().ShouldContain("IKE lifetime cannot be");
        Try("IKE lifetime", "28800 s").ShouldBeNull();
    }

    [Fact]
    public void Urgent_work_needs_another_person_and_the_review_another_than_the_author()
    {
        var change = Of(Rekey("BRI-ASHLOW"));
        ChangeLife.BeginUrgently(change, "tomas", Night, "ines", "down", Night).Refused!.Wrong.ToString().ShouldContain("who wrote it");
        ChangeLife.BeginUrgently(change, "tomas", Night, "Tomas", "down", Night).Refused!.Wrong.ToString().ShouldContain("who begins it");
        ChangeLife.BeginUrgently(change, "tomas", Night, "odile", " ", Night).Refused.ShouldNotBeNull();
        ChangeLife.ReviewAfter(change, "odile", Night, null).Refused!.Wrong.ToString().ShouldContain("owes no review");
        var begun = ChangeLife.BeginUrgently(change, "tomas", Night, "odile", "down", Night.AddHours(24)).Value!;
        (begun.State, begun.Urgent!.Named).ShouldBe((ChangeState.UnderWay, "odile"));
        ChangeLife.ReviewAfter(begun, "ines", Night, null).Refused!.Wrong.ToString().ShouldContain("author never approves");
        ChangeLife.ReviewAfter(ChangeLife.ReviewAfter(begun, "odile", Night, "right").Value!, "odile", Night, null).Refused.ShouldNotBeNull();
    }

    [Fact]
    public void A_design_starts_at_the_end_that_moves_and_there_is_none_where_both_do()
    {
        var all = DemoInventory.All;
        TunnelIdea Idea(string a, string b) => new("SAL-NEW", all.All.OfType<Customer>().Single(c => c.Code == "SAL").Id, "n", all.ByCode<Gateway>(a)!.Id, all.ByCode<Gateway>(b)!.Id, [], [], [new(Prefix.Parse("10.199.0.0/24").Value, Prefix.Parse("10.198.0.0/24").Value)], null);
        var vessel = all.All.OfType<Gateway>().Where(g => g.Uplinks[0].Address.Value?.IsDynamic == true).Select(g => g.Code).Order().ToArray();
        vessel.Length.ShouldBeGreaterThan(1);
        var (made, _) = NewTunnel.Design(all, "n1", Idea("harbour-gw", vessel[0]), DemoInventory.Today);
        (made!.Agreed.OnlyA.TextOf(Settings.Start), made.Agreed.OnlyB.TextOf(Settings.Start)).ShouldBe(("only answer", "always"));
        (made.Agreed.IdentityA!.Type, made.Agreed.IdentityB!.Type).ShouldBe((IdentityKind.Address, IdentityKind.Fqdn));
        NewTunnel.Design(all, "n1", Idea(vessel[0], vessel[1]), DemoInventory.Today).Refused.ShouldHaveSingleItem().Wrong.ToString().ShouldContain("Neither");
        NewTunnel.Design(all, "n1", Idea("harbour-gw", "harbour-gw"), DemoInventory.Today).Refused[0].Wrong.ToString().ShouldContain("Both ends would be harbour-gw");
    }
}

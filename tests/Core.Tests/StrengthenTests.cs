using Shouldly;
using Vellumkeep.Core.Algorithms;
using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Better protection is better, both ends can do it, and in between the two still find something in common.
/// </summary>
public class StrengthenTests
{
    public static TheoryData<string> Grounds => ["demo", "fleet 1", "ends 1", "ends 2"];

    private sealed record Strengthened(Ground Ground, StrengthenRequest Request, Plan Plan)
    {
        public TunnelView Was => Ground.View(Request.TunnelId);

        public TunnelView Will =>
            new(Ground.After(Plan), Ground.After(Plan).Get<Tunnel>(Request.TunnelId), DemoInventory.Today);
    }

    private static IEnumerable<Strengthened> All(string name)
    {
        var ground = Ground.Of(name);
        var requests = ground
            .All.Tunnels.Where(t => t.State == TunnelState.InService)
            .SelectMany(t =>
                ground
                    .All.All.OfType<Suite>()
                    .Select(s => (string?)s.Id)
                    .Append(null)
                    .Select(suite => new StrengthenRequest(t.Id, suite))
            );
        foreach (var request in requests.Take(200))
            if (ground.Planned(request).Plan is { } plan)
                yield return new(ground, request, plan);
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void Afterwards_both_ends_offer_what_was_asked_for_and_can_do_it(string name)
    {
        foreach (var x in All(name))
        {
            var will = x.Will;
            foreach (var end in will.Ends)
            {
                var ike = end.Get(Settings.IkeProposals).Value!.Items;
                var version = will.Version.ShouldNotBeNull(x.Was.Tunnel.Code);
                foreach (var member in Graded.Of(ike[0]).Members)
                    (end.Platform.Can(member.Name, version) != false).ShouldBeTrue(
                        $"{will.Tunnel.Code} {end.Name}: {member.Name}"
                    );
                ike.ShouldBe(end.Other.Get(Settings.IkeProposals).Value!.Items, will.Tunnel.Code);
                end.Get(Settings.EspProposals)
                    .Value!.Items.ShouldBe(end.Other.Get(Settings.EspProposals).Value!.Items, will.Tunnel.Code);
                end.End.ProposalsFrom.ShouldBeNull(will.Tunnel.Code);
            }
        }
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void The_strongest_that_both_can_do_is_never_weaker_than_what_there_was(string name)
    {
        foreach (var x in All(name).Where(x => x.Request.SuiteId is null))
        {
            var (was, will) = (Weakest(x.Was), Weakest(x.Will));
            (will >= was).ShouldBeTrue($"{x.Was.Tunnel.Code}: {was} bits became {will}");
            foreach (var end in x.Will.Ends)
                (Graded.Of(end.Get(Settings.IkeProposals).Value!.Items[0]).Worst < Requirement.ShouldNot).ShouldBeTrue(
                    x.Was.Tunnel.Code
                );
        }
    }

    /// <summary>The bits of the weakest proposal that both ends hold first; none where nothing is known.</summary>
    private static int Weakest(TunnelView view) =>
        view
            .Ends.Select(e => e.Get(Settings.IkeProposals).Value?.Items)
            .Min(items => items is { IsEmpty: false } some ? some.Min(p => Strength.Of(p).Bits) : 0);

    [Theory]
    [MemberData(nameof(Grounds))]
    public void What_an_end_held_is_restored_by_the_way_back(string name)
    {
        foreach (var x in All(name))
        {
            var edits = x.Plan.Edits.ToArray();
            edits.ShouldNotBeEmpty(x.Was.Tunnel.Code);
            foreach (var edit in edits)
                Node.Same(edit.Before, edit.After).ShouldBeFalse($"{x.Was.Tunnel.Code} {edit.At.Path}");
        }
    }

    [Fact]
    public void What_stands_so_already_is_not_planned_again()
    {
        foreach (var x in All("demo").Take(20))
        {
            var after = x.Ground.After(x.Plan);
            var again = Planner.Plan(after, x.Request, DemoInventory.Today);
            again.Plan.ShouldBeNull(x.Was.Tunnel.Code);
            again.Refused.ShouldHaveSingleItem().Field.ShouldBe("suite");
        }
    }

    [Theory]
    [InlineData("TID-OLD", "3DES-CBC")]
    [InlineData("LAR-STRICT", "DH 16")]
    public void A_suite_that_an_end_cannot_do_is_refused_with_the_end_and_what_it_lacks(string suite, string member)
    {
        var id = DemoInventory
            .All.All.OfType<Suite>()
            .First(s => s.Code.StartsWith(suite, StringComparison.Ordinal))
            .Id;
        var lacking = DemoInventory
            .All.Tunnels.Where(t => t.State == TunnelState.InService)
            .Select(t => Planner.Plan(DemoInventory.All, new StrengthenRequest(t.Id, id), DemoInventory.Today))
            .SelectMany(p => p.Refused)
            .Where(r => r.Code is "PAIR-03" or "PAIR-04")
            .ToArray();
        lacking.ShouldNotBeEmpty();
        foreach (var refusal in lacking)
        {
            refusal.Wrong.ToString().ShouldContain(suite);
            refusal.Wrong.ToString().ShouldMatch(" at [AB] does not support ");
        }

        lacking.ShouldContain(r => r.Wrong.ToString().Contains(member, StringComparison.Ordinal));
    }

    [Fact]
    public void A_version_that_an_end_does_not_speak_is_refused_as_that()
    {
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        var gateway = DemoInventory.All.Get<Gateway>(tunnel.B.GatewayId);
        var old = DemoInventory.All.Get<Platform>(gateway.PlatformId) with { IkeVersions = [IkeVersion.IKEv1] };
        var suite = DemoInventory
            .All.All.OfType<Suite>()
            .First(s => s.Code.StartsWith("QUI-MONITOR", StringComparison.Ordinal));
        var refused = Planner
            .Plan(DemoInventory.All.With(old), new StrengthenRequest(tunnel.Id, suite.Id), DemoInventory.Today)
            .Refused.ShouldHaveSingleItem();
        refused.Code.ShouldBe("PAIR-01");
        refused.Wrong.ToString().ShouldContain("IKEv2");
    }

    [Fact]
    public void What_a_profile_does_not_say_is_not_chosen_and_not_called_nothing_in_common()
    {
        var tunnel = DemoInventory.Tunnel("QUI-BRI");
        var gateway = DemoInventory.All.Get<Gateway>(tunnel.B.GatewayId);
        var silent = DemoInventory.All.Get<Platform>(gateway.PlatformId) with { Groups = [], IkeVersions = [] };
        var plan = Planner.Plan(
            DemoInventory.All.With([silent]),
            new StrengthenRequest(tunnel.Id, null),
            DemoInventory.Today
        );
        plan.Refused.Single().Wrong.ToString().ShouldContain("does not say its IKE versions and DH groups");
    }
}

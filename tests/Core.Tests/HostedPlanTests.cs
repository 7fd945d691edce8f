using Shouldly;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Hosted gateways: created first and once, asked for what is known then, and given the key last.</summary>
public class HostedPlanTests
{
    private static readonly Tunnel Second = DemoInventory.Tunnel("THR-PLATES-2");

    private static readonly Gateway Hosted = DemoInventory.All.ByCode<Gateway>("plates-gw2")!;

    private static Plan PlanOf(Inventory all, params string[] ids) =>
        Planner
            .Plan(all, new NewTunnelRequest(ids[0]) { Also = [.. ids[1..]] }, DemoInventory.Today)
            .Plan.ShouldNotBeNull();

    private static Step[] OnHosted(Plan plan) =>
        [.. plan.Steps.Where(s => s.Gateway == Hosted.Code && s.Part is Part.Build or Part.Switch)];

    [Fact]
    public void Creating_needs_nothing_that_is_known_only_afterwards_and_the_key_comes_last()
    {
        var steps = OnHosted(PlanOf(DemoInventory.All, Second.Id));
        steps[0].Kind.ShouldBe(StepKind.Create);
        steps[0].Enter.ShouldBeEmpty();
        steps[^1].Enter.ShouldHaveSingleItem().Label.ShouldBe("pre-shared key");
        steps[..^1].SelectMany(s => s.Enter).ShouldNotContain(v => v.Label == "pre-shared key");
        // Its address is got after it was created, and before whoever needs it.
        var plan = PlanOf(DemoInventory.All, Second.Id);
        int At(Func<Step, bool> which) => plan.Steps.IndexOf(plan.Steps.First(which));
        At(s => s.Fills is not null).ShouldBeGreaterThan(At(s => s.Kind == StepKind.Create));
        At(s => s.Enter.Any(v => v.Waits is not null)).ShouldBeGreaterThan(At(s => s.Fills is not null));
    }

    [Fact]
    public void How_long_it_takes_is_what_the_profile_says_or_that_it_says_nothing()
    {
        var platform = DemoInventory.All.Get<Platform>(Hosted.PlatformId);
        string Says(int? seconds) =>
            OnHosted(PlanOf(DemoInventory.All.With(platform with { CreationSeconds = seconds }), Second.Id))[0]
                .Do.ToString();
        Says(600).ShouldContain("about 10 minutes");
        Says(null).ShouldContain("does not say how long it takes");
        OnHosted(PlanOf(DemoInventory.All.With(platform with { CreationSeconds = 600 }), Second.Id))[0]
            .Minutes.ShouldBe(11);
    }

    [Fact]
    public void Two_endpoints_are_created_once_and_both_tunnels_are_one_change()
    {
        var twin = Hosted with { Id = "twin", Code = "plates-gw3" };
        var third = Second with { Id = "third", Code = "THR-PLATES-3", B = Second.B with { GatewayId = twin.Id } };
        var plan = PlanOf(DemoInventory.All.With(twin, third), Second.Id, third.Id);
        var create = plan.Steps.Where(s => s.Kind == StepKind.Create).ShouldHaveSingleItem();
        create.Do.ToString().ShouldContain("plates-gw2 and plates-gw3 created, 2 endpoints in one creation");
        plan.Pending.Select(p => p.Number).ShouldBe([1, 2]);
        plan.Keys.Select(k => k.TunnelId).ShouldBe([Second.Id, third.Id]);
        plan.Steps.Count(s => s.Kind == StepKind.MakeKey).ShouldBe(2);
        foreach (var tunnel in new[] { Second, third })
            plan.Steps.ShouldContain(s => s.Kind == StepKind.Request && s.TunnelId == tunnel.Id);
    }
}

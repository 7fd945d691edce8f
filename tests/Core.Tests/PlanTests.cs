using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Storage.Bodies;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Plans of every kind, held against model devices: what a device holds is a dictionary, a step enters and removes, a
/// way back puts back.
/// </summary>
public partial class PlanTests
{
    private static readonly DateOnly Today = DemoInventory.Today;

    private static readonly Ground Demo = Ground.Of("demo");

    [Fact]
    public void Every_kind_is_planned_on_the_demo()
    {
        foreach (
            var kind in new[]
            {
                "rekey",
                "strengthen",
                "retire",
                "subnets",
                "new tunnel",
                "replace platform",
                "address move",
            }
        )
            Demo.Plans.Count(p => p.Request.Kind == kind).ShouldBeGreaterThan(0, kind);
        Demo.Plans.Length.ShouldBeGreaterThan(150);
    }

    [Fact]
    public void The_same_request_makes_the_same_plan_to_the_octet()
    {
        foreach (var (request, plan) in Demo.Plans.Where((_, i) => i % 7 == 0))
            Bytes(request, Planner.Plan(DemoInventory.All, request, Today).Plan!)
                .ShouldBe(Bytes(request, plan), request.ToString());

        static string Bytes(ChangeRequest request, Plan plan) =>
            System.Text.Encoding.UTF8.GetString(RecordBody.Bytes(TestValues.Change(request, plan)));
    }

    [Fact]
    public void A_plan_that_is_kept_is_read_back_as_it_was()
    {
        foreach (var (request, plan) in Demo.Plans.GroupBy(p => p.Request.Kind).Select(g => g.First()))
        {
            var change = TestValues.Change(request, plan);
            var kept = RecordBody.Bytes(change);
            RecordBody.Bytes(RecordBody.Read(RecordKind.Change, "c", kept)).ShouldBe(kept, request.Kind);
        }
    }

    [Fact]
    public void Platforms_that_work_differently_get_different_steps()
    {
        var all = DemoInventory.All;
        Plan Of(string code) =>
            Demo.Plans.First(p => p.Request is RekeyRequest r && r.TunnelIds[0] == all.ByCode<Tunnel>(code)!.Id).Plan;
        // Alderquay holds two keys while one is replaced, and is activated; Brackwater holds one, and is cleared
        // manually.
        var (major, old) = (Of("QUI-BRI"), Of("TID-PUMP"));
        major.Steps.ShouldContain(s => s.Key.StartsWith("activate-"));
        major.Steps.ShouldContain(s => s.Key.StartsWith("withdraw-key-"));
        old.Steps.ShouldNotContain(s => s.Key.StartsWith("activate-") || s.Key.StartsWith("withdraw-key-"));
        old.Steps.Count(s => s.Part == Part.Switch && s.Key.StartsWith("key-")).ShouldBe(2);
        old.Interruptions.ShouldHaveSingleItem().Seconds.ShouldBe(220);
        // The hosted gateway is created, asked for the tunnel, and given the key last; nothing else is manual there.
        var hosted = Demo
            .Plans.First(p => p.Request is NewTunnelRequest n && n.TunnelId == all.ByCode<Tunnel>("THR-PLATES-2")!.Id)
            .Plan;
        hosted
            .Steps.Where(s => s.Gateway == "plates-gw2" && s.Part is Part.Build or Part.Switch && s.Where == Where.B)
            .Select(s => s.Kind)
            .ShouldBe([StepKind.Create, StepKind.Request, StepKind.Request]);
        hosted.Pending.Length.ShouldBe(1);
    }

    [Fact]
    public void Subnets_on_both_sides_are_one_plan_and_every_new_pair_is_wanted_once()
    {
        var tunnel = DemoInventory.Tunnel("QUI-MOS");
        var request = new SubnetsRequest(tunnel.Id, EndName.A, [Prefix.Parse("10.250.77.0/24").Value], [])
        {
            Also = [new(tunnel.Id, EndName.B) { Add = [Prefix.Parse("10.90.77.0/24").Value], Remove = [] }],
        };
        var plan = Planner.Plan(DemoInventory.All, request, Today).Plan!;
        var then = Demo.After(plan).Get<Tunnel>(tunnel.Id);
        var ipv4 = tunnel.Agreed.Pairs.Where(p => p.A.Family == Family.IPv4).ToArray();
        then.Agreed.Pairs.Length.ShouldBe(tunnel.Agreed.Pairs.Length + plan.NewPairs.Length);
        then.Agreed.Pairs.ShouldContain(p => p.A.ToString() == "10.250.77.0/24" && p.B.ToString() == "10.90.77.0/24");
        foreach (var a in ipv4.Select(p => p.A).Distinct())
            then.Agreed.Pairs.ShouldContain(p => p.A == a && p.B.ToString() == "10.90.77.0/24");
        plan.Steps.Select(s => s.Key).ShouldBeUnique();
        plan.Steps.Count(s => s.Key.StartsWith("activate-", StringComparison.Ordinal)).ShouldBe(2);
    }

    [Fact]
    public void What_stays_temporary_is_said_with_what_it_must_become()
    {
        var plan = Planner
            .Plan(DemoInventory.All, new RekeyRequest([DemoInventory.Tunnel("TID-QUAY").Id]), Today)
            .Plan!;
        plan.Verdict.Select(v => v.Says.ToString())
            .ShouldContain(v =>
                v.StartsWith("Peer address of TID-QUAY at A stays temporary", StringComparison.Ordinal)
            );
    }
}

using System.Collections.Immutable;
using Shouldly;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// New keys and certificates: the order, the gap in that order, each way, and none where there is no key.
/// </summary>
public class RekeyTests
{
    private static Plan PlanOf(Inventory all, params string[] codes) =>
        Planner
            .Plan(all, new RekeyRequest([.. codes.Select(c => all.ByCode<Tunnel>(c)!.Id)]), DemoInventory.Today)
            .Plan.ShouldNotBeNull();

    private static Plan PlanOf(params string[] codes) => PlanOf(DemoInventory.All, codes);

    private static int At(Plan plan, Func<Step, bool> which) => plan.Steps.IndexOf(plan.Steps.First(which));

    /// <summary>Every tunnel of a hub that is activated: each has its own activation, next to its other end.</summary>
    [Fact]
    public void Each_tunnel_is_switched_for_itself_with_both_ends_side_by_side()
    {
        var hub = DemoInventory.All.ByCode<Gateway>("keel-gw1")!;
        string[] codes =
        [
            .. DemoInventory
                .All.On(hub.Id)
                .Where(o => o.Tunnel.State == TunnelState.InService)
                .Select(o => o.Tunnel.Code)
                .Take(6),
        ];
        var plan = PlanOf(codes);
        foreach (var code in codes)
        {
            var id = DemoInventory.Tunnel(code).Id;
            var switching = plan.Steps.Where(s => s.Part == Part.Switch).ToList();
            var own = switching.Select((s, i) => (s, i)).Where(x => x.s.TunnelId == id).Select(x => x.i).ToArray();
            if (own.Length > 0 && !plan.Steps.Any(s => s.TunnelId == id && s.Kind == StepKind.Withdraw))
                own.ShouldBe(Enumerable.Range(own[0], own.Length), $"the steps of {code} stand together");
        }
    }

    [Fact]
    public void The_interruption_is_the_time_between_the_two_ends_in_this_order()
    {
        var plan = PlanOf("LAR-LOAN", "TID-PUMP");
        foreach (var gap in plan.Interruptions)
        {
            var keys = plan
                .Steps.Select((s, i) => (s, i))
                .Where(x => x.s.TunnelId == gap.TunnelId && x.s.Enter.Any(v => v.Label == "pre-shared key"))
                .Select(x => x.i)
                .ToArray();
            // The device of the second end restarts the tunnel once more when it takes the key: 40 seconds by its profile.
            gap.Seconds.ShouldBe((plan.Steps[(keys[0] + 1)..(keys[1] + 1)].Sum(s => s.Minutes) * 60) + 40);
            gap.Says.ToString().ShouldContain($"from step {keys[0] + 1} to step {keys[1] + 1}, about 4 minutes");
        }

        // LAR-LOAN is down already.
        plan.Interruptions.ShouldHaveSingleItem().TunnelCode.ShouldBe("TID-PUMP");
    }

    [Fact]
    public void Keys_of_each_way_are_made_entered_and_replaced_each_way()
    {
        var tunnel = DemoInventory.Tunnel("LAR-LOAN");
        var eachWay = tunnel with
        {
            A = tunnel.A with { KeyHeld = new([1], [2]) },
            B = tunnel.B with { KeyHeld = new([2], [1]) },
        };
        var all = DemoInventory.All.With(eachWay);
        var plan = PlanOf(all, "LAR-LOAN");
        plan.Keys.Select(k => (k.Version, string.Join(",", k.Replaces))).ShouldBe([(3, "1"), (4, "2")]);
        plan.Steps.Where(s => s.Kind == StepKind.MakeKey).Select(s => s.Makes).ShouldBe([3, 4]);
        string[] Entered(Where where) =>
            [
                .. plan
                    .Steps.Where(s => s.Where == where)
                    .SelectMany(s => s.Enter)
                    .Where(v => v.Label.StartsWith("key for"))
                    .Select(v => $"{v.Label}: {v.Before} to {v.Text}"),
            ];
        Entered(Where.A)
            .ShouldBe(["key for sending: version 1 to version 3", "key for receiving: version 2 to version 4"]);
        Entered(Where.B)
            .ShouldBe(["key for sending: version 2 to version 4", "key for receiving: version 1 to version 3"]);
    }

    [Fact]
    public void A_tunnel_with_certificates_gets_the_steps_of_certificates_and_no_key()
    {
        var code = DemoInventory
            .All.Tunnels.First(t => t.State == TunnelState.InService && t.A.Certificate is not null)
            .Code;
        var plan = PlanOf(code);
        plan.Keys.ShouldBeEmpty();
        plan.Steps.ShouldNotContain(s => s.Kind == StepKind.MakeKey);
        plan.Steps.SelectMany(s => s.Enter).ShouldNotContain(v => v.Label.Contains("key"));
        string[] words = [.. plan.Steps.Select(s => s.Do.ToString())];
        foreach (var said in new[] { "clock", "fingerprint", "certificate request", "issue", "Install", "Use the new" })
            words.Count(w => w.Contains(said, StringComparison.Ordinal)).ShouldBeGreaterThanOrEqualTo(2, said);
        At(plan, s => s.Part == Part.Switch).ShouldBeGreaterThan(At(plan, s => s.Key.Contains("install")));
    }

    [Fact]
    public void Many_tunnels_are_batches_that_fit_the_window_and_each_is_in_one_of_them()
    {
        string[] codes =
        [
            .. DemoInventory
                .All.Tunnels.Where(t => t.State == TunnelState.InService)
                .Select(t => t.Code)
                .Order(StringComparer.Ordinal),
        ];
        var plan = PlanOf(codes);
        var ids = codes.Select(c => DemoInventory.Tunnel(c).Id).ToImmutableArray();
        var batches = RekeyBatches.Of(plan, ids, 120);
        batches.SelectMany(b => b).ShouldBe(ids);
        batches.Length.ShouldBeGreaterThan(1);
        foreach (var batch in batches)
            Planner
                .Plan(DemoInventory.All, new RekeyRequest(batch), DemoInventory.Today)
                .Plan!.Minutes.ShouldBeLessThanOrEqualTo(120);
    }
}

using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>A plan carried out on model devices, held against the records that it leads to and against profiles.</summary>
public class PlayTests
{
    private static readonly DateOnly Today = DemoInventory.Today;

    public static TheoryData<string> Grounds => ["demo", "fleet 1", "ends 1", "ends 2"];

    /// <summary>
    /// What is active on both devices after the last step negotiates as the records do that the plan leads to: nothing
    /// stays entered only, and nothing is forgotten.
    /// </summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void A_play_ends_with_what_the_records_say_afterwards(string name)
    {
        var ground = Ground.Of(name);
        var ended = 0;
        foreach (var (request, plan) in ground.Plans)
        {
            plan.Play.NeverActive.ShouldBeEmpty(request.ToString());
            var after = ground.After(plan);
            foreach (var played in plan.Play.Tunnels.Where(t => t.Own))
            {
                var tunnel = after.Get<Tunnel>(played.TunnelId);
                if (tunnel.State != TunnelState.InService)
                    continue;
                var about = new Checked(new TunnelView(after, tunnel, Today));
                var last = played.Spans[^1];
                var expected = Expected([about.Rehearsed(EndName.A), about.Rehearsed(EndName.B)]);
                // SAs live on where nothing drops them, also where they could not be negotiated anew.
                if (last.State == Carriage.Undetermined || expected == Carriage.Undetermined)
                    continue;
                if (last.Step is null && expected is Carriage.Down or Carriage.NoTraffic)
                    continue;
                (last.State is Carriage.Up or Carriage.FewerPairs).ShouldBe(
                    expected is Carriage.Up or Carriage.FewerPairs,
                    $"{request} {tunnel.Code}: played {last.State} since {last.Step} ({last.Why}), then {expected}"
                );
                ended++;
            }
        }

        ended.ShouldBeGreaterThan(name == "demo" ? 300 : 5);
    }

    private static Carriage Expected(Rehearsal[] both) =>
        both.Any(r => r.Outcome == Outcome.Up) ? Carriage.Up
        : both.Any(r => r.ComesUp) ? Carriage.FewerPairs
        : both.Any(r => r.Outcome == Outcome.Undetermined) ? Carriage.Undetermined
        : both.Any(r => r.Outcome is Outcome.IkeOnly or Outcome.NothingPasses) ? Carriage.NoTraffic
        : Carriage.Down;

    /// <summary>A lane has no hole, begins with the first step and ends with the last, and restarts lie within it.</summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void Every_tunnel_has_a_state_at_every_moment(string name)
    {
        foreach (var (request, plan) in Ground.Of(name).Plans)
        {
            plan.Play.Seconds.ShouldBe(plan.Minutes * 60, request.ToString());
            foreach (var t in plan.Play.Tunnels)
            {
                t.Spans[0].From.ShouldBe(0);
                t.Spans[^1].To.ShouldBe(plan.Play.Seconds, $"{request} {t.TunnelCode}");
                foreach (var (one, next) in t.Spans.Zip(t.Spans.Skip(1)))
                {
                    next.From.ShouldBe(one.To, $"{request} {t.TunnelCode}");
                    next.State.ShouldNotBe(one.State, $"{request} {t.TunnelCode}");
                    plan.NumberOf(next.Step!).ShouldBeGreaterThan(0);
                }

                foreach (var r in t.Restarts)
                {
                    r.At.ShouldBeInRange(0, plan.Play.Seconds);
                    plan.NumberOf(r.Step).ShouldBeGreaterThan(0);
                }
            }
        }
    }

    /// <summary>
    /// A proof that expects a reply has it when everything that comes before it is active, and one that expects none
    /// has none: read off the text as a person reads it, held against a rehearsal of the records then.
    /// </summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void A_proof_expects_what_the_records_give(string name)
    {
        var ground = Ground.Of(name);
        var (replies, silences) = (0, 0);
        foreach (var (request, plan) in ground.Plans.Where(p => p.Request is not (RekeyRequest or StrengthenRequest)))
        {
            var after = ground.After(plan);
            foreach (
                var step in plan.Steps.Where(s => s is { Kind: StepKind.Prove, Part: Part.Prove, Where: not Where.Us })
            )
            {
                var tunnel = after.Get<Tunnel>(step.TunnelId!);
                var about = new Checked(new TunnelView(after, tunnel, Today));
                var passing = about.Rehearsals.SelectMany(r => r.Passing.Concat(r.Narrowed)).ToHashSet();
                var pair = tunnel.Agreed.Pairs.First(p =>
                    step.Key.Contains($"-{p.A}-{p.B}-", StringComparison.Ordinal)
                );
                var says = step.Do.ToString();
                if (says.Contains("Expect a reply", StringComparison.Ordinal))
                {
                    passing.ShouldContain(pair, $"{request} {step.Key}: {says}");
                    replies++;
                }
                else if (says.Contains("Expect no reply", StringComparison.Ordinal))
                {
                    passing.ShouldNotContain(pair, $"{request} {step.Key}: {says}");
                    silences++;
                }
            }
        }

        if (name == "demo")
            (replies > 100 && silences > 50).ShouldBeTrue($"{replies} replies, {silences} silences");
    }

    private static Plan Planned(Inventory all, ChangeRequest request) => Planner.Plan(all, request, Today).Plan!;

    private static Inventory With(string platform, Func<Platform, Platform> alter)
    {
        var all = DemoInventory.All;
        return all.With(alter(all.All.OfType<Platform>().Single(p => p.Name == platform)));
    }

    private static PlayedTunnel Played(Plan plan, string tunnel) =>
        plan.Play.Tunnels.Single(t => t.TunnelCode == tunnel);

    /// <summary>
    /// Changing a key and changing subnets cost what the profile says of each: nothing is taken from one for the other.
    /// </summary>
    [Fact]
    public void What_a_step_stops_follows_from_the_cost_of_what_it_alters()
    {
        RekeyRequest Rekey(Inventory all) => new([all.ByCode<Tunnel>("TID-PUMP")!.Id]);
        var free = With("brackwater-two", p => p with { KeyCost = new(Disturbance.Nothing, 0), SubnetsCost = null });
        var dear = With("brackwater-two", p => p with { KeyCost = new(Disturbance.TunnelRestarts, 70) });
        var silent = With("brackwater-two", p => p with { KeyCost = null });
        // One end alone with the new key cannot authenticate, but SAs that stand go on until they are cleared.
        Played(Planned(free, Rekey(free)), "TID-PUMP").Spans.ShouldHaveSingleItem().State.ShouldBe(Carriage.Up);
        var gap = Played(Planned(dear, Rekey(dear)), "TID-PUMP").Spans.Single(s => s.State == Carriage.Down);
        (gap.To - gap.From).ShouldBe((3 * 60) + 70);
        var perhaps = Planned(silent, Rekey(silent)).Interruptions.ShouldHaveSingleItem();
        perhaps.Seconds.ShouldBeNull();
        perhaps.Says.ToString().ShouldContain("does not say what changing the pre-shared key interrupts");
    }

    /// <summary>
    /// An address that moves takes the SAs with it, whatever a profile says; how long, or when entries take effect at
    /// all, only the profile says, and where it does not, that is told.
    /// </summary>
    [Fact]
    public void What_a_profile_does_not_say_is_told()
    {
        Plan Moved(Inventory all)
        {
            var tunnel = all.ByCode<Tunnel>("BRI-ASHLOW")!;
            var gateway = all.Get<Gateway>(tunnel.B.GatewayId);
            return Planned(
                all,
                new AddressRequest(
                    gateway.Id,
                    gateway.Uplinks[0].Label,
                    Address.Parse("192.0.2.250").Value,
                    [tunnel.Id]
                )
            );
        }

        Moved(DemoInventory.All).Interruptions.ShouldHaveSingleItem().Seconds.ShouldNotBeNull();
        var noUplink = Moved(With("teasel-minor", p => p with { UplinkCost = null }));
        noUplink.Steps.Single(s => s.Kind == StepKind.MoveAddress).Stops.ShouldNotBeNull();
        var tunnel = DemoInventory.All.ByCode<Tunnel>("BRI-ASHLOW")!;
        var noEffect = With("teasel-minor", p => p with { Effect = null });
        Planned(noEffect, new SubnetsRequest(tunnel.Id, EndName.A, [Prefix.Parse("10.61.40.0/24").Value], []))
            .Interruptions.ShouldHaveSingleItem()
            .Says.ToString()
            .ShouldContain("does not say when entries take effect");
    }

    /// <summary>No plan says that nothing is interrupted beside a step that stops traffic (28.11).</summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void No_sentence_denies_what_a_step_stops(string name)
    {
        foreach (var (request, plan) in Ground.Of(name).Plans)
        {
            var denies = plan.Verdict.Any(v => v.Says.ToString().Contains("no interruption", StringComparison.Ordinal));
            (denies && plan.Steps.Any(s => s.Stops is not null)).ShouldBeFalse(request.ToString());
            foreach (var i in plan.Interruptions)
                plan.Steps.Any(s => s.Stops is not null).ShouldBeTrue($"{request}: {i.Says}");
        }
    }

    /// <summary>What is removed on a device that has to be activated is activated after it (28.12).</summary>
    [Fact]
    public void What_is_removed_last_takes_effect()
    {
        var seen = 0;
        foreach (var (request, plan) in Ground.Of("demo").Plans)
        foreach (var (step, i) in plan.Steps.Select((s, i) => (s, i)).Where(x => x.s.Kind == StepKind.Withdraw))
        {
            var gateway = DemoInventory.All.ByCode<Gateway>(step.Gateway!)!;
            if (DemoInventory.All.Get<Platform>(gateway.PlatformId).Effect != Effect.OnActivation)
                continue;
            if (request is PlatformRequest p && p.GatewayId == gateway.Id)
                continue;
            plan.Steps.Skip(i)
                .ShouldContain(s => s.Kind == StepKind.Activate && s.Gateway == step.Gateway, $"{request} {step.Key}");
            seen++;
        }

        seen.ShouldBeGreaterThan(10);
    }

    /// <summary>Taking a tunnel out of service ends its traffic for good, and says from which step on.</summary>
    [Fact]
    public void A_retired_tunnel_is_down_for_good()
    {
        var all = DemoInventory.All;
        var plan = Planned(all, new RetireRequest(all.ByCode<Tunnel>("LAR-FEN")!.Id));
        Played(plan, "LAR-FEN").Spans.Select(s => s.State).ShouldBe([Carriage.Up, Carriage.Down]);
        var stops = plan.Interruptions.ShouldHaveSingleItem();
        stops.Seconds.ShouldBeNull();
        stops.Says.ToString().ShouldContain("on, for good.");
    }

    /// <summary>An uplink that goes down and up takes the other tunnels of its gateway with it.</summary>
    [Fact]
    public void What_restarts_a_gateway_restarts_its_other_tunnels()
    {
        var all = With("teasel-minor", p => p with { SubnetsCost = new(Disturbance.GatewayRestarts, 25) });
        var tunnel = all.ByCode<Tunnel>("BRI-ASHLOW")!;
        var plan = Planned(all, new SubnetsRequest(tunnel.Id, EndName.A, [Prefix.Parse("10.61.40.0/24").Value], []));
        var others = all.On(tunnel.B.GatewayId).Select(o => o.Tunnel.Code).Where(c => c != "BRI-ASHLOW").ToArray();
        plan.Play.Tunnels.Where(t => !t.Own)
            .Select(t => t.TunnelCode)
            .ShouldBe(others.Where(c => all.ByCode<Tunnel>(c)!.State == TunnelState.InService), ignoreOrder: true);
        plan.Play.Tunnels.SelectMany(t => t.Restarts).ShouldAllBe(r => r.Seconds == 25);
    }
}

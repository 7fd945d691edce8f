using CsCheck;
using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Fleet;
using Xunit;

namespace Vellumkeep.Core.Tests;

public partial class RehearsalTests
{
    [Fact]
    public void Over_the_whole_demo_a_rehearsal_is_deterministic_swaps_with_the_ends_and_is_moved_by_no_unrelated_record()
    {
        var stranger = DemoInventory.Tunnel("TID-PUMP") with
        {
            Id = "stranger",
            Code = "STRANGER",
            State = TunnelState.Planned,
        };
        foreach (var tunnel in DemoInventory.All.Tunnels)
        {
            var story = Story(DemoInventory.All, tunnel, EndName.A);
            Story(DemoInventory.All, tunnel, EndName.A).ShouldBe(story, tunnel.Code);
            Story(DemoInventory.All.With([TestValues.Swapped(tunnel)]), TestValues.Swapped(tunnel), EndName.B)
                .ShouldBe(story, tunnel.Code);
            Story(DemoInventory.All.With([stranger]), tunnel, EndName.A).ShouldBe(story, tunnel.Code);
        }

        static string Story(Inventory among, Tunnel t, EndName initiator)
        {
            var r = Rehearse.From(new(among, t, DemoInventory.Today), initiator);
            var stops = r.Obstacles.Select(o =>
                $"{o.Stage} {o.Exchange} {o.RefusedBy == initiator} {o.Notify} {o.Code}"
            );
            static string Other(string what) => what.Replace("of A", "of the other").Replace("of B", "of the other");
            var open = r.Open.Select(q => $"{Other(q.What)} {q.At == initiator}").Order();
            return $"{r.Outcome} {r.Ike} {r.Esp} {string.Join(",", stops)} {string.Join(",", open)} {r.Later?.Lost}";
        }
    }

    [Fact]
    public void Exact_mirrors_with_one_common_suite_always_come_up()
    {
        var platforms = DemoInventory
            .All.All.OfType<Platform>()
            .Where(p => p.IkeVersions.Contains(IkeVersion.IKEv2) && p.Forms.Contains(TunnelForm.PolicyBased))
            .ToArray();
        var ground = new System.Collections.Concurrent.ConcurrentDictionary<
            (int, int),
            (Proposals.IkeProposal[], Proposals.EspProposal[])
        >();
        var gen = Gen.Select(
            Gen.Int[0, platforms.Length - 1],
            Gen.Int[0, platforms.Length - 1],
            Gen.Int[0, 10_000],
            Gen.Bool
        );
        gen.Sample(
            (atA, atB, pick, aInitiates) =>
            {
                var (a, b) = (platforms[atA], platforms[atB]);
                var (proposals, esp) = ground.GetOrAdd((atA, atB), _ =>
                    (
                        [.. Calculations.CommonGround.IkeProposals(a, b, IkeVersion.IKEv2)],
                        [.. Calculations.CommonGround.EspProposals(a, b, IkeVersion.IKEv2)]
                    )
                );
                var initiator = aInitiates ? EndName.A : EndName.B;
                var around = Sound.Around.With([
                    .. new[] { (Sound.Tunnel.A.GatewayId, a), (Sound.Tunnel.B.GatewayId, b) }.Select(x =>
                        (IRecord)(Sound.Around.Get<Gateway>(x.GatewayId) with { PlatformId = x.Item2.Id })
                    ),
                    a,
                    b,
                ]);
                var view = Altered(
                    $"ikeProposals={proposals[pick % proposals.Length]}; espProposals={esp[pick % esp.Length]}; "
                        + $"pfs=refused; {initiator} initiation=always",
                    Sound.Tunnel,
                    around
                );
                var r = Rehearse.From(view, initiator);
                return r.Outcome == Outcome.Up && r.Later is null
                    ? true
                    : throw new InvalidOperationException(
                        $"{a.Title} {b.Title} {r.Outcome} "
                            + $"{(r.Stop is null ? "" : FindingText.Why(new(view), r, r.Stop))} "
                            + $"{string.Join(",", r.Open.Select(o => o.What))}"
                    );
            },
            iter: 300
        );
    }

    [Fact]
    public void On_random_ends_it_never_throws_and_says_one_thing()
    {
        // The soak by the million is make soak; this is a taste of it in every run.
        RandomEnds
            .Tunnels(DemoInventory.All, 20_261_125)
            .Take(1_500)
            .All(t =>
            {
                var about = new Checked(new(DemoInventory.All.With([t]), t, DemoInventory.Today));
                OneTruth.Broken(about).ShouldBeNull();
                foreach (var r in about.Rehearsals)
                {
                    _ = r.Obstacles.Select(o => FindingText.Why(about, r, o).ToString()).Count();
                    _ = Timeline.Of(about.View, r);
                }

                return true;
            })
            .ShouldBeTrue();
    }
}

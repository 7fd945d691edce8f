using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>What is told of attempts and of lists that several tunnels share.</summary>
public partial class PlanCheckTests
{
    [Fact]
    public void Two_things_altered_between_two_attempts_are_told_and_one_is_not()
    {
        var change = Of(new RetireRequest(DemoInventory.Tunnel("LAR-FEN").Id)) with { State = ChangeState.UnderWay };
        var (a, b, prove) = (
            change.Plan.Steps[3],
            change.Plan.Steps[5],
            change.Plan.Steps.First(s => s.Part == Part.Prove)
        );
        Attempt Attempted(Step step, AttemptOutcome outcome, Deviation? deviation = null) =>
            new(step.Key, outcome, "ines", default, "confirmed", deviation);
        bool Told(params Attempt[] attempts) =>
            PlanChecks
                .Run(change with { Attempts = [.. attempts] }, DemoInventory.All, [], [])
                .Any(f => f.Code == "PLAN-11");

        Told(
                Attempted(a, AttemptOutcome.Done),
                Attempted(b, AttemptOutcome.Done),
                Attempted(prove, AttemptOutcome.Failed),
                Attempted(a, AttemptOutcome.Done),
                Attempted(prove, AttemptOutcome.Done)
            )
            .ShouldBeFalse();
        Told(
                Attempted(a, AttemptOutcome.Done),
                Attempted(b, AttemptOutcome.Done),
                Attempted(prove, AttemptOutcome.Failed),
                Attempted(a, AttemptOutcome.Done),
                Attempted(b, AttemptOutcome.Done),
                Attempted(prove, AttemptOutcome.Done)
            )
            .ShouldBeTrue();
        Told(
                Attempted(a, AttemptOutcome.Done),
                Attempted(prove, AttemptOutcome.Failed),
                Attempted(a, AttemptOutcome.Done, new("x", "y", "z")),
                Attempted(prove, AttemptOutcome.Failed),
                Attempted(a, AttemptOutcome.Done),
                Attempted(prove, AttemptOutcome.Done)
            )
            .ShouldBeFalse();
        // What is done for the first time is the plan's own work.
        Told(
                Attempted(prove, AttemptOutcome.Failed),
                Attempted(a, AttemptOutcome.Done),
                Attempted(b, AttemptOutcome.Done),
                Attempted(prove, AttemptOutcome.Done)
            )
            .ShouldBeFalse();
        PlanChecks
            .Run(
                change with
                {
                    Attempts =
                    [
                        Attempted(a, AttemptOutcome.Done),
                        Attempted(b, AttemptOutcome.Done),
                        Attempted(prove, AttemptOutcome.Failed),
                        Attempted(a, AttemptOutcome.Done),
                        Attempted(b, AttemptOutcome.Done, new("x", "y", "z")),
                        Attempted(prove, AttemptOutcome.Done),
                    ],
                },
                DemoInventory.All,
                [],
                []
            )
            .Single(f => f.Code == "PLAN-11")
            .What.ToString()
            .ShouldContain("step 4 repeated and step 6 set to y");
    }

    [Fact]
    public void A_list_that_serves_tunnels_of_one_change_only_is_altered_once_and_otherwise_copied_or_refused()
    {
        Plan Cold(params string[] also) =>
            Planner
                .Plan(
                    DemoInventory.All,
                    new SubnetsRequest(
                        DemoInventory.Tunnel("BRI-ASHLOW").Id,
                        EndName.A,
                        [Prefix.Parse("10.61.40.0/24").Value],
                        []
                    )
                    {
                        Also = [.. also.Select(c => new TunnelSide(DemoInventory.Tunnel(c).Id, EndName.A))],
                    },
                    DemoInventory.Today
                )
                .Plan!;
        Cold().Steps.ShouldContain(s => s.Key.StartsWith("copy-list-", StringComparison.Ordinal));
        var both = Cold("BRI-PETHER");
        both.Steps.Count(s => s.Key.Contains("-list-", StringComparison.Ordinal)).ShouldBe(1);
        both.Edits.Count(e => e.At.Kind == RecordKind.Gateway).ShouldBe(1);
        both.Steps.Count(s => s.Key.StartsWith("activate-", StringComparison.Ordinal)).ShouldBe(1);
        // Who is managed through the tunnel first, then who answers before who starts.
        var switching = both.Steps.Where(s => s.Part == Part.Switch).Select(s => s.Gateway).ToArray();
        switching.ShouldBe(["ashlow-gw", "churn-gw1", "pether-gw"]);

        Planned Gone(params string[] also) =>
            Planner.Plan(
                DemoInventory.All,
                new SubnetsRequest(DemoInventory.Tunnel("BRI-ASHLOW").Id, EndName.A, [], [])
                {
                    Remove = [Prefix.Parse("10.61.8.0/22").Value],
                    Also = [.. also.Select(c => new TunnelSide(DemoInventory.Tunnel(c).Id, EndName.A))],
                },
                DemoInventory.Today
            );
        Gone()
            .Refused.ShouldHaveSingleItem()
            .Wrong.ToString()
            .ShouldContain("bri-lan on churn-gw1, which BRI-PETHER uses too");
        var gone = Gone("BRI-PETHER").Plan!;
        gone.Steps.Count(s => s.Gateway == "churn-gw1" && s.Enter.Any(v => v.Label == "local subnets")).ShouldBe(1);
        gone.Edits.Count(e => e.At.Kind == RecordKind.Gateway).ShouldBe(1);
    }

    /// <summary>
    /// A neighbour that lists what it takes is told of the new prefix; one that lists nothing takes all, and a list
    /// would be the first to hold anything back.
    /// </summary>
    [Fact]
    public void A_neighbour_without_a_list_is_given_none()
    {
        var tunnel = DemoInventory.Tunnel("THR-PLATES-1");
        var request = new SubnetsRequest(tunnel.Id, EndName.A, [Prefix.Parse("10.50.8.0/24").Value], []);
        bool Takes(Tunnel t) =>
            Planner
                .Plan(DemoInventory.All.With([t]), request, DemoInventory.Today)
                .Plan!.Edits.Any(e => e.At.Path.Equals(EndPaths.B.Accepts.Item("10.50.8.0/24")));
        Takes(tunnel).ShouldBeTrue();
        Takes(tunnel with { B = tunnel.B with { Routing = tunnel.B.Routing! with { Accepts = [] } } }).ShouldBeFalse();
        // What a wider one covers is taken already.
        Takes(
                tunnel with
                {
                    B = tunnel.B with
                    {
                        Routing = tunnel.B.Routing! with { Accepts = [Prefix.Parse("10.50.0.0/16").Value] },
                    },
                }
            )
            .ShouldBeFalse();
    }
}

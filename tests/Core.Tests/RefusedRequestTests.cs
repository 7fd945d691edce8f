using System.Collections.Immutable;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>What cannot be planned is refused by the field that asks for it, with what would be right.</summary>
public class RefusedRequestTests
{
    private static Inventory All => DemoInventory.All;

    private static ImmutableArray<Prefix> P(params string[] prefixes) =>
        [.. prefixes.Select(p => Prefix.Parse(p).Value)];

    private static ImmutableArray<Refusal> Refused(ChangeRequest request, Inventory? among = null)
    {
        var planned = Planner.Plan(among ?? All, request, DemoInventory.Today);
        planned.Plan.ShouldBeNull();
        planned.Refused.ShouldNotBeEmpty();
        planned.Refused.ShouldAllBe(r => r.Wrong.ToString().EndsWith('.') && r.Right.ToString().EndsWith('.'));
        return planned.Refused;
    }

    private static SubnetsRequest Adding(string[] add, string[]? reach = null, string tunnel = "BRI-ASHLOW") =>
        new(DemoInventory.Tunnel(tunnel).Id, EndName.A, P(add), P(reach ?? []));

    [Theory]
    [InlineData("10.61.40.0/24 10.61.40.0/25", "", "ADR-08", "add", "overlap each other")]
    [InlineData("10.61.0.0/24", "", null, "add", "already reaches")]
    [InlineData("10.61.0.0/25", "", "ADR-08", "add", "10.61.0.0/24")]
    [InlineData("10.61.40.0/24", "10.62.99.0/24", null, "reach", "is not in BRI-ASHLOW")]
    [InlineData("10.62.4.0/25", "", "ADR-04", "add", "10.62.4.0/24")]
    public void Subnets_that_cannot_be_added_are_refused(
        string add,
        string reach,
        string? code,
        string field,
        string says
    ) =>
        Refused(Adding(add.Split(' '), reach.Length == 0 ? null : reach.Split(' ')))
            .ShouldContain(r => r.Code == code && r.Field == field && r.Wrong.ToString().Contains(says));

    [Fact]
    public void Without_a_prefix_one_of_the_site_is_named_as_an_example()
    {
        var refusal = Refused(Adding([])).First(r => r.Field == "add");
        var network = All.ByCode<Site>("BRI-CHURN")!.Networks[0].Prefix.ToString();
        refusal.Right.ToString().ShouldContain(network);
    }

    [Fact]
    public void A_tunnel_that_is_retired_or_carries_nothing_yet_is_told_as_that()
    {
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        Refused(Adding(["10.61.40.0/24"]), All.With(tunnel with { State = TunnelState.Retired }))
            .ShouldContain(r => r.Field == "tunnel" && r.Wrong.ToString().Contains("is retired"));
        Refused(Adding(["10.61.40.0/24"]), All.With(tunnel with { Agreed = tunnel.Agreed with { Pairs = [] } }))
            .ShouldContain(r => r.Field == "reach" && r.Wrong.ToString().Contains("behind B yet"));
    }

    private static AddressRequest TunnelStages(string uplink, string address, bool tunnels = true) =>
        new(
            All.ByCode<Gateway>("churn-gw1")!.Id,
            uplink,
            Address.Parse(address).Value,
            tunnels ? [DemoInventory.Tunnel("BRI-ASHLOW").Id] : []
        );

    [Theory]
    [InlineData("dish", "192.0.2.250", true, null, "uplink", "has no uplink dish", "fibre")]
    [InlineData("fibre", "198.51.100.10", true, null, "address", "has 198.51.100.10 already", "Another address")]
    [InlineData("fibre", "198.51.100.70", true, "ADR-09", "address", "harbour-gw", "correct harbour-gw first")]
    [InlineData("fibre", "192.0.2.250", false, null, "gateway", "No tunnel uses churn-gw1", "Correct the address")]
    public void An_address_that_cannot_move_is_refused(
        string uplink,
        string address,
        bool tunnels,
        string? code,
        string field,
        string says,
        string right
    )
    {
        var refusal = Refused(TunnelStages(uplink, address, tunnels)).ShouldHaveSingleItem();
        (refusal.Code, refusal.Field).ShouldBe((code, field));
        refusal.Wrong.ToString().ShouldContain(says);
        refusal.Right.ToString().ShouldContain(right);
    }

    [Fact]
    public void Whoever_knows_the_gateway_by_its_address_is_told_the_new_one()
    {
        var plan = Planner.Plan(All, TunnelStages("fibre", "192.0.2.250"), DemoInventory.Today).Plan.ShouldNotBeNull();
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        var peer = plan.Edits.Single(e => e.At.RecordId == tunnel.Id && e.At.Path.Equals(EndPaths.B.PeerAddress));
        peer.After!.ToString().ShouldContain("192.0.2.250");
        plan.Edits.ShouldContain(e => e.At.Kind == RecordKind.Gateway && e.After!.ToString().Contains("192.0.2.250"));
        // Nothing of the old address is left in what is entered.
        plan.Steps.SelectMany(s => s.Enter)
            .ShouldAllBe(v => !v.Text.Contains("198.51.100.10", StringComparison.Ordinal));
    }

    [Fact]
    public void A_window_that_the_interruption_does_not_fit_into_and_a_pending_value_are_on_the_plan()
    {
        var waiting = TestValues.Change(new NewTunnelRequest(DemoInventory.Tunnel("THR-PLATES-2").Id));
        var found = PlanChecks.Run(waiting, All, [], []);
        var pending = found.Single(f => f.Code == "PLAN-04");
        pending.Severity.ShouldBe(Findings.Severity.Blocks);
        pending.What.ToString().ShouldContain("the hosting firm's portal");
        pending.Do.ToString().ShouldContain($"change fill {waiting.Code} 1");
        var changed = PlanChecks.Run(waiting, All, [], [waiting.Plan.RestsOn[0]]);
        changed.ShouldContain(f => f.Code == "PLAN-07" && f.Severity == Findings.Severity.Blocks);
    }
}

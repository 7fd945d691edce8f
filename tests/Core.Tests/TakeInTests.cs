using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Records that are corrected while a change is under way, and values that are there only for now.</summary>
public class TakeInTests
{
    private static readonly DateTimeOffset At = new(2026, 11, 24, 22, 0, 0, TimeSpan.Zero);

    private static readonly Tunnel Tunnel = DemoInventory.Tunnel("QUI-SAL");

    private static Change Worked()
    {
        var c = TestValues.Change(new StrengthenRequest(Tunnel.Id, null), ChangeState.UnderWay);
        return c with
        {
            Attempts = [.. c.Plan.Steps.Select(s => new Attempt(s.Key, AttemptOutcome.Done, "ines", At, null, null))],
        };
    }

    private static Inventory Corrected(string row, string value) =>
        DemoInventory.All.With(
            ConfirmingValues
                .Correct(
                    new(DemoInventory.All, Tunnel, DemoInventory.Today),
                    EndName.B,
                    TestValues.Row(row),
                    value,
                    new(ConfirmedHow.Read, DemoInventory.Today, "tomas")
                )
                .Value!
        );

    [Fact]
    public void A_correction_stops_closing_until_it_is_taken_in_and_then_what_was_built_is_written()
    {
        var c = Worked();
        var now = Corrected("ikeProposals", "AES-128-CBC + HMAC-SHA1-96 + DH 5");
        var refused = ChangeLife.Close(c, now, "ines", At).Refused.ShouldNotBeNull();
        refused.Right.ToString().ShouldContain($"change take-in {c.Code}");
        ChangeLife.TakeIn(c, DemoInventory.All, "ines", At).Refused!.Wrong.ToString().ShouldContain("No record behind");
        var taken = ChangeLife.TakeIn(c, now, "ines", At).Value.ShouldNotBeNull();
        taken.Remarks[^1].Text.ShouldContain("b.set.ikeProposals: was");
        var built = ChangeLife.Close(taken, now, "ines", At).Value.ShouldNotBeNull().AsBuilt.OfType<Tunnel>().Single();
        var planned = ChangeLife.Close(c, DemoInventory.All, "ines", At).Value!.AsBuilt.OfType<Tunnel>().Single();
        built.B.Set.TextOf(Settings.IkeProposals).ShouldBe(planned.B.Set.TextOf(Settings.IkeProposals));
    }

    private static readonly Temporary<PeerAddress> ForNow = new(
        new(Address.Parse("203.0.113.9").Value, null),
        "the line comes next week",
        new(2026, 12, 1)
    );

    private static TunnelView WithTemporary()
    {
        var at = new PeerAddress(Address.Parse("203.0.113.8").Value, null);
        var tunnel = Tunnel.WithEnd(EndName.B, e => e with { PeerAddress = Recorded<PeerAddress>.ForNow(at, ForNow) });
        return new(DemoInventory.All.With(tunnel), tunnel, DemoInventory.Today);
    }

    [Theory]
    [InlineData(null)]
    [InlineData("203.0.113.10")]
    public void A_temporary_mark_survives_confirming_and_correcting(string? corrected)
    {
        var confirmation = new Confirmation(ConfirmedHow.Read, DemoInventory.Today, "tomas");
        var after = corrected is null
            ? ConfirmingValues.Confirm(WithTemporary(), EndName.B, RowKey.AddressOf(EndName.A), confirmation).Value!
            : ConfirmingValues
                .Correct(WithTemporary(), EndName.B, RowKey.AddressOf(EndName.A), corrected, confirmation)
                .Value!;
        var now = after.B.PeerAddress!;
        (now.Temporary, now.Confirmed, now.Value!.ToString()).ShouldBe(
            (ForNow, confirmation, corrected ?? "203.0.113.8")
        );
        // The final value is no longer temporary.
        ConfirmingValues
            .Correct(WithTemporary(), EndName.B, RowKey.AddressOf(EndName.A), "203.0.113.9", confirmation)
            .Value!.B.PeerAddress!.Temporary.ShouldBeNull();
    }

    [Fact]
    public void A_temporary_mark_survives_a_change_and_its_closing_and_the_plan_says_so()
    {
        var view = WithTemporary();
        var request = new StrengthenRequest(Tunnel.Id, null);
        var plan = Planner.Plan(view.Inventory, request, DemoInventory.Today).Plan!;
        plan.Verdict.ShouldContain(v => v.Says.ToString().Contains("stays temporary (203.0.113.8)"));
        var c = TestValues.Change(request, plan, ChangeState.UnderWay);
        c = c with
        {
            Attempts = [.. plan.Steps.Select(s => new Attempt(s.Key, AttemptOutcome.Done, "ines", At, null, null))],
        };
        var built = ChangeLife.Close(c, view.Inventory, "ines", At).Value!.AsBuilt.OfType<Tunnel>().Single();
        built.B.PeerAddress!.Temporary.ShouldBe(ForNow);
    }

    [Fact]
    public void What_ends_a_temporary_value_says_it_by_name()
    {
        var view = WithTemporary();
        var gateway = view.A.Gateway;
        var moved = new AddressRequest(
            gateway.Id,
            gateway.Uplinks[0].Label,
            Address.Parse("203.0.113.250").Value,
            [Tunnel.Id]
        );
        var tunnel = view.Tunnel.WithEnd(EndName.B, e =>
            e with
            {
                PeerAddress = Recorded<PeerAddress>.ForNow(new(view.A.Outer!.Value, null), ForNow),
            }
        );
        var plan = Planner.Plan(view.Inventory.With(tunnel), moved, DemoInventory.Today).Plan!;
        plan.Verdict.ShouldContain(v =>
            v.Says.ToString().Contains("was temporary")
            && v.Says.ToString().Contains("It becomes 203.0.113.250", StringComparison.OrdinalIgnoreCase)
        );
    }

    [Fact]
    public void An_end_that_knows_the_gateway_by_name_gets_the_new_address_and_one_that_takes_any_is_told()
    {
        var gateway = new TunnelView(DemoInventory.All, Tunnel, DemoInventory.Today).A.Gateway;
        var named = gateway with
        {
            Uplinks = gateway.Uplinks.SetItem(
                0,
                gateway.Uplinks[0] with
                {
                    Nat = null,
                    Address = Recorded<UplinkAddress>.Known(new(null, "hub.quill.example")),
                }
            ),
        };
        Plan With(PeerAddress peer)
        {
            var tunnel = Tunnel.WithEnd(EndName.B, e => e with { PeerAddress = Recorded<PeerAddress>.Known(peer) });
            var all = DemoInventory.All.With([named, tunnel]);
            var request = new AddressRequest(
                gateway.Id,
                gateway.Uplinks[0].Label,
                Address.Parse("203.0.113.250").Value,
                [Tunnel.Id]
            );
            return Planner.Plan(all, request, DemoInventory.Today).Plan.ShouldNotBeNull();
        }

        With(new(null, "hub.quill.example"))
            .Steps.SelectMany(s => s.Enter)
            .ShouldContain(v => v.Label == "peer address" && v.Text == "203.0.113.250");
        With(PeerAddress.Any).Verdict.ShouldContain(v => v.Says.ToString().Contains("takes A from any address"));
        With(new(null, "other.quill.example"))
            .Verdict.ShouldContain(v => v.Says.ToString().Contains("by the name other.quill.example"));
    }

    [Fact]
    public void What_a_plan_leaves_unknown_is_said_and_approved_only_with_a_remark()
    {
        var planned = DemoInventory.Tunnel("THR-PLATES-2");
        var bare = planned with
        {
            Agreed = planned.Agreed with { SuiteId = null, Both = planned.Agreed.Both.Without(Settings.IkeProposals) },
        };
        bare = bare.WithEnd(EndName.A, e => e with { Set = e.Set.Without(Settings.IkeProposals) });
        var platform = DemoInventory.All.Get<Platform>(DemoInventory.All.Get<Gateway>(bare.A.GatewayId).PlatformId);
        var all = DemoInventory.All.With([
            bare,
            platform with
            {
                Defaults = platform.Defaults.Without(Settings.IkeProposals),
            },
        ]);
        var request = new NewTunnelRequest(bare.Id);
        var plan = Planner.Plan(all, request, DemoInventory.Today).Plan!;
        plan.Unknown.ShouldContain(u => u.End == EndName.A && u.What == "IKE proposals");
        var c = TestValues.Change(request, plan with { Added = [] }, ChangeState.InReview);
        ChangeLife.Approve(c, "tomas", At, " ", []).Refused!.Code.ShouldBe("PLAN-12");
        ChangeLife.Approve(c, "tomas", At, "they are agreed on the telephone", []).Value.ShouldNotBeNull();
    }
}

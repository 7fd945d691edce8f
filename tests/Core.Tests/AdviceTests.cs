using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>What a finding says to do can be done, and what a fix sets first is what was agreed.</summary>
public class AdviceTests
{
    private static readonly Tunnel Sound = DemoInventory.Tunnel("QUI-BRI");

    private static TunnelView View(Tunnel tunnel, params IRecord[] more) =>
        new(DemoInventory.All.With([tunnel, .. more]), tunnel, DemoInventory.Today);

    private static Tunnel Corrected(EndName end, string row, string value) =>
        ConfirmingValues.Correct(View(Sound), end, TestValues.Row(row), value, null).Value!;

    [Theory]
    [InlineData(EndName.B, "ikeProposals", "AES-128-CBC + HMAC-SHA1-96 + DH 2")]
    [InlineData(EndName.B, "espProposals", "3DES-CBC + HMAC-MD5-96")]
    [InlineData(EndName.A, "ikeProposals", "AES-128-CBC + HMAC-SHA1-96 + DH 2")]
    public void The_first_fix_goes_back_to_what_was_agreed_at_the_end_that_deviates(
        EndName end,
        string row,
        string value
    )
    {
        var view = View(Corrected(end, row, value));
        var agreed = Compare.Rows(View(Sound)).First(r => r.Key == TestValues.Row(row));
        var text = end == EndName.A ? agreed.A.Text : agreed.B.Text;
        var first = FixFinder.Of(view, new Checked(view).Rehearsed(EndName.A))[0];
        var set = first.Values.ShouldHaveSingleItem();
        (set.End, set.Row.Text, set.Value).ShouldBe((end, row, text!));
    }

    [Fact]
    public void A_retired_tunnel_makes_no_hub()
    {
        var keepalive = Recorded<KeepaliveTarget>.Known(KeepaliveTarget.Parse("10.61.0.20").Value!);
        var tunnel = Sound.WithEnd(EndName.A, e => e with { Set = e.Set.With(Settings.Keepalive, keepalive) });
        var others = DemoInventory
            .All.On(tunnel.A.GatewayId)
            .Select(o => o.Tunnel)
            .Where(t => t.Id != tunnel.Id)
            .ToArray();
        bool IsHub(int living) =>
            Checks
                .Run(
                    new(
                        View(
                            tunnel,
                            [.. others.Select((t, i) => i < living ? t : t with { State = TunnelState.Retired })]
                        )
                    )
                )
                .Any(f => f is { Code: "PATH-07", Subject: "A:hub" });
        others.Length.ShouldBeGreaterThan(4);
        (IsHub(4), IsHub(3)).ShouldBe((true, false));
    }

    [Fact]
    public void What_a_hub_reaches_behind_another_tunnel_is_of_no_network_of_its_own()
    {
        var beyond = DemoInventory
            .All.On(Sound.A.GatewayId)
            .First(o => o.Tunnel.Id != Sound.Id && !o.Tunnel.Agreed.Pairs.IsEmpty);
        var far = beyond.Tunnel.Agreed.Pairs[0].On(beyond.End.Other());
        bool Odd(Prefix local) =>
            Checks
                .Run(
                    new(
                        View(
                            Sound with
                            {
                                Agreed = Sound.Agreed with { Pairs = [new(local, Sound.Agreed.Pairs[0].B)] },
                            }
                        )
                    )
                )
                .Any(f => f.Code == "ADR-07" && f.Subject == $"A:{local}");
        Odd(far).ShouldBeFalse();
        Odd(Prefix.Parse("10.199.0.0/24").Value).ShouldBeTrue();
    }

    /// <summary>Only an end that can initiate, and would then come up, is told to.</summary>
    [Theory]
    [InlineData(false, true)]
    [InlineData(true, false)]
    public void An_end_that_is_not_reached_is_told_to_initiate_only_where_that_helps(bool other, bool told)
    {
        var view = View(Sound);
        Gateway Closed(Gateway gateway) =>
            gateway with
            {
                Uplinks = [.. gateway.Uplinks.Select(u => u with { AllowsInbound = [Inbound.Esp] })],
            };
        IRecord[] closed = other ? [Closed(view.B.Gateway), Closed(view.A.Gateway)] : [Closed(view.B.Gateway)];
        var finding = Checks
            .Run(new(View(Sound, closed)))
            .First(f => f.Code == "PATH-11" && f.Subject.StartsWith("B:", StringComparison.Ordinal));
        finding.Do.ToString().Contains("set B to initiate", StringComparison.Ordinal).ShouldBe(told);
    }
}

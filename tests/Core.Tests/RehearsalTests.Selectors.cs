using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Selectors, pairs and child SAs, and what one end alone knows.</summary>
public partial class RehearsalTests
{
    /// <summary>
    /// A1 with B1 and A2 with B2: entered as lists one child SA carries the cross too, entered as pairs none does, and
    /// the second has to be asked for, where PFS counts at once (RFC 7296 sections 1.3 and 2.9).
    /// </summary>
    [Theory]
    [InlineData("lists", "lists", "B", 0, null, "up")]
    [InlineData("pairs", "lists", "B", 1, "ADDITIONAL_TS_POSSIBLE", "up, with fewer pairs")]
    [InlineData("pairs", "lists", "A", 1, null, "up, with fewer pairs")]
    [InlineData("lists", "pairs", "B", 1, null, "up, with fewer pairs")]
    [InlineData("pairs", "pairs", "A", 1, null, "up, with fewer pairs")]
    [InlineData("cross", "lists", "B", 0, null, "up")]
    public void Pairs_entered_as_pairs_are_never_one_child_sa_without_the_cross(
        string atA,
        string atB,
        string initiator,
        int further,
        string? notify,
        string outcome
    )
    {
        var view = Entered(atA, atB, "B pfs=required DH 16; A initiation=always");
        var r = Rehearse.From(view, Enum.Parse<EndName>(initiator));
        r.Exchanges.Count(x => x.Message == Message.ChildRequest).ShouldBe(further);
        r.Exchanges.Single(x => x.Message == Message.AuthResponse).Notify.ShouldBe(notify);
        FindingText.Outcomes.Of(r.Outcome).ShouldBe(outcome);
        if (further > 0)
            (r.Stop!.Code, r.Stop!.Pairs.Length, r.Passing.Length).ShouldBe(("PAIR-05", 1, 1));
        // Where PFS fits the further child SA comes up like the first.
        Rehearse
            .From(Entered(atA, atB, "A initiation=always"), Enum.Parse<EndName>(initiator))
            .Outcome.ShouldBe(Outcome.Up);
    }

    [Fact]
    public void Who_insists_on_a_single_pair_refuses_several_and_is_asked_again_for_each()
    {
        var view = Entered("lists", "lists", "A pairsPerChild=one; B pfs=required DH 16");
        var insists = view.A.Platform with { InsistsOnSinglePair = true };
        var r = Rehearse.From(new(view.Inventory.With([insists]), view.Tunnel, view.Today), EndName.B);
        r.Exchanges.Single(x => x.Message == Message.AuthResponse).Notify.ShouldBe("SINGLE_PAIR_REQUIRED");
        // No pair has come up before the one at which PFS counts.
        (r.Outcome, r.Stop!.Code, r.Stop!.Pairs.Length).ShouldBe((Outcome.IkeOnly, "PAIR-05", 2));
        r.Assumed.ShouldContain((EndName.B, Assumption.AsksAgain));
    }

    [Fact]
    public void What_narrowing_loses_is_told_and_nothing_else()
    {
        var r = Rehearse.From(Altered("A subnetsOfB=10.62.4.0/26, 10.62.4.192/26"), EndName.B);
        r.Outcome.ShouldBe(Outcome.UpWithFewerPairs);
        (r.Passing.IsEmpty, r.Narrowed.Length, r.ComesUp).ShouldBe((true, 1, true));
        r.Stop!.Cause.ShouldBeOfType<SelectorsNarrowed>()
            .Lost.Select(p => p.ToString())
            .ShouldBe(["10.61.0.0/24 - 10.62.4.64/26", "10.61.0.0/24 - 10.62.4.128/26"]);
    }

    [Fact]
    public void How_many_pairs_go_into_one_child_sa_is_asked_where_pfs_depends_on_it()
    {
        var silent = Entered("lists", "lists", "B pfs=required DH 16");
        var unsaid = silent.A.Platform with { Defaults = silent.A.Platform.Defaults.Without(Settings.PairsPerChild) };
        var r = Rehearse.From(new(silent.Inventory.With([unsaid]), silent.Tunnel, silent.Today), EndName.B);
        r.Outcome.ShouldBe(Outcome.Undetermined);
        r.Open.Single().What.ShouldBe("how many pairs it puts into one child SA");
    }

    [Fact]
    public void Which_of_two_keys_an_end_sends_is_asked_where_the_other_has_only_one()
    {
        var two = Sound.Tunnel with { B = Sound.Tunnel.B with { KeyHeld = new([1, 2], [1, 2]) } };
        var r = Rehearse.From(new(Sound.Around.With([two]), two, DemoInventory.Today), EndName.B);
        r.Outcome.ShouldBe(Outcome.Undetermined);
        r.Open.Select(o => o.What).ShouldBe(["which of its key versions 1 and 2 it uses"]);
    }

    [Fact]
    public void Outer_addresses_of_two_ip_versions_do_not_meet()
    {
        var gateway = Sound.Around.Get<Gateway>(Sound.Tunnel.B.GatewayId);
        var six = gateway with
        {
            Uplinks =
            [
                gateway.Uplinks[0] with
                {
                    Address = Recorded<UplinkAddress>.Known(new(Addressing.Address.Parse("2001:db8::9").Value, null)),
                    Nat = null,
                },
            ],
        };
        var about = new Checked(new(Sound.Around.With([six]), Sound.Tunnel, DemoInventory.Today));
        foreach (var r in about.Rehearsals)
        {
            r.Outcome.ShouldBe(Outcome.DoesNotStart);
            r.Obstacles.ShouldContain(o => o.Cause is NoFamilyInCommon && o.Notify == "not sent");
        }

        Checks.Run(about).ShouldContain(f => f.Code == "PAIR-22" && f.Severity == Severity.Blocks);
    }

    /// <summary>The sound pair of ends with two pairs, entered as lists, as the pairs, or as the whole cross.</summary>
    private static TunnelView Entered(string atA, string atB, string alterations)
    {
        SubnetPair[] two =
        [
            Sound.Tunnel.Agreed.Pairs[0],
            new(Addressing.Prefix.Parse("10.61.8.0/22").Value, Addressing.Prefix.Parse("10.62.5.0/24").Value),
        ];
        EnteredSubnets? At(string how, EndName end) =>
            how == "lists"
                ? null
                : new(
                    null,
                    null,
                    null,
                    null,
                    [
                        .. from x in two
                        from y in two
                        where how == "cross" || x == y
                        select new LocalRemote(x.On(end), y.On(end.Other())),
                    ],
                    null
                );
        var t = Sound.Tunnel with
        {
            Agreed = Sound.Tunnel.Agreed with { Pairs = [.. two] },
            A = Sound.Tunnel.A with { Subnets = At(atA, EndName.A) },
            B = Sound.Tunnel.B with { Subnets = At(atB, EndName.B) },
        };
        return Altered(alterations, t);
    }
}

using System.Collections.Immutable;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Verdicts;
using Vellumkeep.Fleet;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>What is said about a result is the result: verdict, findings, outcome and standing of one tunnel.</summary>
public partial class RehearsalTests
{
    private static string VerdictOf(Checked about) =>
        string.Join(" ", Verdict.Of(about, Checks.Run(about)).Select(v => v.Says));

    /// <summary>RFC 7296 section 2.9 compares addresses; quick mode compares what is entered.</summary>
    [Theory]
    [InlineData("", false)]
    [InlineData("ikeVersions=IKEv1; exchangeMode=main; ", true)]
    public void A_prefix_and_its_two_halves_are_one_set_where_addresses_are_compared(string version, bool differs)
    {
        var about = new Checked(Altered($"{version}A subnetsOfB=10.62.4.0/25, 10.62.4.128/25"));
        Checks.Run(about).Any(f => f.Code == "PAIR-06").ShouldBe(differs);
        (about.Rehearsed(EndName.B).Outcome == Outcome.Up).ShouldBe(!differs);
        OneTruth.Broken(about).ShouldBeNull();
    }

    [Fact]
    public void Half_of_a_prefix_is_still_a_difference()
    {
        var about = new Checked(Altered("A subnetsOfB=10.62.4.0/25"));
        Checks.Run(about).ShouldContain(f => f.Code == "PAIR-06");
    }

    /// <summary>Whatever drops the packets of a pair, the pair does not pass, and the outcome says so.</summary>
    [Theory]
    [InlineData("rule", "PATH-03")]
    [InlineData("noNat", "PATH-05")]
    public void What_drops_the_packets_of_a_pair_is_in_the_outcome(string lacks, string code)
    {
        var none = ImmutableArray<Rule>.Empty;
        var b = Sound.Tunnel.B;
        b =
            lacks == "rule"
                ? b with
                {
                    Rules = Recorded<Several<Rule>>.Known(new(none)),
                }
                : b with
                {
                    NoNat = Recorded<Several<LocalRemote>>.Known(new([])),
                };
        var about = new Checked(Altered("", Sound.Tunnel with { B = b }));
        Checks.Run(about).ShouldContain(f => f.Code == code);
        about.Rehearsals.ShouldAllBe(r => r.Passing.IsEmpty && r.Outcome == Outcome.NothingPasses);
        OneTruth.Broken(about).ShouldBeNull();
    }

    [Fact]
    public void What_nobody_can_tell_is_not_called_without_a_problem()
    {
        var blank = Sound.Tunnel with { B = Sound.Tunnel.B with { KeyHeld = null } };
        var about = new Checked(Altered("", blank));
        VerdictOf(about).ShouldStartWith("Undetermined whether it comes up: unknown at B: the key version that it has");
        VerdictOf(about).ShouldNotContain("No known problem");
        StandingRule.Of(Checks.Run(about)).ShouldBe(Standing.Undetermined);
        StandingRule.Of(Checks.Run(new Checked(Altered("")))).ShouldBe(Standing.Sound);
        StandingRule.Of(Checks.Run(new Checked(Altered("B keyHeld=2")))).ShouldBe(Standing.Blocked);
    }

    [Fact]
    public void A_risk_counts_in_the_verdict()
    {
        var about = new Checked(Altered("ikeVersions=IKEv1; exchangeMode=aggressive"));
        var risks = Checks.Run(about).Count(f => f.Severity == Severity.Risk);
        risks.ShouldBePositive();
        VerdictOf(about).ShouldContain($"{Wording.Say.Capital(Wording.Say.Count(risks, "risk"))}");
        VerdictOf(about).ShouldNotContain("No known problem");
    }

    /// <summary>What was replaced at one end is asked for at the next authentication and not before.</summary>
    [Theory]
    [InlineData("B keyHeld=2", "no reauthentication is set")]
    [InlineData("B keyHeld=2; B reauthentication=2 h", "until the next authentication: 2 hours at the most")]
    [InlineData(
        "ikeVersions=IKEv1; exchangeMode=main; B keyHeld=2",
        "until the next authentication: 8 hours at the most"
    )]
    public void A_tunnel_in_service_stays_up_until_it_authenticates_again(string alter, string says)
    {
        VerdictOf(new Checked(Altered(alter))).ShouldContain(says);
        var planned = Altered(alter, Sound.Tunnel with { State = TunnelState.Planned });
        VerdictOf(new Checked(planned)).ShouldNotContain("stays up until");
    }

    /// <summary>What narrowing leaves passes and what it takes is lost, also of a part of a prefix; nothing is refused.</summary>
    [Fact]
    public void Of_what_is_narrowed_the_part_that_passes_and_the_part_that_is_lost_are_told()
    {
        var view = Altered("A subnetsOfB=10.62.4.0/25");
        var r = new Checked(view).Rehearsed(EndName.B);
        r.Outcome.ShouldBe(Outcome.UpWithFewerPairs);
        var pair = view.Tunnel.Agreed.Pairs.Single();
        r.AllPassing.ShouldBe([new SubnetPair(pair.A, Prefix.Parse("10.62.4.0/25").Value)]);
        r.Lost(view.Tunnel.Agreed.Pairs).ShouldBe([new SubnetPair(pair.A, Prefix.Parse("10.62.4.128/25").Value)]);
        r.Obstacles.ShouldAllBe(o => o.Notify == "narrowed");
    }

    /// <summary>A pair that is left out of an answer that carries another is narrowed away (RFC 7296 section 2.9).</summary>
    [Fact]
    public void A_pair_beside_one_that_is_answered_is_narrowed_and_not_refused()
    {
        var more = Prefix.Parse("10.99.0.0/24").Value;
        var only = Sound.Tunnel.Agreed.Pairs.Single();
        var two = Sound.Tunnel with { Agreed = Sound.Tunnel.Agreed with { Pairs = [only, only with { B = more }] } };
        var r = Rehearse.From(Altered("A subnetsOfB=10.62.4.0/24", two), EndName.B);
        r.Obstacles.Select(o => o.Notify).ShouldBe(["narrowed"]);
        r.AllPassing.ShouldBe([only]);
        r.Lost(two.Agreed.Pairs).ShouldBe([only with { B = more }]);
    }

    /// <summary>PFS of a first child SA counts at its rekey, so that a final value can fit now and fail then.</summary>
    [Fact]
    public void A_final_value_that_fails_at_the_rekey_is_found()
    {
        var now = Recorded<Pfs>.ForNow(
            Pfs.Parse("required DH 14").Value!,
            new(Pfs.Parse("required DH 16").Value!, "bring-up", new(2026, 12, 24))
        );
        var t = Sound.Tunnel with { B = Sound.Tunnel.B with { Set = Sound.Tunnel.B.Set.With(Settings.Pfs, now) } };
        var about = new Checked(Altered("", t));
        about.Rehearsed(EndName.B).Later.ShouldBeNull();
        Checks.Run(about).Single(f => f.Code == "PAIR-21").What.ToString().ShouldContain("required DH 16");
        OneTruth.Broken(about).ShouldBeNull();
    }
}

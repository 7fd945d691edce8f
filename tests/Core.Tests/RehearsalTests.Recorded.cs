using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;
using Vellumkeep.Fleet;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Values that a record or a profile says, or does not say, and what then holds.</summary>
public partial class RehearsalTests
{
    private static TunnelView With(TunnelView view, Func<Platform, Platform> atA, Func<Platform, Platform> atB)
    {
        // Each gateway on a platform of its own, so that one profile can say otherwise than the other.
        var (a, b) = (atA(view.A.Platform) with { Id = "at-a" }, atB(view.B.Platform) with { Id = "at-b" });
        var all = view.Inventory.With([
            a,
            b,
            view.A.Gateway with
            {
                PlatformId = a.Id,
            },
            view.B.Gateway with
            {
                PlatformId = b.Id,
            },
        ]);
        return new(all, view.Tunnel, view.Today);
    }

    [Theory]
    [InlineData("CN=depot, O=Brindlecombe, C=XX", null, null, Outcome.Up, true)]
    [InlineData("CN=depot, O=Brindlecombe, C=XX", NameOrder.GeneralFirst, null, Outcome.Up, true)]
    [InlineData("CN=depot, O=Brindlecombe, C=XX", NameOrder.GeneralFirst, NameOrder.SpecificFirst, Outcome.Up, false)]
    [InlineData("CN=depot, O=Brindlecombe, C=XX", NameOrder.GeneralFirst, NameOrder.GeneralFirst, Outcome.Down, false)]
    [InlineData("C=XX, O=Brindlecombe, CN=depot", null, null, Outcome.Up, false)]
    [InlineData("C=XX, O=Brindlecombe, CN=depot", NameOrder.GeneralFirst, NameOrder.SpecificFirst, Outcome.Down, false)]
    [InlineData("/C=XX/O=Brindlecombe/CN=depot", NameOrder.GeneralFirst, NameOrder.SpecificFirst, Outcome.Up, false)]
    public void The_order_of_a_distinguished_name_is_that_of_the_platform_or_an_assumption_with_a_name(
        string sent,
        NameOrder? expectedIn,
        NameOrder? sentIn,
        Outcome outcome,
        bool isAssumed
    )
    {
        var view = With(
            Altered($"B identityOfB=dn {sent}; A identityOfB=dn C=XX, O=Brindlecombe, CN=depot"),
            p => p with { WritesNames = expectedIn },
            p => p with { WritesNames = sentIn }
        );
        var r = Rehearse.From(view, EndName.B);
        r.Outcome.ShouldBe(outcome);
        r.Assumed.Any(x => x.What == Assumption.NamesReversed).ShouldBe(isAssumed);
        new Checked(view)
            .Row(RowKey.IdentityOf(EndName.B))!
            .Relation.ShouldNotBe(outcome == Outcome.Up ? Comparison.Relation.Differs : Comparison.Relation.Agrees);
    }

    [Fact]
    public void A_key_one_way_and_a_certificate_the_other_come_up_once_both_say_what_they_expect()
    {
        var mixed = Sound.Tunnel with { A = Certified(Sound.Tunnel.A), B = Certified(Sound.Tunnel.B) };
        var view = Altered("B authentication=certificate", mixed);
        Rehearse.From(view, EndName.B).Outcome.ShouldBe(Outcome.Undetermined);
        new Checked(view).Row(Settings.Authentication)!.Relation.ShouldBe(Comparison.Relation.Undetermined);
        const string said = "B authentication=certificate; A peerAuthentication=certificate; B peerAuthentication=PSK";
        Rehearse.From(Altered(said, mixed), EndName.B).Outcome.ShouldBe(Outcome.Up);
        // The key counts in the one direction in which it is used.
        var keyless = mixed with { B = mixed.B with { KeyHeld = new([2], [1]) } };
        Rehearse.From(Altered(said, keyless), EndName.B).Outcome.ShouldBe(Outcome.Up);
        var unlike = mixed with { B = mixed.B with { KeyHeld = new([1], [2]) } };
        Rehearse.From(Altered(said, unlike), EndName.B).Stop!.Cause.ShouldBeOfType<KeysMismatch>();
    }

    [Fact]
    public void A_signature_that_the_verifier_does_not_take_is_refused_and_an_unknown_one_is_assumed()
    {
        var certified = Sound.Tunnel with { A = Certified(Sound.Tunnel.A), B = Certified(Sound.Tunnel.B) };
        var apart = new Checked(
            Altered(
                "authentication=certificate; A signatures=RSA with SHA2-256; B signatures=Ed25519; ECDSA with SHA2-256",
                certified
            )
        );
        var stop = apart.Rehearsed(EndName.B).Stop!;
        (stop.Code, stop.Notify, stop.RefusedBy).ShouldBe(("PAIR-09", "AUTHENTICATION_FAILED", EndName.A));
        OneTruth.Broken(apart).ShouldBeNull();
        var r = Rehearse.From(
            Altered("authentication=certificate; signatures=RSA with SHA1; RSA with SHA2-256", certified),
            EndName.B
        );
        r.Outcome.ShouldBe(Outcome.Up);
        r.Assumed.ShouldNotContain(x => x.What == Assumption.SignatureTaken);
        Rehearse
            .From(Altered("authentication=certificate", certified), EndName.B)
            .Assumed.ShouldContain(x => x.What == Assumption.SignatureTaken);
    }

    [Theory]
    [InlineData(Offering.OneProposal, Outcome.Up)]
    [InlineData(Offering.SeveralProposals, Outcome.Down)]
    [InlineData(null, Outcome.Down)]
    public void Ticked_members_in_one_proposal_may_be_combined_by_the_other_end(Offering? offers, Outcome outcome)
    {
        var view = With(
            Altered(
                "B ikeProposals=AES-128-CBC + SHA1 + DH 14; AES-256-CBC + SHA256 + DH 16; "
                    + "A ikeProposals=AES-256-CBC + SHA256 + DH 14"
            ),
            p => p with { Answers = Answering.SameList },
            p => p with { Offers = offers, Answers = Answering.AnyCombination }
        );
        var about = new Checked(view);
        var r = Rehearse.From(view, EndName.B);
        r.Outcome.ShouldBe(outcome);
        r.Assumed.Any(x => x.What == Assumption.OfferedAsRecorded).ShouldBe(offers is null);
        OneTruth.Broken(about).ShouldBeNull();
        if (offers == Offering.OneProposal)
            FindingText
                .Carries(about, r, r.Exchanges[0])
                .ToString()
                .ShouldStartWith("1 proposal of several transforms");
    }

    [Fact]
    public void What_a_profile_does_not_say_is_unknown_and_not_nothing_in_common()
    {
        var view = Altered("");
        var (a, b) = (view.A.Platform, view.B.Platform with { Groups = [], IkeVersions = [] });
        var ground = CommonGround.Of(a, b, IkeVersion.IKEv2);
        ground.BothSpeak.ShouldBeNull();
        ground.Unknown.Single().At.ShouldBe(EndName.B);
        ground.Unknown.Single().What.ShouldBe(["IKE versions", "DH groups"]);
        CommonGround.Of(a, a, IkeVersion.IKEv2).Unknown.ShouldBeEmpty();
        CommonGround.Of(a with { IkeVersions = [IkeVersion.IKEv1] }, b, IkeVersion.IKEv2).BothSpeak.ShouldBe(false);
    }

    [Fact]
    public void A_tunnel_address_at_one_end_alone_is_a_risk_and_none_can_be_recorded()
    {
        static Recorded<TunnelAddress> Inner(string text) =>
            Recorded<TunnelAddress>.Known(TunnelAddress.Parse(text).Value!);
        Finding? Alone(Recorded<TunnelAddress>? atA)
        {
            var t = Sound.Tunnel with
            {
                A = Sound.Tunnel.A with { TunnelAddress = atA },
                B = Sound.Tunnel.B with { TunnelAddress = Inner("10.255.10.1/31") },
            };
            return Checks.Run(new(Altered("", t))).FirstOrDefault(f => f is { Code: "PAIR-15", Subject: "B:alone" });
        }

        Alone(Inner("10.255.10.0/31")).ShouldBeNull();
        Alone(null)!.What.ToString().ShouldContain("for A none is recorded");
        Alone(Inner("none"))!.What.ToString().ShouldContain("A has none");
        TunnelAddress.Parse("none").Value!.ToString().ShouldBe("none");
        KeepaliveTarget.Parse("none").Value.ShouldBe(KeepaliveTarget.None);
    }

    [Fact]
    public void A_public_subnet_that_is_nobodys_uplink_counts_as_a_risk_in_the_verdict()
    {
        var pair = new SubnetPair(Sound.Tunnel.Agreed.Pairs[0].A, Prefix.Parse("192.0.2.0/24").Value);
        var t = Sound.Tunnel with { Agreed = Sound.Tunnel.Agreed with { Pairs = [pair] } };
        var about = new Checked(Altered("", t));
        var found = Checks.Run(about);
        found.Single(f => f.Code == "ADR-12").Severity.ShouldBe(Severity.Risk);
        Verdict.Of(about, found).ShouldContain(p => p.Says.ToString().Contains("risk"));
    }

    [Fact]
    public void A_mapping_that_nothing_refreshes_can_expire()
    {
        TunnelView Behind(string alterations)
        {
            var view = Altered(alterations);
            var uplink = view.B.Gateway.Uplinks[0] with { Nat = new(NatKind.Napt, null, [Inbound.Ike, Inbound.Esp]) };
            return new(view.Inventory.With([view.B.Gateway with { Uplinks = [uplink] }]), view.Tunnel, view.Today);
        }

        bool Expires(string alterations) => Checks.Run(new(Behind(alterations))).Any(f => f.Code == "PATH-18");
        Expires("B natKeepalive=off; B dpd=off").ShouldBeTrue();
        Expires("B natKeepalive=180 s; B dpd=off").ShouldBeTrue();
        Expires("B natKeepalive=20 s; B dpd=off").ShouldBeFalse();
        Expires("B natKeepalive=off; B dpd=30 s x 4, try again").ShouldBeFalse();
        Expires("").ShouldBeFalse();
    }
}

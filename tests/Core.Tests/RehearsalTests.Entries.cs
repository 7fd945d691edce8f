using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Fixes;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Which of several peer entries of a gateway answers, and who can know where to send.</summary>
public partial class RehearsalTests
{
    /// <summary>A second tunnel between the same two gateways, with the same entries but for what a case alters.</summary>
    private static Tunnel Beside(Func<TunnelEnd, TunnelEnd>? atA = null, Agreed? agreed = null) =>
        Sound.Tunnel with
        {
            Id = "beside",
            Code = "BESIDE",
            A = (atA ?? (e => e))(Sound.Tunnel.A),
            Agreed = (agreed ?? Sound.Tunnel.Agreed) with
            {
                Pairs = [new(Prefix.Parse("10.61.200.0/24").Value, Prefix.Parse("10.62.200.0/24").Value)],
            },
        };

    private static string OuterOfB => Altered("").B.OuterText;

    private static Rehearsal FromB(string alterations, Tunnel beside, params Lookup[] by) =>
        new Checked(Shared(alterations, beside, by)).Rehearsed(EndName.B);

    private static TunnelView Shared(string alterations, Tunnel beside, params Lookup[] by)
    {
        var view = Altered(alterations, null, Sound.Around.With([beside]));
        var platform = view.A.Platform with { LooksUpBy = [.. by] };
        return new(view.Inventory.With([platform]), view.Tunnel, view.Today);
    }

    private static Recorded<PeerAddress> Peer(string address) =>
        Recorded<PeerAddress>.Known(PeerAddress.Parse(address).Value!);

    [Fact]
    public void Equal_identities_and_unlike_keys_are_separated_by_nothing()
    {
        var r = FromB("", Beside(), Lookup.Address, Lookup.Name);
        r.Outcome.ShouldBe(Outcome.Undetermined);
        r.Open.Single().What.ShouldContain("nothing separates BASE from BESIDE");
        var other = Sound.Tunnel.Agreed with { IdentityB = new(IdentityKind.Fqdn, "second.brindle.example") };
        FromB("", Beside(null, other), Lookup.Address, Lookup.Name).Outcome.ShouldBe(Outcome.Up);
    }

    [Fact]
    public void Main_mode_finds_its_key_by_the_source_alone_whatever_the_identities()
    {
        var other = Sound.Tunnel.Agreed with { IdentityB = new(IdentityKind.Fqdn, "second.brindle.example") };
        var r = FromB("ikeVersions=IKEv1; exchangeMode=main", Beside(null, other), Lookup.Address, Lookup.Name);
        r.Outcome.ShouldBe(Outcome.Undetermined);
        r.Open.ShouldContain(q => q.What.Contains("nothing separates"));
    }

    [Fact]
    public void An_entry_for_any_address_takes_a_peer_with_a_fixed_one_and_a_nearer_one_answers_before_it()
    {
        Rehearse.From(Altered("A addressOfB=any"), EndName.B).Outcome.ShouldBe(Outcome.Up);
        var r = FromB("A addressOfB=any", Beside(e => e with { PeerAddress = Peer(OuterOfB) }), Lookup.Any);
        var lands = r.Stop!.Cause.ShouldBeOfType<LandsElsewhere>();
        (lands.Other.Code, lands.Entry, r.Stop.Notify).ShouldBe(("BESIDE", OuterOfB, "AUTHENTICATION_FAILED"));
    }

    [Fact]
    public void What_another_tunnels_entry_answers_is_refused_by_it_and_is_no_silence()
    {
        var beside = Beside(e => e with { PeerAddress = Peer("any") });
        var r = FromB("A addressOfB=203.0.113.99", beside, Lookup.Address, Lookup.Any);
        r.Stop!.Notify.ShouldBe("AUTHENTICATION_FAILED");
        FromB("A addressOfB=203.0.113.99", beside, Lookup.Address).Stop!.Cause.ShouldBeOfType<NoPeerEntry>();
        FindingText
            .Why(new(Shared("A addressOfB=203.0.113.99", beside, Lookup.Address, Lookup.Any)), r, r.Stop)
            .ToString()
            .ShouldContain("has BESIDE's entry for any, and this tunnel's for 203.0.113.99");
    }

    [Fact]
    public void By_certificate_the_other_entry_takes_the_initiator_and_refuses_its_subnets()
    {
        var certified = Sound.Tunnel with { A = Certified(Sound.Tunnel.A), B = Certified(Sound.Tunnel.B) };
        var beside = Altered("authentication=certificate", certified).Tunnel with { Id = "beside", Code = "BESIDE" };
        beside = beside with
        {
            A = beside.A with { PeerAddress = Peer(OuterOfB), Subnets = new([], null, [], null, null, null) },
        };
        var view = Altered("authentication=certificate; A addressOfB=any", certified, Sound.Around.With([beside]));
        var byAny = view.A.Platform with { LooksUpBy = [Lookup.Any] };
        var r = Rehearse.From(new(view.Inventory.With([byAny]), view.Tunnel, view.Today), EndName.B);
        r.Stop!.Cause.ShouldBeOfType<LandsElsewhere>().Authenticated.ShouldBeTrue();
        r.Stop.Notify.ShouldBe("TS_UNACCEPTABLE");
    }

    [Fact]
    public void Dynamic_is_said_of_no_fixed_address()
    {
        var about = new Checked(Altered("B addressOfA=any"));
        var r = about.Rehearsed(EndName.B);
        r.Stop!.Cause.ShouldBe(new DoesNotStart(StartFault.AnyAddressEntered));
        var said = FindingText.Why(about, r, r.Stop).ToString();
        said.ShouldContain(about.View.A.OuterText);
        said.ShouldNotContain("dynamic");
        Verdict.Of(about, Checks.Run(about)).ShouldAllBe(p => !p.Says.ToString().Contains("dynamic"));
        FixFinder.Of(about.View, r).First().Passes.ShouldBeTrue();
        var behind = new Uplink(
            "dsl",
            Recorded<UplinkAddress>.Known(new(Address.Parse("192.168.1.4").Value, null)),
            null,
            new(NatKind.Napt, null)
        );
        (behind.IsDynamic, behind.OuterText).ShouldBe((false, "unknown"));
        (behind with { Address = Recorded<UplinkAddress>.Known(UplinkAddress.Dynamic) }).OuterText.ShouldBe("dynamic");
    }
}

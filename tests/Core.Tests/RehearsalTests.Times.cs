using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Timing;
using Vellumkeep.Fleet;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Lifetimes, temporary values and certificates.</summary>
public partial class RehearsalTests
{
    private static Tunnel LivingAtA(string time, string? data) =>
        Sound.Tunnel with
        {
            A = Sound.Tunnel.A with
            {
                Set = Sound.Tunnel.A.Set.With(
                    Settings.EspLifetime,
                    Recorded<Life>.Known(
                        new(
                            Quantities.Lifetime.Parse(time).Value,
                            data is null ? null : Quantities.DataAmount.Parse(data).Value,
                            Margin.Parse("20 %").Value
                        )
                    )
                ),
            },
        };

    /// <summary>
    /// At 100 Mbit/s 4.5 GB last 360 s; with a margin of 20 % they are rekeyed after 288 s, and a refused rekey loses
    /// the traffic when they are used up.
    /// </summary>
    [Fact]
    public void A_data_lifetime_brings_the_deferred_failure_forward_and_keeps_its_margin()
    {
        var fast = LivingAtA("3600 s", "4500 MB") with { Throughput = 100 };
        var view = Altered("B pfs=required DH 16", fast);
        var r = Rehearse.From(view, EndName.B);
        r.Later!.FirstRefusal.ShouldBe(new Span(288, 288));
        r.Later.Lost.ShouldBe(new Span(360, 360));
        var fits = Altered("", fast);
        Timeline
            .Of(fits, Rehearse.From(fits, EndName.B))
            .Events.First()
            .ShouldBe(new(TimelineKind.DataRekey, false, EndName.A, new(288, 288)));
    }

    /// <summary>A margin that is a time says nothing of data: 4,194,304 kB at 100 Mbit/s last 335 s, and no less.</summary>
    [Fact]
    public void A_margin_in_time_takes_nothing_off_a_data_lifetime()
    {
        var fast = LivingAtA("8 h", "4194304 kB") with { Throughput = 100 };
        var life = fast.A.Set.Get(Settings.EspLifetime)!.Value! with { Margin = Margin.Parse("540 s").Value };
        fast = fast with
        {
            A = fast.A with { Set = fast.A.Set.With(Settings.EspLifetime, Recorded<Life>.Known(life)) },
        };
        var view = Altered("", fast);
        ((long)Rekeying.RekeysByData(view.A, EndName.A)!.Value).ShouldBe(335);
        Checks.Run(new Checked(view)).ShouldAllBe(f => f.Code != "STR-15");
    }

    [Fact]
    public void A_rekey_within_a_second_is_said_as_such()
    {
        var about = new Checked(Altered("", LivingAtA("8 h", "1 MB") with { Throughput = 1000 }));
        Checks.Run(about).Single(f => f.Code == "STR-15").What.ToString().ShouldContain("every less than a second");
        new Span(0, 0).ToString().ShouldBe("less than 1 second");
    }

    /// <summary>A refusal that reauthentication always comes before never comes, and no time is given for it.</summary>
    [Theory]
    [InlineData("30 min", false)]
    [InlineData("47 min", true)]
    public void Reauthentication_before_every_rekey_leaves_no_refusal(string every, bool comes)
    {
        var about = new Checked(Altered($"B pfs=required DH 16; B reauthentication={every}"));
        var later = about.Rehearsed(EndName.B).Later.ShouldNotBeNull();
        (later.FirstRefusal is not null).ShouldBe(comes);
        FindingText.Later(later).ToString().Contains("refused first", StringComparison.Ordinal).ShouldBe(comes);
        Checks.Run(about).Single(f => f.Code == "PAIR-05").Severity.ShouldBe(Severity.Note);
    }

    /// <summary>Of two ends with equal lifetimes one is refused: which, is decided by who rekeys first.</summary>
    [Theory]
    [InlineData("3600 s", false, true)]
    [InlineData("30 min", true, true)]
    [InlineData("8 h", false, false)]
    public void Who_rekeys_first_decides_where_only_one_of_them_is_refused(string atA, bool certain, bool fails)
    {
        var later = Rehearse.From(Altered("A pfs=accepts only DH 14", LivingAtA(atA, null)), EndName.B).Later;
        (later is not null).ShouldBe(fails);
        if (later is null)
            return;
        (later.Asks, later.Certain).ShouldBe((EndName.A, certain));
        FindingText.Later(later).ToString().Contains("unless B is first", StringComparison.Ordinal).ShouldBe(!certain);
    }

    /// <summary>Under IKEv1 whoever rekeys asks anew, and may be the end that would not have been answered.</summary>
    [Theory]
    [InlineData("A pfs=accepts only DH 14", "B", false)]
    [InlineData("B pfs=required DH 16, DH 14", "A", false)]
    [InlineData("B ikeLifetime=30 min", "A", true)]
    public void Under_ikev1_the_other_end_is_refused_later_what_it_would_be_refused_at_once(
        string alter,
        string initiator,
        bool ofIke
    )
    {
        var about = new Checked(Altered($"ikeVersions=IKEv1; exchangeMode=main; {alter}"));
        var r = about.Rehearsed(Enum.Parse<EndName>(initiator));
        r.Outcome.ShouldBe(Outcome.Up);
        var later = r.Later.ShouldNotBeNull();
        (later.Asks, later.OfIke).ShouldBe((r.Initiator.Other(), ofIke));
        Checks.Run(about).ShouldContain(f => f.After != null);
        OneTruth.Broken(about).ShouldBeNull();
    }

    /// <summary>RFC 2408 section 3.14.1: each fault of a certificate has a notify of its own.</summary>
    [Theory]
    [InlineData("A", "INVALID-CERT-AUTHORITY")]
    [InlineData("name", "INVALID-ID-INFORMATION")]
    [InlineData("dates", "INVALID-CERTIFICATE")]
    [InlineData("usage", "INVALID-CERTIFICATE")]
    public void Under_ikev1_each_fault_of_a_certificate_has_its_notify(string wrong, string notify)
    {
        var view = Altered("ikeVersions=IKEv1; exchangeMode=main; authentication=certificate", Faulty(wrong));
        var telling = view.A.Platform with { NotifiesInPhase1 = true };
        view = new(view.Inventory.With([telling]), view.Tunnel, view.Today);
        Rehearse.From(view, EndName.B).Stop!.Notify.ShouldBe(notify);
    }

    [Theory]
    [InlineData("A", 3600, 3600)]
    [InlineData("B", 7200, 7200)]
    public void Under_ikev1_the_lifetime_that_was_negotiated_holds(string initiator, long atA, long atB)
    {
        // B, a Teasel Minor, takes the lower and says so; A, an Alderquay Major, takes the initiator's here.
        var view = Altered("ikeVersions=IKEv1; exchangeMode=main; A espLifetime=3600 s; B espLifetime=120 min");
        var own = view.A.Platform with { LifetimeRule = LifetimeRule.InitiatorWins };
        view = new(view.Inventory.With([own]), view.Tunnel, view.Today);
        var lives = Timeline.Of(view, Rehearse.From(view, Enum.Parse<EndName>(initiator))).Lives.Where(l => !l.OfIke);
        lives.Select(l => (l.End, l.Drops)).ShouldBe([(EndName.A, atA), (EndName.B, atB)]);
    }

    [Fact]
    public void Reauthentication_makes_the_rekeys_needless_that_would_come_after_it()
    {
        Timeline Of(string alterations)
        {
            var view = Altered(alterations);
            return Timeline.Of(view, Rehearse.From(view, EndName.B));
        }

        Of("B reauthentication=30 min").Events.ShouldAllBe(e => e.Kind == TimelineKind.Reauthentication);
        var hourly = Of("B reauthentication=60 min").Events.Where(e => !e.OfIke).Select(e => e.At.To).Take(2);
        hourly.ShouldBe([2880L, 3600 + 2880]);
    }

    [Theory]
    [InlineData("3600 s", "1 MB", 1000, "STR-15")]
    [InlineData("60 s", null, null, "STR-15")]
    [InlineData("3600 s", "40 GB", 1000, null)]
    public void A_rekey_every_moment_degrades(string time, string? data, int? throughput, string? code)
    {
        var about = new Checked(Altered("", LivingAtA(time, data) with { Throughput = throughput }));
        Checks
            .Run(about)
            .Where(f => f.Code == "STR-15")
            .Select(f => (f.Code, f.Severity))
            .ShouldBe(code is null ? [] : [(code, Severity.Degrades)]);
    }

    [Fact]
    public void Dpd_under_ikev1_with_one_end_off_detects_nothing_at_either()
    {
        var on = Recorded<Dpd>.Known(new(Quantities.Lifetime.Parse("10 s").Value, 3, DeadPeerAction.TryAgain));
        var one = Sound.Tunnel with
        {
            A = Sound.Tunnel.A with { Set = Sound.Tunnel.A.Set.With(Settings.Dpd, Recorded<Dpd>.Known(Dpd.Off)) },
            B = Sound.Tunnel.B with { Set = Sound.Tunnel.B.Set.With(Settings.Dpd, on) },
        };
        var view = Altered("ikeVersions=IKEv1; exchangeMode=main", one);
        Calculations.Detection.All(view).ShouldAllBe(d => d.Seconds == null);
    }

    [Theory]
    [InlineData("2026-12-24", Severity.Risk)]
    [InlineData("2026-11-01", Severity.Blocks)]
    public void A_temporary_value_that_fits_while_its_final_one_does_not_is_found(string deadline, Severity severity)
    {
        var day = DateOnly.Parse(deadline, System.Globalization.CultureInfo.InvariantCulture);
        var now = Recorded<Identity>.ForNow(
            Identity.Parse("fqdn b.brindle.example").Value,
            new(Identity.Parse("fqdn other.brindle.example").Value, "bring-up", day)
        );
        var t = Sound.Tunnel with { B = Sound.Tunnel.B with { IdentitySent = now } };
        var about = new Checked(new(Sound.Around.With([t]), t, DemoInventory.Today));
        about.Rehearsed(EndName.B).Outcome.ShouldBe(Outcome.Up);
        var found = Checks.Run(about).Single(f => f.Code == "PAIR-21");
        found.Severity.ShouldBe(severity);
        found.What.ToString().ShouldContain("other.brindle.example");
        OneTruth.Broken(about).ShouldBeNull();
    }

    /// <summary>RFC 5280 section 7.1: case, blanks and the order in which a name is written do not count.</summary>
    [Theory]
    [InlineData("dn CN=churn gw,O=Brindle,C=GB", "dn cn=Churn  GW, o=brindle, c=gb", true)]
    [InlineData("dn CN=churn gw,O=Brindle,C=GB", "dn C=GB, O=Brindle, CN=churn gw", true)]
    [InlineData("dn CN=churn gw,O=Brindle,C=GB", "dn /C=GB/O=Brindle/CN=churn gw", true)]
    [InlineData("dn CN=a+OU=b,O=Brindle", "dn OU=b+CN=a,O=Brindle", true)]
    [InlineData("dn CN=churn gw,O=Brindle,C=GB", "dn O=Brindle,CN=churn gw,C=GB", false)]
    [InlineData("dn CN=churn\\, gw,O=Brindle", "dn CN=churn,CN=gw,O=Brindle", false)]
    public void Names_of_certificates_are_compared_as_names(string sent, string expected, bool same)
    {
        var (s, x) = (Identity.Parse(sent).Value, Identity.Parse(expected).Value);
        var t = Sound.Tunnel with
        {
            A = Certified(Sound.Tunnel.A) with { IdentityExpected = Recorded<Identity>.Known(x) },
            B = Certified(Sound.Tunnel.B, s) with { IdentitySent = Recorded<Identity>.Known(s) },
        };
        var view = Altered("authentication=certificate", t);
        (Rehearse.From(view, EndName.B).Outcome == Outcome.Up).ShouldBe(same);
    }

    /// <summary>A tunnel with certificates, of which B's has a fault, or A no anchor for it.</summary>
    private static Tunnel Faulty(string wrong)
    {
        var (a, b) = (Certified(Sound.Tunnel.A), Certified(Sound.Tunnel.B));
        if (wrong == "A")
            a = a with { Anchors = [] };
        var c = b.Certificate!;
        b = wrong switch
        {
            "name" => b with { Certificate = c with { Names = [Identity.Parse("fqdn other.brindle.example").Value] } },
            "dates" => b with { Certificate = c with { Until = new(2026, 1, 1) } },
            "usage" => b with { Certificate = c with { MayAuthenticate = false } },
            _ => b,
        };
        return Sound.Tunnel with { A = a, B = b };
    }

    [Theory]
    [InlineData("A", "KEY-09", "Install 'ca' as a trust anchor at A.")]
    [InlineData("name", "KEY-08", "Set the identity that B sends to 'fqdn other.brindle.example'")]
    [InlineData("dates", "KEY-07", "Install a certificate at B that is valid today.")]
    [InlineData("usage", "KEY-10", "Have the CA issue B's certificate again with key usage digitalSignature.")]
    public void What_stops_a_certificate_has_a_fix_that_passes(string wrong, string code, string says)
    {
        var view = Altered("authentication=certificate", Faulty(wrong));
        var r = Rehearse.From(view, EndName.B);
        r.Stop!.Code.ShouldBe(code);
        var fixes = FixFinder.Of(view, r);
        fixes.ShouldContain(f =>
            f.Passes && f.Says.ToString().Replace("'", "").Contains(says.Replace("'", "").TrimEnd('.'))
        );
    }

    [Fact]
    public void One_key_each_way_has_a_fix_that_passes_both_ways()
    {
        var t = Sound.Tunnel with
        {
            A = Sound.Tunnel.A with { KeyHeld = new([1], [2]) },
            B = Sound.Tunnel.B with { KeyHeld = new([1], [2]) },
        };
        var view = new TunnelView(Sound.Around.With([t]), t, DemoInventory.Today);
        foreach (var fix in FixFinder.Of(view, Rehearse.From(view, EndName.B)))
        {
            var after = new TunnelView(view.Inventory.With([fix.Fixed]), fix.Fixed, view.Today);
            fix.Passes.ShouldBeTrue(fix.Says.ToString());
            after.A.End.KeyHeld!.Send.ShouldBe(after.B.End.KeyHeld!.Receive);
            after.B.End.KeyHeld.Send.ShouldBe(after.A.End.KeyHeld.Receive);
        }

        FixFinder.Of(view, Rehearse.From(view, EndName.B)).Length.ShouldBe(2);
    }

    private static TunnelEnd Certified(TunnelEnd end, Identity? name = null) =>
        end with
        {
            Anchors = ["ca"],
            Certificate = new(
                name is { } n ? [n]
                    : end.GatewayId == Sound.Tunnel.A.GatewayId ? [Identity.Parse("fqdn a.brindle.example").Value]
                    : [Identity.Parse("fqdn b.brindle.example").Value],
                "ca",
                null,
                null,
                true
            ),
        };
}

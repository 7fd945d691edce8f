using CsCheck;
using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Records;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Fleet;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class RehearsalTests
{
    /// <summary>
    /// A sound pair of ends: A an Alderquay Major, B a Teasel Minor, exact mirrors with one common suite.
    /// </summary>
    private static readonly (Inventory Around, Tunnel Tunnel) Sound = Base();

    public static TheoryData<string, string, string, string, string, string, string, string, string> Cases()
    {
        var data = new TheoryData<string, string, string, string, string, string, string, string, string>();
        foreach (
            var line in File.ReadLines(Path.Combine(DemoInventory.Root, "tests/Core.Tests/cases/rehearsals.txt"))
                .Where(l => l.Length > 0 && !l.StartsWith('#'))
        )
        {
            var c = line.Split('|').Select(x => x.Trim()).ToArray();
            data.Add(c[0], c[1], c[2], c[3], c[4], c[5], c[6], c[7], c.ElementAtOrDefault(8) ?? "");
        }

        return data;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void The_right_exchange_the_refusing_end_the_notify_and_the_cause_are_named_and_the_first_mend_passes(
        string name,
        string initiator,
        string alter,
        string outcome,
        string exchange,
        string by,
        string notify,
        string code,
        string firstFix
    )
    {
        var view = Altered(alter);
        var about = new Checked(view);
        var r = about.Rehearsed(Enum.Parse<EndName>(initiator));
        var told = r.Stop is { } s ? $"{FindingText.Why(about, r, s)}" : "";
        FindingText.Outcomes.Of(r.Outcome).ShouldBe(outcome, $"{name}: {told}");
        if (exchange.Length == 0)
        {
            r.Stop.ShouldBeNull($"{name}: {told}");
            return;
        }

        var stop = r.Stop.ShouldNotBeNull(name);
        (
            stop.Exchange == 0 ? "before the first message" : FindingText.Name(r.Exchanges[stop.Exchange - 1].Message)
        ).ShouldBe(exchange, name);
        (stop.RefusedBy?.ToString() ?? "").ShouldBe(by, name);
        stop.Notify.ShouldBe(notify, name);
        stop.Code.ShouldBe(code, name);
        told.ShouldNotBeNullOrWhiteSpace();
        var fixes = FixFinder.Of(view, r);
        if (firstFix == "yes")
        {
            fixes.ShouldNotBeEmpty(name);
            // Applying it makes it pass, from the side that had failed.
            var after = new TunnelView(view.Inventory.With([fixes[0].Fixed]), fixes[0].Fixed, view.Today);
            Rehearse.From(after, r.Initiator).Outcome.ShouldBe(Outcome.Up, $"{name}: {fixes[0].Says}");
        }
    }

    [Fact]
    public void Pfs_that_does_not_fit_is_up_today_and_refused_at_the_first_rekey()
    {
        var r = Rehearse.From(Altered("B pfs=required DH 16"), EndName.B);
        r.Outcome.ShouldBe(Outcome.Up);
        var later = r.Later.ShouldNotBeNull();
        later.FirstRefusal.ShouldBe(new Span(3600 - 720 - 180, 3600 - 720));
        later.Lost.ShouldBe(new Span(3600, 3600));
        // Reauthentication before the loss hides it.
        Rehearse
            .From(Altered("B pfs=required DH 16; B reauthentication=30 min"), EndName.B)
            .Later!.HiddenBy.ShouldBe(1800);
        FixFinder.OfLater(Altered("B pfs=required DH 16"), r).ShouldAllBe(m => m.Then.Later == null);
    }

    [Fact]
    public void Every_obstacle_is_met_in_one_run_in_order_and_mending_one_after_the_other_ends_up()
    {
        var view = Altered(
            "B ikeProposals=AES-128-CBC + SHA256 + DH 14; B identityOfB=fqdn other.brindle.example; B keyHeld=2; B "
                + "espProposals=AES-128-CBC + SHA512; A subnetsOfB=10.62.4.0/25"
        );
        var r = Rehearse.From(view, EndName.B);
        r.Obstacles.Select(o => o.Code).Distinct().ShouldBe(["PAIR-03", "PAIR-07", "PAIR-10", "PAIR-04", "PAIR-06"]);
        for (var steps = 0; r.Stop is not null; steps++)
        {
            steps.ShouldBeLessThan(8);
            var fix = FixFinder.Of(view, r).First();
            fix.Then.Further(r).ShouldBeTrue(fix.Says.ToString());
            view = new(view.Inventory.With([fix.Fixed]), fix.Fixed, view.Today);
            r = Rehearse.From(view, EndName.B);
        }

        r.Outcome.ShouldBe(Outcome.Up);
    }

    [Fact]
    public void An_unknown_value_is_undetermined_and_said_and_never_guessed()
    {
        var blank = Sound.Tunnel with { B = Sound.Tunnel.B with { KeyHeld = null } };
        var view = new TunnelView(Sound.Around.With([blank]), blank, DemoInventory.Today);
        var r = Rehearse.From(view, EndName.B);
        r.Outcome.ShouldBe(Outcome.Undetermined);
        FindingText.FindOut(new(view), r.Open.Single()).ToString().ShouldContain("the key version that it has");
    }

    [Fact]
    public void Aggressive_mode_behind_a_carrier_works_by_name_and_main_mode_has_no_key_to_look_up()
    {
        var whimbrel = DemoInventory.Checked(DemoInventory.Tunnel("SAL-WHIMBREL"));
        var r = whimbrel.Rehearsed(EndName.B);
        r.Stop!.Cause.ShouldBeOfType<KeyNotFound>().Mates.ShouldBe(1);
        FindingText.Name(r.Exchanges[r.Stop.Exchange - 1].Message).ShouldBe("main mode 5");
        var fixes = FixFinder.Of(whimbrel.View, r);
        // SHA-1 and DH 5 are IKEv1's on that platform, so the newer version brings newer proposals with it.
        fixes[0]
            .Says.ToString()
            .ShouldStartWith("Set IKE version to IKEv2 at both ends, set IKE proposals to AES-128-GCM-16");
        fixes[0].Passes.ShouldBeTrue();
        fixes.Single(m => m.Values.Any(v => v.Value == "aggressive")).Risks.ShouldBe(["STR-04"]);
        DemoInventory.Checked(DemoInventory.Tunnel("SAL-DUNLIN")).Rehearsed(EndName.B).Outcome.ShouldBe(Outcome.Up);
    }

    [Fact]
    public void Who_takes_one_pair_for_each_child_meets_pfs_at_the_second_pair_at_once()
    {
        var two = Sound.Tunnel.Agreed.Pairs.Add(
            new(Addressing.Prefix.Parse("10.61.8.0/22").Value, Sound.Tunnel.Agreed.Pairs[0].B)
        );
        var t = Sound.Tunnel with
        {
            Agreed = Sound.Tunnel.Agreed with { Pairs = two },
            A = Sound.Tunnel.A with { Subnets = null },
            B = Sound.Tunnel.B with { Subnets = null },
        };
        var view = Altered("A pairsPerChild=one; B pfs=required DH 16", t);
        var r = Rehearse.From(view, EndName.B);
        r.Outcome.ShouldBe(Outcome.UpWithFewerPairs);
        r.Passing.ShouldBe([two[0]]);
        r.Stop!.Code.ShouldBe("PAIR-05");
        r.Stop.Pairs.ShouldBe([two[1]]);
        FindingText.Name(r.Exchanges[r.Stop.Exchange - 1].Message).ShouldBe("CREATE_CHILD_SA request");
    }

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
            (r.Stop!.Code, r.Stop.Pairs.Length, r.Passing.Length).ShouldBe(("PAIR-05", 1, 1));
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
        (r.Outcome, r.Stop!.Code, r.Stop.Pairs.Length).ShouldBe((Outcome.IkeOnly, "PAIR-05", 2));
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
            r.Obstacles.ShouldContain(o => o.Code == "PAIR-22" && o.Notify == "not sent");
        }

        Checks.Run(about).ShouldContain(f => f.Code == "PAIR-22" && f.Severity == Severity.Blocks);
    }

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
    /// At 100 Mbit/s 4.5 GB last 360 s; with a margin of 20 % they are rekeyed after 288 s, and a refused rekey loses the
    /// traffic when they are used up.
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

    [Theory]
    [InlineData("A", "KEY-09", "Install 'ca' as a trust anchor at A.")]
    [InlineData("name", "KEY-08", "Set the identity that B sends to 'fqdn other.brindle.example'")]
    [InlineData("dates", "KEY-07", "Install a certificate at B that is valid today.")]
    [InlineData("usage", "KEY-10", "Have the CA issue B's certificate again with key usage digitalSignature.")]
    public void What_stops_a_certificate_has_a_fix_that_passes(string wrong, string code, string says)
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
        var view = Altered("authentication=certificate", Sound.Tunnel with { A = a, B = b });
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

    [Fact]
    public void Nothing_wraps_esp_across_napt_when_nat_traversal_is_never_used()
    {
        var dunlin = DemoInventory.Tunnel("SAL-DUNLIN");
        var view = new TunnelView(DemoInventory.All, dunlin, DemoInventory.Today);
        var off = ConfirmingValues.Correct(view, EndName.B, "natTraversal", "never", null).Value;
        var about = DemoInventory.Checked(off);
        about.Rehearsed(EndName.B).Stop!.Code.ShouldBe("PAIR-14");
        Checks.Run(about).ShouldContain(f => f.Code == "PAIR-14" && f.Severity == Severity.Blocks);
    }

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
            Story(DemoInventory.All.With([Made.Swapped(tunnel)]), Made.Swapped(tunnel), EndName.B)
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

    private static TunnelView Altered(string alterations, Tunnel? from = null, Inventory? around = null)
    {
        var tunnel = from ?? Sound.Tunnel;
        around ??= Sound.Around;
        foreach (var one in Split(alterations))
        {
            var (target, value) = (one[..one.IndexOf('=')].Trim(), one[(one.IndexOf('=') + 1)..].Trim());
            var ends = target.Contains(' ') ? [Enum.Parse<EndName>(target[..1])] : new[] { EndName.A, EndName.B };
            var row = target.Split(' ')[^1];
            foreach (var end in ends)
            {
                if (row == "keyHeld")
                {
                    KeyHeld key = new([int.Parse(value)], [int.Parse(value)]);
                    tunnel =
                        end == EndName.A
                            ? tunnel with
                            {
                                A = tunnel.A with { KeyHeld = key },
                            }
                            : tunnel with
                            {
                                B = tunnel.B with { KeyHeld = key },
                            };
                    continue;
                }

                var made = ConfirmingValues.Correct(
                    new(around.With([tunnel]), tunnel, DemoInventory.Today),
                    end,
                    row,
                    value,
                    null
                );
                tunnel = made.Ok ? made.Value : throw new ArgumentException($"{one}: {made.Wrong}");
            }
        }

        return new(around.With([tunnel]), tunnel, DemoInventory.Today);

        // A semicolon parts alterations only where a row follows; within a list of proposals it parts proposals.
        static IEnumerable<string> Split(string text)
        {
            var whole = "";
            foreach (
                var part in text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            )
                if (part.Contains('=') && whole.Length > 0)
                {
                    yield return whole;
                    whole = part;
                }
                else
                {
                    whole = whole.Length == 0 ? part : $"{whole}; {part}";
                }

            if (whole.Length > 0)
                yield return whole;
        }
    }

    private static (Inventory, Tunnel) Base()
    {
        var text = """
            vellumkeep: keepfile/1
            tunnels:
              - code: BASE
                customer: BRI
                name: base
                state: in service
                form: policy-based
                agreed:
                  ikeVersions: [IKEv2]
                  authentication: PSK
                  ikeProposals: [AES-256-CBC + SHA256 + DH 14]
                  ikeLifetime: {time: 8 h}
                  espProposals: [AES-256-CBC + SHA256]
                  pfs: required DH 14
                  espLifetime: {time: 3600 s}
                  initiation: {a: on traffic, b: always}
                  identities: {a: fqdn a.brindle.example, b: fqdn b.brindle.example}
                  pairs: [{a: 10.61.0.0/24, b: 10.62.4.0/24}]
                a: {gateway: churn-gw1, keyHeld: {both: [1]}}
                b: {gateway: pether-gw, keyHeld: {both: [1]}}
            """;
        var read = Exchange.Keepfiles.Keepfile.Read(
            text,
            DemoInventory.All.Codes(),
            id => DemoInventory.All.Find<Gateway>(id),
            null
        );
        read.Problems.ShouldBeEmpty();
        var tunnel = (Tunnel)read.Records.Single();
        // Alone on its two gateways, so that only what a case alters counts.
        return (Inventory.Of(DemoInventory.All.All.Where(x => x is not Tunnel)).With([tunnel]), tunnel);
    }
}

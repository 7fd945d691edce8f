using CsCheck;
using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Fleet;
using Xunit;

namespace Vellumkeep.Core.Tests;

public partial class RehearsalTests
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
        r.Stop!.Pairs.ShouldBe([two[1]]);
        FindingText.Name(r.Exchanges[r.Stop.Exchange - 1].Message).ShouldBe("CREATE_CHILD_SA request");
    }

    [Fact]
    public void Nothing_wraps_esp_across_napt_when_nat_traversal_is_never_used()
    {
        var dunlin = DemoInventory.Tunnel("SAL-DUNLIN");
        var view = new TunnelView(DemoInventory.All, dunlin, DemoInventory.Today);
        var off = ConfirmingValues.Correct(view, EndName.B, Settings.NatTraversal, "never", null).Value;
        var about = DemoInventory.Checked(off);
        about.Rehearsed(EndName.B).Stop!.Code.ShouldBe("PAIR-14");
        Checks.Run(about).ShouldContain(f => f.Code == "PAIR-14" && f.Severity == Severity.Blocks);
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
                    var versions = value.Split('/').Select(int.Parse).ToArray();
                    KeyHeld key = new([versions[0]], [versions[^1]]);
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
                    TestValues.Row(row),
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

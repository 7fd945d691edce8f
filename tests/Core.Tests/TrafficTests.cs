using CsCheck;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Protocol and ports of pairs, selectors and rules (RFC 4301 section 4.4.1.1).</summary>
public class TrafficTests
{
    private static readonly Gen<NumberRange> Ports = Gen.Select(Gen.Int[0, 6], Gen.Int[0, 6])
        .Select((a, b) => new NumberRange(Math.Min(a, b), Math.Max(a, b)));

    private static readonly Gen<Traffic> Some = Gen.Select(Ports, Ports, Ports)
        .Select((p, n, f) => new Traffic(p, n, f));

    private static bool Has(Traffic t, int protocol, int near, int far) =>
        t.Contains(new(new(protocol, protocol), new(near, near), new(far, far)));

    [Fact]
    public void What_both_have_and_what_is_beside_it_is_the_whole_each_packet_once() =>
        Gen.Select(Some, Some, Gen.Int[0, 6], Gen.Int[0, 6], Gen.Int[0, 6])
            .Sample(
                (one, other, protocol, near, far) =>
                {
                    if (!one.Overlaps(other))
                    {
                        (Has(one, protocol, near, far) && Has(other, protocol, near, far)).ShouldBeFalse();
                        return;
                    }

                    var times =
                        (Has(one.Common(other), protocol, near, far) ? 1 : 0)
                        + one.Beside(other).Count(t => Has(t, protocol, near, far));
                    times.ShouldBe(Has(one, protocol, near, far) ? 1 : 0);
                    Has(one.Common(other), protocol, near, far)
                        .ShouldBe(Has(one, protocol, near, far) && Has(other, protocol, near, far));
                }
            );

    [Theory]
    [InlineData("tcp 443 at B", "tcp 443 at B")]
    [InlineData("TCP 1024-65535 at A 443 at B", "tcp 1024-65535 at A 443 at B")]
    [InlineData("icmp", "icmp")]
    [InlineData("protocol 50", "protocol 50")]
    [InlineData("50", "protocol 50")]
    [InlineData("udp 53 at A", "udp 53 at A")]
    public void It_reads_back_as_it_is_written_and_turns_with_the_ends(string typed, string written)
    {
        var read = Traffic.ParseOfPair(typed).Value!;
        read.OfPair.ShouldBe(written);
        Traffic.ParseOfPair(read.OfPair).Value.ShouldBe(read);
        Traffic.ParseAtEnd(read.AtEnd).Value.ShouldBe(read);
        read.Turned.Turned.ShouldBe(read);
    }

    [Theory]
    [InlineData("icmp 8 at B", "which only tcp, udp and sctp have")]
    [InlineData("tcp 70000 at B", "not from 0 to 65535")]
    [InlineData("tcp 443-22 at B", "not from 0 to 65535")]
    [InlineData("http", "names no protocol")]
    [InlineData("300", "names no protocol")]
    [InlineData("tcp 443", "no protocol with ports")]
    public void What_is_no_traffic_is_refused_with_what_would_be_right(string typed, string wrong)
    {
        var read = Traffic.ParseOfPair(typed);
        read.Wrong!.ShouldContain(wrong);
        read.Right!.ShouldContain("tcp 443 at B");
    }

    private static readonly Tunnel Sound = DemoInventory.Tunnel("BRI-PETHER");
    private static readonly SubnetPair Pair = Sound.Agreed.Pairs[0];

    /// <summary>A tunnel for one pair, entered pair by pair at both ends.</summary>
    private static Checked Entered(string? agreed, string? atA, string? atB, string? rule = null)
    {
        var t = Sound with { Agreed = Sound.Agreed with { Pairs = [Pair with { Only = Read(agreed) }] } };
        foreach (var (end, text) in new[] { (EndName.A, atA), (EndName.B, atB) })
        {
            var entered = (Pair with { Only = Read(text) }).At(end);
            t = t.WithEnd(end, e => e with { Subnets = new(null, null, null, null, [entered], null) });
        }

        if (rule is not null)
            t = t.WithEnd(EndName.B, e =>
                e with
                {
                    Rules = Recorded<Several<Rule>>.Known(
                        new([new(RuleDirection.Both, Pair.B, Pair.A, Traffic.ParseAtEnd(rule).Value)])
                    ),
                }
            );
        return new(new(DemoInventory.All.With([t]), t, DemoInventory.Today));
        static Traffic? Read(string? text) => text is null ? null : Traffic.ParseOfPair(text).Value;
    }

    [Fact]
    public void The_same_service_at_both_ends_comes_up_and_another_is_refused()
    {
        Entered("tcp 443 at A", "tcp 443 at A", "tcp 443 at A").Rehearsed(EndName.B).Outcome.ShouldBe(Outcome.Up);
        var apart = Entered("tcp 443 at A", "tcp 443 at A", "tcp 8443 at A").Rehearsed(EndName.B);
        apart.Outcome.ShouldBe(Outcome.IkeOnly);
        apart.Stop!.Cause.ShouldBeOfType<SelectorsRefused>();
    }

    [Fact]
    public void A_narrower_service_is_narrowed_and_what_passes_and_what_is_lost_are_told_with_it()
    {
        var about = Entered(null, "tcp 443 at A", null);
        var r = about.Rehearsed(EndName.B);
        r.Outcome.ShouldBe(Outcome.UpWithFewerPairs);
        r.AllPassing.Select(p => p.ToString()).ShouldBe([$"{Pair}, tcp 443 at A"]);
        r.Lost(about.View.Tunnel.Agreed.Pairs)
            .Select(p => p.Only!.OfPair)
            .ShouldBe(["protocols 0-5", "protocols 7-255", "tcp 0-442 at A", "tcp 444-65535 at A"], ignoreOrder: true);
        FindingText.Why(about, r, r.Stop!).ToString().ShouldContain("tcp 443 local");
    }

    [Fact]
    public void A_rule_for_one_service_lets_no_other_pass()
    {
        static bool Missing(Checked about) => Checks.Run(about).Any(f => f is { Code: "PATH-03" });
        Missing(Entered("tcp 443 at A", "tcp 443 at A", "tcp 443 at A", "tcp 443 remote")).ShouldBeFalse();
        Missing(Entered("tcp 443 at A", "tcp 443 at A", "tcp 443 at A", "tcp 443 local")).ShouldBeTrue();
        var about = Entered(null, null, null, "tcp 443 remote");
        Missing(about).ShouldBeTrue();
        Checks.Run(about).First(f => f.Code == "PATH-03").Why.ToString().ShouldContain("allows 'tcp 443 remote' alone");
    }

    [Fact]
    public void A_keepfile_brings_it_back()
    {
        var tunnel = Entered("tcp 443 at A", "tcp 443 at A", "udp 53 at B", "icmp").View.Tunnel;
        var form = Forms.WrittenRecord.Write(tunnel, Forms.IdNames.Instance);
        var (read, problems) = Forms.WrittenRecord.Read(tunnel.Kind, tunnel.Id, form, Forms.IdNames.Instance);
        problems.ShouldBeEmpty();
        var back = (Tunnel)read!;
        back.Agreed.Pairs.ShouldBe(tunnel.Agreed.Pairs);
        back.B.Subnets!.Pairs!.Value.ShouldBe(tunnel.B.Subnets!.Pairs!.Value);
        back.B.Rules!.Value!.Items.ShouldBe(tunnel.B.Rules!.Value!.Items);
    }

    [Fact]
    public void A_prefix_that_is_taken_away_takes_its_selector_rule_and_no_nat_rule_with_it()
    {
        var gone = Pair with
        {
            B = Prefix.Parse("10.62.99.0/24").Value,
            Only = Traffic.ParseOfPair("tcp 443 at A").Value,
        };
        var at = gone.At(EndName.B);
        var t = Sound with { Agreed = Sound.Agreed with { Pairs = [Pair, gone] } };
        t = t.WithEnd(EndName.B, e =>
            e with
            {
                Subnets = new(
                    null,
                    null,
                    null,
                    null,
                    [Pair.At(EndName.B), at with { Pfs = Proposals.Pfs.Parse("required DH 16").Value }],
                    null
                ),
                Rules = Recorded<Several<Rule>>.Known(new([new(RuleDirection.Both, at.Local, at.Remote, at.Only)])),
                NoNat = Recorded<Several<LocalRemote>>.Known(new([at.Prefixes])),
            }
        );
        var plan = Changes.Planner.Plan(
            DemoInventory.All.With([t]),
            new Changes.Subnets.SubnetsRequest(t.Id, EndName.B, [], []) { Remove = [gone.B] },
            DemoInventory.Today
        );
        plan.Plan!.Steps.Where(x => x.Where == Changes.Where.B)
            .SelectMany(x => x.Remove.Concat(x.Enter).Select(v => $"{v.Label}: {v.Text}"))
            .ShouldBe(
                [
                    $"local, remote: {gone.B}, {gone.A}, tcp 443 remote, PFS required DH 16",
                    $"no-NAT rule: {gone.B} → {gone.A}",
                    $"allow both ways: {gone.B} ↔ {gone.A}, tcp 443 remote",
                ],
                ignoreOrder: true
            );
    }

    private static Checked WithPfs(string atA, string atB, string version)
    {
        var two = new[] { Pair, Pair with { B = Prefix.Parse("10.62.99.0/24").Value } };
        var t = Sound with { Agreed = Sound.Agreed with { Pairs = [.. two] } };
        foreach (var (end, text) in new[] { (EndName.A, atA), (EndName.B, atB) })
            t = t.WithEnd(end, e =>
                e with
                {
                    Rules = null,
                    Subnets = new(
                        null,
                        null,
                        null,
                        null,
                        [two[0].At(end), two[1].At(end) with { Pfs = Proposals.Pfs.Parse(text).Value }],
                        null
                    ),
                    Set = e
                        .Set.With(
                            Settings.Pfs,
                            Recorded<Proposals.Pfs>.Known(Proposals.Pfs.Parse("required DH 14").Value!)
                        )
                        .With(
                            Settings.PairsPerChild,
                            Recorded<Word<PairsPerChild>>.Known(new(PairsPerChild.One, WordsOf.PairsPerChild))
                        )
                        .With(
                            Settings.IkeVersions,
                            Recorded<Several<IkeVersion>>.Known(new([Enum.Parse<IkeVersion>(version)]))
                        ),
                }
            );
        return new(new(DemoInventory.All.With([t]), t, DemoInventory.Today));
    }

    [Theory]
    [InlineData("IKEv2")]
    [InlineData("IKEv1")]
    public void Each_child_has_the_pfs_of_its_selector_and_only_the_one_that_does_not_fit_is_refused(string version)
    {
        var fits = WithPfs("required DH 16", "required DH 16", version);
        fits.Negotiations().ShouldAllBe(r => r.Stop == null);
        var apart = WithPfs("required DH 14", "required DH 16", version);
        foreach (var r in apart.Negotiations())
        {
            r.Stop!.Cause.ShouldBeOfType<PfsMismatch>();
            r.Stop.Pairs.ShouldBe([apart.View.Tunnel.Agreed.Pairs[1]]);
            r.Passing.ShouldBe([apart.View.Tunnel.Agreed.Pairs[0]]);
        }

        Checks.Run(apart).ShouldContain(f => f.Code == "PAIR-05" && f.Pairs.Length == 1);
        Fleet.OneTruth.Broken(apart).ShouldBeNull();
    }
}

internal static class Negotiated
{
    /// <summary>Both negotiations, for a test that looks at either.</summary>
    internal static IEnumerable<Rehearsal> Negotiations(this Checked about) =>
        Enum.GetValues<EndName>()
            .Select(e => Rehearse.From(about.View, e))
            .Where(r => r.Outcome != Outcome.DoesNotStart);
}

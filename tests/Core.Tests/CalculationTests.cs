using CsCheck;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Algorithms;
using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Quantities;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>The calculations against figures worked out on paper.</summary>
public class CalculationTests
{
    private static readonly Platform[] Platforms = [.. DemoInventory.All.All.OfType<Platform>()];

    // 2 + 4 + 8 s of waiting after 20 s idle; under IKEv1 one interval and three more.
    [Theory]
    [InlineData("20 s x 3, try again", IkeVersion.IKEv2, "34", "20 s idle + 2 s + 4 s + 8 s = 34 s")]
    [InlineData("20 s x 3, try again", IkeVersion.IKEv1, "80", "20 s idle + 3 x 20 s = 80 s")]
    [InlineData("1 min x 5, give up", IkeVersion.IKEv1, "360", "60 s idle + 5 x 60 s = 360 s")]
    [InlineData("off", IkeVersion.IKEv2, null, "detected only when a rekey fails")]
    public void A_dead_peer_is_noticed_after_idle_and_schedule(
        string dpd,
        IkeVersion version,
        string? seconds,
        string working
    )
    {
        var told = Detection.Of(Dpd.Parse(dpd).Value, new Retransmission(2, 2, 2), version, "Any");
        told.Seconds.ShouldBe(
            seconds is null ? null : decimal.Parse(seconds, System.Globalization.CultureInfo.InvariantCulture)
        );
        told.Working.ShouldContain(working);
    }

    [Fact]
    public void A_dead_peer_is_given_no_figure_where_something_is_not_known()
    {
        var unsaid = Detection.Of(Dpd.Parse("20 s x 3, try again").Value, null, IkeVersion.IKEv2, "Teasel Minor");
        unsaid.Seconds.ShouldBeNull();
        unsaid.Working.ShouldContain("the profile of Teasel Minor does not say");
        Detection
            .Of(null, new Retransmission(2, 2, 2), IkeVersion.IKEv2, "Any")
            .ShouldBe((null, "DPD setting unknown"));
    }

    [Fact]
    public void A_lifetime_ends_by_whichever_of_time_and_data_comes_first()
    {
        var hour = new Life(Lifetime.Parse("1 h").Value);
        // 3,600 s at 100 Mbit/s are 45 GB.
        LifetimeCalculation
            .Of(hour, 100)
            .ShouldSatisfyAllConditions(
                s => s.Seconds.ShouldBe(3600),
                s => s.GigabytesInTime.ShouldBe(45),
                s => s.DataSeconds.ShouldBeNull(),
                s => s.Ends.ShouldBe("time")
            );
        LifetimeCalculation
            .Of(hour, null)
            .ShouldSatisfyAllConditions(s => s.GigabytesInTime.ShouldBeNull(), s => s.Ends.ShouldBe("time"));
        var limited = hour with { Data = DataAmount.Parse("4 GB").Value };
        var fast = LifetimeCalculation.Of(limited, 100);
        fast.Ends.ShouldBe("data");
        fast.DataSeconds.ShouldBe(limited.Data!.InKilobytes * 8m / 100_000);
        LifetimeCalculation.Of(limited, 1).Ends.ShouldBe("time");
    }

    [Fact]
    public void A_bare_number_reads_in_every_unit_that_stays_under_ten_years()
    {
        LifetimeCalculation
            .Readings(28_800)
            .Select(r => r.Reads.InSeconds)
            .Order()
            .ShouldBe([28_800, 1_728_000, 103_680_000]);
        LifetimeCalculation.Readings(0).ShouldBeEmpty();
        Gen.Long[1, 1_000_000_000]
            .Sample(n =>
                LifetimeCalculation
                    .Readings(n)
                    .All(r => r.Reads.InSeconds <= 10L * 366 * 86400 && r.Reads.InSeconds % n == 0)
            );
    }

    [Fact]
    public void The_largest_inner_packet_fits_the_link_and_one_block_more_would_not()
    {
        var esp = CommonGround
            .EspProposals(Platforms[0], Platforms[0], IkeVersion.IKEv2)
            .Append(EspProposal.Parse("AES-128-GCM-16").Value)
            .Append(EspProposal.Parse("3DES + MD5").Value)
            .ToArray();
        Gen.Select(Gen.Int[0, esp.Length - 1], Gen.Bool, Gen.Bool, Gen.Int[1280, 9000])
            .Sample(
                (at, six, udp, mtu) =>
                {
                    var packet = PacketCalculation.Of(esp[at], six ? Family.IPv6 : Family.IPv4, udp, mtu).Value;
                    // Trailer: pad length and next header (RFC 4303 section 2).
                    return packet.Aligned % packet.Alignment == 0
                        && packet.Aligned <= packet.Left
                        && packet.Aligned + packet.Alignment > packet.Left
                        && packet.Inner == packet.Aligned - 2
                        && packet.MssIPv4 - packet.MssIPv6 == 20
                        && PacketCalculation.Of(esp[at], six ? Family.IPv6 : Family.IPv4, true, mtu).Value.Inner
                            <= packet.Inner;
                }
            );
    }

    [Fact]
    public void Common_ground_is_the_same_from_both_sides_and_only_what_both_can_do()
    {
        foreach (var a in Platforms)
        foreach (var b in Platforms)
        foreach (var version in Enum.GetValues<IkeVersion>())
        {
            var ground = CommonGround.Of(a, b, version);
            var mirrored = CommonGround.Of(b, a, version);
            var pair = $"{a.Title}, {b.Title}, {version}";
            bool?[] speak = [a.Speaks(version), b.Speaks(version)];
            ground.BothSpeak.ShouldBe(
                speak.Contains(false) ? false
                    : speak.Contains(null) ? null
                    : true,
                pair
            );
            if (a.Encryptions.IsEmpty && ground.BothSpeak != false)
                ground.Unknown.ShouldContain(u => u.At == EndName.A && u.What.Contains("encryption"), pair);
            ground.Ike.Select(g => g.Proposal).ShouldBe(mirrored.Ike.Select(g => g.Proposal), pair);
            ground.Esp.Select(g => g.Proposal).ShouldBe(mirrored.Esp.Select(g => g.Proposal), pair);
            ground.Groups.ShouldAllBe(g => a.Can(g, version) == true && b.Can(g, version) == true, pair);
            ground.Ike.Select(g => g.Bits).ShouldBe(ground.Ike.Select(g => g.Bits).OrderDescending(), pair);
            ground.Differences.Length.ShouldBe(mirrored.Differences.Length, pair);
            foreach (var g in ground.Ike.SelectMany(g => g.Members))
                (g.Bits >= ground.Ike.Min(x => x.Bits)).ShouldBeTrue(pair);
        }
    }

    [Fact]
    public void The_weakest_member_grades_a_proposal()
    {
        // DH 2 is far weaker than the cipher; 3DES is 112 bits at most.
        var old = Strength.Of(IkeProposal.Parse("AES-256-CBC + SHA256 + DH 2").Value);
        old.Bits.ShouldBe(Strength.Of(AlgorithmTable.Groups.Single(g => g.Number == 2)));
        old.Bits.ShouldBeLessThan(112);
        old.Weakest.ShouldContain("DH 2");
        Strength.Of(EspProposal.Parse("3DES + SHA256").Value).Bits.ShouldBe(112);
        Strength.Of(EspProposal.Parse("AES-256-GCM-16").Value).Bits.ShouldBe(256);
        Graded.Parse("AES-256-GCM + SHA1 + DH 14").Ok.ShouldBeFalse();
    }
}

using Shouldly;
using Vellumkeep.Contract;
using Vellumkeep.Views;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// The calculations as they are asked for: what is typed, what comes back, and how a wrong question is refused.
/// </summary>
public class CalculationPageTests
{
    private static PrefixResult Asked(string verb, string given, string less = "", int? length = null)
    {
        var answer = CalculationPages.Prefixes(verb, [given], less.Length == 0 ? [] : [less], length);
        answer.Ok.ShouldBeTrue(answer.Wrong);
        return answer.Value!;
    }

    [Theory]
    [InlineData("split", "10.61.0.0/24", "", 26, "10.61.0.0/26 10.61.0.64/26 10.61.0.128/26 10.61.0.192/26")]
    [InlineData("split", "2001:db8:60::/47", "", 48, "2001:db8:60::/48 2001:db8:61::/48")]
    [InlineData("split", "10.61.0.0/24", "", 24, "10.61.0.0/24")]
    [InlineData("merge", "10.61.0.0/25, 10.61.0.128/25", "", null, "10.61.0.0/24")]
    [InlineData("merge", "10.61.0.128/25;10.61.1.0/24;10.61.0.0/25", "", null, "10.61.0.0/23")]
    [InlineData("merge", "10.61.0.0/24, 10.61.0.0/26", "", null, "10.61.0.0/24")]
    [InlineData("merge", "10.61.1.0/24, 10.61.2.0/24", "", null, "10.61.1.0/24 10.61.2.0/24")]
    [InlineData("contains", "10.61.0.0/22, 10.62.0.0/22", "10.61.3.9", null, "10.61.0.0/22")]
    [InlineData("contains", "10.61.0.0/22", "10.61.0.0/21", null, "")]
    [InlineData("contains", "10.61.0.0/22", "10.61.0.0/24, 10.64.0.0/24", null, "")]
    [InlineData("subtract", "10.61.0.0/24", "10.61.0.64/26", null, "10.61.0.0/26 10.61.0.128/25")]
    [InlineData("subtract", "10.61.0.0/24", "10.61.0.0/23", null, "")]
    [InlineData("subtract", "2001:db8::/126", "2001:db8::2", null, "2001:db8::/127 2001:db8::3/128")]
    [InlineData("free", "10.61.0.0/22", "10.61.0.0/24, 10.61.2.0/25", 24, "10.61.1.0/24 10.61.3.0/24")]
    [InlineData("free", "10.61.0.0/24", "10.61.0.0/24", 26, "")]
    public void Prefixes_are_reckoned_as_by_hand(string verb, string given, string less, int? length, string expected)
    {
        string.Join(' ', Asked(verb, given, less, length).Result).ShouldBe(expected);
    }

    [Theory]
    [InlineData("10.61.0.0/22", "10.61.0.0 to 10.61.3.255", "1,024 addresses")]
    [InlineData("192.0.2.7/32", "192.0.2.7 to 192.0.2.7", "1 addresses")]
    [InlineData("0.0.0.0/0", "0.0.0.0 to 255.255.255.255", "4,294,967,296 addresses")]
    [InlineData("2001:db8::/66", "2001:db8:: to 2001:db8::3fff:ffff:ffff:ffff", "4,611,686,018,427,387,904 addresses")]
    [InlineData("2001:db8::/64", "2001:db8:: to 2001:db8::ffff:ffff:ffff:ffff", "2^64 addresses")]
    public void A_prefix_is_shown_with_its_first_and_last_address_and_how_many(string prefix, string span, string count)
    {
        var line = Asked("show", prefix).Working.ShouldHaveSingleItem();
        line.ShouldContain(span);
        line.ShouldContain(count);
    }

    [Theory]
    [InlineData("show", "", "", null, "no prefix is given")]
    [InlineData("show", "10.61.0.0/33", "", null, "10.61.0.0/33")]
    [InlineData("show", "10.61.0.0/24, 2001:db8::/64", "", null, "mixed")]
    [InlineData("contains", "10.61.0.0/24", "2001:db8::1", null, "mixed")]
    [InlineData("contains", "10.61.0.0/24", "", null, "missing")]
    [InlineData("contains", "10.61.0.0/24", "10.61.0.999", null, "10.61.0.999")]
    [InlineData("subtract", "10.61.0.0/24", "", null, "missing")]
    [InlineData("split", "10.61.0.0/24", "", null, "missing")]
    [InlineData("split", "10.61.0.0/24", "", 23, "23")]
    [InlineData("split", "10.61.0.0/24", "", 33, "33")]
    [InlineData("split", "10.0.0.0/8", "", 32, "32")]
    [InlineData("free", "10.61.0.0/24", "", null, "out of range")]
    [InlineData("free", "10.61.0.0/24", "", 23, "out of range")]
    [InlineData("free", "10.61.0.0/24", "", 33, "out of range")]
    [InlineData("add", "10.61.0.0/24", "", null, "'add'")]
    public void A_wrong_question_about_prefixes_says_what_is_wrong_and_what_would_be_right(
        string verb,
        string given,
        string less,
        int? length,
        string says
    )
    {
        var refused = CalculationPages.Prefixes(verb, [given], less.Length == 0 ? [] : [less], length);
        refused.Ok.ShouldBeFalse();
        refused.Wrong!.ShouldContain(says);
        refused.Right.ShouldNotBeNullOrWhiteSpace();
    }

    [Fact]
    public void Free_places_come_twelve_at_a_time_and_say_so()
    {
        var answer = Asked("free", "10.0.0.0/8", "10.0.0.0/24", 24);
        answer.Result.Count.ShouldBe(12);
        answer.Result[0].ShouldBe("10.0.1.0/24");
        answer.Working.ShouldHaveSingleItem().ShouldContain("the first 12");
        Asked("free", "10.61.0.0/24", "10.61.0.0/25", 25).Working[0].ShouldNotContain("first");
    }

    /// <summary>
    /// Worked out from RFC 4303 section 2 and RFC 4106 section 8: 1,500 less outer header, UDP, SPI and sequence
    /// number (8), initialisation vector (8) and check value (16), aligned to 4, less pad length and next header (2).
    /// </summary>
    [Theory]
    [InlineData("AES-256-GCM-16", "IPv4", false, 1500, 1500 - 20 - 8 - 8 - 16)]
    [InlineData("AES-256-GCM-16", "IPv4", true, 1500, 1500 - 20 - 8 - 8 - 8 - 16)]
    [InlineData("AES-256-GCM-16", "IPv6", false, 1500, 1500 - 40 - 8 - 8 - 16)]
    [InlineData("AES-256-GCM-16", "6", true, 1400, 1400 - 40 - 8 - 8 - 8 - 16)]
    // RFC 3602: blocks and initialisation vector of 16; RFC 4868 section 2.6: a check value of 16 octets for SHA-256.
    [InlineData("AES-128-CBC + HMAC-SHA2-256-128", "4", false, 1500, 1500 - 20 - 8 - 16 - 16)]
    // RFC 2451: blocks and initialisation vector of 8; RFC 2404: a check value of 12 octets.
    [InlineData("3DES + HMAC-SHA1-96", null, false, 1500, 1500 - 20 - 8 - 8 - 12)]
    public void What_is_left_of_a_packet_is_the_link_less_what_the_standards_put_around_it(
        string proposal,
        string? outer,
        bool udp,
        int mtu,
        int left
    )
    {
        var answer = CalculationPages.Packet(proposal, outer, udp, mtu);
        answer.Ok.ShouldBeTrue(answer.Wrong);
        var packet = answer.Value!;
        packet.Left.ShouldBe(left);
        (mtu - packet.Terms.Sum(t => t.Octets)).ShouldBe(left);
        packet.Aligned.ShouldBe(left / packet.Alignment * packet.Alignment);
        packet.Inner.ShouldBe(packet.Aligned - 2);
        // RFC 9293 section 3.7.1: the segment is the packet less 20 octets of TCP and 20 or 40 of IP.
        (packet.MssIPv4, packet.MssIPv6).ShouldBe((packet.Inner - 40, packet.Inner - 60));
    }

    [Theory]
    [InlineData(1280, true)]
    [InlineData(1334, true)]
    [InlineData(1336, false)]
    [InlineData(1400, false)]
    public void A_link_too_small_for_ipv6_inside_is_told(int mtu, bool told)
    {
        var packet = CalculationPages.Packet("AES-256-GCM-16", "IPv4", false, mtu).Value!;
        (packet.Note is not null).ShouldBe(told);
        (packet.Inner < 1280).ShouldBe(told);
    }

    [Theory]
    [InlineData(null, "IPv4", 1500, "")]
    [InlineData("AES-256-GCM-16", "IPv5", 1500, "'IPv5'")]
    [InlineData("AES-256-GCM-16", "IPv4", 12, "12")]
    [InlineData("AES-256-GCM-16", "IPv4", 70000, "70")]
    [InlineData("ROT-13", "IPv4", 1500, "ROT-13")]
    public void A_packet_that_cannot_be_reckoned_is_refused(string? proposal, string? outer, int mtu, string says)
    {
        var refused = CalculationPages.Packet(proposal, outer, false, mtu);
        refused.Ok.ShouldBeFalse();
        refused.Wrong!.ShouldContain(says);
        refused.Right.ShouldNotBeNullOrWhiteSpace();
    }

    [Theory]
    [InlineData("8 h", null, null, 28_800, null, "time")]
    [InlineData("1 h", "4 GB", 100, 3_600, 45d, "data")]
    [InlineData("1 h", "4 GB", 1, 3_600, 0.45, "time")]
    [InlineData("1 d", null, 10, 86_400, 108d, "time")]
    public void A_lifetime_with_its_unit_says_what_passes_in_it(
        string time,
        string? data,
        int? throughput,
        long seconds,
        double? gigabytes,
        string ends
    )
    {
        var worked = CalculationPages.Life(time, data, throughput).Value!;
        worked.Seconds.ShouldBe(seconds);
        worked.GigabytesInTime.ShouldBe((decimal?)gigabytes);
        worked.Ends.ShouldBe(ends);
        worked.Readings.ShouldBeEmpty();
    }

    [Fact]
    public void A_lifetime_without_its_unit_is_read_in_each_and_taken_for_none()
    {
        var worked = CalculationPages.Life(" 28,800 ", null, null).Value!;
        worked.Seconds.ShouldBeNull();
        worked
            .Readings.Select(r => (r.Unit, r.Seconds))
            .ShouldBe([("seconds", 28_800L), ("minutes", 1_728_000), ("hours", 103_680_000)], ignoreOrder: true);
    }

    [Theory]
    [InlineData("8 h", null, 0, "0")]
    [InlineData("8 h", null, 400_001, "400001")]
    [InlineData("soon", null, null, "soon")]
    [InlineData("", null, null, "")]
    [InlineData("8 h", "much", null, "much")]
    [InlineData("9999999999", null, null, "9999999999")]
    public void A_lifetime_that_is_none_is_refused(string time, string? data, int? throughput, string says)
    {
        var refused = CalculationPages.Life(time, data, throughput);
        refused.Ok.ShouldBeFalse();
        refused.Wrong!.ShouldContain(says);
        refused.Right.ShouldNotBeNullOrWhiteSpace();
    }

    [Fact]
    public void A_dead_peer_is_reckoned_by_the_schedule_that_is_typed_before_the_platforms_own()
    {
        var platform = DemoInventory.All.All.OfType<Platform>().First(p => p.Retransmits is not null);
        var own = CalculationPages.Detect("20 s x 3, try again", "2", null, platform).Value!;
        own.Schedule.ShouldBe(platform.Retransmits!.ToString());
        own.Seconds.ShouldBe(20 + platform.Retransmits.Total);
        var typed = CalculationPages.Detect("20 s x 3, try again", "v2", "2 4 8", platform);
        var read = typed.Ok ? typed : CalculationPages.Detect("20 s x 3, try again", "v2", own.Schedule, platform);
        read.Value!.Version.ShouldBe("IKEv2");
        CalculationPages.Detect("20 s x 3, try again", "1", null, platform).Value!.Seconds.ShouldBe(80);
        CalculationPages.Detect("20 s x 3, try again", null, null, null).Value!.Seconds.ShouldBeNull();
    }

    [Theory]
    [InlineData("sometimes", "2", null)]
    [InlineData("20 s x 3, try again", "3", null)]
    [InlineData("20 s x 3, try again", "2", "never")]
    public void A_detection_that_cannot_be_read_is_refused(string dpd, string version, string? schedule)
    {
        var refused = CalculationPages.Detect(dpd, version, schedule, null);
        refused.Ok.ShouldBeFalse();
        refused.Right.ShouldNotBeNullOrWhiteSpace();
    }

    [Fact]
    public void What_two_platforms_have_in_common_is_said_with_both_names_and_graded_strongest_first()
    {
        Platform[] platforms = [.. DemoInventory.All.All.OfType<Platform>()];
        foreach (var a in platforms)
        foreach (var b in platforms)
        {
            var common = CalculationPages.Common(a.Code, a, b.Code, b, IkeVersion.IKEv2);
            (common.A, common.B).ShouldBe((a.Code, b.Code));
            common.Ike.Select(g => g.Bits).ShouldBe(common.Ike.Select(g => g.Bits).OrderDescending());
            foreach (var graded in common.Ike.Concat(common.Esp))
            {
                graded.Members.Min(m => m.Bits).ShouldBe(graded.Bits, graded.Proposal);
                CalculationPages.Grade(graded.Proposal).Value!.Bits.ShouldBe(graded.Bits, graded.Proposal);
            }
        }
    }
}

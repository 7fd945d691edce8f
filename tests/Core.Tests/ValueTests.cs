using CsCheck;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Algorithms;
using Vellumkeep.Core.Negotiation;
using Vellumkeep.Core.Quantities;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class ValueTests
{
    public static TheoryData<string, string, string, string?> Cases()
    {
        var data = new TheoryData<string, string, string, string?>();
        foreach (
            var line in File.ReadLines(Path.Combine(DemoInventory.Root, "tests/Core.Tests/cases/values.tsv"))
                .Where(l => !l.StartsWith('#'))
        )
        {
            var cells = line.Split('\t');
            data.Add(cells[0], cells[1], cells[2], cells.ElementAtOrDefault(3));
        }

        return data;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void What_is_typed_is_read_or_refused_with_what_would_be_right(
        string kind,
        string typed,
        string expected,
        string? right
    )
    {
        var (text, wrong, fix) = kind switch
        {
            "prefix" => Told(Prefix.Parse(typed)),
            "lifetime" => Told(Lifetime.Parse(typed)),
            "ike" => Told(IkeProposal.Parse(typed)),
            "esp" => Told(EspProposal.Parse(typed)),
            "pfs" => Told(Pfs.Parse(typed)),
            "identity" => Told(Identity.Parse(typed)),
            "dpd" => Told(Dpd.Parse(typed)),
            _ => throw new ArgumentException(kind),
        };
        if (!expected.StartsWith('!'))
        {
            text.ShouldBe(expected);
            return;
        }

        text.ShouldBeNull();
        wrong!.ShouldContain(expected[2..]);
        fix!.ShouldContain(right![2..]);
    }

    private static (string?, string?, string?) Told<T>(Parsed<T> read) =>
        (read.Ok ? read.Value!.ToString() : null, read.Wrong, read.Right);

    private static readonly Gen<Prefix> AnyPrefix = Gen.Select(Gen.Bool, Gen.UInt, Gen.ULong, Gen.Int[0, 128])
        .Select(
            (six, low, high, length) =>
                six
                    ? Prefix.Around(Address.Of(Family.IPv6, new UInt128(high, low)), length)
                    : Prefix.Around(Address.Of(Family.IPv4, low & 0xff00ff0f), length % 33)
        );

    [Fact]
    public void Canonical_spelling_of_a_prefix_round_trips() =>
        AnyPrefix.Sample(p => Prefix.Parse(p.ToString()).Value == p);

    [Fact]
    public void Overlap_and_containment_agree_with_the_plain_model_of_first_and_last()
    {
        Gen.Select(AnyPrefix, AnyPrefix)
            .Sample(
                (a, b) =>
                {
                    var same = a.Family == b.Family;
                    var overlap = same && a.First.Bits <= b.Last.Bits && b.First.Bits <= a.Last.Bits;
                    var contains = same && a.First.Bits <= b.First.Bits && b.Last.Bits <= a.Last.Bits;
                    return a.Overlaps(b) == overlap && b.Overlaps(a) == overlap && a.Contains(b) == contains;
                }
            );
    }

    /// <summary>
    /// Small prefixes in one small space, so that a plain model of single addresses can hold every answer.
    /// </summary>
    private static readonly Gen<Prefix> Near = Gen.Select(Gen.UInt[0, 255], Gen.Int[24, 32])
        .Select((low, length) => Prefix.Around(Address.Of(Family.IPv4, 0x0A00_0000u | low), length));

    private static HashSet<uint> Model(IEnumerable<Prefix> prefixes) =>
        [
            .. prefixes.SelectMany(p =>
                Enumerable.Range(0, (int)(p.Last.Bits - p.First.Bits) + 1).Select(i => (uint)p.First.Bits + (uint)i)
            ),
        ];

    [Fact]
    public void Merging_and_subtracting_agree_with_a_plain_model_and_give_the_fewest_prefixes()
    {
        Gen.Select(Near.Array[0, 12], Near.Array[0, 12])
            .Sample(
                (a, b) =>
                {
                    var merged = Prefixes.Merge(a);
                    var less = Prefixes.Subtract(a, b);
                    var wanted = Model(a).Except(Model(b)).ToHashSet();
                    return Model(merged).SetEquals(Model(a))
                        && Model(less).SetEquals(wanted)
                        && merged.SequenceEqual(merged.Order())
                        && Prefixes.Merge(merged).SequenceEqual(merged)
                        && !merged.Any(x =>
                            merged.Any(y =>
                                x != y
                                && (
                                    x.Overlaps(y)
                                    || (
                                        x.Length == y.Length
                                        && x.Length > 0
                                        && Prefix.Around(x.Network, x.Length - 1)
                                            == Prefix.Around(y.Network, y.Length - 1)
                                    )
                                )
                            )
                        );
                }
            );
        Gen.Select(Near, Gen.Int[0, 4])
            .Sample(
                (p, more) =>
                    p.Length + more > 32
                    || (
                        Prefixes.Split(p, p.Length + more).Value is var parts
                        && parts.Length == 1 << more
                        && Model(parts).SetEquals(Model([p]))
                        && parts.All(x => x.Length == p.Length + more)
                    )
            );
    }

    /// <summary>The last addresses that there are, where additions could run over.</summary>
    private static readonly Gen<Prefix> Last = Gen.Select(Gen.UInt[0, 3], Gen.Int[0, 128])
        .Select((low, length) => Prefix.Around(Address.Of(Family.IPv6, (UInt128.MaxValue << 8) | low), length));

    [Fact]
    public void The_index_answers_as_a_walk_over_all_would()
    {
        Gen.Select(Prefix_().Array[0, 60], Prefix_(), Gen.Int[0, 6])
            .Sample(
                (all, asked, more) =>
                {
                    var index = new PrefixIndex<int>(all.Select((p, i) => (p, i)));
                    bool Same(IEnumerable<(Prefix Prefix, int Value)> told, Func<Prefix, bool> fits) =>
                        told.Select(t => t.Value)
                            .Order()
                            .SequenceEqual(all.Select((p, i) => (p, i)).Where(x => fits(x.p)).Select(x => x.i));
                    var length = Math.Min(asked.Network.Width, asked.Length + more);
                    var free = index.Free(asked, length, 1000).ToArray();
                    var walk = Prefixes.Split(asked, length).Value.Where(p => !all.Any(p.Overlaps)).ToArray();
                    return Same(index.Containing(asked), p => p.Contains(asked))
                        && Same(index.Within(asked), asked.Contains)
                        && Same(index.Overlapping(asked), asked.Overlaps)
                        && free.SequenceEqual(walk);
                }
            );

        static Gen<Prefix> Prefix_() => Gen.OneOf(Near, Last);
    }

    [Fact]
    public void Every_algorithm_is_read_back_from_its_own_spelling_and_graded()
    {
        foreach (var e in AlgorithmTable.Encryptions)
            AlgorithmTable.Encryption(e.Name).Value.ShouldBe(e);
        foreach (var i in AlgorithmTable.Integrities)
            AlgorithmTable.Integrity(i.Name.ToLowerInvariant()).Value.ShouldBe(i);
        foreach (var g in AlgorithmTable.Groups)
        foreach (var p in AlgorithmTable.Prfs)
        {
            var proposal = IkeProposal.Of(AlgorithmTable.Encryption("aes256gcm").Value, null, p, g).Value;
            IkeProposal.Parse(proposal.ToString()).Value.ShouldBe(proposal);
            Calculations.Graded.Of(proposal).Bits.ShouldBeLessThanOrEqualTo(Calculations.Strength.Of(g));
        }
    }

    [Theory]
    [InlineData("AES-256-CBC + HMAC-SHA2-256-128", false, 1500, 1438, 1398)]
    [InlineData("AES-256-CBC + HMAC-SHA2-256-128", true, 1500, 1422, 1382)]
    [InlineData("AES-256-GCM-16", false, 1500, 1446, 1406)]
    [InlineData("3DES + SHA1", false, 1492, 1438, 1398)]
    [InlineData("CHACHA20-POLY1305", true, 1420, 1358, 1318)]
    public void The_encapsulation_sum_by_hand(string proposal, bool udp, int mtu, int inner, int mss)
    {
        var packet = Calculations.PacketCalculation.Of(EspProposal.Parse(proposal).Value, Family.IPv4, udp, mtu).Value;
        (packet.Inner, packet.MssIPv4).ShouldBe((inner, mss));
        (packet.LinkMtu - packet.Terms.Sum(t => t.Octets)).ShouldBe(packet.Left);
    }

    // 1,446 in tunnel mode: the interface takes a delivery header of 20 and its own; transport mode gives the outer one back.
    [Theory]
    [InlineData("tunnel", "none", 1446)]
    [InlineData("tunnel", "GRE", 1422)]
    [InlineData("tunnel", "GRE with key", 1418)]
    [InlineData("tunnel", "IP in IP", 1426)]
    [InlineData("transport", "GRE", 1442)]
    [InlineData("transport", "IP in IP", 1446)]
    [InlineData("transport", "none", 1466)]
    public void What_the_tunnel_interface_adds_is_taken_off(string mode, string wrap, int inner) =>
        Calculations
            .PacketCalculation.Of(
                EspProposal.Parse("AES-256-GCM-16").Value,
                Family.IPv4,
                false,
                1500,
                WordsOf.EspModes.Parse(mode).Value,
                WordsOf.InterfaceEncapsulations.Parse(wrap).Value
            )
            .Value.Inner.ShouldBe(inner);

    [Fact]
    public void A_combined_mode_proposal_is_taken_by_any_combination_of_ticked_members()
    {
        var offer = IkeProposal.Parse("AES-256-CBC + SHA1 + DH 5").Value;
        IkeProposal[] accepted =
        [
            IkeProposal.Parse("AES-256-CBC + SHA256 + DH 5").Value,
            IkeProposal.Parse("3DES + SHA1 + DH 2").Value,
        ];
        Choice.Ike([offer], [.. accepted], Answering.AnyCombination, IkeVersion.IKEv2).Proposal.ShouldBe(offer);
        var strict = Choice.Ike([offer], [.. accepted], Answering.SameList, IkeVersion.IKEv2);
        strict.Proposal.ShouldBeNull();
        strict.Miss!.DiffersIn.ShouldBe(["integrity", "PRF"]);
    }
}

using CsCheck;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Negotiation;
using Vellumkeep.Core.Quantities;
using Vellumkeep.Core.Records;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class ValueTests
{
    public static TheoryData<string, string, string, string?> Cases()
    {
        var data = new TheoryData<string, string, string, string?>();
        foreach (var line in File.ReadLines(Path.Combine(DemoInventory.Root, "tests/Core.Tests/cases/values.tsv")).Where(l => !l.StartsWith('#')))
        {
            var cells = line.Split('\t');
            data.Add(cells[0], cells[1], cells[2], cells.ElementAtOrDefault(3));
        }

        return data;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void What_is_typed_is_read_or_refused_with_what_would_be_right(string kind, string typed, string expected, string? right)
    {
        var (text, wrong, mend) = kind switch
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
        mend!.ShouldContain(right![2..]);
    }

    private static (string?, string?, string?) Told<T>(Parsed<T> read) => (read.Ok ? read.Value!.ToString() : null, read.Wrong, read.Right);

    private static readonly Gen<Prefix> Prefixes = Gen.Select(Gen.Bool, Gen.UInt, Gen.ULong, Gen.Int[0, 128]).Select((six, low, high, length) =>
        six ? Prefix.Around(Address.Of(Family.IPv6, new UInt128(high, low)), length) : Prefix.Around(Address.Of(Family.IPv4, low & 0xff00ff0f), length % 33));

    [Fact]
    public void Canonical_spelling_of_a_prefix_round_trips() => Prefixes.Sample(p => Prefix.Parse(p.ToString()).Value == p);

    [Fact]
    public void Overlap_and_containment_agree_with_the_plain_model_of_first_and_last()
    {
        Gen.Select(Prefixes, Prefixes).Sample((a, b) =>
        {
            var same = a.Family == b.Family;
            var overlap = same && a.First.Bits <= b.Last.Bits && b.First.Bits <= a.Last.Bits;
            var contains = same && a.First.Bits <= b.First.Bits && b.Last.Bits <= a.Last.Bits;
            return a.Overlaps(b) == overlap && b.Overlaps(a) == overlap && a.Contains(b) == contains;
        });
    }

    [Fact]
    public void A_combined_mode_proposal_is_taken_by_any_combination_of_ticked_members()
    {
        var offer = IkeProposal.Parse("AES-256-CBC + SHA1 + DH 5").Value;
        IkeProposal[] ticked = [IkeProposal.Parse("AES-256-CBC + SHA256 + DH 5").Value, IkeProposal.Parse("3DES + SHA1 + DH 2").Value];
        Choice.Ike([offer], [.. ticked], Answering.AnyCombination).Proposal.ShouldBe(offer);
        var strict = Choice.Ike([offer], [.. ticked], Answering.SameList);
        strict.Proposal.ShouldBeNull();
        strict.Miss!.DiffersIn.ShouldBe(["integrity", "PRF"]);
    }
}

using CsCheck;
using Shouldly;
using Vellumkeep.Core.Algorithms;
using Vellumkeep.Core.Parsing;
using Vellumkeep.Core.Proposals;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Names of algorithms as devices and people spell them: case, blanks and hyphens do not count, digits do.</summary>
public class SpellingTests
{
    private static readonly (string Name, Func<string, string?> Read)[] Names =
    [
        .. AlgorithmTable.Encryptions.Select(e => (e.Name, Of(AlgorithmTable.Encryption))),
        .. AlgorithmTable.Integrities.Select(i => (i.Name, Of(AlgorithmTable.Integrity))),
        .. AlgorithmTable.Prfs.Select(p => (p.Name, Of(AlgorithmTable.Prf))),
        .. AlgorithmTable.Groups.Select(g => (g.Name, Of(AlgorithmTable.Group))),
    ];

    private static Func<string, string?> Of<T>(Func<string, Parsed<T>> read) =>
        text => read(text) is { Wrong: null } found ? found.Value!.ToString() : null;

    /// <summary>The same letters and digits in any case, with anything between them that people put there.</summary>
    private static string Respelled(string name, int seed)
    {
        var random = new Random(seed);
        string[] between = ["", "", "", "-", " ", "_", "\u00a0", "/"];
        return string.Concat(
            name.Where(char.IsLetterOrDigit)
                .Select(c =>
                    (random.Next(2) == 0 ? char.ToLowerInvariant(c) : char.ToUpperInvariant(c))
                    + between[random.Next(between.Length)]
                )
        );
    }

    [Fact]
    public void Case_and_what_stands_between_letters_do_not_count() =>
        Gen.Select(Gen.OneOf(Names), Gen.Int)
            .Sample(c => c.Item1.Read(Respelled(c.Item1.Name, c.Item2)).ShouldBe(c.Item1.Name));

    [Fact]
    public void Another_digit_is_never_the_same_algorithm() =>
        Gen.Select(Gen.OneOf(Names), Gen.Int[0, 30], Gen.Int[1, 9])
            .Sample(c =>
            {
                var (name, read) = c.Item1;
                var digits = name.Select((d, i) => (d, i)).Where(x => char.IsDigit(x.d)).ToArray();
                var (digit, place) = digits[c.Item2 % digits.Length];
                var other = name[..place] + (char)('0' + (digit - '0' + c.Item3) % 10) + name[(place + 1)..];
                read(other).ShouldNotBe(name, other);
            });

    [Fact]
    public void A_letter_left_out_is_refused_and_the_name_meant_is_among_those_offered() =>
        Gen.Select(Gen.OneOf(AlgorithmTable.Encryptions.ToArray()), Gen.Int[0, 30])
            .Sample(c =>
            {
                var name = c.Item1.Name;
                var at = c.Item2 % name.Length;
                var typed = name.Remove(at, 1);
                var read = AlgorithmTable.Encryption(typed);
                if (read.Wrong is null)
                    (read.Value == c.Item1 || !char.IsLetter(name[at])).ShouldBeTrue(typed);
                else
                    read.Right!.Split(", ").ShouldContain(name, typed);
            });

    [Fact]
    public void A_proposal_is_read_whatever_stands_between_its_members_and_whichever_way_they_are_ordered()
    {
        string[] separators = [" + ", "+", ", ", " / ", ",", "/"];
        Gen.Select(
                Gen.OneOf(AlgorithmTable.Encryptions.Where(e => !e.Combined).ToArray()),
                Gen.OneOf(AlgorithmTable.Integrities.ToArray()),
                Gen.OneOf(AlgorithmTable.Groups.ToArray()),
                Gen.OneOf(separators),
                Gen.Bool
            )
            .Sample(c =>
            {
                var (encryption, integrity, group, separator, groupFirst) = c;
                var (second, third) = groupFirst ? (group.Name, integrity.Name) : (integrity.Name, group.Name);
                var typed = string.Join(separator, encryption.Name, second, third);
                var plain = IkeProposal.Of(encryption, integrity, AlgorithmTable.PrfOf(integrity), group).Value;
                IkeProposal.Parse(typed).Value.ShouldBe(plain, typed);
            });
    }
}

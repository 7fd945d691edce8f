using CsCheck;
using Shouldly;
using Vellumkeep.Core.Algorithms;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Names of algorithms as devices and people spell them: case, blanks and hyphens do not count, digits do.
/// </summary>
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
    public void Another_digit_is_never_the_same_algorithm()
    {
        foreach (var (name, read) in Names)
        foreach (var (digit, place) in name.Select((d, i) => (d, i)).Where(x => char.IsDigit(x.d)))
            for (var other = '0'; other <= '9'; other++)
                if (other != digit)
                    read(name[..place] + other + name[(place + 1)..]).ShouldNotBe(name);
    }

    [Fact]
    public void A_letter_left_out_is_refused_and_the_name_meant_is_among_those_offered()
    {
        foreach (var encryption in AlgorithmTable.Encryptions)
        foreach (var (letter, place) in encryption.Name.Select((l, i) => (l, i)).Where(x => char.IsLetter(x.l)))
        {
            var typed = encryption.Name.Remove(place, 1);
            var read = AlgorithmTable.Encryption(typed);
            read.Wrong.ShouldNotBeNull($"{typed}, without {letter}");
            read.Right!.Split(", ").ShouldContain(encryption.Name, typed);
        }
    }

    [Fact]
    public void A_proposal_is_read_whatever_stands_between_its_members_and_whichever_way_they_are_ordered()
    {
        string[] separators = [" + ", "+", ", ", " / ", ",", "/"];
        Gen.Select(
                Gen.OneOf(AlgorithmTable.Encryptions.Where(e => !e.Combined && e.Name != "NULL").ToArray()),
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

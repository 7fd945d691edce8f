using Shouldly;
using Vellumkeep.Core.Wording;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Sentences keep their arguments typed, whatever people have typed into what stands between them.</summary>
public class SentenceTests
{
    private static readonly Tunnel Ashlow = DemoInventory.Tunnel("BRI-ASHLOW");

    [Theory]
    [InlineData("plain")]
    [InlineData("{0}")]
    [InlineData("{1} and {0}")]
    [InlineData("{{0}}")]
    [InlineData("{")]
    [InlineData("}{")]
    [InlineData("{x}")]
    [InlineData("")]
    public void What_was_typed_never_takes_the_place_of_an_argument(string typed)
    {
        var inner = Sentence.Plain(typed);
        inner.ToString().ShouldBe(typed);
        Sentence before = $"{inner}, says {Ashlow} at {EndName.B}.";
        before.ToString().ShouldBe($"{typed}, says BRI-ASHLOW at B.");
        Sentence after = $"{Ashlow} says {inner}{EndName.A}";
        after.ToString().ShouldBe($"BRI-ASHLOW says {typed}A");
        after.Arguments.Select(a => a.Kind).ShouldBe([ArgumentKind.Tunnel, ArgumentKind.End]);
        // Stored and put back together it is the same.
        Sentence.Stored(before.Template, before.Arguments).ToString().ShouldBe(before.ToString());
        Sentence.Of($"{before}{after}").ToString().ShouldBe($"{before}{after}");
    }

    [Fact]
    public void A_capital_and_a_full_stop_are_put_where_they_are_missing_and_nowhere_else()
    {
        Sentence.Of($"set {"10.61.0.0/24"}").Capitalised().Dotted().ToString().ShouldBe("Set 10.61.0.0/24.");
        Sentence.Of($"{Ashlow} is up.").Capitalised().Dotted().ToString().ShouldBe("BRI-ASHLOW is up.");
    }

    [Theory]
    [InlineData(0, "nothing")]
    [InlineData(1, "a")]
    [InlineData(2, "a and b")]
    [InlineData(4, "a, b, c and d")]
    public void Several_are_named_as_one_would_say_them(int count, string says) =>
        Say.And(new[] { "a", "b", "c", "d" }.Take(count)).ShouldBe(says);

    [Theory]
    [InlineData("windowMinutes", "Window minutes")]
    [InlineData("asOf", "As of")]
    [InlineData("identityOfB", "Identity of B")]
    [InlineData("name", "Name")]
    [InlineData("a.set.pfs", "A.set.pfs")]
    public void A_field_is_called_by_its_words(string field, string label) => Say.Label(field).ShouldBe(label);

    [Theory]
    [InlineData("BRI-", "'BRI-' matches 2 tunnels: BRI-ONE, BRI-TWO.")]
    [InlineData("bri-o", "'bri-o' matches 1 tunnel: BRI-ONE.")]
    [InlineData("BRI-XYZ", "There is no tunnel 'BRI-XYZ'. 2 tunnels begin with 'BRI-': BRI-ONE, BRI-TWO.")]
    [InlineData("SALT", "There is no tunnel 'SALT'. 1 tunnel begins with 'S': SAL-PIERS.")]
    [InlineData("😀", "There is no tunnel '😀'. There are 3 tunnels: BRI-ONE, BRI-TWO, SAL-PIERS.")]
    [InlineData("zz", "There is no tunnel 'zz'. There are 3 tunnels: BRI-ONE, BRI-TWO, SAL-PIERS.")]
    [InlineData("", "There is no tunnel ''. There are 3 tunnels: BRI-ONE, BRI-TWO, SAL-PIERS.")]
    public void A_code_that_does_not_exist_says_what_there_is(string code, string says) =>
        NearCodes.Among(["SAL-PIERS", "BRI-TWO", "BRI-ONE"], code).Refusal("tunnel", code).ShouldBe(says);

    [Fact]
    public void No_beginning_ends_within_a_letter() =>
        NearCodes.Beginnings("😀-A@1").ShouldBe(["😀-A@1", "😀-A@", "😀-", "😀", ""]);

    [Fact]
    public void More_codes_than_can_be_read_are_counted()
    {
        var many = Enumerable.Range(1, 1234).Select(n => $"T-{n:0000}");
        NearCodes
            .Among(many, "T-")
            .Refusal("tunnel", "T-")
            .ShouldBe($"'T-' matches 1,234 tunnels: {string.Join(", ", many.Take(10))} and 1,224 more.");
        NearCodes.Among([], "T-").Refusal("tunnel", "T-").ShouldBe("There is no tunnel 'T-'.");
    }

    [Theory]
    [InlineData("pair-05", "PAIR-05")]
    [InlineData(" KEY-08 ", "KEY-08")]
    public void A_code_of_a_check_is_read_in_any_case(string text, string code) =>
        Findings.Checks.CodeOf(text).Value.ShouldBe(code);

    [Fact]
    public void An_unknown_code_of_a_check_names_its_family_or_all_families()
    {
        Findings
            .Checks.CodeOf("PATH-99")
            .Right!.Split(", ")
            .ShouldBe(Findings.Checks.All.Select(c => c.Code).Where(c => c.StartsWith("PATH-")).Distinct());
        foreach (var check in Findings.Checks.All)
            Findings.Checks.CodeOf("what").Right!.ShouldContain(check.Code.Split('-')[0]);
    }

    [Theory]
    [InlineData("required DH 16", true)]
    [InlineData("20 s x 5, try again", true)]
    [InlineData("3,600 s, rekey 20 % before", true)]
    [InlineData("all in one", true)]
    [InlineData("any to any", true)]
    [InlineData("fqdn churn.brindle.example", true)]
    [InlineData("DH 16", false)]
    [InlineData("3,600 min", false)]
    [InlineData("20 seconds", false)]
    [InlineData("always", false)]
    [InlineData("10.61.0.0/24", false)]
    [InlineData("10.61.0.0/24, 10.61.8.0/22", false)]
    [InlineData("AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 14", false)]
    [InlineData("DES-CBC and DH 1", false)]
    public void A_value_of_several_words_stands_in_quotes_once(string value, bool quoted)
    {
        var says = quoted ? $"A has '{value}' set." : $"A has {value} set.";
        Sentence.Of($"{EndName.A} has {value} set.").ToString().ShouldBe(says);
        Sentence.Of($"{EndName.A} has '{value}' set.").ToString().ShouldBe($"A has '{value}' set.");
        Sentence.Of($"{EndName.A} has {value:w} set.").ToString().ShouldBe($"A has {value} set.");
        // Put into another sentence, it stays as it is.
        var inner = Sentence.Of($"{value}");
        Sentence.Of($"{EndName.A} has {inner} set.").ToString().ShouldBe(says);
    }

    [Fact]
    public void Several_sentences_are_one_with_their_arguments()
    {
        Sentence[] parts = [$"peer {"192.0.2.1"}", $"key of {Ashlow}", $"end {EndName.B}"];
        Sentence.And([]).ToString().ShouldBe("");
        Sentence.And(parts[..1]).ToString().ShouldBe("peer 192.0.2.1");
        var all = Sentence.And(parts);
        all.ToString().ShouldBe("peer 192.0.2.1, key of BRI-ASHLOW and end B");
        all.Parts()
            .Select(p => p.Argument?.Kind)
            .ShouldBe([ArgumentKind.Value, ArgumentKind.Tunnel, ArgumentKind.End, null]);
    }

    [Theory]
    [InlineData("BRI-O", "BRI-ONE")]
    [InlineData("bri-one", "BRI-ONE")]
    [InlineData("SAL", "SAL-PIERS")]
    [InlineData("BRI-", null)]
    [InlineData("SALT", null)]
    [InlineData("zz", null)]
    [InlineData("", null)]
    public void A_beginning_means_a_code_only_where_one_alone_has_it(string typed, string? code) =>
        NearCodes.Among(["SAL-PIERS", "BRI-TWO", "BRI-ONE"], typed).Meant(typed).ShouldBe(code);

    /// <summary>Nothing at all is typed where there is one code only: that one is not meant.</summary>
    [Fact]
    public void An_empty_code_means_none() => NearCodes.Among(["ONLY"], " ").Meant(" ").ShouldBeNull();
}

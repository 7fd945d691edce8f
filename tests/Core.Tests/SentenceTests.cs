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
}

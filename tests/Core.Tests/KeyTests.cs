using Shouldly;
using Vellumkeep.Core.Keys;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class KeyTests
{
    private static KeyLimits Limits(int? shortest, int? longest, string? refused = null) =>
        new(shortest, longest, refused, null, null);

    [Theory]
    [InlineData(1, 31, null, 256, 31, 153)]
    [InlineData(16, 128, null, 256, 52, 257)]
    [InlineData(16, 128, null, 128, 26, 128)]
    [InlineData(40, 63, "\"", 128, 40, 198)]
    public void A_key_is_as_strong_as_what_it_authenticates_within_the_limits_of_both(
        int shortest,
        int longest,
        string? refused,
        int bits,
        int length,
        int worth
    )
    {
        var made = KeyMaking.Make([Limits(1, 200), Limits(shortest, longest, refused)], bits);
        (made.Value.Text.Length, made.Value.Bits).ShouldBe((length, worth));
        made.Value.Text.ShouldAllBe(c => KeyMaking.Alphabet.Contains(c) && (refused == null || !refused.Contains(c)));
        made.Value.Grouped.Replace(" ", "").ShouldBe(made.Value.Text);
    }

    [Fact]
    public void Where_the_limits_leave_less_than_128_bits_or_nothing_no_key_is_made()
    {
        KeyMaking.Make([Limits(1, 25)], 128).Wrong!.ShouldContain("123 bits");
        KeyMaking.Make([Limits(64, 64), Limits(1, 31)], 128).Wrong!.ShouldContain("64 characters");
        KeyMaking.Make([Limits(1, 26, "abcdefghjk")], 128).Ok.ShouldBeFalse();
    }

    [Fact]
    public void Every_letter_is_as_likely_and_no_two_keys_are_alike()
    {
        var keys = Enumerable.Range(0, 2000).Select(_ => KeyMaking.Make([], 128).Value.Text).ToArray();
        keys.Distinct().Count().ShouldBe(2000);
        // Chi-squared over 31 letters, 52,000 draws: beyond 80 by chance once in several million runs.
        var expected = keys.Sum(k => k.Length) / (double)KeyMaking.Alphabet.Length;
        KeyMaking
            .Alphabet.Sum(c => Math.Pow(keys.Sum(k => k.Count(x => x == c)) - expected, 2) / expected)
            .ShouldBeLessThan(80);
    }

    /// <summary>Reckoned apart with another implementation of HMAC-SHA-256.</summary>
    [Theory]
    [InlineData("abcdefgh23456789", "BRI-ASHLOW", 4)]
    [InlineData("abcdefgh23456789", "BRI-PETHER", 4)]
    [InlineData("abcdefgh23456789", "BRI-ASHLOW", 5)]
    public void A_check_code_is_the_same_for_two_people_and_another_for_every_tunnel_and_version(
        string key,
        string tunnel,
        int version
    )
    {
        var code = KeyMaking.CheckCode(key, tunnel, version);
        code.Length.ShouldBe(9);
        code[4].ShouldBe('-');
        KeyMaking.CheckCode(key, tunnel.ToLowerInvariant(), version).ShouldBe(code);
        KeyMaking.CheckCode(key + "x", tunnel, version).ShouldNotBe(code);
        KeyMaking.CheckCode(key, tunnel, version + 1).ShouldNotBe(code);
        KeyMaking.CheckCode(key, tunnel + "X", version).ShouldNotBe(code);
        code.ShouldBe(
            (tunnel, version) switch
            {
                ("BRI-ASHLOW", 4) => Known[0],
                ("BRI-PETHER", 4) => Known[1],
                _ => Known[2],
            }
        );
    }

    private static readonly string[] Known = ["grbn-jy0w", "89ej-vd9c", "bqak-jach"];
}

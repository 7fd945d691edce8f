using Shouldly;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>The sentences that open a gateway, a site or a customer, from the numbers.</summary>
public class GroupVerdictTests
{
    private static string Of(Standings tunnels) =>
        string.Join(" ", GroupVerdict.Of($"run through {"churn-gw1":w}", tunnels).Select(p => p.Says.ToString()));

    private static BlockedTunnel Blocked(string code, string why) =>
        new(
            code,
            "c",
            [
                new(Tone.Stops, $"{code:w} does not come up."),
                new(Tone.Plain, $"Everything else agrees."),
                new(Tone.Stops, Wording.Sentence.Plain(why)),
            ]
        );

    [Fact]
    public void Nothing_is_said_of_nothing() => Of(new()).ShouldBe("No tunnels run through churn-gw1.");

    [Theory]
    [InlineData(0, 0, 0, 1, "1 tunnel run through churn-gw1: it is without a known problem.")]
    [InlineData(0, 0, 0, 3, "3 tunnels run through churn-gw1: all are without a known problem.")]
    [InlineData(0, 2, 1, 3, "6 tunnels run through churn-gw1: 2 degraded, 1 at risk and 3 without a known problem.")]
    [InlineData(0, 0, 4, 0, "4 tunnels run through churn-gw1: all are at risk.")]
    public void The_numbers_are_told_and_no_empty_one(int blocked, int degraded, int atRisk, int sound, string says) =>
        Of(
                new()
                {
                    Blocked = blocked,
                    Degraded = degraded,
                    AtRisk = atRisk,
                    Sound = sound,
                }
            )
            .ShouldBe(says);

    [Fact]
    public void What_blocks_several_is_told_once_and_one_of_them_by_name()
    {
        var says = Of(
            new()
            {
                Blocked = 3,
                Sound = 1,
                Often = new("PAIR-06", 2),
                Worst = [Blocked("X-1", "B lacks a pair."), Blocked("X-2", "A has no route.")],
            }
        );
        says.ShouldContain("3 blocked and 1 without a known problem.");
        says.ShouldContain("PAIR-06 blocks 2 of them: local and remote subnets do not mirror.");
        says.ShouldContain("X-1: B lacks a pair.");
        says.ShouldNotContain("X-2");
    }

    [Fact]
    public void What_blocks_one_alone_is_told_by_its_tunnel_and_the_second_beside_it()
    {
        var says = Of(
            new()
            {
                Blocked = 2,
                Often = new("PAIR-06", 1),
                Worst = [Blocked("X-1", "B lacks a pair."), Blocked("X-2", "A has no route.")],
            }
        );
        says.ShouldNotContain("stops 1 of them");
        says.ShouldContain("X-1: B lacks a pair. X-2: A has no route.");
    }

    [Fact]
    public void The_tone_is_weak_as_soon_as_one_is_blocked()
    {
        GroupVerdict.Of($"x", new() { Sound = 2 })[0].Tone.ShouldBe(Tone.Plain);
        GroupVerdict.Of($"x", new() { Sound = 2, Blocked = 1 })[0].Tone.ShouldBe(Tone.Weak);
    }
}

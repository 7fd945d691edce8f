using Vellumkeep.Core.Findings;

namespace Vellumkeep.Core.Verdicts;

/// <summary>A blocked tunnel, as the verdict of a gateway or customer names it.</summary>
/// <param name="Code">Its code.</param>
/// <param name="OwnerId">Whose it is.</param>
/// <param name="Verdict">Its own verdict.</param>
public sealed record BlockedTunnel(string Code, string OwnerId, ImmutableArray<VerdictPart> Verdict);

/// <summary>A check that blocks several tunnels.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Tunnels">How many it blocks.</param>
public sealed record BlockedBy(string Code, int Tunnels);

/// <summary>How the tunnels of a gateway, site or customer stand: how many of each, and what stops the worst.</summary>
public sealed record Standings
{
    /// <summary>How many are blocked.</summary>
    public int Blocked { get; init; }

    /// <summary>How many are degraded and not blocked.</summary>
    public int Degraded { get; init; }

    /// <summary>How many are at risk and nothing worse.</summary>
    public int AtRisk { get; init; }

    /// <summary>How many are sound.</summary>
    public int Sound { get; init; }

    /// <summary>What blocks most of them; null when nothing blocks.</summary>
    public BlockedBy? Often { get; init; }

    /// <summary>The first blocked ones by code, two at most.</summary>
    public ImmutableArray<BlockedTunnel> Worst { get; init; } = [];

    /// <summary>How many there are.</summary>
    public int All => Blocked + Degraded + AtRisk + Sound;
}

/// <summary>
/// The sentences that open a gateway or a customer: how its tunnels stand by consequence, with the numbers, what stops
/// the worst, and what stops most of them.
/// </summary>
public static class GroupVerdict
{
    /// <param name="tunnels">How its tunnels stand.</param>
    /// <param name="what">What carries them, as the sentence goes on after the number: <c>run through
    /// churn-gw1</c>.</param>
    public static ImmutableArray<VerdictPart> Of(Sentence what, Standings tunnels)
    {
        if (tunnels.All == 0)
            return [new(Tone.Plain, $"No tunnels {what}.")];
        var several = tunnels.Often is { Tunnels: > 1 } often ? often : null;
        return
        [
            new(
                tunnels.Blocked > 0 ? Tone.Weak : Tone.Plain,
                $"{Say.Count(tunnels.All, "tunnel"):w} {what}: {Say.And(Counts(tunnels)):w}."
            ),
            .. several is null ? [] : new[] { new VerdictPart(Tone.Weak, Stops(several)) },
            .. tunnels.Worst.Take(several is null ? 2 : 1).Select(Why).OfType<VerdictPart>(),
        ];
    }

    private static IEnumerable<string> Counts(Standings tunnels)
    {
        foreach (
            var (count, word) in new[]
            {
                (tunnels.Blocked, "blocked"),
                (tunnels.Degraded, "degraded"),
                (tunnels.AtRisk, "at risk"),
                (tunnels.Sound, "without a known problem"),
            }
        )
            if (count == tunnels.All)
                yield return $"{(count == 1 ? "it is" : "all are")} {word}";
            else if (count > 0)
                yield return $"{count} {word}";
    }

    private static Sentence Stops(BlockedBy often) =>
        $"{often.Code} blocks {often.Tunnels} of them: {Checks.All.FirstOrDefault(c => c.Code == often.Code)?.Title ?? "":w}.";

    private static VerdictPart? Why(BlockedTunnel t) =>
        t.Verdict.Skip(1).FirstOrDefault(v => v.Tone == Tone.Stops) is { } why
            ? new(Tone.Stops, $"{new Argument(ArgumentKind.Tunnel, t.Code, t.OwnerId)}: {why.Says}")
            : null;
}

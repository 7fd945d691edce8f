using Vellumkeep.Core.Findings;

namespace Vellumkeep.Core.Verdicts;

/// <summary>
/// A tunnel as it counts for the verdict of a gateway or customer: its code and owner, its worst severity (4: nothing
/// found), its own verdict, and the codes of what blocks it.
/// </summary>
public sealed record Standing(
    string Code,
    string OwnerId,
    int Worst,
    ImmutableArray<VerdictPart> Verdict,
    ImmutableArray<string> Blocking
);

/// <summary>
/// The sentences that open a gateway or a customer: how its tunnels stand by consequence, with the numbers, what stops
/// the worst, and what stops most of them.
/// </summary>
public static class Together
{
    /// <param name="what">What carries them, as the sentence goes on after the number: <c>run through
    /// churn-gw1</c>.</param>
    public static ImmutableArray<VerdictPart> Of(Sentence what, IReadOnlyList<Standing> tunnels)
    {
        if (tunnels.Count == 0)
            return [new(Tone.Plain, Sentence.Of($"No tunnels {what}."))];
        var parts = ImmutableArray.CreateBuilder<VerdictPart>();
        int At(Severity s) => tunnels.Count(t => t.Worst == (int)s);
        var (blocked, degraded, risky) = (At(Severity.Blocks), At(Severity.Degrades), At(Severity.Risk));
        var sound = tunnels.Count - blocked - degraded - risky;
        string[] counts =
        [
            .. new[] { (blocked, "blocked"), (degraded, "degraded"), (risky, "at risk"), (sound, "sound") }
                .Where(c => c.Item1 > 0)
                .Select(c =>
                    c.Item1 == tunnels.Count
                        ? $"{(tunnels.Count == 1 ? "it is" : "all are")} {c.Item2}"
                        : $"{c.Item1} {c.Item2}"
                ),
        ];
        parts.Add(
            new(
                blocked > 0 ? Tone.Weak : Tone.Plain,
                Sentence.Of($"{Say.Count(tunnels.Count, "tunnel"):w} {what}: {Say.And(counts):w}.")
            )
        );
        var often = tunnels
            .SelectMany(t => t.Blocking.Distinct())
            .GroupBy(c => c)
            .OrderByDescending(g => g.Count())
            .ThenBy(g => g.Key, StringComparer.Ordinal)
            .FirstOrDefault();
        if (often is not null && often.Count() > 1)
            parts.Add(
                new(
                    Tone.Weak,
                    Sentence.Of(
                        $"{often.Key} stops {often.Count()} of them: {Checks.All.FirstOrDefault(c => c.Code == often.Key)?.Title ?? "":w}."
                    )
                )
            );
        foreach (
            var t in tunnels
                .Where(t => t.Worst == (int)Severity.Blocks)
                .OrderBy(t => t.Code, StringComparer.OrdinalIgnoreCase)
                .Take(often is not null && often.Count() > 1 ? 1 : 2)
        )
            if (t.Verdict.FirstOrDefault(v => v.Tone == Tone.Stops && t.Verdict.IndexOf(v) > 0) is { } why)
                parts.Add(
                    new(Tone.Stops, Sentence.Of($"{new Argument(ArgumentKind.Tunnel, t.Code, t.OwnerId)}: {why.Says}"))
                );
        return parts.ToImmutable();
    }
}

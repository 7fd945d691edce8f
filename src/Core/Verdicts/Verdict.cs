using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Verdicts;

/// <summary>How a sentence of a verdict weighs.</summary>
public enum Tone
{
    Plain,
    Weak,
    Stops,
}

/// <summary>One sentence of a verdict.</summary>
public sealed record VerdictPart(Tone Tone, Sentence Says);

/// <summary>
/// The sentences that open a tunnel: what an expert would say on looking at it, by consequence, with the numbers.
/// Composed from findings and comparison; it never claims that a tunnel comes up, because nothing here has rehearsed it.
/// </summary>
public static class Verdict
{
    public static ImmutableArray<VerdictPart> Of(Checked about, IReadOnlyList<Finding> findings)
    {
        if (about.View.Tunnel.State == TunnelState.Retired)
            return [new(Tone.Plain, Sentence.Of($"Out of service{(about.View.Tunnel.Since is { } since ? $" since {Scalars.Write(since)}" : ""):w}; kept for its history."))];
        var parts = ImmutableArray.CreateBuilder<VerdictPart>();
        var worth = findings.Where(f => f.Consequence is not null).ToArray();
        // What follows from more than one finding in the same words is said once.
        foreach (var f in worth.Where(f => f.Severity <= Severity.Degrades).DistinctBy(f => f.Consequence!.ToString()).Take(3))
            parts.Add(new(f.Severity == Severity.Blocks ? Tone.Stops : Tone.Weak, f.Consequence!));
        if (parts.Count < 2)
            foreach (var f in worth.Where(f => f.Severity == Severity.Risk).DistinctBy(f => f.Consequence!.ToString()).Take(2 - parts.Count))
                parts.Add(new(Tone.Weak, f.Consequence!));

        if (findings.All(f => f.Severity > Severity.Degrades))
            parts.Insert(0, new(Tone.Plain, Standing(about)));
        return parts.ToImmutable();
    }

    /// <summary>What can be said when nothing blocks or degrades: how much agrees, and how sure that is.</summary>
    private static Sentence Standing(Checked about)
    {
        var rows = about.Rows;
        var open = rows.Count(r => r.Answer == Answer.Undetermined);
        var differ = rows.Count(r => r.Answer == Answer.Differs);
        int Unseen(EndName end) => rows.Count(r => r.Cell(end) is { Seen: null, Text: not null, Source: Source.Agreed or Source.Set } && r.Key != $"addressOf{end}");
        var (a, b) = (Unseen(EndName.A), Unseen(EndName.B));
        Sentence sure = (a, b) switch
        {
            (0, 0) => Sentence.Plain("every value was seen at both ends"),
            (0, _) => $"{Say.Count(b, "value"):w} at {EndName.B} {(b == 1 ? "was" : "were"):w} never confirmed",
            (_, 0) => $"{Say.Count(a, "value"):w} at {EndName.A} {(a == 1 ? "was" : "were"):w} never confirmed",
            _ => $"{Say.Count(a, "value"):w} at {EndName.A} and {Say.Count(b, "value"):w} at {EndName.B} were never confirmed",
        };
        Sentence differs = differ == 0 ? Sentence.Plain("Nothing differs") : $"{Say.Capital(Say.Count(differ, "row")):w} {(differ == 1 ? "differs" : "differ"):w}, {(differ == 1 ? "which does" : "which do"):w} no harm";
        Sentence left = open == 0 ? Sentence.Plain("") : $", and {Say.Count(open, "row"):w} cannot be compared";
        return a + b == 0 ? Sentence.Of($"{differs}{left}: {sure}.") : Sentence.Of($"{differs} as far as known: {sure}{left}.");
    }
}

using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Verdicts;

/// <summary>How a sentence of a verdict weighs.</summary>
public enum Tone
{
    /// <summary>What is so.</summary>
    Plain,

    /// <summary>What is weak.</summary>
    Weak,

    /// <summary>What stops it.</summary>
    Stops,
}

/// <summary>One sentence of a verdict.</summary>
public sealed record VerdictPart(Tone Tone, Sentence Says);

/// <summary>
/// The sentences that open a tunnel: what an expert would say on looking at it. First what comes of the negotiation
/// from either side, then what fails later and what else follows, by consequence, with the numbers. Composed of
/// rehearsal, findings and comparison.
/// </summary>
public static class Verdict
{
    /// <summary>The opening sentences of a tunnel.</summary>
    public static ImmutableArray<VerdictPart> Of(Checked about, IReadOnlyList<Finding> findings)
    {
        if (about.View.Tunnel.State == TunnelState.Retired)
            return
            [
                new(
                    Tone.Plain,
                    Sentence.Of(
                        $"Out of service{(about.View.Tunnel.Since is { } since ? $" since {Scalars.Write(since)}" : ""):w}; kept for its history."
                    )
                ),
            ];
        var parts = ImmutableArray.CreateBuilder<VerdictPart>();
        var (outcome, stop) = OutcomeOf(about);
        parts.Add(outcome);
        // What was accepted is known, and said no more unless it stops the tunnel.
        var worth = findings
            .Where(f => f.Consequence is not null && (f.Accepted is null || f.Severity == Severity.Blocks))
            .ToArray();
        if (stop is { } s && worth.All(f => f.Code != s.Obstacle.Code))
            parts.Add(new(Tone.Stops, Telling.Why(about, s.Rehearsal, s.Obstacle)));
        // The first stop comes first; what follows from more than one finding in the same words is said once.
        foreach (
            var f in worth
                .Where(f => f.Severity <= Severity.Degrades)
                .OrderByDescending(f => f.Code == stop?.Obstacle.Code && f.Severity == Severity.Blocks)
                .DistinctBy(f => f.Consequence!.ToString())
                .Take(3)
        )
            parts.Add(new(f.Severity == Severity.Blocks ? Tone.Stops : Tone.Weak, f.Consequence!));
        if (parts.Count < 3)
            foreach (
                var f in worth
                    .Where(f => f.Severity == Severity.Risk)
                    .DistinctBy(f => f.Consequence!.ToString())
                    .Take(3 - parts.Count)
            )
                parts.Add(new(Tone.Weak, f.Consequence!));
        if (outcome.Tone == Tone.Plain && findings.All(f => f.Severity > Severity.Degrades || f.Accepted is not null))
            parts.Insert(1, new(Tone.Plain, Standing(about)));
        return parts.ToImmutable();
    }

    /// <summary>
    /// What comes of it from either side, in one sentence, and the stop that an unsound one has to name.
    /// </summary>
    private static (VerdictPart Says, (Rehearsal Rehearsal, Obstacle Obstacle)? Stop) OutcomeOf(Checked about)
    {
        var all = about.Rehearsals.ToArray();
        var wanted = about.View.Tunnel.Agreed.Pairs.Length;
        var up = all.Where(r => r.ComesUp).ToArray();
        string Pairs(Rehearsal r) =>
            r.Outcome == Outcome.UpWithFewerPairs ? $" for {r.Passing.Length} of {Say.Count(wanted, "pair")}" : "";
        static (Rehearsal, Obstacle)? At(Rehearsal r) =>
            r.Obstacles.FirstOrDefault(o => o.Stage > Stage.Start) is { } o ? (r, o) : null;
        if (up.Length == 2)
            return up[0].Passing.Length == up[1].Passing.Length
                ? (
                    new(
                        up[0].Outcome == Outcome.Up ? Tone.Plain : Tone.Weak,
                        Sentence.Of($"Comes up from either side{Pairs(up[0]):w}.")
                    ),
                    null
                )
                : (
                    new(
                        Tone.Weak,
                        Sentence.Of(
                            $"Comes up{Pairs(up[0]):w} when {up[0].Starter} starts,{Pairs(up[1]):w} when {up[1].Starter} does."
                        )
                    ),
                    null
                );
        if (up.Length == 1)
        {
            var other = all.First(r => !r.ComesUp);
            if (other.Outcome == Outcome.DoesNotStart)
                return (
                    new(
                        up[0].Outcome == Outcome.Up ? Tone.Plain : Tone.Weak,
                        Sentence.Of($"Comes up{Pairs(up[0]):w} when {up[0].Starter} starts; {Why(other)}.")
                    ),
                    null
                );
            return other.Outcome == Outcome.Undetermined
                ? (
                    new(
                        Tone.Plain,
                        Sentence.Of(
                            $"Comes up{Pairs(up[0]):w} when {up[0].Starter} starts; whether {other.Starter} can bring it up is not known."
                        )
                    ),
                    null
                )
                : (
                    new(
                        Tone.Weak,
                        Sentence.Of(
                            $"Comes up{Pairs(up[0]):w} when {up[0].Starter} starts, fails when {other.Starter} does."
                        )
                    ),
                    At(other)
                );
        }

        var begin = all.Where(r => r.Outcome != Outcome.DoesNotStart).ToArray();
        if (begin.Length == 0)
            return (
                new(Tone.Stops, Sentence.Plain("Does not come up.")),
                all.Select(r => ((Rehearsal, Obstacle)?)(r, r.Stop!)).First()
            );
        if (begin.FirstOrDefault(r => r.Outcome == Outcome.UpWithFewerPairs) is { } empty)
            return (new(Tone.Stops, Sentence.Plain("The SAs come up, and nothing passes.")), At(empty));
        if (begin.FirstOrDefault(r => r.Outcome == Outcome.IkeOnly) is { } half)
            return (new(Tone.Stops, Sentence.Plain("The IKE SA comes up, no child SA does.")), At(half));
        if (begin.FirstOrDefault(r => r.Outcome == Outcome.Undetermined) is { } open)
        {
            // What stops it in any case is worth more than what is not known.
            if (At(open) is { } anyway && anyway.Item2.Stage < Stage.Child)
                return (new(Tone.Stops, Sentence.Plain("Does not come up.")), anyway);
            var questions = open.Open.DistinctBy(q => (q.At, q.What)).ToArray();
            Sentence first = questions[0] switch
            {
                { At: { } end, OfProfile: true } q =>
                    $"the profile of {about.View.End(end).Platform.Title:w} at {end} does not say {q.What:w}",
                { At: { } end } q => $"of {end} it is not known {q.What:w}",
                var q => $"not known is {q.What:w}",
            };
            return (
                new(
                    Tone.Plain,
                    Sentence.Of(
                        $"Whether it comes up cannot be told: {first}{(questions.Length > 1 ? $", and {Say.Count(questions.Length - 1, "thing")} more is open" : ""):w}."
                    )
                ),
                null
            );
        }

        var only =
            begin.Length == 1
                ? Sentence.Of($"Does not come up: only {begin[0].Starter} can start.")
                : Sentence.Plain("Does not come up.");
        return (new(Tone.Stops, only), At(begin[0]));
    }

    private static Sentence Why(Rehearsal r) =>
        r.Stop!.Cause is DoesNotStart d
            ? d.Fault switch
            {
                StartFault.OnlyAnswers => Sentence.Of($"{r.Starter} only answers"),
                StartFault.AddressPending => Sentence.Of(
                    $"{r.Starter} cannot: {r.Starter.Other()}'s address is pending"
                ),
                _ => Sentence.Of($"{r.Starter} cannot: {r.Starter.Other()}'s address is not fixed"),
            }
            : Sentence.Of($"{r.Starter} does not");

    /// <summary>What can be said when nothing blocks or degrades: how much agrees, and how sure that is.</summary>
    private static Sentence Standing(Checked about)
    {
        var rows = about.Rows;
        var open = rows.Count(r => r.Answer == Answer.Undetermined);
        var differ = rows.Count(r => r.Answer == Answer.Differs);
        int Unseen(EndName end) =>
            rows.Count(r =>
                r.Cell(end) is { Seen: null, Text: not null, Source: Source.Agreed or Source.Set }
                && r.Key != $"addressOf{end}"
            );
        var (a, b) = (Unseen(EndName.A), Unseen(EndName.B));
        Sentence sure = (a, b) switch
        {
            (0, 0) => Sentence.Plain("every value was seen at both ends"),
            (0, _) => $"{Say.Count(b, "value"):w} at {EndName.B} {(b == 1 ? "was" : "were"):w} never confirmed",
            (_, 0) => $"{Say.Count(a, "value"):w} at {EndName.A} {(a == 1 ? "was" : "were"):w} never confirmed",
            _ =>
                $"{Say.Count(a, "value"):w} at {EndName.A} and {Say.Count(b, "value"):w} at {EndName.B} were never confirmed",
        };
        Sentence differs =
            differ == 0
                ? Sentence.Plain("Nothing differs")
                : $"{Say.Capital(Say.Count(differ, "row")):w} {(differ == 1 ? "differs" : "differ"):w}, {(differ == 1 ? "which does" : "which do"):w} no harm";
        Sentence left = open == 0 ? Sentence.Plain("") : $", and {Say.Count(open, "row"):w} cannot be compared";
        return a + b == 0
            ? Sentence.Of($"{differs}{left}: {sure}.")
            : Sentence.Of($"{differs} as far as known: {sure}{left}.");
    }
}

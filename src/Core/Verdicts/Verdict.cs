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
/// <param name="Tone">How grave it is.</param>
/// <param name="Says">The sentence.</param>
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
                        $"Out of "
                            + $"service{(about.View.Tunnel.Since is { } since ? $" since {Scalars.Write(since)}" : ""):w}; "
                            + $"kept for its history."
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
        if (stop is { } s && worth.All(f => f.Code != Checks.CodeOf(s.Obstacle)))
            parts.Add(new(Tone.Stops, FindingText.Why(about, s.Rehearsal, s.Obstacle)));
        // The first stop comes first; what follows from more than one finding in the same words is said once.
        foreach (
            var f in worth
                .Where(f => f.Severity <= Severity.Degrades)
                .OrderByDescending(f =>
                    stop is { } at && f.Code == Checks.CodeOf(at.Obstacle) && f.Severity == Severity.Blocks
                )
                .DistinctBy(f => f.Consequence!.ToString())
                .Take(3)
        )
            parts.Add(new(f.Severity == Severity.Blocks ? Tone.Stops : Tone.Weak, f.Consequence!));
        Finding[] worst =
        [
            .. worth
                .Where(f => f.Severity == Severity.Risk)
                .DistinctBy(f => f.Consequence!.ToString())
                .Take(Math.Max(0, 3 - parts.Count)),
        ];
        parts.AddRange(worst.Select(f => new VerdictPart(Tone.Weak, f.Consequence!)));
        if (about.Rehearsals.Any(r => r.ComesUp))
        {
            var settled = findings.All(f => f.Severity > Severity.Degrades || f.Accepted is not null);
            var risks = findings.Count(f => f.Severity == Severity.Risk && f.Accepted is null);
            if (outcome.Tone == Tone.Plain && settled)
                parts.Insert(1, new(Tone.Plain, Agreement(about, risks)));
            else if (risks > 0)
                // Those that are not told here are counted all the same.
                parts.Insert(parts.Count - worst.Length, new(Tone.Weak, $"{Say.Count(risks, "risk"):w}."));
        }
        else if (stop is { } refused && StandsUntil(about.View, refused.Obstacle) is { } until)
            parts.Add(new(Tone.Plain, until));
        return parts.ToImmutable();
    }

    /// <summary>
    /// What comes of it from either side, in one sentence, and the stop that an unsound one has to name.
    /// </summary>
    private static Judgement OutcomeOf(Checked about)
    {
        var all = about.Rehearsals.ToArray();
        var up = all.Where(r => r.ComesUp).ToArray();
        return up.Length switch
        {
            2 => FromEither(about, up[0], up[1]),
            1 => FromOne(about, up[0], all.First(r => !r.ComesUp)),
            _ => FromNeither(about, all),
        };
    }

    /// <summary>What comes of it in one sentence, and the stop that an unsound one has to name.</summary>
    private sealed record Judgement(VerdictPart Says, (Rehearsal Rehearsal, Obstacle Obstacle)? Stop = null);

    private static Judgement PlanOutcome(Tone tone, Sentence says, Rehearsal? at = null) =>
        new(new(tone, says), at is null ? null : StopOf(at));

    private static (Rehearsal, Obstacle)? StopOf(Rehearsal r) =>
        r.Obstacles.FirstOrDefault(o => o.Stage > Stage.Start) is { } o ? (r, o) : null;

    private static string PairsOf(Checked about, Rehearsal r) =>
        r.Outcome != Outcome.UpWithFewerPairs ? ""
        : r.Narrowed.IsEmpty ? $" for {r.Passing.Length} of {Say.Count(about.View.Tunnel.Agreed.Pairs.Length, "pair")}"
        : $" for {FindingText.Passing(r)}";

    private static Tone ToneOf(Rehearsal up) => up.Outcome == Outcome.Up ? Tone.Plain : Tone.Weak;

    private static Judgement FromEither(Checked about, Rehearsal one, Rehearsal other) =>
        one.Passing.Length == other.Passing.Length
            ? PlanOutcome(ToneOf(one), $"Comes up{PairsOf(about, one):w}, whichever end initiates.")
            : PlanOutcome(
                Tone.Weak,
                $"Comes up{PairsOf(about, one):w} when {one.Initiator} initiates,{PairsOf(about, other):w} when "
                    + $"{other.Initiator} does."
            );

    private static Judgement FromOne(Checked about, Rehearsal up, Rehearsal other) =>
        other.Outcome switch
        {
            Outcome.DoesNotStart => PlanOutcome(
                ToneOf(up),
                $"Comes up{PairsOf(about, up):w} when {up.Initiator} initiates; {Why(about, other)}."
            ),
            Outcome.Undetermined => PlanOutcome(
                Tone.Plain,
                $"Comes up{PairsOf(about, up):w} when {up.Initiator} initiates. Unknown: whether {other.Initiator} "
                    + $"can bring it up."
            ),
            _ => PlanOutcome(
                Tone.Weak,
                $"Comes up{PairsOf(about, up):w} when {up.Initiator} initiates, fails when {other.Initiator} does.",
                other
            ),
        };

    private static Judgement FromNeither(Checked about, Rehearsal[] all)
    {
        var begin = all.Where(r => r.Outcome != Outcome.DoesNotStart).ToArray();
        if (begin.Length == 0)
            return new(new(Tone.Stops, Sentence.Plain("Does not come up.")), NotBegun(all));
        if (begin.FirstOrDefault(r => r.Outcome is Outcome.UpWithFewerPairs or Outcome.NothingPasses) is { } empty)
            return PlanOutcome(Tone.Stops, Sentence.Plain("The SAs come up, but no traffic passes."), empty);
        if (begin.FirstOrDefault(r => r.Outcome == Outcome.IkeOnly) is { } half)
            return PlanOutcome(Tone.Stops, Sentence.Plain("The IKE SA comes up, no child SA does."), half);
        if (begin.FirstOrDefault(r => r.Outcome == Outcome.Undetermined) is { } open)
            return Undetermined_(about, open);
        return begin.Length == 1
            ? PlanOutcome(Tone.Stops, $"Does not come up: only {begin[0].Initiator} can initiate.", begin[0])
            : PlanOutcome(Tone.Stops, Sentence.Plain("Does not come up."), begin[0]);
    }

    /// <summary>What keeps both from beginning: an end that responds only says least.</summary>
    private static (Rehearsal, Obstacle) NotBegun(Rehearsal[] all) =>
        all.SelectMany(r => r.Obstacles.Where(o => o.Stage == Stage.Start).Select(o => (r, o)))
            .OrderBy(x => x.o.Cause is DoesNotStart { Fault: StartFault.RespondsOnly })
            .First();

    private static Judgement Undetermined_(Checked about, Rehearsal open)
    {
        // What stops it in any case is worth more than what is not known.
        if (StopOf(open) is { } anyway && anyway.Item2.Stage < Stage.Child)
            return new(new(Tone.Stops, Sentence.Plain("Does not come up.")), anyway);
        var questions = open.Open.DistinctBy(q => (q.At, q.What)).ToArray();
        Sentence first = questions[0] switch
        {
            { At: { } end, OfProfile: true } q =>
                $"the profile of {about.View.End(end).Platform.Title:w} at {end} does not say {q.What:w}",
            { At: { } end } q => $"unknown at {end}: {q.What:w}",
            var q => $"unknown: {q.What:w}",
        };
        return PlanOutcome(
            Tone.Plain,
            $"Undetermined whether it comes up: "
                + $"{first}{(questions.Length > 1 ? $" ({Say.Count(questions.Length - 1, "more question")} open)" : ""):w}."
        );
    }

    private static Sentence Why(Checked about, Rehearsal r) =>
        r.Stop!.Cause is DoesNotStart d
            ? Sentence.Of($"{r.Initiator} {StartFaults.Words(about.View.End(r.Initiator), d.Fault):w}")
            : Sentence.Of($"{r.Initiator} does not");

    /// <summary>
    /// A tunnel in service authenticated before what is refused was replaced, and nobody asks again until the next
    /// authentication (RFC 7296 section 2.8.3, RFC 2409 section 5). Null when the stop is another, or it is not up.
    /// </summary>
    private static Sentence? StandsUntil(TunnelView view, Obstacle stop)
    {
        if (view.Tunnel.State != TunnelState.InService || !IsProof(stop.Cause))
            return null;
        return Timing.Rekeying.NextAuthentication(view) is { } seconds
            ? Sentence.Of(
                $"If it is up, it stays up until the next authentication: {Lifetime.Say(seconds):w} at the most."
            )
            : Sentence.Plain("If it is up, it stays up until it next goes down: no reauthentication is set.");
    }

    private static bool IsProof(Cause cause) =>
        cause is KeysMismatch or KeyEachWay or KeyNotFound or IdentityRefused or CertificateRefused or MethodsMismatch;

    /// <summary>What can be said when nothing blocks or degrades: how much agrees, and how sure that is.</summary>
    private static Sentence Agreement(Checked about, int risks)
    {
        var rows = about.Rows;
        var open = rows.Count(r => r.Relation == Relation.Undetermined);
        var differ = rows.Count(r => r.Relation == Relation.Differs);
        int Unseen(EndName end) =>
            rows.Count(r =>
                r.Cell(end) is { Confirmed: null, Text: not null, Source: Source.Agreed or Source.Set }
                && r.Key != RowKey.AddressOf(end)
            );
        var (a, b) = (Unseen(EndName.A), Unseen(EndName.B));
        Sentence sure = (a, b) switch
        {
            (0, 0) => Sentence.Plain("every value is confirmed at both ends"),
            (0, _) => $"{Say.Count(b, "value"):w} at {EndName.B} not confirmed",
            (_, 0) => $"{Say.Count(a, "value"):w} at {EndName.A} not confirmed",
            _ => $"{Say.Count(a, "value"):w} at {EndName.A} and {Say.Count(b, "value"):w} at {EndName.B} not confirmed",
        };
        var known = risks == 0 ? "No known problem" : Say.Capital(Say.Count(risks, "risk"));
        var differs =
            differ == 0
                ? Sentence.Of($"{known:w}, no difference")
                : Sentence.Of($"{known:w}. {Say.Capital(Say.Count(differ, "harmless difference")):w}");
        Sentence left = open == 0 ? Sentence.Plain("") : $"; {Say.Count(open, "row"):w} undetermined";
        return a + b == 0 ? Sentence.Of($"{differs}{left}; {sure}.") : Sentence.Of($"{differs}; {sure}{left}.");
    }
}

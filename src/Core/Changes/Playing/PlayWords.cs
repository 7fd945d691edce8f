namespace Vellumkeep.Core.Changes.Playing;

/// <summary>What was measured in a play, in sentences: how long a tunnel carries nothing, and what each step stops.</summary>
/// <param name="play">The play.</param>
/// <param name="steps">The steps that were played, in order.</param>
/// <param name="after">The records as they will be.</param>
internal sealed class PlayWords(Play play, ImmutableArray<Step> steps, Inventory after)
{
    /// <summary>How long each tunnel of the change carries nothing, or less, that carried something before.</summary>
    public ImmutableArray<Interruption> Interruptions() =>
        [.. play.Tunnels.Where(t => t.Own).Select(Interruption).OfType<Interruption>()];

    /// <summary>The tunnels that the change is not about and that it interrupts (PLAN-09).</summary>
    public ImmutableArray<Touched> Touches() =>
        [
            .. play
                .Tunnels.Where(t => !t.Own)
                .Select(t => new Touched(
                    t.TunnelId,
                    t.TunnelCode,
                    $"{Named(t)} restarts at {StepsOf(t.Restarts):w}, {Lasting(t.Restarts[0].Seconds):w}: "
                        + $"{t.Restarts[0].Why}."
                )),
        ];

    /// <summary>What a step does to traffic; null when nothing.</summary>
    public Sentence? Stops(string stepKey)
    {
        var gaps = play
            .Tunnels.SelectMany(t => Gaps(t).Where(g => g.Span.Step == stepKey).Select(g => (Tunnel: t, Gap: g)))
            .ToArray();
        if (gaps.Length > 0)
            return Falls(gaps);
        var restarts = play
            .Tunnels.SelectMany(t => t.Restarts.Where(r => r.Step == stepKey).Select(r => (Tunnel: t, Restart: r)))
            .ToArray();
        if (restarts.Length == 0)
            return null;
        if (restarts.FirstOrDefault(r => !r.Restart.Certain).Restart is { } unsaid)
            return unsaid.Why.Capitalised().Dotted();
        var worst = restarts.MaxBy(r => r.Restart.Seconds ?? int.MaxValue).Restart;
        return Sentence.Of(
            $"{Who([.. restarts.Select(r => r.Tunnel)])} {(restarts.Length == 1 ? "restarts" : "restart"):w}, "
                + $"{Lasting(worst.Seconds):w}: {worst.Why}."
        );
    }

    /// <summary>What the work on one end's gateway does to a tunnel.</summary>
    public Sentence AtEnd(string tunnelId, EndName end, string gatewayCode)
    {
        var played = play.Tunnels.First(t => t.TunnelId == tunnelId);
        var here = steps.Where(s => s.Gateway == gatewayCode).Select(s => s.Key).ToHashSet();
        if (!steps.Any(s => s.Gateway == gatewayCode && s.Part is Part.Build or Part.Switch))
            return $"at {end} nothing is entered";
        if (Gaps(played).FirstOrDefault(g => here.Contains(g.Span.Step!)) is { } gap)
            return $"at {end} it is interrupted {Lasts(gap, ForGood(played))}";
        var restarts = played.Restarts.Where(r => here.Contains(r.Step)).ToArray();
        if (restarts.FirstOrDefault(r => !r.Certain) is { } unsaid)
            return $"at {end} {unsaid.Why}";
        return restarts.Length == 0
            ? Sentence.Of($"at {end} nothing is interrupted")
            : Sentence.Of($"at {end} the whole tunnel restarts, {Lasting(restarts.Max(r => r.Seconds)):w}");
    }

    private Sentence Falls((PlayedTunnel Tunnel, Gap Gap)[] gaps)
    {
        var one = gaps.Length == 1;
        var less = gaps.All(g => g.Gap.Span.State == Carriage.FewerPairs) ? "fewer pairs" : "no traffic";
        var until = gaps.Any(g => g.Gap.To is null) ? null : gaps.Max(g => g.Gap.To);
        var here =
            until == gaps[0].Gap.From ? "during this step" : $"from here {(until is { } to ? $"to step {to}" : "on")}";
        return $"{Who([.. gaps.Select(g => g.Tunnel)])} {(one ? "carries" : "carry"):w} {less:w} {here:w}.";
    }

    private Sentence Who(PlayedTunnel[] tunnels) =>
        tunnels.Length == 1 ? Named(tunnels[0]) : Sentence.Of($"{Say.Count(tunnels.Length, "tunnel"):w}");

    private Interruption? Interruption(PlayedTunnel t)
    {
        var gaps = Gaps(t).ToArray();
        // Where it is down for minutes, a moment more is no news.
        var restarts = Carried(t)
            ? t.Restarts.Where(r => r.Certain && (gaps.Length == 0 || r.Seconds != 0)).ToArray()
            : [];
        var unsaid = Carried(t) ? t.Restarts.Where(r => !r.Certain).ToArray() : [];
        Sentence[] clauses =
        [
            .. gaps.Select(g => Lasts(g, ForGood(t))),
            .. restarts.Length > 0 ? [Restarting(restarts)] : Array.Empty<Sentence>(),
            .. unsaid
                .DistinctBy(r => r.Why.ToString())
                .Select(r => Sentence.Of($"perhaps at {StepsOf([r]):w}: {r.Why}")),
        ];
        if (clauses.Length == 0)
            return null;
        var less = gaps.Length > 0 && restarts.Length == 0 && gaps.All(g => g.Span.State == Carriage.FewerPairs);
        var said = clauses
            .Skip(1)
            .Aggregate(
                Sentence.Of($"{Named(t)} carries {(less ? "fewer pairs" : "no traffic"):w} {clauses[0]}"),
                (made, more) => Sentence.Of($"{made}; {more}")
            );
        return new(t.TunnelId, t.TunnelCode, SecondsOf(gaps, t.Restarts), WithReasons(said, gaps));
    }

    /// <summary>Null where somebody does not say it, or the plan does not end it.</summary>
    private static int? SecondsOf(Gap[] gaps, ImmutableArray<Restart> restarts) =>
        restarts.Any(r => r.Seconds is null) || gaps.Any(g => g.To is null)
            ? null
            : gaps.Sum(g => g.Span.To - g.Span.From) + restarts.Sum(r => r.Seconds!.Value);

    private static Sentence WithReasons(Sentence said, Gap[] gaps) =>
        gaps.Select(g => g.Span.Why)
            .OfType<Sentence>()
            .DistinctBy(w => w.ToString())
            .Aggregate(Sentence.Of($"{said}."), (made, why) => Sentence.Of($"{made} {why.Capitalised().Dotted()}"));

    private static Sentence Lasts(Gap gap, bool forGood)
    {
        var lasting = About(gap.Span.To - gap.Span.From);
        if (gap.To is not { } to)
            return $"from step {gap.From} on{(forGood ? ", for good" : ""):w}";
        return to == gap.From
            ? Sentence.Of($"during step {gap.From}, about {lasting:w}")
            : Sentence.Of($"from step {gap.From} to step {to}, about {lasting:w}");
    }

    private Sentence Restarting(Restart[] restarts)
    {
        if (restarts.Any(r => r.Seconds is null))
            return $"while it restarts at {StepsOf(restarts):w}; how long, the profile does not say";
        var seconds = restarts.Sum(r => r.Seconds!.Value);
        return $"for {(seconds == 0 ? "a moment" : $"about {About(seconds)}"):w} at {StepsOf(restarts):w}: {restarts[0].Why}";
    }

    private bool ForGood(PlayedTunnel t) => after.Get<Tunnel>(t.TunnelId).State == TunnelState.Retired;

    /// <summary>Whether it carried something, or perhaps did, before the first step.</summary>
    private static bool Carried(PlayedTunnel t) => t.Spans[0].State is not (Carriage.Down or Carriage.NoTraffic);

    /// <summary>A time in which a tunnel carries nothing, or less, and had carried more.</summary>
    /// <param name="Span">The time.</param>
    /// <param name="From">The number of the step that begins it.</param>
    /// <param name="To">The number of the step that ends it; null when none of the plan does.</param>
    private sealed record Gap(Span Span, int From, int? To);

    private IEnumerable<Gap> Gaps(PlayedTunnel t)
    {
        if (!Carried(t))
            yield break;
        for (var i = 1; i < t.Spans.Length; i++)
            if (
                t.Spans[i].State is Carriage.Down or Carriage.NoTraffic
                || (t.Spans[i].State == Carriage.FewerPairs && t.Spans[0].State == Carriage.Up)
            )
                yield return new(
                    t.Spans[i],
                    Number(t.Spans[i].Step!),
                    i + 1 < t.Spans.Length ? Number(t.Spans[i + 1].Step!) : null
                );
    }

    private int Number(string key)
    {
        for (var i = 0; i < steps.Length; i++)
            if (steps[i].Key == key)
                return i + 1;
        return 0;
    }

    private string StepsOf(IEnumerable<Restart> restarts)
    {
        var numbers = restarts.Select(r => Number(r.Step)).Distinct().Order().ToArray();
        return $"{(numbers.Length == 1 ? "step" : "steps")} {Say.And(numbers.Select(n => $"{n}"))}";
    }

    private static string Lasting(int? seconds) =>
        seconds switch
        {
            null => "how long, the profile does not say",
            0 => "a moment",
            { } s => About(s),
        };

    /// <summary>Seconds under a minute and a half, then whole minutes: nobody measures a step by the second.</summary>
    private static string About(int seconds) => Lifetime.Say(seconds < 90 ? seconds : (seconds + 30) / 60 * 60);

    private Sentence Named(PlayedTunnel t) => Sentence.Of($"{after.Get<Tunnel>(t.TunnelId)}");
}

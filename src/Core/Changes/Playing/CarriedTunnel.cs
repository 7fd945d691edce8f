using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Playing;

/// <summary>What befalls a tunnel at a step.</summary>
internal sealed record Blow
{
    /// <summary>What the profile says that it interrupts; null when it does not say.</summary>
    public required Cost? Cost { get; init; }

    /// <summary>What brings it about, as the end of a sentence.</summary>
    public required Sentence Why { get; init; }

    /// <summary>SAs that are cleared, or cannot stay, are made anew at once.</summary>
    public static Blow Anew(Sentence why) => new() { Cost = new(Disturbance.TunnelRestarts, 0), Why = why };

    /// <summary>Whether the SAs go although the profile does not say it.</summary>
    public bool DropsAnyway { get; init; }

    /// <summary>Whether the SAs go.</summary>
    public bool Drops => DropsAnyway || Cost is { Drops: true };
}

/// <summary>A tunnel of the change in a play: its SAs live on until something drops them.</summary>
internal sealed class CarriedTunnel
{
    private readonly List<Span> spans = [];
    private readonly List<Restart> restarts = [];
    private readonly ImmutableArray<SubnetPair> kept;
    private readonly List<(Carriage State, ImmutableHashSet<SubnetPair> Passing, Sentence? Why)> told = [];
    private Carriage state;
    private ImmutableHashSet<SubnetPair> passing;
    private Sentence? why;
    private string? since;
    private int from;

    public CarriedTunnel(TunnelStages stages, Negotiated first)
    {
        Stages = stages;
        Ends = [new(stages, EndName.A), new(stages, EndName.B)];
        (state, passing, why) = (first.State, [.. first.Passing], first.Why);
        kept = [.. stages.Was.Tunnel.Agreed.Pairs.Intersect(stages.Then.Tunnel.Agreed.Pairs)];
        Tell();
    }

    public TunnelStages Stages { get; }

    public ImmutableArray<PlayedEnd> Ends { get; }

    public PlayedEnd End(EndName name) => Ends[(int)name];

    public string Id => Stages.Was.Tunnel.Id;

    /// <summary>Whether it carries something as far as is known.</summary>
    public bool MayCarry => state is not (Carriage.Down or Carriage.NoTraffic);

    /// <summary>What befell it, and what it would negotiate now, at a moment.</summary>
    public void Befalls(string step, int at, IReadOnlyList<Blow> blows, Negotiated now)
    {
        var drop = blows.Where(b => b.Drops).ToArray();
        if (!MayCarry || drop.Length > 0)
            Anew(step, at, drop, now);
        else if (blows.Any(b => b.Cost is null) && state != Carriage.Undetermined)
            Perhaps(step, at, blows.First(b => b.Cost is null), now);
        else if (now.ChildSas)
            Set(step, at, now.Passing, Of(now.Passing, now), now.Why);
    }

    /// <summary>It is down from a moment, whatever the devices hold.</summary>
    public void Falls(string step, int at, Sentence because) => Set(step, at, [], Carriage.Down, because);

    /// <summary>The play is over.</summary>
    public PlayedTunnel Played(int end)
    {
        spans.Add(new(from, Math.Max(from, end), state, since, why));
        return new(
            Id,
            Stages.Then.Tunnel.Code,
            Own: true,
            [.. spans.Where(s => s.To > s.From || spans.Count == 1)],
            [.. restarts]
        );
    }

    /// <summary>Whether a pair passes after as many steps; null when nobody can say.</summary>
    public (bool? Passes, Sentence? Why) Passes(SubnetPair pair, int steps)
    {
        var (then, pairs, because) = told[steps];
        return (then == Carriage.Undetermined ? null : pairs.Contains(pair), because);
    }

    /// <summary>What it carries after as many steps, and why not everything.</summary>
    public (Carriage State, Sentence? Why) StateAfter(int steps) => (told[steps].State, told[steps].Why);

    /// <summary>A step is over, whether it did something to it or not.</summary>
    public void Tell() => told.Add((state, passing, why));

    private void Anew(string step, int at, Blow[] drop, Negotiated now)
    {
        var seconds = drop.Any(b => b.Cost?.Seconds is null) ? (int?)null : drop.Sum(b => b.Cost!.Seconds!.Value);
        var up = now.State is Carriage.Up or Carriage.FewerPairs;
        if (MayCarry && (up || now.State == Carriage.Undetermined))
            restarts.Add(new(at, step, seconds, Certain: true, drop[0].Why));
        // Who was away is back when the device that restarts for it has restarted.
        var back = MayCarry ? at : at + (seconds ?? 0);
        Set(step, up ? back : at, now.Passing, Of(now.Passing, now), now.Why);
    }

    /// <summary>Nobody says whether the SAs live on.</summary>
    private void Perhaps(string step, int at, Blow unsaid, Negotiated now)
    {
        restarts.Add(new(at, step, null, Certain: false, unsaid.Why));
        if (now.State is Carriage.Up or Carriage.FewerPairs)
            Set(step, at, now.Passing, Of(now.Passing, now), now.Why);
        else if (now.State != Carriage.Undetermined)
            Set(step, at, [.. passing], Carriage.Undetermined, unsaid.Why);
    }

    private Carriage Of(ImmutableArray<SubnetPair> pairs, Negotiated now)
    {
        if (now.State is Carriage.Down or Carriage.Undetermined or Carriage.NoTraffic)
            return now.State;
        // What is only added, or only planned yet, was never carried.
        if (kept.IsEmpty || !Stages.Runs)
            return now.State;
        return kept.All(pairs.Contains) ? Carriage.Up : Carriage.FewerPairs;
    }

    private void Set(string step, int at, IEnumerable<SubnetPair> pairs, Carriage then, Sentence? because)
    {
        passing = [.. pairs];
        if (then == state)
        {
            why = then == Carriage.Up ? null : because ?? why;
            return;
        }

        spans.Add(new(from, at, state, since, why));
        (from, state, since, why) = (at, then, step, then == Carriage.Up ? null : because);
    }
}

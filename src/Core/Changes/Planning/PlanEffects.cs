using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What the steps of a plan do to traffic, of its own tunnels and of others.</summary>
internal static class PlanEffects
{
    /// <summary>
    /// How long each tunnel that runs carries nothing, by what the steps stop and what the profiles say of it.
    /// </summary>
    public static ImmutableArray<Interruption> Interruptions(
        IReadOnlyList<Step> steps,
        IReadOnlyList<TunnelStages> tunnels
    )
    {
        var ordered = steps.OrderBy(s => s.Part).ToArray();
        // Where a gateway goes away under its tunnels, they carry nothing from then until their last step of the
        // switch.
        var cut = Array.FindIndex(ordered, s => s.Kind is StepKind.Cut or StepKind.MoveAddress);
        return
        [
            .. tunnels
                .Where(t => t.Runs && t.Was.Tunnel.State != TunnelState.Suspended)
                .Select(t => cut >= 0 ? Gone(t) : Restarted(t))
                .OfType<Interruption>(),
        ];

        bool Of(Step s, TunnelStages t) =>
            s.TunnelId == t.Then.Tunnel.Id
            || (s.Kind == StepKind.Activate && t.Then.Ends.Any(e => e.Gateway.Code == s.Gateway));

        Interruption Gone(TunnelStages t)
        {
            // Who is told before the move is gone from then.
            var first =
                Array.FindIndex(ordered, s => s.Part == Part.Switch && Of(s, t)) is >= 0 and var own && own < cut
                    ? own
                    : cut;
            var last = Math.Max(cut, Array.FindLastIndex(ordered, s => s.Part == Part.Switch && Of(s, t)));
            var minutes = ordered[first..(last + 1)].Sum(s => s.Minutes);
            return new(
                t.Then.Tunnel.Id,
                t.Then.Tunnel.Code,
                minutes * 60,
                last == first
                    ? Sentence.Of(
                        $"{t.Then.Tunnel} carries no traffic during step {first + 1}, about {Say.Count(minutes, "minute"):w}."
                    )
                    : Sentence.Of(
                        $"{t.Then.Tunnel} carries no traffic from step {first + 1} to step {last + 1}, about "
                            + $"{Say.Count(minutes, "minute"):w}."
                    )
            );
        }

        Interruption? Restarted(TunnelStages t)
        {
            var ends = t
                .Then.Ends.Where(e => steps.Any(s => s.Stops is not null && Of(s, t) && s.Gateway == e.Gateway.Code))
                .ToArray();
            if (ends.Length == 0)
                return null;
            var unknown = ends.Where(e =>
                    e.Platform.SubnetsCost
                        is null
                            or { Seconds: null, What: not (Disturbance.Nothing or Disturbance.ThatPair) }
                )
                .Select(e => e.Platform.Title)
                .Distinct()
                .ToArray();
            var seconds = ends.Sum(e => e.Platform.SubnetsCost?.Seconds ?? 0);
            return unknown.Length > 0
                    ? new(
                        t.Then.Tunnel.Id,
                        t.Then.Tunnel.Code,
                        null,
                        $"Unknown how long {t.Then.Tunnel} carries no traffic: the profile of {Say.And(unknown):w} does not say."
                    )
                : seconds == 0 ? null
                : new(
                    t.Then.Tunnel.Id,
                    t.Then.Tunnel.Code,
                    seconds,
                    $"{t.Then.Tunnel} carries no traffic for about {Lifetime.Say(seconds):w}."
                );
        }
    }

    /// <summary>
    /// What stays temporary after the change: the value now, what it must become and by when; and which temporary
    /// values the change ends.
    /// </summary>
    public static IEnumerable<VerdictPart> Temporary(IEnumerable<TunnelStages> tunnels) =>
        from t in tunnels
        from then in t.Then.Ends
        from value in Values(t.Was.End(then.Name))
            .Zip(Values(then), (was, now) => (was.Label, Was: was.Value, Now: now.Value))
        let said = Told(t, then, value.Label, value.Was, value.Now)
        where said is not null
        select new VerdictPart(Tone.Weak, said);

    private static IEnumerable<(string Label, IResolved Value)> Values(EndView end) =>
        Settings
            .All.Select(s => (s.Label, Value: s.On(end)))
            .Append(("Peer address", end.PeerAddress))
            .Append(("Local identity", end.IdentitySent))
            .Append(("Remote identity", end.IdentityExpected));

    private static Sentence? Told(TunnelStages t, EndView end, string label, IResolved was, IResolved now)
    {
        if (now.Until is { } until)
            return $"{label:w} of {t.Then.Tunnel} at {end.Name} stays temporary ({now.Any?.ToString() ?? "nothing"}). Set "
                + $"{until.Final} by {Scalars.Write(until.Deadline)}.";
        if (was.Until is not { } had || t.Then.Tunnel.State == TunnelState.Retired)
            return null;
        var kept = now.Any?.ToString() ?? "nothing";
        return kept == had.Final
            ? Sentence.Of($"{label:w} of {t.Then.Tunnel} at {end.Name} becomes final: {had.Final}.")
            : Sentence.Of(
                $"{label:w} of {t.Then.Tunnel} at {end.Name} was temporary ({was.Any?.ToString() ?? "nothing"}, final "
                    + $"{had.Final}). The change ends that: it becomes {kept}."
            );
    }

    /// <summary>The tunnels that the change is not about and that are affected (PLAN-09).</summary>
    public static ImmutableArray<Touched> Touches(
        IReadOnlyList<Step> steps,
        IReadOnlyList<TunnelStages> tunnels,
        Inventory before
    )
    {
        var own = tunnels.Select(t => t.Was.Tunnel.Id).ToHashSet();
        var found = new List<Touched>();
        foreach (var end in tunnels.SelectMany(t => t.Then.Ends).DistinctBy(e => e.Gateway.Id))
        {
            var stops = steps.Any(s => s.Gateway == end.Gateway.Code && s.Stops is not null);
            var cost = end.Platform.SubnetsCost?.What;
            if (!stops || cost is not (Disturbance.GatewayRestarts or Disturbance.UplinkBounces))
                continue;
            foreach (var (other, _) in before.On(end.Gateway.Id).Where(o => !own.Contains(o.Tunnel.Id)))
                found.Add(
                    new(
                        other.Id,
                        other.Code,
                        cost == Disturbance.GatewayRestarts
                            ? Sentence.Of($"{other} restarts with every tunnel of {end.Gateway.Code}.")
                            : Sentence.Of($"{other} goes down while the uplink of {end.Gateway.Code} is down.")
                    )
                );
        }

        return [.. found.DistinctBy(f => f.TunnelId).OrderBy(f => f.TunnelCode, StringComparer.OrdinalIgnoreCase)];
    }
}

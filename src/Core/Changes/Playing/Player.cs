using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Playing;

/// <summary>
/// Carries a plan out on model devices, as a person would who does exactly what is written. After each step the tunnels
/// that it touches are rehearsed from what is active on both devices; SAs live on until the step, by what the profile
/// of its platform says, drops them.
/// </summary>
internal sealed class Player
{
    private readonly Inventory before;
    private readonly Inventory after;
    private readonly Deeds deeds;
    private readonly ImmutableArray<Step> steps;
    private readonly ImmutableArray<CarriedTunnel> tunnels;
    private readonly Dictionary<string, (Tunnel Tunnel, Carriage State, List<Restart> Restarts)> others = [];
    private readonly Dictionary<string, Gateway> gateways = [];
    private readonly DateOnly today;
    private Inventory moment;

    private Player(PlayedPlan plan)
    {
        today = plan.Today;
        (before, after, deeds, steps) = (plan.Before, plan.After, plan.Deeds, plan.Steps);
        moment = Surroundings.Of(before, plan.Tunnels);
        // What is pending is filled in before the step that needs it: a value that nobody knows stands for it here.
        foreach (var gateway in plan.Tunnels.SelectMany(t => t.Then.Ends).Select(e => e.Gateway).DistinctBy(g => g.Id))
            if (gateway.Uplinks.Any(IsPending))
                gateways[gateway.Id] = Filled(gateway, Unused(gateways.Count));
        tunnels =
        [
            .. plan
                .Tunnels.AsParallel()
                .AsOrdered()
                .WithDegreeOfParallelism(Math.Max(1, Environment.ProcessorCount))
                .Select(t => new CarriedTunnel(t, First(t))),
        ];
    }

    /// <summary>The plan as it was played.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits for it any more.</exception>
    public static Player Of(PlayedPlan plan, CancellationToken ct)
    {
        var player = new Player(plan);
        player.Run(ct);
        return player;
    }

    /// <summary>What was measured.</summary>
    public Play Play { get; private set; } = Play.None;

    /// <summary>Whether a pair passes when a step begins; null when nobody can say.</summary>
    public (bool? Passes, Sentence? Why) PassesAt(string stepKey, string tunnelId, SubnetPair pair) =>
        tunnels.First(t => t.Id == tunnelId).Passes(pair, IndexOf(stepKey));

    /// <summary>Whether a pair passes before the first step; null when nobody can say.</summary>
    public bool? PassesAtFirst(string tunnelId, SubnetPair pair) =>
        tunnels.First(t => t.Id == tunnelId).Passes(pair, 0).Passes;

    /// <summary>What a tunnel carries when a step begins, and why not everything.</summary>
    public (Carriage State, Sentence? Why) StateAt(string stepKey, string tunnelId) =>
        tunnels.First(t => t.Id == tunnelId).StateAfter(IndexOf(stepKey));

    /// <summary>What a tunnel carries when a step is done, and why not everything.</summary>
    public (Carriage State, Sentence? Why) StateAfter(string stepKey, string tunnelId) =>
        tunnels.First(t => t.Id == tunnelId).StateAfter(IndexOf(stepKey) + 1);

    /// <summary>Whether some tunnel of a step's gateway carries something then, and goes on.</summary>
    public bool CarriedOn(Step step) =>
        On(step.Gateway).Any(o => StateAt(step.Key, o.Tunnel.Id).State is Carriage.Up or Carriage.FewerPairs);

    private int IndexOf(string stepKey)
    {
        for (var i = 0; i < steps.Length; i++)
            if (steps[i].Key == stepKey)
                return i;
        return steps.Length;
    }

    private void Run(CancellationToken ct)
    {
        var clock = 0;
        foreach (var step in steps)
        {
            ct.ThrowIfCancellationRequested();
            var begins = clock;
            clock += step.Minutes * 60;
            Work(step, begins, clock);
        }

        Play = new(
            clock,
            [
                .. tunnels.Select(t => t.Played(clock)),
                .. others
                    .Values.OrderBy(o => o.Tunnel.Code, StringComparer.OrdinalIgnoreCase)
                    .Select(o => Other(o, clock)),
            ],
            [.. tunnels.SelectMany(t => t.Ends).Where(e => e.Waits).Select(e => e.Gateway.Code).Distinct()]
        );
    }

    private static PlayedTunnel Other((Tunnel Tunnel, Carriage State, List<Restart> Restarts) o, int clock) =>
        new(o.Tunnel.Id, o.Tunnel.Code, Own: false, [new(0, clock, o.State, null, null)], [.. o.Restarts]);

    private void Work(Step step, int begins, int ends)
    {
        var blows = new Dictionary<CarriedTunnel, List<Blow>>();
        List<Blow> Of(CarriedTunnel t) => blows.TryGetValue(t, out var list) ? list : blows[t] = [];

        foreach (var change in deeds.EntriesOf(step.Key))
            Enter(change, Of);
        if (step.Kind == StepKind.Activate)
            foreach (var (t, end) in On(step.Gateway))
                Activate(t, end, Of);
        if (deeds.CertificateOf(step.Key) is { } used && Find(used.TunnelId) is { } certified)
            Of(certified).Add(Altered(certified.End(used.End), [Altering.Certificate]));
        if (step.Kind is StepKind.Cut or StepKind.MoveAddress or StepKind.BounceUplink)
            Uplink(step, begins, Of);
        foreach (var id in deeds.ClearedBy(step.Key))
            if (Find(id) is { } cleared)
                Of(cleared).Add(Blow.Anew($"its SAs are cleared"));
        foreach (var (t, own) in blows.ToArray())
        foreach (
            var wide in own.Where(b => b.Cost?.What is Disturbance.GatewayRestarts or Disturbance.UplinkBounces)
                .ToArray()
        )
            Spread(step, t, wide, ends, Of);

        Befall(step, ends, blows);
    }

    /// <summary>The tunnels that a step touches are rehearsed among each other, as they all stand then.</summary>
    private void Befall(Step step, int ends, Dictionary<CarriedTunnel, List<Blow>> blows)
    {
        var standing = tunnels.Where(blows.ContainsKey).ToDictionary(t => t, Standing);
        if (standing.Count > 0)
            moment = moment.With([.. standing.Values.Select(s => s.Tunnel).OfType<Tunnel>(), .. gateways.Values]);
        var now = standing
            .AsParallel()
            .WithDegreeOfParallelism(Math.Max(1, Environment.ProcessorCount))
            .Select(s => (s.Key, Now: s.Value.Down ?? Negotiating.Of(s.Value.Tunnel!, Around(s.Key), today)))
            .ToDictionary(x => x.Key, x => x.Now);
        foreach (var t in tunnels)
        {
            if (blows.TryGetValue(t, out var own))
                t.Befalls(step.Key, ends, own, now[t]);
            t.Tell();
        }
    }

    /// <summary>The records around a tunnel: where another device carries it by now, with that device.</summary>
    private Inventory Around(CarriedTunnel t)
    {
        var switched = t.Ends.Where(e => e is { Fresh: true, Switched: true }).ToArray();
        return switched.Length == 0 ? moment : moment.With(switched.Select(e => after.Get<Gateway>(e.Gateway.Id)));
    }

    private CarriedTunnel? Find(string tunnelId) => tunnels.FirstOrDefault(t => t.Id == tunnelId);

    private IEnumerable<(CarriedTunnel Tunnel, PlayedEnd End)> On(string? gatewayCode) =>
        tunnels.SelectMany(t => t.Ends.Where(e => e.Gateway.Code == gatewayCode).Select(e => (t, e)));

    /// <summary>Something is entered, and takes effect at once unless the device has to be told to.</summary>
    private void Enter(DeviceEntry change, Func<CarriedTunnel, List<Blow>> on)
    {
        // What several tunnels share on a gateway is altered for all of them.
        var shared = change.Entry.At?.Kind == RecordKind.Gateway ? change.Entry.SharedList : null;
        foreach (var t in tunnels)
        foreach (var end in t.Ends)
        {
            var own = t.Id == change.Tunnel.Was.Tunnel.Id && end.Name == change.End;
            var alike =
                !own && shared is not null && end.Gateway.Id == change.Tunnel.Was.End(change.End).Gateway.Id
                    ? t.Stages.Differs(end.Name).Enter.FirstOrDefault(e => e.After.SharedList == shared)?.After
                    : null;
            if (!own && alike is null)
                continue;
            end.Enter(own ? change : new(t.Stages, end.Name, alike!, Gone: false, Later: false));
            if (shared is not null)
                Shares(end.Gateway.Id);
            if (end.Platform.Effect != Effect.OnActivation)
                Activate(t, end, on);
        }
    }

    private void Activate(CarriedTunnel t, PlayedEnd end, Func<CarriedTunnel, List<Blow>> on)
    {
        var altered = end.Activate();
        var far = t.End(end.Name.Other());
        // A device built beside the old one carries the tunnel once the other end has its address.
        if (far.Fresh && !far.Switched && far.IsReady && altered.Contains(Altering.PeerAddress) && !IsCut(far))
            Take(t, far, on);
        if (end.Fresh && !end.Switched && end.IsReady && !IsCut(end) && !Follows(t, far))
            Take(t, end, on);
        if (altered.Length > 0)
            on(t).Add(Altered(end, altered));
        else if (end.IsEmpty && end.IsReady)
            on(t).Add(new() { Cost = new(Disturbance.Nothing, 0), Why = $"it is entered at {end.Name}" });
        if (end.Gone)
            on(t).Add(Blow.Anew($"it is removed at {end.Name}"));
    }

    private static bool Follows(CarriedTunnel t, PlayedEnd far) =>
        t.Stages.Differs(far.Name).Enter.Any(e => AlteredBy.Of(e.After) == Altering.PeerAddress);

    private bool IsCut(PlayedEnd end) => steps.Any(s => s.Kind == StepKind.Cut && s.Gateway == end.Gateway.Code);

    private static void Take(CarriedTunnel t, PlayedEnd end, Func<CarriedTunnel, List<Blow>> on)
    {
        end.Switch();
        on(t).Add(Blow.Anew($"the new device takes it over at {end.Name}"));
    }

    /// <summary>The dearest of what altering these interrupts, by the profile of the device.</summary>
    private static Blow Altered(PlayedEnd end, ImmutableArray<Altering> what)
    {
        var dearest = what.MaxBy(a => end.Platform.CostOf(a) is { } c ? ((int)c.What, c.Seconds ?? 0) : (-1, 0));
        var unsaid = what.Where(a => end.Platform.CostOf(a) is null).ToArray();
        var cost = end.Platform.CostOf(dearest);
        if (end.Platform.Effect is null)
            return new()
            {
                Cost = null,
                Why = $"the profile of {end.Platform.Title:w} does not say when entries take effect",
            };
        if (unsaid.Length > 0 && cost is not { Drops: true })
            return new()
            {
                Cost = null,
                Why =
                    $"the profile of {end.Platform.Title:w} does not say what changing "
                    + $"{Platform.Alterings.Of(unsaid[0]):w} interrupts",
            };
        return new() { Cost = cost, Why = $"{Platform.Alterings.Of(dearest):w} changed at {end.Name}" };
    }

    /// <summary>An uplink is put on another device, gets another address, or goes down and up.</summary>
    private void Uplink(Step step, int begins, Func<CarriedTunnel, List<Blow>> on)
    {
        var moved = On(step.Gateway).ToArray();
        foreach (var (t, end) in moved)
        {
            if (step.Kind == StepKind.Cut && t.MayCarry)
                t.Falls(step.Key, begins, $"the uplink of {end.Gateway.Code} is moved");
            if (step.Kind == StepKind.Cut)
                end.Switch();
            if (step.Kind == StepKind.MoveAddress)
                gateways[end.Gateway.Id] = AtMoment(end.Gateway.Id) with
                {
                    Uplinks = after.Get<Gateway>(end.Gateway.Id).Uplinks,
                };
            on(t)
                .Add(
                    new()
                    {
                        Cost = step.Kind == StepKind.Cut ? new(Disturbance.TunnelRestarts, 0) : end.Platform.UplinkCost,
                        DropsAnyway = true,
                        Why =
                            step.Kind == StepKind.BounceUplink
                                ? Sentence.Of($"the uplink of {end.Gateway.Code} goes down and up")
                                : Sentence.Of($"the uplink of {end.Gateway.Code} is moved"),
                    }
                );
        }
    }

    /// <summary>What restarts a whole gateway, or its uplink, restarts every tunnel there.</summary>
    private void Spread(Step step, CarriedTunnel source, Blow wide, int at, Func<CarriedTunnel, List<Blow>> on)
    {
        var end = source.Ends.FirstOrDefault(e => e.Gateway.Code == step.Gateway) ?? source.Ends[0];
        var why =
            wide.Cost!.What == Disturbance.GatewayRestarts
                ? Sentence.Of($"every tunnel of {end.Gateway.Code} restarts")
                : Sentence.Of($"the uplink of {end.Gateway.Code} goes down and up");
        foreach (var (t, _) in On(end.Gateway.Code).Where(o => o.Tunnel != source))
            if (!on(t).Any(b => b.Drops))
                on(t).Add(wide with { Why = why });
        foreach (var (other, _) in before.On(end.Gateway.Id))
        {
            if (Find(other.Id) is not null || other.State != TunnelState.InService)
                continue;
            if (!others.TryGetValue(other.Id, out var lane))
                others[other.Id] = lane = (other, Negotiating.Of(other, before, today).State, []);
            if (lane.Restarts.All(r => r.Step != step.Key))
                lane.Restarts.Add(new(at, step.Key, wide.Cost.Seconds, Certain: true, why));
        }
    }

    private Gateway AtMoment(string gatewayId) =>
        gateways.GetValueOrDefault(gatewayId) ?? before.Get<Gateway>(gatewayId);

    private void Shares(string gatewayId) =>
        gateways[gatewayId] = AtMoment(gatewayId) with { SharedEntries = after.Get<Gateway>(gatewayId).SharedEntries };

    private static bool IsPending(Uplink uplink) => uplink.Address is { Value: null, Pending: not null };

    private static Gateway Filled(Gateway gateway, Address address) =>
        gateway with
        {
            Uplinks =
            [
                .. gateway.Uplinks.Select(u =>
                    IsPending(u) ? u with { Address = Recorded<UplinkAddress>.Known(new(address, null)) } : u
                ),
            ],
        };

    /// <summary>What is pending at an end will be the address that the other end then has.</summary>
    private static TunnelEnd Filled(TunnelEnd end) =>
        end with
        {
            PeerAddress = end.PeerAddress is { Value: null } ? null : end.PeerAddress,
            TunnelAddress = end.TunnelAddress is { Value: null } ? null : end.TunnelAddress,
        };

    /// <summary>An address of a documentation range (RFC 5737) that stands for one that nobody knows yet.</summary>
    private static Address Unused(int number) => Address.Parse($"192.0.2.{255 - (number % 128)}").Value;

    private Negotiated First(TunnelStages t) =>
        !t.Runs ? new(Carriage.Down, [], Sentence.Of($"nothing of {t.Then.Tunnel} is entered yet"))
        : t.Was.Tunnel.State == TunnelState.Suspended
            ? new(Carriage.Down, [], Sentence.Of($"{t.Then.Tunnel} is suspended"))
        : Negotiating.Of(t.Was.Tunnel, before, today);

    /// <summary>A tunnel as both its devices have it active, or why there is nothing to negotiate.</summary>
    private static (Tunnel? Tunnel, Negotiated? Down) Standing(CarriedTunnel t)
    {
        var (was, then) = (t.Stages.Was.Tunnel, t.Stages.Then.Tunnel);
        if (was.State == TunnelState.Suspended)
            return (null, new(Carriage.Down, [], Sentence.Of($"{then} is suspended")));
        foreach (var end in t.Ends)
            if (end.Gone)
                return (null, new(Carriage.Down, [], Sentence.Of($"it is removed at {end.Name}")));
        foreach (var end in t.Ends)
            if (!end.Stands)
                return (null, new(Carriage.Down, [], Sentence.Of($"not all of it is entered at {end.Name} yet")));
        var form = t.Ends.Aggregate(t.Stages.Ground(t.Stages.Then), (made, e) =>
            Edits.Put(made, TunnelPaths.Of(e.Name).Whole, Edits.Find(e.Form, TunnelPaths.Of(e.Name).Whole))
        );
        if (WrittenTunnel.Form.Read(then.Id, new Fields(form, "", new Reading(IdNames.Instance))) is not { } read)
            return (
                null,
                new(Carriage.Undetermined, [], Sentence.Of($"what stands on the devices in between is no valid entry"))
            );
        return (
            read.WithEnds((_, e) => Filled(e)) with
            {
                State = TunnelState.InService,
                Agreed = read.Agreed with { Pairs = [.. was.Agreed.Pairs.Union(then.Agreed.Pairs)] },
            },
            null
        );
    }
}

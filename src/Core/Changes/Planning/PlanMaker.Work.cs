using Vellumkeep.Core.Changes.Playing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// The work on the devices: one step for each kind of work that differs on an end, as its platform needs it.
/// </summary>
internal sealed partial class PlanMaker
{
    private readonly HashSet<string> activated = [];
    private readonly HashSet<(Place At, string Text)> altered = [];

    /// <summary>Everything that is entered, altered and removed, on every end, and what switches it on.</summary>
    /// <param name="only">The ends that are worked now; null for every one.</param>
    public void WorkEnds(Func<TunnelStages, EndName, bool>? only = null)
    {
        var late = new List<Step>();
        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            // Who takes the new beside the old stops nothing by it, and has to have it before the other end moves.
            var moving = InOrder(t.Then)
                .Where(e => only?.Invoke(t, e.Name) ?? true)
                .OrderBy(e => t.Adds(e.Name) ? 0 : 1)
                .ToArray();
            var ofTunnel = moving.SelectMany(e => WorkOn(t, e)).ToArray();
            // SAs are cleared when both ends have the new, not in between.
            late.AddRange(
                EndsCloseTogether
                    ? ofTunnel.OrderBy(s => Turn(t, s)).ThenByDescending(s => s.Minutes)
                    : ofTunnel.OrderBy(s => s.Kind == StepKind.Clear ? 1 : 0)
            );
        }

        steps.AddRange([.. late.Select(s => Needing(s, [.. steps, .. late]))]);
    }

    /// <summary>What only prepares, what adds, who is managed through the tunnel, what switches, what clears.</summary>
    private static int Turn(TunnelStages t, Step step)
    {
        if (step.Kind == StepKind.Clear)
            return 4;
        var end = t.Then.End(step.Where == Where.A ? EndName.A : EndName.B);
        if (step.Kind == StepKind.Enter && end.Platform.Effect == Effect.OnActivation)
            return 0;
        if (t.Adds(end.Name))
            return 1;
        return end.Gateway.IsManagedThrough(end.Tunnel.Tunnel) ? 2 : 3;
    }

    /// <summary>Adds the building steps of an end, and gives back those of the switch.</summary>
    private List<Step> WorkOn(TunnelStages t, EndView end)
    {
        var late = new List<Step>();
        var work = WorkOf(t, end);
        work = work with { Difference = work.Difference.Without(IsAlteredAlready) };
        if (work.Difference.IsEmpty)
            return late;
        TellDifferences(work);
        WithdrawLater(work);
        if (end.Platform.Effect == Effect.OnRequest)
        {
            Request(work, late);
            return late;
        }

        foreach (var works in Order.Of(onlyTaken: work.Difference.Enter.IsEmpty, t.Goes(end.Name)))
            Enter(work, works, late);
        if (end.Platform.Effect == Effect.OnActivation)
            Activate(work, late);
        if (work.Runs && !ProvenAfresh(work) && KeepsOldSas(work))
            late.Add(Clear(work));
        if (!work.Runs && end.Platform.SubnetsCost?.What == Disturbance.UplinkBounces)
            late.Add(Bounce(work));
        return late;
    }

    /// <summary>
    /// Whether something is entered that is negotiated only anew, and nothing of it makes the device drop its SAs.
    /// </summary>
    private static bool KeepsOldSas(EndWork work)
    {
        var anew = work
            .Difference.Enter.Where(d => d.After.Work is Work.Proposals or Work.Peer or Work.Key)
            .Select(d => work.End.Platform.CostOf(AlteredBy.Of(d.After)))
            .ToArray();
        return anew.Length > 0 && !anew.Any(c => c is { Drops: true });
    }

    /// <summary>Where the new key stands beside the old, forcing the tunnel to reauthenticate proves it.</summary>
    private bool ProvenAfresh(EndWork work) => EndsCloseTogether && work.Adds;

    private static EndWork WorkOf(TunnelStages t, EndView end) =>
        new(t, end, t.Differs(end.Name), Runs: t.Runs && !t.Fresh(end.Name), Adds: t.Adds(end.Name));

    /// <summary>The work on one end of a tunnel.</summary>
    /// <param name="Tunnel">The tunnel before and after.</param>
    /// <param name="End">The end that is worked on.</param>
    /// <param name="Difference">What differs there.</param>
    /// <param name="Runs">Whether anything runs through the device that is worked on.</param>
    /// <param name="Adds">Whether the new stands beside the old for a while.</param>
    private sealed record EndWork(TunnelStages Tunnel, EndView End, EndDifference Difference, bool Runs, bool Adds)
    {
        /// <summary>What tells its steps from those of other ends.</summary>
        public string Key(string what) => $"{what}-{End.Name.Key()}-{Tunnel.Then.Tunnel.Code}";
    }

    /// <summary>What stands beside the new until it is proven.</summary>
    private void WithdrawLater(EndWork work)
    {
        var later = work.Tunnel.Withdraws(work.End.Name);
        foreach (var kind in Enum.GetValues<Work>())
        {
            var enter = later.Enter.Where(d => d.After.Work == kind).ToImmutableArray();
            if (enter.IsEmpty)
                continue;
            var step = Made(
                work,
                StepKind.Withdraw,
                new(
                    $"withdraw-{StepWords.KeyOf(kind)}",
                    StepWords.Minutes(kind),
                    StepWords.Withdraws(kind, work.Tunnel, work.End, enter),
                    enter,
                    []
                ),
                Part.Record
            );
            withdrawn.Add(step);
            Carriers.Take(work.Tunnel.Then.Tunnel.Id, work.End.Name, kind, step.Key, later: true);
        }
    }

    /// <summary>The steps of kinds of work that stand together: one, or one for each entry.</summary>
    private void Enter(EndWork work, Work[] works, List<Step> late)
    {
        var (t, end) = (work.Tunnel, work.End);
        var kind = works[0];
        var enter = work.Difference.Enter.Where(d => works.Contains(d.After.Work)).ToImmutableArray();
        var gone = work.Difference.Remove.Where(d => works.Contains(d.Work)).ToImmutableArray();
        var harmless = kind is Work.Rules or Work.NoNat or Work.Discard;
        // What only lets something pass goes when nothing uses it any more.
        var goneLater = harmless && gone.Length > 0;
        if (enter.Length > 0 || (gone.Length > 0 && !goneLater))
        {
            var activates = end.Platform.Effect == Effect.OnActivation;
            // Where each tunnel is activated for itself, what is entered for the others must not be taken along.
            var waits = activates && (work.Adds || !EndsCloseTogether);
            var part = PartOf(work, kind, harmless || waits);
            foreach (var single in Split(work, kind, enter, goneLater ? [] : gone))
            {
                var step = Made(work, StepKind.Enter, single, part);
                (part == Part.Build ? steps : late).Add(step);
                foreach (var one in works)
                    Carriers.Take(t.Then.Tunnel.Id, end.Name, one, step.Key);
            }
        }

        if (!goneLater)
            return;
        var does = StepWords.Does(kind, t, end, [], gone);
        var later = Made(
            work,
            StepKind.Withdraw,
            new($"withdraw-{StepWords.KeyOf(kind)}", 2, does, [], gone),
            Part.Record
        );
        withdrawn.Add(later);
        foreach (var one in enter.IsEmpty ? works : [])
            Carriers.Take(t.Then.Tunnel.Id, end.Name, one, later.Key);
    }

    /// <summary>A list of the gateway that several tunnels share is altered once.</summary>
    private bool IsAlteredAlready(Entered entered) =>
        entered.Before?.SharedList is { } list
        && list == entered.After.SharedList
        && !altered.Add((entered.After.At!, entered.After.Text));

    private IEnumerable<WorkStep> Split(
        EndWork work,
        Work kind,
        ImmutableArray<Entered> enter,
        ImmutableArray<Entry> gone
    ) =>
        OnlySubnets
            ? new EntryByEntry(work.Tunnel, work.End).Of(kind, enter, gone)
            :
            [
                new(
                    StepWords.KeyOf(kind),
                    StepWords.Minutes(kind),
                    StepWords.Does(kind, work.Tunnel, work.End, enter, gone),
                    enter,
                    gone
                ),
            ];

    private static Part PartOf(EndWork work, Work kind, bool waits)
    {
        if (waits)
            return Part.Build;
        var starts = work.End.Get(Settings.Initiation).Value?.Value == Initiation.Always;
        return work.Runs || kind == Work.Routes || (starts && kind == Work.Peer) ? Part.Switch : Part.Build;
    }

    private Step Made(EndWork work, StepKind kind, WorkStep made, Part part)
    {
        var (key, enter, gone) = (work.Key(made.Key), made.Enter, made.Remove);
        foreach (var p in enter.Select(x => x.After.Pending).OfType<PendingAt>())
        {
            var i = pending.FindIndex(x => x.At.At == p.At);
            if (i >= 0)
                pending[i] = pending[i] with { Steps = pending[i].Steps.Add(key) };
        }

        var later = kind == StepKind.Withdraw && gone.IsEmpty;
        foreach (var entry in made.OnlyPrepares ? [] : enter)
            Deeds.Enter(key, new(work.Tunnel, work.End.Name, entry.After, Gone: false, later));
        foreach (var entry in gone)
            Deeds.Enter(key, new(work.Tunnel, work.End.Name, entry, Gone: true, Later: false));
        // An item of a list is carried by the step that enters or removes that item, whatever else is done to the list.
        foreach (var item in enter.Select(x => x.After).Concat(gone).Select(e => e.Item).OfType<Place>())
            Carriers.Take(item, key, later);
        foreach (var place in made.Carries)
            Carriers.Take(place, key);
        // What several tunnels share stands on the gateway: whoever enters it first carries it.
        foreach (var shared in enter.Select(x => x.After.At).Where(a => a?.Kind == RecordKind.Gateway))
            Carriers.Take(shared!, key);
        return StepWords.At(work.End, kind, part, key, made.Minutes, made.Does) with
        {
            Enter = made.Values ?? [.. enter.Select(Value)],
            Remove = [.. gone.Select(g => Value(g) with { Before = g.Text })],
            Expect = made.Expect,
            Undo = made.Undo ?? StepWords.Undo(work.End, enter, gone),
        };
    }

    private static StepValue Value(Entered entered) => Value(entered.After) with { Before = entered.Before?.Text };

    /// <summary>An entry as a value of a step.</summary>
    private static StepValue Value(Entry entry) =>
        new(entry.Label, entry.Text)
        {
            Key = entry.Key,
            At = entry.At,
            Parts = entry.Parts,
            Waits = entry.Pending?.At,
            OnlyUntil = entry.OnlyUntil,
        };
}

using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>
/// A tunnel as it is and as it will be. Fresh: the device of that end starts empty, because it is another one.
/// </summary>
/// <param name="Mid">Where it stands in between: the new beside the old, until the new is proven; null when it goes in
/// one stroke.</param>
internal sealed record Moving(TunnelView Was, TunnelView Then, TunnelView? Mid = null)
{
    // Asked for by every part of the plan.
    private readonly EndDifference?[] differs = new EndDifference?[2];
    private readonly EndDifference?[] withdraws = new EndDifference?[2];

    private MapNode? wasForm;

    /// <summary>The tunnel as it is, written.</summary>
    public MapNode WasForm => wasForm ??= AfterForm.Of(Was.Tunnel);

    /// <summary>Whether anything runs through it until then.</summary>
    public bool Runs => Was.Tunnel.State is TunnelState.InService or TunnelState.Building or TunnelState.Suspended;

    public bool Fresh(EndName end) =>
        Was.End(end).Gateway.Id != Then.End(end).Gateway.Id || Was.End(end).Platform.Id != Then.End(end).Platform.Id;

    /// <summary>What is done before it is proven.</summary>
    public EndDifference Differs(EndName end) =>
        differs[(int)end] ??= EndDifference.Between(
            Fresh(end) ? [] : Entries.Of(Was.End(end)),
            Entries.Of((Mid ?? Then).End(end))
        );

    /// <summary>Whether nothing of the tunnel stays on an end.</summary>
    public bool Goes(EndName end) => Then.Tunnel.State == TunnelState.Retired && !Differs(end).IsEmpty;

    /// <summary>Whether an end has the new beside the old until the new is proven.</summary>
    public bool Adds(EndName end) => !Withdraws(end).IsEmpty;

    /// <summary>What is withdrawn after it was proven.</summary>
    public EndDifference Withdraws(EndName end) =>
        withdraws[(int)end] ??= Mid is null
            ? new([], [])
            : EndDifference.Between(Entries.Of(Mid.End(end)), Entries.Of(Then.End(end)));
}

/// <summary>
/// Makes steps from what differs on each end between the records before and after, as each end's platform needs them. A
/// kind of change says what the records are to become, adds what is its own, and asks for the parts in turn.
/// </summary>
internal sealed class PlanMaker
{
    private readonly Inventory before;
    private readonly Inventory after;
    private readonly CancellationToken ct;
    private readonly List<Moving> tunnels;
    private readonly List<Step> steps = [];
    private readonly List<Step> withdrawn = [];
    private readonly List<BeforeAfter> differs = [];
    private readonly List<PendingValue> pending = [];
    private readonly Dictionary<(string Tunnel, EndName End, Work Work), string> carriers = [];
    private readonly Dictionary<string, string> activations = [];

    public PlanMaker(
        Inventory before,
        Inventory after,
        IEnumerable<string> tunnelIds,
        DateOnly today,
        Inventory? between = null,
        CancellationToken ct = default
    )
    {
        (this.before, this.after, this.ct) = (before, after, ct);
        tunnels =
        [
            .. tunnelIds.Select(id => new Moving(
                new(before, before.Get<Tunnel>(id), today),
                new(after, after.Get<Tunnel>(id), today),
                between is null ? null : new(between, between.Get<Tunnel>(id), today)
            )),
        ];
    }

    public IReadOnlyList<Moving> Tunnels => tunnels;

    public IReadOnlyList<Step> Steps => steps;

    /// <summary>Several tunnels: what is said has to name its tunnel.</summary>
    private bool Many => tunnels.Count > 1;

    /// <summary>
    /// The ends of a tunnel in the order in which they are worked: who is managed through it first, then who answers,
    /// then who starts.
    /// </summary>
    public static IEnumerable<EndView> InOrder(TunnelView view)
    {
        bool Through(EndView e) =>
            e.Gateway.WayIn?.By.Contains(view.Tunnel.Code, StringComparison.OrdinalIgnoreCase) == true;
        bool Starts(EndView e) => e.Get(Settings.Start).Value?.Value is Start.Always or Start.OnTraffic;
        return new[] { view.B, view.A }.OrderBy(e => Through(e) ? 0 : 1).ThenBy(e => Starts(e) ? 1 : 0);
    }

    public Step Add(
        string key,
        Part part,
        EndView? end,
        int minutes,
        Sentence does,
        ImmutableArray<StepValue>? enter = null,
        Sentence? proof = null,
        Sentence? undo = null,
        Sentence? stops = null,
        string? tunnel = null
    )
    {
        var step = StepWords.New(key, part, end, minutes, does, enter, proof: proof, undo: undo, stops: stops) with
        {
            TunnelId = tunnel ?? end?.Tunnel.Tunnel.Id,
        };
        steps.Add(step);
        return step;
    }

    /// <summary>Way in to each gateway, who has to be asked, and the values that are still pending.</summary>
    public void Prepare()
    {
        foreach (var end in EachGateway().Where(e => e.Gateway.WayIn is not null))
            steps.Add(StepWords.WayIn(end) with { Key = $"prepare-way-{end.Gateway.Code}" });
        foreach (var asked in EachGateway().Where(e => StepWords.Asked(e) is not null).GroupBy(e => e.Owner.Id))
        {
            var end = asked.First();
            Add(
                $"prepare-ask-{end.Owner.Code}",
                Part.Prepare,
                null,
                5,
                $"Agree the time and the values with {end.Owner.Name:w}, who run {Say.And(asked.Select(e => e.Gateway.Code))}."
            );
        }

        var waits = tunnels
            .SelectMany(t => t.Then.Ends)
            .SelectMany(e => Entries.Of(e))
            .Where(e => e.Pending is not null)
            .Select(e => e.Pending!)
            .DistinctBy(p => (p.RecordId, p.Path))
            .ToArray();
        foreach (var p in waits.Where(p => CreatedAt(p) is null))
            Add(
                $"prepare-pending-{p.RecordId}-{p.Path}",
                Part.Prepare,
                null,
                5,
                $"Get the {p.Label:w}{(p.WhoKnows is { } who ? $" from {who}" : "; nobody is named who will know it"):w}{(p.By is { } by ? $", due {Scalars.Write(by)}" : ""):w}, and fill it in here."
            );
        pending.AddRange(waits.Select(p => new PendingValue(p, [])));
    }

    /// <summary>
    /// The end whose gateway is only created by this change, so that its address is known afterwards; null when the
    /// value is waited for otherwise.
    /// </summary>
    private EndView? CreatedAt(PendingAt p) =>
        tunnels.SelectMany(t => t.Then.Ends).FirstOrDefault(e => e.Gateway.Id == p.RecordId && Created(e));

    private static bool Created(EndView end) =>
        end.Platform is { AddressLater: true, Effect: Effect.OnRequest }
        && end.Uplinks.FirstOrDefault()?.Address.Value is null;

    /// <summary>Saved configurations, and what runs now.</summary>
    public void Safeguard()
    {
        foreach (var end in EachGateway().Where(e => !Created(e)))
            Add(
                $"save-{end.Gateway.Code}",
                Part.Safeguard,
                end,
                3,
                $"Save the configuration of {end.Gateway.Code}; note what runs through it: {Say.Count(before.On(end.Gateway.Id).Count(), "tunnel"):w}.",
                proof: $"the saved configuration, with its time"
            );
        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            if (t.Then.Tunnel.Agreed.Pairs.FirstOrDefault() is not { A.Length: > 0 } first)
                continue;
            var (from, to) = (StepWords.PointIn(t.Then.A, first), StepWords.PointIn(t.Then.B, first));
            if (t.Was.Tunnel.State == TunnelState.Suspended)
                Add(
                    $"runs-{t.Was.Tunnel.Code}",
                    Part.Safeguard,
                    null,
                    1,
                    $"{t.Was.Tunnel} is suspended: note what {to} answers to {from}, if anything.",
                    proof: $"the answer, or that there is none",
                    tunnel: t.Was.Tunnel.Id
                );
            else if (t.Runs)
                Add(
                    $"runs-{t.Was.Tunnel.Code}",
                    Part.Safeguard,
                    null,
                    1,
                    $"Show that {t.Was.Tunnel} runs now: from {from} reach {to}. Note both counters.",
                    proof: $"the answer, and the counters of {t.Was.Tunnel} at both ends",
                    tunnel: t.Was.Tunnel.Id
                );
            else
                Add(
                    $"fails-before-{t.Was.Tunnel.Code}",
                    Part.Safeguard,
                    null,
                    2,
                    $"Show that it fails now: from {from} reach {to}.",
                    proof: $"no answer",
                    tunnel: t.Was.Tunnel.Id
                );
        }
    }

    /// <summary>Everything that is entered, altered and taken out, on every end, and what switches it on.</summary>
    public void Work(Func<Moving, EndName, bool>? only = null)
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
            // Associations are cleared when both ends have the new, not in between.
            late.AddRange(
                moving
                    .SelectMany(e => WorkOn(t, e))
                    .OrderBy(s => s.Key.StartsWith("clear-", StringComparison.Ordinal) ? 1 : 0)
            );
        }

        steps.AddRange([.. late.Select(s => Needing(s, steps))]);
    }

    private List<Step> WorkOn(Moving t, EndView end)
    {
        var late = new List<Step>();
        var was = t.Was.End(end.Name);
        var difference = t.Differs(end.Name);
        if (difference.IsEmpty)
            return late;
        // Of an end that starts empty the steps say everything; here it is one line.
        var empty =
            difference.TakeOut.IsEmpty && difference.Enter.All(d => d.Before is null) && difference.Enter.Length > 3;
        if (empty)
            differs.Add(
                new(
                    end.Name,
                    Many ? $"{t.Then.Tunnel.Code} on {end.Gateway.Code}" : $"everything on {end.Gateway.Code}",
                    "nothing",
                    $"{Say.Count(difference.Enter.Length, "entry", "entries")}, as in the steps",
                    []
                )
            );
        foreach (var (b, a) in empty ? [] : difference.Enter)
            differs.Add(
                new(
                    end.Name,
                    Many ? $"{t.Then.Tunnel.Code} {a.Label}" : a.Label,
                    b?.Text ?? "nothing",
                    a.Text,
                    b is null ? [a.Text] : []
                )
            );
        var everythingGoes = t.Goes(end.Name);
        if (everythingGoes)
            differs.Add(
                new(
                    end.Name,
                    Many ? $"{t.Then.Tunnel.Code} on {end.Gateway.Code}" : $"everything on {end.Gateway.Code}",
                    Say.Count(difference.TakeOut.Length, "entry", "entries"),
                    "nothing",
                    []
                )
            );
        foreach (var gone in everythingGoes ? [] : difference.TakeOut)
            differs.Add(
                new(end.Name, Many ? $"{t.Then.Tunnel.Code} {gone.Label}" : gone.Label, gone.Text, "nothing", [])
            );
        var runs = t.Runs && !t.Fresh(end.Name);
        var adds = t.Adds(end.Name);
        var stops = runs && (!adds || end.Platform.Effect == Effect.AtOnce) ? StepWords.Stops(end) : null;
        var later = t.Withdraws(end.Name);
        foreach (var work in Enum.GetValues<Work>())
        {
            if (later.Enter.Where(d => d.After.Work == work).ToImmutableArray() is { Length: > 0 } enter)
                withdrawn.Add(
                    Made(
                        t,
                        end,
                        $"withdraw-{work.ToString().ToLowerInvariant()}",
                        Part.Record,
                        StepWords.Minutes(work),
                        StepWords.Withdraws(work, t, end, enter),
                        enter,
                        [],
                        end.Platform.Keys?.HoldsTwo == true && work == Changes.Work.Key ? null : stops,
                        [],
                        Stage: 2
                    )
                );
        }

        if (end.Platform.Effect == Effect.OnRequest)
        {
            var created = Created(end);
            var minutes = created ? 25 : 1 + ((end.Platform.EffectSeconds ?? 120) / 60);
            Sentence does = created
                ? Sentence.Of(
                    $"Have {end.Gateway.Code} created for {t.Then.Tunnel} with these values; its outer address is known only then, after about {minutes} minutes."
                )
                : Sentence.Of(
                    $"Send one request for {t.Then.Tunnel} on {end.Gateway.Code} with these values; it takes about {Say.Count(minutes, "minute"):w}."
                );
            var step = Made(
                t,
                end,
                "request",
                runs ? Part.Switch : Part.Build,
                minutes,
                does,
                difference.Enter,
                difference.TakeOut,
                stops,
                Enum.GetValues<Work>()
            );
            (runs ? late : steps).Add(step);
            foreach (var p in pending.Select(p => p.At).Where(p => p.RecordId == end.Gateway.Id && created))
                Add(
                    $"prepare-pending-{p.RecordId}-{p.Path}",
                    Part.Build,
                    null,
                    2,
                    $"Get the {p.Label:w}{(p.WhoKnows is { } who ? $" from {who}" : ""):w}{(p.By is { } by ? $", due {Scalars.Write(by)}" : ""):w}, and fill it in here: what needs it is then computed.",
                    tunnel: t.Then.Tunnel.Id
                );
            return late;
        }

        var activates = end.Platform.Effect == Effect.OnActivation;
        var starts = end.Get(Settings.Start).Value?.Value == Start.Always;
        foreach (var works in Order.Of(onlyTaken: difference.Enter.IsEmpty, everythingGoes))
        {
            var work = works[0];
            var enter = difference.Enter.Where(d => works.Contains(d.After.Work)).ToImmutableArray();
            var gone = difference.TakeOut.Where(d => works.Contains(d.Work)).ToImmutableArray();
            var harmless = work is Changes.Work.Rules or Changes.Work.NoTranslation or Changes.Work.Discard;
            // What only lets something pass goes when nothing uses it any more.
            var goneLater = harmless && gone.Length > 0;
            if (enter.Length > 0 || (gone.Length > 0 && !goneLater))
            {
                var part =
                    harmless || activates ? Part.Build
                    : runs || work == Changes.Work.Routes || (starts && work == Changes.Work.Peer) ? Part.Switch
                    : Part.Build;
                var step = Made(
                    t,
                    end,
                    work.ToString().ToLowerInvariant(),
                    part,
                    StepWords.Minutes(work),
                    StepWords.Does(work, t, end, enter, goneLater ? [] : gone),
                    enter,
                    goneLater ? [] : gone,
                    harmless || activates ? null : stops,
                    works
                );
                (part == Part.Build ? steps : late).Add(step);
            }

            if (goneLater)
                withdrawn.Add(
                    Made(
                        t,
                        end,
                        $"withdraw-{work.ToString().ToLowerInvariant()}",
                        Part.Record,
                        2,
                        StepWords.Does(work, t, end, [], gone),
                        [],
                        gone,
                        null,
                        enter.Length > 0 ? [] : works
                    )
                );
        }

        if (activates && !activations.ContainsKey(end.Gateway.Id))
        {
            activations[end.Gateway.Id] = $"activate-{end.Gateway.Code}";
            // A device that is put in the place of another carries nothing yet.
            var idle = t.Fresh(end.Name) && t.Runs;
            late.Add(
                StepWords.New(
                    $"activate-{end.Gateway.Code}",
                    idle ? Part.Build : Part.Switch,
                    end,
                    1 + ((end.Platform.EffectSeconds ?? 0) / 60),
                    idle
                            ? Sentence.Of(
                                $"Activate on {end.Gateway.Code}: the {end.Platform.Title:w} takes all of it in without a complaint; nothing runs through it yet."
                            )
                        : adds
                            ? Sentence.Of(
                                $"Activate on {end.Gateway.Code}: the new stands beside the old, and what is up stays up. Nothing else may be waiting there."
                            )
                        : runs
                            ? Sentence.Of(
                                $"Activate on {end.Gateway.Code}, then clear the old associations of {Named(end)}; nothing else may be waiting there."
                            )
                        : Sentence.Of($"Activate on {end.Gateway.Code}; nothing else may be waiting there."),
                    stops: idle ? null : stops,
                    undo: $"Activate on {end.Gateway.Code} again once the entries are as they were."
                )
            );
        }
        else if (
            !activates
            && runs
            && difference.Enter.Any(d =>
                d.After.Work is Changes.Work.Proposals or Changes.Work.Peer or Changes.Work.Key
            )
        )
            late.Add(
                StepWords.New(
                    $"clear-{end.Name.Key()}-{t.Then.Tunnel.Code}",
                    Part.Switch,
                    end,
                    1,
                    $"Clear the old associations of {t.Then.Tunnel} on {end.Gateway.Code}."
                )
            );
        if (!runs && end.Platform.SubnetsCost?.What == Disturbance.UplinkBounces)
            late.Add(
                StepWords.New(
                    $"bounce-{end.Name.Key()}-{t.Then.Tunnel.Code}",
                    Part.Switch,
                    end,
                    2,
                    $"Take the uplink {end.Uplinks.FirstOrDefault()?.Label ?? "outside"} of {end.Gateway.Code} down and up: a new tunnel is taken in only then.",
                    stops: StepWords.Stops(end)
                )
            );
        return late;
    }

    /// <summary>An activation takes in what every tunnel entered on that gateway.</summary>
    private static Step Needing(Step step, IEnumerable<Step> entered) =>
        !step.Key.StartsWith("activate-", StringComparison.Ordinal)
            ? step
            : step with
            {
                Needs = [.. entered.Where(s => s.Part == Part.Build && s.Gateway == step.Gateway).Select(s => s.Key)],
            };

    private Sentence Named(EndView end)
    {
        var on = tunnels.Where(t => t.Runs && t.Then.Ends.Any(e => e.Gateway.Id == end.Gateway.Id)).ToArray();
        return on.Length == 1
            ? Sentence.Of($"{on[0].Then.Tunnel}")
            : Sentence.Of($"the {Say.Count(on.Length, "tunnel"):w} of this change");
    }

    private Step Made(
        Moving t,
        EndView end,
        string what,
        Part part,
        int minutes,
        Sentence does,
        ImmutableArray<(Entry? Before, Entry After)> enter,
        ImmutableArray<Entry> gone,
        Sentence? stops,
        Work[] works,
        int Stage = 1
    )
    {
        var key = $"{what}-{end.Name.Key()}-{t.Then.Tunnel.Code}";
        if (Stage == 2)
            foreach (var e in enter)
                carriers.TryAdd((t.Then.Tunnel.Id + "/2", end.Name, e.After.Work), key);
        foreach (var work in works)
            carriers.TryAdd((t.Then.Tunnel.Id, end.Name, work), key);
        foreach (var p in enter.Select(x => x.After.Pending).OfType<PendingAt>())
        {
            var i = pending.FindIndex(x => x.At.RecordId == p.RecordId && x.At.Path == p.Path);
            if (i >= 0)
                pending[i] = pending[i] with { Steps = pending[i].Steps.Add(key) };
        }

        return StepWords.New(
            key,
            part,
            end,
            minutes,
            does,
            [
                .. enter.Select(x => new StepValue(x.After.Label, x.After.Text)
                {
                    Key = x.After.Key,
                    Before = x.Before?.Text,
                    Path = x.After.Path,
                    Waits = x.After.Pending?.Path,
                }),
            ],
            stops: stops,
            undo: StepWords.Undo(end, enter, gone)
        ) with
        {
            TunnelId = t.Then.Tunnel.Id,
            TakeOut =
            [
                .. gone.Select(g => new StepValue(g.Label, g.Text)
                {
                    Key = g.Key,
                    Before = g.Text,
                    Path = g.Path,
                }),
            ],
        };
    }

    /// <summary>Proof for each pair in each direction, the associations, and what ran before.</summary>
    public void Prove()
    {
        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            var pairs = t.Then.Tunnel.Agreed.Pairs;
            foreach (var pair in pairs.Take(Many ? 1 : 4))
            {
                var (a, b) = (StepWords.PointIn(t.Then.A, pair), StepWords.PointIn(t.Then.B, pair));
                var before =
                    t.Was.Tunnel.State == TunnelState.Suspended ? "as it was noted before"
                    : t.Runs ? "it answers as before"
                    : "it failed before, it answers now";
                Add(
                    $"prove-{t.Then.Tunnel.Code}-{pair.A}-{pair.B}-ab",
                    Part.Prove,
                    t.Then.A,
                    2,
                    $"From {a} reach {b}: {before:w}.",
                    proof: $"the answer, and the counters of the pair up by about as many as were sent, at both ends"
                );
                Add(
                    $"prove-{t.Then.Tunnel.Code}-{pair.A}-{pair.B}-ba",
                    Part.Prove,
                    t.Then.B,
                    2,
                    $"From {b} reach {a}: {before:w}.",
                    proof: $"the answer, and the same counters"
                );
            }

            var more = pairs.Length - (Many ? 1 : 4);
            var suite = t.Then.A.Get(Settings.IkeProposals).Value?.Items.FirstOrDefault();
            if (t.Was.Tunnel.State == TunnelState.Suspended)
                continue;
            Add(
                $"prove-up-{t.Then.Tunnel.Code}",
                Part.Prove,
                null,
                2,
                $"Look at {t.Then.Tunnel} on both ends: IKE SA and child SA up{(suite is null ? "" : " with "):w}{suite?.ToString() ?? ""}{(more > 0 ? $"; try {Say.The(more, "further pair")} as well" : ""):w}.",
                proof: $"both associations with their algorithms and time left",
                tunnel: t.Then.Tunnel.Id
            );
        }

        ProveRest();
    }

    public void ProveRest()
    {
        var others = EachGateway()
            .Select(e =>
                (e.Gateway, Count: before.On(e.Gateway.Id).Count(o => tunnels.All(t => t.Was.Tunnel.Id != o.Tunnel.Id)))
            )
            .Where(g => g.Count > 0)
            .ToArray();
        if (others.Length > 0)
            Add(
                "prove-rest",
                Part.Prove,
                null,
                2,
                $"Show that what ran before still runs: {Say.And(others.Select(o => $"{Say.Count(o.Count, "other tunnel")} of {o.Gateway.Code}")):w}.",
                proof: $"counters still rising"
            );
    }

    /// <summary>That a step carries an edit that is given to <see cref="Done"/> besides those of the tunnels.</summary>
    public void Carry(string step, int edit)
    {
        var i = steps.FindIndex(s => s.Key == step);
        steps[i] = steps[i] with { Edits = steps[i].Edits.Add(edit) };
    }

    /// <summary>What is withdrawn, saved configurations, and the closing.</summary>
    public void Record(params IEnumerable<Step> besides)
    {
        steps.AddRange(withdrawn);
        foreach (var t in tunnels.Where(t => Enum.GetValues<EndName>().Any(t.Adds)))
            Add(
                $"prove-after-{t.Then.Tunnel.Code}",
                Part.Record,
                null,
                2,
                $"Have {t.Then.Tunnel} authenticate afresh once more: it stands on the new alone.",
                proof: $"both associations, and the counters",
                tunnel: t.Then.Tunnel.Id
            );
        steps.AddRange(besides);
        foreach (var end in EachGateway())
            steps.Add(StepWords.SaveAfter(end) with { Key = $"save-after-{end.Gateway.Code}" });
        var told = tunnels.SelectMany(t => t.Then.Ends).Select(e => e.Owner.Name).Distinct().ToArray();
        Add(
            "record",
            Part.Record,
            null,
            2,
            $"Close the change: the inventory takes what was really set, and {Say.And(told.Take(6)):w}{(told.Length > 6 ? $" and {told.Length - 6} more" : ""):w} {(told.Length == 1 ? "is" : "are"):w} told."
        );
    }

    /// <summary>The gateway that the whole is about, which is worked on whatever differs for its tunnels.</summary>
    public string? Main { get; init; }

    /// <summary>
    /// One end for each gateway that has something to do, in the order of the tunnels; the one that the whole is about
    /// first.
    /// </summary>
    private IEnumerable<EndView> EachGateway() =>
        tunnels
            .SelectMany(t => InOrder(t.Then).Where(e => e.Gateway.Id == Main || !t.Differs(e.Name).IsEmpty))
            .DistinctBy(e => e.Gateway.Id)
            .OrderBy(e => e.Gateway.Id == Main ? 0 : 1);

    public Plan Done(Sentence opening, IEnumerable<Edit>? besides = null, IEnumerable<VerdictPart>? said = null)
    {
        var edits = (besides ?? []).ToList();
        var carried = new Dictionary<string, List<int>>();
        void Edited(Moving t, Tunnel from, Tunnel to, string stage)
        {
            var (was, then) = (ReferenceEquals(from, t.Was.Tunnel) ? t.WasForm : AfterForm.Of(from), AfterForm.Of(to));
            foreach (var path in Edits.Between(was, then).SelectMany(m => Values(m.Path, was, then)).Distinct())
            {
                edits.Add(
                    new(t.Then.Tunnel.Id, RecordKind.Tunnel, path, Edits.Find(was, path), Edits.Find(then, path))
                );
                if (
                    WorkOf(path) is var (end, work)
                    && carriers.TryGetValue((t.Then.Tunnel.Id + stage, end, work), out var key)
                )
                    (carried.TryGetValue(key, out var list) ? list : carried[key] = []).Add(edits.Count - 1);
            }
        }

        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            Edited(t, t.Was.Tunnel, (t.Mid ?? t.Then).Tunnel, "");
            if (t.Mid is not null)
                Edited(t, t.Mid.Tunnel, t.Then.Tunnel, "/2");
        }

        for (var i = 0; i < steps.Count; i++)
            if (carried.TryGetValue(steps[i].Key, out var mine))
                steps[i] = steps[i] with { Edits = [.. steps[i].Edits, .. mine] };
        var judged = Judged.Of(before, after, tunnels, ct);
        var plan = new Plan(
            [],
            [],
            [.. differs],
            [.. edits],
            [.. steps.OrderBy(s => s.Part)],
            judged.Added,
            judged.Removed,
            judged.Standing,
            RestsOn()
        )
        {
            Pending = [.. pending],
            Touches = PlanEffects.Touches(steps, tunnels, before),
            Interruptions = PlanEffects.Interruptions(steps, tunnels),
            Rehearsals = judged.Rehearsals,
        };
        var verdict = new List<VerdictPart> { new(Tone.Plain, opening) };
        foreach (var blocking in judged.Added.Where(f => f.Finding.Severity == Severity.Blocks).Take(2))
            verdict.Add(new(Tone.Stops, blocking.Finding.Consequence ?? blocking.Finding.What));
        verdict.AddRange(said ?? []);
        verdict.AddRange(PlanEffects.Temporary(tunnels));
        foreach (var p in pending)
            verdict.Add(
                new(
                    Tone.Weak,
                    Sentence.Of(
                        $"The {p.At.Label:w} is pending{(p.At.WhoKnows is { } who ? $": {who} will know it" : ""):w}{(p.At.By is { } by ? $", by {Scalars.Write(by)}" : ""):w}."
                    )
                )
            );
        return plan with { Verdict = [.. verdict] };
    }

    private ImmutableArray<RestsOn> RestsOn()
    {
        var rests = new List<RestsOn>();
        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            var form = t.WasForm;
            rests.AddRange(
                new[] { "state", "form", "agreed", "a", "b" }.Select(p => new RestsOn(
                    t.Was.Tunnel.Id,
                    RecordKind.Tunnel,
                    p,
                    Edits.Find(form, p)
                ))
            );
        }

        foreach (
            var gateway in tunnels
                .SelectMany(t => t.Was.Ends.Concat(t.Then.Ends))
                .Select(e => e.Gateway.Id)
                .Distinct()
                .Select(id => before.Find<Gateway>(id))
                .OfType<Gateway>()
        )
        {
            var form = WrittenGateway.Form.Write(gateway, IdNames.Instance);
            rests.AddRange(
                new[] { "platform", "heldParts", "uplinks", "runBy" }.Select(p => new RestsOn(
                    gateway.Id,
                    RecordKind.Gateway,
                    p,
                    Edits.Find(form, p)
                ))
            );
        }

        return [.. rests];
    }

    /// <summary>
    /// A difference as the values that it is of: what is recorded of a value (how it was seen, whether it is temporary)
    /// moves with the value, and each setting for itself, so that a step carries its own and a deviation alters no
    /// other.
    /// </summary>
    private static IEnumerable<string> Values(string path, MapNode was, MapNode then)
    {
        var parts = path.Split('.');
        if (parts.Length < 2 || parts[0] is not ("a" or "b"))
            return [path];
        if (parts[1] == "set")
            return parts.Length > 2
                ? [string.Join('.', parts.Take(3))]
                : new[] { was, then }
                    .SelectMany(f => (Edits.Find(f, path) as MapNode)?.Entries.Select(e => $"{path}.{e.Key}") ?? [])
                    .Distinct();
        if (
            parts[1]
            is "peerAddress"
                or "identitySent"
                or "identityExpected"
                or "tunnelAddress"
                or "keyHeld"
                or "routing"
                or "certificate"
        )
            return [$"{parts[0]}.{parts[1]}"];
        if (parts[1] is not ("rules" or "noTranslation" or "routes"))
            return [path];
        // Each item of a list for itself, also where there was no list, and where the list was seen.
        var list = $"{parts[0]}.{parts[1]}";
        return path.Contains(".is[", StringComparison.Ordinal) ? [path.Replace(".is[", "[", StringComparison.Ordinal)]
            : Edits.Find(was, list) is null && Edits.Find(then, list) is ListNode made
                ? made.Items.Select(i => $"{list}[{Edits.KeyOf(i)}]")
            : [list];
    }

    internal static (EndName End, Work Work)? WorkOf(string path)
    {
        if (path.Length < 3 || path[1] != '.' || path[0] is not ('a' or 'b'))
            return null;
        var end = path[0] == 'a' ? EndName.A : EndName.B;
        var rest = path[2..];
        var part = rest.Split('.', '[')[0];
        Work? work = part switch
        {
            "set" => rest.Split('.', '[') is [_, var key, ..] && Entries.Protects(key)
                ? Changes.Work.Proposals
                : Changes.Work.Options,
            "proposalsFrom" => Changes.Work.Proposals,
            "peerAddress" or "identitySent" or "identityExpected" or "keyFor" => Changes.Work.Peer,
            "keyHeld" or "certificate" or "anchors" => Changes.Work.Key,
            "subnets" => Changes.Work.Selectors,
            "rules" => Changes.Work.Rules,
            "noTranslation" => Changes.Work.NoTranslation,
            "routes" => rest.StartsWith("routes[discard ", StringComparison.Ordinal)
                ? Changes.Work.Discard
                : Changes.Work.Routes,
            "tunnelAddress" => Changes.Work.Interface,
            "routing" => Changes.Work.Routing,
            _ => null,
        };
        return work is { } w ? (end, w) : null;
    }
}

/// <summary>The findings that a change adds, takes away and leaves, and what its tunnels do before and after.</summary>
internal sealed record Judged(
    ImmutableArray<FindingOn> Added,
    ImmutableArray<FindingOn> Removed,
    ImmutableArray<FindingOn> Standing,
    ImmutableArray<Rehearsed> Rehearsals
)
{
    public static Judged Of(Inventory before, Inventory after, IReadOnlyList<Moving> tunnels, CancellationToken ct)
    {
        var own = tunnels.Select(t => t.Was.Tunnel.Id).ToHashSet();
        var others = Neighbours(before, tunnels, own);
        var today = tunnels[0].Was.Today;

        (ImmutableArray<FindingOn> Findings, ImmutableArray<VerdictPart> Verdict) Look(Inventory inventory, string id)
        {
            var about = new Checked(new(inventory, inventory.Get<Tunnel>(id), today));
            var found = Checks.Run(about);
            return (
                [
                    .. found
                        .Where(f => own.Contains(id) || f.Severity <= Severity.Degrades)
                        .Select(f => new FindingOn(id, about.View.Tunnel.Code, f)),
                ],
                own.Contains(id) ? Verdict.Of(about, found) : []
            );
        }

        var looked = own.Concat(others)
            .AsParallel()
            .AsOrdered()
            .WithCancellation(ct)
            .WithDegreeOfParallelism(Math.Max(1, Environment.ProcessorCount / 2))
            .Select(id => (Id: id, Was: Look(before, id), Then: Look(after, id)))
            .ToArray();
        static (string, string, string) About(FindingOn f) => (f.TunnelId, f.Finding.Code, f.Finding.Subject);
        static ((string, string, string), Severity) Same(FindingOn f) => (About(f), f.Finding.Severity);
        // What is entered under a change is seen when its step is done: that nobody confirmed it yet (PAIR-19, PAIR-20)
        // is no news of it.
        static bool Counts(FindingOn f) => f.Finding.Code is not ("PAIR-19" or "PAIR-20");
        var was = looked.SelectMany(l => l.Was.Findings).ToArray();
        var then = looked.SelectMany(l => l.Then.Findings).ToArray();
        var (had, has) = (was.Select(Same).ToHashSet(), then.Select(About).ToHashSet());
        var grave = was.GroupBy(About).ToDictionary(g => g.Key, g => g.Min(f => f.Finding.Severity));
        return new(
            [
                .. then.Where(f => Counts(f) && !had.Contains(Same(f)))
                    .Select(f => f with { Was = grave.TryGetValue(About(f), out var before) ? before : null }),
            ],
            [.. was.Where(f => Counts(f) && !has.Contains(About(f)))],
            [.. then.Where(f => had.Contains(Same(f)) && own.Contains(f.TunnelId))],
            [
                .. looked
                    .Where(l => own.Contains(l.Id))
                    .Select(l => new Rehearsed(l.Id, before.Get<Tunnel>(l.Id).Code, l.Was.Verdict, l.Then.Verdict)),
            ]
        );
    }

    /// <summary>
    /// The tunnels of the same gateways that can notice: what they send or are found by meets, before or after, what
    /// these have there, or they use one of the same held parts.
    /// </summary>
    private static string[] Neighbours(Inventory before, IReadOnlyList<Moving> tunnels, HashSet<string> own)
    {
        var found = new HashSet<string>();
        foreach (var (end, far) in tunnels.SelectMany(t => t.Was.Ends.Concat(t.Then.Ends)).Select(e => (e, e.Other)))
        {
            var remotes = end.Tunnel.Tunnel.Agreed.Pairs.Select(p => p.On(far.Name)).Distinct().ToArray();
            var peer = end.PeerAddress.Value;
            string?[] held = [end.End.Subnets?.OwnFrom, end.End.Subnets?.PeerFrom, end.End.ProposalsFrom];
            foreach (var (other, at) in before.On(end.Gateway.Id).Where(o => !own.Contains(o.Tunnel.Id)))
            {
                var theirs = other.End(at);
                if (
                    other.Agreed.Pairs.Any(p => remotes.Any(r => r.Overlaps(p.On(at.Other()))))
                    || (
                        peer is not null
                        && (
                            theirs.PeerAddress?.Value == peer
                            || (
                                theirs.PeerAddress is null
                                && before
                                    .Find<Gateway>(other.End(at.Other()).GatewayId)
                                    ?.Uplinks.Any(u => u.Outer is { } o && o == peer.Address) == true
                            )
                        )
                    )
                    || (
                        end.End.TunnelAddress?.Value is { } inner
                        && theirs.TunnelAddress?.Value?.Address == inner.Address
                    )
                    || held.Any(h =>
                        h is not null
                        && (h == theirs.Subnets?.OwnFrom || h == theirs.Subnets?.PeerFrom || h == theirs.ProposalsFrom)
                    )
                )
                    found.Add(other.Id);
            }
        }

        return [.. found.Order(StringComparer.Ordinal)];
    }
}

using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>Plans a change of kind subnets. A pure function of the records, the wish and the day.</summary>
public sealed class SubnetsPlanner
{
    private readonly TunnelView view;
    private readonly SubnetsWish wish;
    private readonly ImmutableArray<TunnelSide> together;
    private readonly EndView near;
    private readonly EndView far;
    private readonly ImmutableArray<SubnetPair> added;
    private readonly List<Edit> edits = [];
    private readonly List<Step> steps = [];
    private readonly List<BeforeAfter> differs = [];
    private readonly List<VerdictPart> heldSaid = [];

    private SubnetsPlanner(
        TunnelView view,
        SubnetsWish wish,
        ImmutableArray<TunnelSide> together,
        ImmutableArray<SubnetPair> added
    ) =>
        (this.view, this.wish, this.together, this.added, near, far) = (
            view,
            wish,
            together,
            added,
            view.End(wish.End),
            view.End(wish.End.Other())
        );

    /// <param name="together">Other tunnels that gain the same prefixes in the same change: a list that serves only
    /// them and this one is altered for all at once.</param>
    /// <returns>The plan, or why there is none; and the records as it would leave them.</returns>
    public static (Planned Planned, Inventory? After) Plan(
        Inventory inventory,
        SubnetsWish wish,
        DateOnly today,
        ImmutableArray<TunnelSide> together = default,
        CancellationToken ct = default
    )
    {
        var view = new TunnelView(inventory, inventory.Get<Tunnel>(wish.TunnelId), today);
        var (pairs, refused) = Refuse(view, wish);
        if (refused.Count > 0)
            return (Planned.No(refused), null);
        var planner = new SubnetsPlanner(view, wish, together.IsDefault ? [] : together, pairs);
        return (new(planner.Make(ct), []), planner.After());
    }

    private static (ImmutableArray<SubnetPair>, List<Refusal>) Refuse(TunnelView view, SubnetsWish wish)
    {
        var tunnel = view.Tunnel;
        var refused = new List<Refusal>();
        var (near, far) = (view.End(wish.End), view.End(wish.End.Other()));
        if (tunnel.State is TunnelState.Retired)
            refused.Add(new(null, "tunnel", $"{tunnel} is retired.", $"Choose a tunnel that is in service."));
        var there = tunnel.Agreed.Pairs.Select(p => p.On(far.Name)).Distinct().ToArray();
        var reach = wish.Reach.IsEmpty ? [.. there] : wish.Reach;
        if (wish.Add.IsEmpty)
            refused.Add(
                new(
                    null,
                    "add",
                    $"No prefix is named.",
                    $"Name at least one prefix behind {near.Name}, such as {(near.Site.Networks.FirstOrDefault()?.Prefix.ToString() ?? "10.61.40.0/24")}."
                )
            );
        if (reach.IsEmpty)
            refused.Add(
                new(
                    null,
                    "reach",
                    $"{tunnel} carries no subnet behind {far.Name} yet.",
                    $"Say which prefixes behind {far.Name} should be reached."
                )
            );
        foreach (var unknown in wish.Reach.Where(r => !there.Contains(r)))
            refused.Add(
                new(
                    null,
                    "reach",
                    $"{unknown} behind {far.Name} is not carried by {tunnel}.",
                    $"One of {Say.And(there.Select(t => t.ToString()))}, or a change of its own on side {far.Name}."
                )
            );
        var pairs = new List<SubnetPair>();
        foreach (var prefix in wish.Add.Distinct())
        {
            foreach (var r in reach.Where(r => r.Family == prefix.Family))
            {
                var pair = wish.End == EndName.A ? new SubnetPair(prefix, r) : new SubnetPair(r, prefix);
                if (tunnel.Agreed.Pairs.Contains(pair))
                    refused.Add(new(null, "add", $"{prefix} already reaches {r} in {tunnel}.", $"Leave it out."));
                else if (
                    tunnel
                        .Agreed.Pairs.Where(p => p.On(far.Name) == r && p.On(near.Name).Overlaps(prefix))
                        .Select(p => (SubnetPair?)p)
                        .FirstOrDefault() is
                    { } held
                )
                    refused.Add(
                        new(
                            "ADR-08",
                            "add",
                            $"{prefix} overlaps {held.On(near.Name)}, which already reaches {r} in {tunnel}.",
                            $"Widening a prefix is one removed and one added; choose a prefix beside {held.On(near.Name)}."
                        )
                    );
                if (prefix.Overlaps(r))
                    refused.Add(
                        new(
                            "ADR-04",
                            "add",
                            $"{prefix} behind {near.Name} would overlap {r} behind {far.Name} of {tunnel}.",
                            $"Present one of them as another prefix of the same length inside the tunnel."
                        )
                    );
                pairs.Add(pair);
            }

            if (reach.Length > 0 && reach.All(r => r.Family != prefix.Family))
                refused.Add(
                    new(
                        null,
                        "add",
                        $"{prefix} is {prefix.Family.ToString():w}; {tunnel} carries nothing of that family behind {far.Name}.",
                        $"A prefix of the same family as {reach[0]}."
                    )
                );
            foreach (var n in far.Site.Networks.Where(n => n.Prefix.Overlaps(prefix)))
                refused.Add(
                    new(
                        "ADR-02",
                        "add",
                        $"{prefix} overlaps {n.Prefix} ({n.Name:w}), which already lives behind {far.Name} at {far.Site.Name:w}.",
                        $"Present {prefix} as a prefix that {far.Site.Name:w} does not use."
                    )
                );
            foreach (
                var (other, end) in view
                    .Inventory.On(far.Gateway.Id)
                    .Where(o => o.Tunnel.Id != tunnel.Id && o.Tunnel.End(o.End).Inside == far.End.Inside)
            )
            foreach (
                var taken in other.Agreed.Pairs.Select(p => p.On(end.Other())).Distinct().Where(t => t.Overlaps(prefix))
            )
                refused.Add(
                    new(
                        "ADR-03",
                        "add",
                        $"{prefix} overlaps {Argument.Of(other, taken)} of {other}, which {far.Gateway.Code} at {far.Name} already sends there.",
                        $"Another prefix, or another routing instance on {far.Gateway.Code}."
                    )
                );
        }

        foreach (
            var (x, y) in from i in Enumerable.Range(0, wish.Add.Length)
            from j in Enumerable.Range(0, i)
            where wish.Add[i].Overlaps(wish.Add[j]) && wish.Add[i] != wish.Add[j]
            select (wish.Add[j], wish.Add[i])
        )
            refused.Add(new("ADR-08", "add", $"{x} and {y} overlap each other.", $"Name only the wider one."));
        return ([.. pairs.Distinct()], refused.DistinctBy(r => (r.Code, r.Wrong.ToString())).ToList());
    }

    private Plan Make(CancellationToken ct)
    {
        foreach (var pair in added)
            edits.Add(
                new(
                    view.Tunnel.Id,
                    RecordKind.Tunnel,
                    $"agreed.pairs[{pair.A} - {pair.B}]",
                    null,
                    new MapWriter().Add("a", pair.A.ToString()).Add("b", pair.B.ToString()).Done()
                )
            );
        differs.Add(
            new(
                null,
                "subnet pairs wanted",
                Say.Count(view.Tunnel.Agreed.Pairs.Length, "pair"),
                Say.Count(view.Tunnel.Agreed.Pairs.Length + added.Length, "pair"),
                [.. added.Select(view.NameOf)]
            )
        );

        // The end that answers comes before the end that starts, so that nothing asks before it can be answered.
        var nearStarts = near.Get(Settings.Start).Value?.Value is Start.Always or Start.OnTraffic;
        var farStarts = far.Get(Settings.Start).Value?.Value is Start.Always or Start.OnTraffic;
        EndView[] order =
            farStarts && !nearStarts ? [near, far]
            : nearStarts && !farStarts ? [far, near]
            : [view.B, view.A];

        Prepare();
        foreach (var end in view.Ends)
            Safeguard(end);
        FailsBefore();
        var waiting = new Dictionary<EndName, List<Step>>();
        foreach (var end in order)
            waiting[end.Name] = Build(end);
        foreach (var end in order)
            steps.AddRange(waiting[end.Name]);
        Prove();
        foreach (var end in order.Reverse())
            Record(end);
        steps.Add(
            new(
                "record",
                Part.Record,
                Where.Us,
                null,
                $"Close the change: the inventory takes what was really set, and {Say.And(ToTell()):w} {(ToTell().Count() == 1 ? "is" : "are"):w} told.",
                [],
                [],
                null,
                2,
                null,
                null,
                [],
                []
            )
        );

        var after = After();
        var moving = new Moving(view, new(after, after.Get<Tunnel>(view.Tunnel.Id), view.Today));
        var judged = Judged.Of(view.Inventory, after, [moving], ct);
        return new(
            [.. Verdict(judged.Added), .. PlanEffects.Temporary([moving])],
            added,
            [.. differs],
            [.. edits],
            [.. steps],
            judged.Added,
            judged.Removed,
            judged.Standing,
            RestsOn()
        )
        {
            Interruptions = PlanEffects.Interruptions(steps, [moving]),
            Touches = PlanEffects.Touches(steps, [moving], view.Inventory),
            Rehearsals = judged.Rehearsals,
        };
    }

    /// <summary>The inventory as the plan would leave it, when every step is done as planned.</summary>
    private Inventory After()
    {
        var tunnel = Rebuilt(
            view.Tunnel,
            WrittenTunnel.Form.Write(view.Tunnel, IdNames.Instance),
            WrittenTunnel.Form.Read
        );
        var gateway = edits
            .Where(e => e.Kind == RecordKind.Gateway)
            .Select(e => e.RecordId)
            .Distinct()
            .Select(id => view.Inventory.Get<Gateway>(id))
            .Select(g => (IRecord)Rebuilt(g, WrittenGateway.Form.Write(g, IdNames.Instance), WrittenGateway.Form.Read));
        return view.Inventory.With([tunnel, .. gateway]);

        T Rebuilt<T>(T record, MapNode form, Func<string, Fields, T?> read)
            where T : class, IRecord
        {
            var reading = new Reading(IdNames.Instance);
            return read(record.Id, new Fields(form.With(edits.Where(e => e.RecordId == record.Id)), "", reading))
                ?? throw new InvalidOperationException(
                    $"The plan would leave {record.Code} unreadable: {reading.Problems[0].Field}: {reading.Problems[0].Wrong}"
                );
        }
    }

    private void Prepare()
    {
        foreach (var end in view.Ends.Where(e => e.Gateway.WayIn is not null))
            steps.Add(StepWords.WayIn(end));
        foreach (var end in view.Ends.Where(e => StepWords.Asked(e) is not null))
            Add(
                $"prepare-ask-{end.Name.Key()}",
                Part.Prepare,
                null,
                5,
                $"Agree the time and the values with {end.Owner.Name:w}, who run {end.Gateway.Code} at {end.Name}."
            );
    }

    private void Safeguard(EndView end)
    {
        var running = view.Inventory.On(end.Gateway.Id).Count();
        Add(
            $"save-{end.Name.Key()}",
            Part.Safeguard,
            end,
            3,
            $"Save the configuration of {end.Gateway.Code}; note what runs through it: {Say.Count(running, "tunnel"):w}.",
            proof: $"the saved configuration, with its time"
        );
    }

    private void FailsBefore()
    {
        var first = added[0];
        Add(
            "fails-before",
            Part.Safeguard,
            null,
            2,
            $"Show that it fails now: from {StepWords.PointIn(near, first)} reach {StepWords.PointIn(far, first)}. Note both counters.",
            proof: $"no answer, and the counters of {view.Tunnel} at both ends"
        );
    }

    /// <summary>
    /// Adds the building steps of an end and gives back those that belong to the switch, which wait until both ends are
    /// built.
    /// </summary>
    private List<Step> Build(EndView end)
    {
        var later = new List<Step>();
        var e = end.Name.Key();
        var platform = end.Platform;
        var activates = platform.Effect == Effect.OnActivation;
        var isNear = end.Name == near.Name;
        var before = steps.Count;

        foreach (var pair in added)
        {
            Prefix own = pair.On(end.Name),
                peer = pair.On(end.Name.Other());
            var slug = $"{e}-{own}-{peer}";
            var brief = Brief(pair);
            if (platform.MadeByHand("rules") ?? end.End.Rules is not null)
            {
                int[] Carried(RuleWay way) =>
                    end.End.Rules is null
                        ? []
                        :
                        [
                            Edit(
                                $"{e}.rules[{Rule.Ways.Of(way)} {own} - {peer}]",
                                WrittenTunnel.Write(new Rule(way, own, peer))
                            ),
                        ];
                Add(
                    $"rule-in-{slug}",
                    Part.Build,
                    end,
                    2,
                    $"Let traffic in: from {peer} to {own}, any service.",
                    [new("from", $"{peer}"), new("to", $"{own}"), new("name", StepWords.Name(end, $"{brief}-in"))],
                    undo: $"Take out the rule in from {peer} to {own} on {end.Gateway.Code}.",
                    edits: Carried(RuleWay.In)
                );
                Add(
                    $"rule-out-{slug}",
                    Part.Build,
                    end,
                    2,
                    $"Let traffic out: from {own} to {peer}, any service.",
                    [new("from", $"{own}"), new("to", $"{peer}"), new("name", StepWords.Name(end, $"{brief}-out"))],
                    undo: $"Take out the rule out from {own} to {peer} on {end.Gateway.Code}.",
                    edits: Carried(RuleWay.Out)
                );
            }

            if (platform.MadeByHand("no-translation") ?? end.End.NoTranslation is not null)
                Add(
                    $"no-translation-{slug}",
                    Part.Build,
                    end,
                    2,
                    $"Leave {own} to {peer} untranslated, ahead of every translation rule.",
                    [new("own", $"{own}"), new("peer", $"{peer}"), new("name", StepWords.Name(end, $"{brief}-plain"))],
                    undo: $"Take out the no-translation rule from {own} to {peer} on {end.Gateway.Code}.",
                    edits: end.End.NoTranslation is null
                        ? []
                        : [Edit($"{e}.noTranslation[{own} - {peer}]", WrittenTunnel.Write(new OwnPeer(own, peer)))]
                );
        }

        if (end.End.Rules?.Value is { } rules && platform.MadeByHand("rules") != false)
            differs.Add(
                new(
                    end.Name,
                    "firewall rules",
                    Say.Count(rules.Items.Length, "rule"),
                    Say.Count(rules.Items.Length + (2 * added.Length), "rule"),
                    [.. added.Select(p => $"{Label(p)}, each way")]
                )
            );
        if (end.End.NoTranslation?.Value is { } plain && platform.MadeByHand("no-translation") != false)
            differs.Add(
                new(
                    end.Name,
                    "no-translation rules",
                    Say.Count(plain.Items.Length, "rule"),
                    Say.Count(plain.Items.Length + added.Length, "rule"),
                    [.. added.Select(Label)]
                )
            );

        var routed = view.Tunnel.Form == TunnelForm.RouteBased;
        var remotes = routed && !isNear ? wish.Add : [];
        foreach (var remote in remotes)
            if (platform.MadeByHand("discard route") == true)
                Add(
                    $"discard-{e}-{remote}",
                    Part.Build,
                    end,
                    1,
                    $"Add a discard route to {remote}, less preferred than the tunnel, so that nothing leaks while it is down.",
                    [new("to", $"{remote}"), new("into", "discard")],
                    undo: $"Take out the discard route to {remote} on {end.Gateway.Code}.",
                    edits: end.End.Routes is null
                        ? []
                        : [Edit($"{e}.routes[discard {remote}]", WrittenTunnel.Write(new Route(remote, true)))]
                );

        Selectors(end, isNear, activates, later);

        Neighbour(end, isNear, activates ? steps : later, activates ? Part.Build : Part.Switch);
        foreach (var remote in remotes)
            if (platform.MadeByHand("route") == true && (end.End.Routing is null || end.End.Routes is not null))
                later.Add(
                    StepWords.New(
                        $"route-{e}-{remote}",
                        Part.Switch,
                        end,
                        1,
                        $"Add the route to {remote} into the tunnel of {view.Tunnel}.",
                        [new("to", $"{remote}"), new("into", "tunnel")],
                        undo: $"Take out the route to {remote} into the tunnel on {end.Gateway.Code}.",
                        edits: end.End.Routes is null
                            ? []
                            : [Edit($"{e}.routes[tunnel {remote}]", WrittenTunnel.Write(new Route(remote, false)))]
                    )
                );
        if (remotes.Length > 0 && end.End.Routes?.Value is { } routes && platform.MadeByHand("route") == true)
            differs.Add(
                new(
                    end.Name,
                    "routes",
                    Say.Count(routes.Items.Count(r => !r.Discard), "route"),
                    Say.Count(routes.Items.Count(r => !r.Discard) + remotes.Length, "route"),
                    [.. remotes.Select(r => r.ToString())]
                )
            );

        if (platform.Effect == Effect.OnRequest)
            return [.. AsOneRequest(end, before, later)];
        if (activates)
            later.Add(
                StepWords.New(
                    $"activate-{e}",
                    Part.Switch,
                    end,
                    1 + ((platform.EffectSeconds ?? 0) / 60),
                    StepWords.Activate(end, [view.Tunnel]),
                    [],
                    stops: StepWords.Stops(end),
                    undo: $"Activate on {end.Gateway.Code} again once the entries are out.",
                    needs:
                    [
                        .. steps
                            .Where(s => s.Part == Part.Build && s.Where == StepWords.WhereOf(end))
                            .Select(s => s.Key),
                    ]
                )
            );
        return later;
    }

    /// <summary>Where a gateway is asked for in one request, everything of its end is one step.</summary>
    private IEnumerable<Step> AsOneRequest(EndView end, int before, List<Step> later)
    {
        Step[] all = [.. steps.Skip(before), .. later];
        steps.RemoveRange(before, steps.Count - before);
        if (all.Length == 0)
            yield break;
        var minutes = 1 + ((end.Platform.EffectSeconds ?? 120) / 60);
        yield return StepWords.New(
            $"request-{end.Name.Key()}",
            Part.Switch,
            end,
            minutes,
            $"Send one request for {view.Tunnel} on {end.Gateway.Code} with these values; it takes about {Say.Count(minutes, "minute"):w}.",
            [.. all.SelectMany(s => s.Enter)],
            [.. all.SelectMany(s => s.Expect)],
            stops: all.Select(s => s.Stops).FirstOrDefault(s => s is not null),
            undo: $"Send the request on {end.Gateway.Code} again with the values as they were.",
            edits: [.. all.SelectMany(s => s.Edits)]
        );
    }

    /// <summary>
    /// The step that brings the new prefixes into the selectors of an end: its list, the held part it shares, or its
    /// pairs.
    /// </summary>
    private void Selectors(EndView end, bool isNear, bool activates, List<Step> later)
    {
        var e = end.Name.Key();
        var which = isNear ? "own" : "peer";
        var subnets = end.End.Subnets;
        var resolved = isNear ? end.OwnSubnets : end.PeerSubnets;
        var fresh = isNear ? wish.Add : [.. wish.Add];
        var now = resolved.Value?.Items ?? [];
        var missing = fresh.Where(p => !now.Contains(p)).ToImmutableArray();
        var part = activates ? Part.Build : Part.Switch;
        var sink = activates ? steps : later;
        var stops = activates ? null : StepWords.Stops(end);
        ImmutableArray<StepValue> enter = [.. fresh.Select(p => new StepValue($"{which} subnet", $"{p}"))];
        ImmutableArray<StepValue> expect = [new($"{which} subnets then", string.Join(", ", now.Concat(missing)))];

        if (
            end.Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.AnyToAny
            && subnets?.Own is null
            && subnets?.Pairs is null
        )
        {
            // Selectors from any to any already cover the new pairs; only routes decide.
            return;
        }

        if (subnets?.Pairs is not null)
        {
            var numbers = added
                .Select(p =>
                    Edit(
                        $"{e}.subnets.pairs[{p.On(end.Name)} - {p.On(end.Name.Other())}]",
                        WrittenTunnel.Write(new OwnPeer(p.On(end.Name), p.On(end.Name.Other())))
                    )
                )
                .ToArray();
            differs.Add(
                new(
                    end.Name,
                    "pairs entered",
                    Say.Count(subnets.Pairs.Value.Length, "pair"),
                    Say.Count(subnets.Pairs.Value.Length + added.Length, "pair"),
                    [.. added.Select(p => p.ToString())]
                )
            );
            sink.Add(
                StepWords.New(
                    $"pairs-{e}",
                    part,
                    end,
                    2,
                    $"Add {Say.Count(added.Length, "protected pair"):w} to {view.Tunnel}: {Say.And(added.Select(p => $"{p.On(end.Name)} to {p.On(end.Name.Other())}"))}.",
                    [.. added.Select(p => new StepValue("own, peer", $"{p.On(end.Name)}, {p.On(end.Name.Other())}"))],
                    stops: stops,
                    undo: $"Take {Say.And(added.Select(p => $"{p.On(end.Name)} to {p.On(end.Name.Other())}"))} out of the protected pairs on {end.Gateway.Code}.",
                    edits: numbers
                )
            );
            return;
        }

        if (missing.IsEmpty)
            return;
        differs.Add(
            new(
                end.Name,
                $"{which} subnets",
                string.Join(", ", now),
                string.Join(", ", now.Concat(missing)),
                [.. missing.Select(p => p.ToString())]
            )
        );
        var held = isNear ? subnets?.OwnFrom : subnets?.PeerFrom;
        if (held is not null && end.Gateway.Held(held) is { } list)
        {
            var gaining = view
                .Inventory.UsersOf(end.Gateway.Id, held, view.Tunnel.Id)
                .ToLookup(u =>
                    together.Any(s =>
                        s.TunnelId == u.Id && u.End(isNear ? s.End : s.End.Other()).GatewayId == end.Gateway.Id
                    )
                );
            var users = gaining[false].ToArray();
            if (users.Length > 0)
            {
                var copy = StepWords.Name(end, "nets");
                var made = Edit(
                    end.Gateway.Id,
                    $"heldParts[{copy}]",
                    new MapWriter().Add("name", copy).Texts("members", list.Members.Concat(missing)).Done()
                );
                Sentence keep =
                    users.Length <= 3
                        ? StepWords.Tunnels(users)
                        : Sentence.Of($"{Say.Count(users.Length, "other tunnel"):w}");
                sink.Add(
                    StepWords.New(
                        $"copy-list-{e}",
                        part,
                        end,
                        4,
                        $"Copy the subnet list {held} to {copy} and add {Say.And(missing.Select(p => p.ToString()))}. {held} stays as it is for {keep}.",
                        [new("new list", copy), .. enter],
                        [new($"{copy} then", string.Join(", ", list.Members.Concat(missing)))],
                        undo: $"Take out the subnet list {copy} on {end.Gateway.Code}.",
                        edits: [made]
                    )
                );
                sink.Add(
                    StepWords.New(
                        $"use-list-{e}",
                        part,
                        end,
                        2,
                        $"Let {view.Tunnel} use {copy} as its {which:w} subnets.",
                        [new($"{which} subnets", copy)],
                        [new("list used then", copy)],
                        stops: stops,
                        undo: $"Let {view.Tunnel} use {held} again as its {which:w} subnets on {end.Gateway.Code}.",
                        edits: [Edit($"{e}.subnets.{which}From", copy)]
                    )
                );
                heldSaid.Add(
                    new(
                        Tone.Weak,
                        Sentence.Of(
                            $"The subnet list {held} at {end.Name} also serves {keep}: it is copied, not altered."
                        )
                    )
                );
                return;
            }

            sink.Add(
                StepWords.New(
                    $"alter-list-{e}",
                    part,
                    end,
                    2,
                    $"Add {Say.And(missing.Select(p => p.ToString()))} to the subnet list {held}, which only {StepWords.Tunnels([view.Tunnel, .. gaining[true]])} {(gaining[true].Any() ? "use" : "uses"):w}.",
                    enter,
                    [new($"{held} then", string.Join(", ", list.Members.Concat(missing)))],
                    stops: stops,
                    undo: $"Take {Say.And(missing.Select(p => p.ToString()))} out of the subnet list {held} on {end.Gateway.Code}.",
                    edits:
                    [
                        .. missing.Select(p => Edit(end.Gateway.Id, $"heldParts[{held}].members[{p}]", p.ToString())),
                    ]
                )
            );
            return;
        }

        var listSaid = isNear ? subnets?.Own : subnets?.Peer;
        int[] carried = listSaid is null
            ? [Edit($"{e}.subnets.{which}", ListNode.OfTexts(now.Concat(missing)))]
            : [.. missing.Select(p => Edit($"{e}.subnets.{which}[{p}]", p.ToString()))];
        sink.Add(
            StepWords.New(
                $"subnets-{e}",
                part,
                end,
                2,
                $"Add {Say.And(missing.Select(p => p.ToString()))} to the {which:w} subnets of {view.Tunnel}.",
                enter,
                expect,
                stops: stops,
                undo: $"Take {Say.And(missing.Select(p => p.ToString()))} out of the {which:w} subnets of {view.Tunnel} on {end.Gateway.Code}.",
                edits: carried
            )
        );
    }

    /// <summary>
    /// Where routes are learned from a neighbour, the near end announces the new prefixes and the far end takes them.
    /// </summary>
    private void Neighbour(EndView end, bool isNear, List<Step> sink, Part part)
    {
        if (end.End.Routing is not { } routing)
            return;
        var (e, list, now) = (
            end.Name.Key(),
            isNear ? "announces" : "accepts",
            isNear ? routing.Announces : routing.Accepts
        );
        var missing = wish.Add.Where(p => !now.Any(n => n.Contains(p))).ToImmutableArray();
        // Where nothing is listed nothing is held back, and a list of the new prefixes alone would be the first to do
        // so.
        if (now.IsEmpty || missing.IsEmpty)
            return;
        var prefixes = Say.And(missing.Select(p => p.ToString()));
        differs.Add(
            new(
                end.Name,
                $"{routing.Protocol} {list}",
                string.Join(", ", now),
                string.Join(", ", now.Concat(missing)),
                [.. missing.Select(p => p.ToString())]
            )
        );
        sink.Add(
            StepWords.New(
                $"{list}-{e}",
                part,
                end,
                2,
                isNear
                    ? Sentence.Of($"Announce {prefixes} to the {routing.Protocol:w} neighbour of {view.Tunnel}.")
                    : Sentence.Of($"Take {prefixes} from the {routing.Protocol:w} neighbour of {view.Tunnel}."),
                [.. missing.Select(p => new StepValue(list, $"{p}"))],
                [new($"{list} then", string.Join(", ", now.Concat(missing)))],
                undo: isNear
                    ? Sentence.Of($"Announce {prefixes} no longer on {end.Gateway.Code}.")
                    : Sentence.Of($"Take {prefixes} no longer on {end.Gateway.Code}."),
                edits: [.. missing.Select(p => Edit($"{e}.routing.{list}[{p}]", p.ToString()))]
            )
        );
    }

    private void Prove()
    {
        foreach (var pair in added)
        {
            var (a, b) = (StepWords.PointIn(view.A, pair), StepWords.PointIn(view.B, pair));
            Add(
                $"prove-{pair.A}-{pair.B}-ab",
                Part.Prove,
                view.A,
                2,
                $"From {a} reach {b}: it failed before, it answers now.",
                proof: $"the answer, and the counters of the new pair up by about as many as were sent, at both ends"
            );
            Add(
                $"prove-{pair.A}-{pair.B}-ba",
                Part.Prove,
                view.B,
                2,
                $"From {b} reach {a}: it answers, and both counters rise by about as many as were sent.",
                proof: $"the answer, and time left on both associations"
            );
        }

        var old = view.Tunnel.Agreed.Pairs;
        if (!old.IsEmpty)
            Add(
                "prove-rest",
                Part.Prove,
                null,
                2,
                $"Show that what ran before still runs: {Say.And(old.Take(3).Select(p => view.NameOf(p))):w}{(old.Length > 3 ? $" and {old.Length - 3} more" : ""):w}, and the other tunnels of {near.Gateway.Code} and {far.Gateway.Code}.",
                proof: $"counters of the older pairs still rising"
            );
    }

    private void Record(EndView end) => steps.Add(StepWords.SaveAfter(end));

    private IEnumerable<string> ToTell() => view.Ends.Select(e => e.Owner.Name).Distinct();

    private ImmutableArray<VerdictPart> Verdict(ImmutableArray<FindingOn> addedFindings)
    {
        var parts = new List<VerdictPart>();
        Sentence At(EndView end)
        {
            var cost = end.Platform.SubnetsCost;
            var touched = steps.Any(s => s.Where == StepWords.WhereOf(end) && s.Part is Part.Build or Part.Switch);
            var lasting = cost?.Seconds is { } s ? $", about {Lifetime.Say(s)}" : "";
            return !touched
                ? Sentence.Of($"at {end.Name} nothing is entered")
                : cost?.What switch
                {
                    null => Sentence.Of(
                        $"at {end.Name} the profile of {end.Platform.Title:w} does not say what it disturbs"
                    ),
                    Disturbance.Nothing => Sentence.Of($"at {end.Name} nothing else is touched"),
                    Disturbance.ThatPair => Sentence.Of($"at {end.Name} only the new pair is touched"),
                    Disturbance.TunnelRestarts => Sentence.Of($"at {end.Name} the whole tunnel restarts{lasting:w}"),
                    Disturbance.GatewayRestarts => Sentence.Of(
                        $"at {end.Name} all {view.Inventory.On(end.Gateway.Id).Count()} tunnels of {end.Gateway.Code} restart{lasting:w}"
                    ),
                    _ => Sentence.Of($"at {end.Name} the uplink bounces{lasting:w}"),
                };
        }

        Sentence atA = At(view.A),
            atB = At(view.B);
        parts.Add(
            new(Tone.Plain, Sentence.Of($"Adds {Say.Count(added.Length, "pair"):w} to {view.Tunnel}: {atA}; {atB}."))
        );
        foreach (var blocking in addedFindings.Where(f => f.Finding.Severity == Severity.Blocks).Take(2))
            parts.Add(new(Tone.Stops, blocking.Finding.Consequence ?? blocking.Finding.What));
        parts.AddRange(heldSaid);
        return [.. parts];
    }

    private ImmutableArray<RestsOn> RestsOn()
    {
        var form = WrittenTunnel.Form.Write(view.Tunnel, IdNames.Instance);
        string[] paths =
        [
            "state",
            "form",
            "agreed.pairs",
            "a.gateway",
            "b.gateway",
            "a.inside",
            "b.inside",
            "a.subnets",
            "b.subnets",
            "a.rules",
            "b.rules",
            "a.noTranslation",
            "b.noTranslation",
            "a.routes",
            "b.routes",
        ];
        var rests = paths.Select(p => new RestsOn(view.Tunnel.Id, RecordKind.Tunnel, p, Edits.Find(form, p))).ToList();
        foreach (var end in view.Ends)
        {
            var gateway = WrittenGateway.Form.Write(end.Gateway, IdNames.Instance);
            foreach (var path in new[] { "platform", "heldParts" })
                rests.Add(new(end.Gateway.Id, RecordKind.Gateway, path, Edits.Find(gateway, path)));
        }

        return [.. rests];
    }

    private string Label(SubnetPair pair) =>
        $"{view.NameOf(near.Name, pair.On(near.Name))} to {view.NameOf(far.Name, pair.On(far.Name))}";

    /// <summary>
    /// What a new pair is called in names on devices: its new network, and the one it reaches where there are several.
    /// </summary>
    private string Brief(SubnetPair pair) =>
        added.Select(p => p.On(far.Name)).Distinct().Count() > 1
            ? $"{view.NameOf(near.Name, pair.On(near.Name))}-{view.NameOf(far.Name, pair.On(far.Name))}"
            : view.NameOf(near.Name, pair.On(near.Name));

    private int Edit(string path, Node after) => Edit(view.Tunnel.Id, path, after);

    private int Edit(string recordId, string path, Node after)
    {
        var tunnel = recordId == view.Tunnel.Id;
        var form = tunnel
            ? WrittenTunnel.Form.Write(view.Tunnel, IdNames.Instance)
            : WrittenGateway.Form.Write(view.Inventory.Get<Gateway>(recordId), IdNames.Instance);
        edits.Add(new(recordId, tunnel ? RecordKind.Tunnel : RecordKind.Gateway, path, Edits.Find(form, path), after));
        return edits.Count - 1;
    }

    private void Add(
        string key,
        Part part,
        EndView? end,
        int minutes,
        Sentence does,
        ImmutableArray<StepValue>? enter = null,
        Sentence? proof = null,
        Sentence? undo = null,
        int[]? edits = null
    ) => steps.Add(StepWords.New(key, part, end, minutes, does, enter, undo: undo, edits: edits, proof: proof));
}

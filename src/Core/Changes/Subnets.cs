using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>
/// Subnets added and taken out on one side of one or several tunnels: one plan, tunnel by tunnel, each on the ground
/// that the one before left.
/// </summary>
public static class Subnets
{
    public static Planned Plan(Inventory inventory, SubnetsWish wish, DateOnly today, CancellationToken ct = default)
    {
        if (wish.Remove.IsEmpty && wish.Also.IsEmpty)
            return SubnetsPlanner.Plan(inventory, wish, today, ct: ct).Planned;
        var sides = wish.Also.Insert(0, new(wish.TunnelId, wish.End));
        var parts = new List<(string TunnelId, Plan Plan)>();
        var refused = new List<Refusal>();
        var ground = inventory;
        foreach (var side in sides)
        {
            ct.ThrowIfCancellationRequested();
            var (add, remove) = (side.Add ?? wish.Add, side.Remove ?? wish.Remove);
            if (!add.IsEmpty)
            {
                var (planned, after) = SubnetsPlanner.Plan(
                    ground,
                    new(side.TunnelId, side.End, add, side == sides[0] ? wish.Reach : []),
                    today,
                    [
                        .. sides.Where(s =>
                            s.TunnelId != side.TunnelId && (s.Add ?? wish.Add).ToHashSet().SetEquals(add)
                        ),
                    ],
                    ct
                );
                Take(side, planned, after);
            }

            if (remove.IsEmpty)
                continue;
            var (taken, then) = Remove(
                ground,
                side,
                remove,
                today,
                [
                    .. sides.Where(s =>
                        s.TunnelId != side.TunnelId && (s.Remove ?? wish.Remove).ToHashSet().SetEquals(remove)
                    ),
                ],
                ct
            );
            Take(side, taken, then);
        }

        if (refused.Count > 0 || parts.Count == 0)
            return Planned.No(
                refused.Count > 0
                    ? refused
                    :
                    [
                        new(
                            null,
                            "add",
                            $"Nothing is named that should be added or taken out.",
                            $"A prefix, such as 10.61.40.0/24."
                        ),
                    ]
            );
        return new(Joined(inventory, ground, parts, today, ct), []);

        void Take(TunnelSide side, Planned planned, Inventory? after)
        {
            refused.AddRange(planned.Refused);
            if (planned.Plan is not { } plan)
                return;
            parts.Add((side.TunnelId, plan));
            ground = after!;
        }
    }

    /// <summary>
    /// One plan of several: steps in the order of their parts, each with its tunnel's code; edits one after the other.
    /// </summary>
    private static Plan Joined(
        Inventory before,
        Inventory after,
        List<(string TunnelId, Plan Plan)> parts,
        DateOnly today,
        CancellationToken ct
    )
    {
        var (edits, steps) = (new List<Edit>(), new List<Step>());
        var saved = new HashSet<string>();
        for (var i = 0; i < parts.Count; i++)
        {
            var (id, plan) = parts[i];
            var tunnel = before.Get<Tunnel>(id);
            string Named(string key) =>
                $"{key}-{tunnel.Code}{(parts.Take(i).Count(p => p.TunnelId == id) is > 0 and var n ? $"-{n + 1}" : "")}";
            foreach (var step in plan.Steps)
            {
                // A gateway is saved, tried and activated once, and the whole is closed once.
                // A second look at the same tunnel would count what the first part of the plan has just added.
                if (
                    step.Key == "record"
                    || (step.Key == "prove-rest" && parts.Take(i).Any(p => p.TunnelId == id))
                    || (step.Gateway is { } g && Once(step) is { } kind && !saved.Add($"{kind} {g}"))
                )
                    continue;
                steps.Add(
                    step with
                    {
                        Key = Named(step.Key),
                        Edits = [.. step.Edits.Select(e => e + edits.Count)],
                        Needs = [.. step.Needs.Select(Named)],
                        TunnelId = step.TunnelId ?? id,
                    }
                );
            }

            edits.AddRange(plan.Edits);
        }

        // Who activates once activates what every tunnel of the change entered there, after the last of it.
        var views = parts
            .Select(p => p.TunnelId)
            .Distinct()
            .Select(id => new TunnelView(before, before.Get<Tunnel>(id), today))
            .ToArray();
        foreach (var step in steps.Where(s => s.Key.StartsWith("activate-", StringComparison.Ordinal)).ToArray())
        {
            var end = step.Where == Where.A ? EndName.A : EndName.B;
            var on = views.Where(v => v.End(end).Gateway.Code == step.Gateway).ToArray();
            var at = steps.IndexOf(step);
            steps.RemoveAt(at);
            steps.Insert(
                Math.Max(steps.FindLastIndex(s => s.Part == Part.Switch && s.Gateway == step.Gateway) + 1, at),
                step with
                {
                    TunnelId = on.Length > 1 ? null : step.TunnelId,
                    Do = StepWords.Activate(
                        on[0].End(end),
                        [.. on.Select(v => v.Tunnel)],
                        adds: parts.All(p => p.Plan.NewPairs.Length > 0)
                    ),
                    Needs = [.. steps.Where(s => s.Part == Part.Build && s.Gateway == step.Gateway).Select(s => s.Key)],
                }
            );
        }

        steps.Add(parts[^1].Plan.Steps.First(s => s.Key == "record") with { TunnelId = null });
        var moving = parts
            .Select(p => p.TunnelId)
            .Distinct()
            .Select(id => new Moving(
                new(before, before.Get<Tunnel>(id), today),
                new(after, after.Get<Tunnel>(id), today)
            ))
            .ToArray();
        var judged = Judged.Of(before, after, moving, ct);
        var ordered = steps.OrderBy(s => s.Part).ToImmutableArray();
        return new(
            [.. parts.SelectMany(p => p.Plan.Verdict)],
            [.. parts.SelectMany(p => p.Plan.NewPairs)],
            [
                .. parts.SelectMany(p =>
                    p.Plan.Differs.Select(d =>
                        parts.Select(x => x.TunnelId).Distinct().Count() > 1
                            ? d with
                            {
                                What = $"{before.Get<Tunnel>(p.TunnelId).Code} {d.What}",
                            }
                            : d
                    )
                ),
            ],
            [.. edits],
            ordered,
            judged.Added,
            judged.Removed,
            judged.Standing,
            [.. parts.SelectMany(p => p.Plan.RestsOn).DistinctBy(r => (r.RecordId, r.Path))]
        )
        {
            Rehearsals = judged.Rehearsals,
            Interruptions = [.. parts.SelectMany(p => p.Plan.Interruptions).DistinctBy(i => i.TunnelId)],
            Touches =
            [
                .. parts
                    .SelectMany(p => p.Plan.Touches)
                    .Where(t => moving.All(m => m.Was.Tunnel.Id != t.TunnelId))
                    .DistinctBy(t => t.TunnelId),
            ],
        };
    }

    private static string? Once(Step step) =>
        new[] { "prepare-way", "save-after", "save", "activate" }.FirstOrDefault(k =>
            step.Key.StartsWith(k + "-", StringComparison.Ordinal)
        );

    private static (Planned, Inventory?) Remove(
        Inventory inventory,
        TunnelSide side,
        ImmutableArray<Prefix> remove,
        DateOnly today,
        ImmutableArray<TunnelSide> together,
        CancellationToken ct
    )
    {
        var tunnel = inventory.Get<Tunnel>(side.TunnelId);
        var refused = new List<Refusal>();
        foreach (var prefix in remove.Where(p => tunnel.Agreed.Pairs.All(x => x.On(side.End) != p)))
            refused.Add(
                new(
                    null,
                    "remove",
                    $"{prefix} behind {side.End} is not carried by {tunnel}.",
                    $"One of {Say.And(tunnel.Agreed.Pairs.Select(p => p.On(side.End).ToString()).Distinct())}."
                )
            );
        var gone = tunnel.Agreed.Pairs.Where(p => remove.Contains(p.On(side.End))).ToArray();
        if (refused.Count == 0 && gone.Length == tunnel.Agreed.Pairs.Length)
            refused.Add(new(null, "remove", $"Nothing would be left in {tunnel}.", $"Retire it, or keep one prefix."));
        if (refused.Count > 0)
            return (Planned.No(refused), null);
        var left = tunnel.Agreed.Pairs.Except(gone).ToArray();
        var view = new TunnelView(inventory, tunnel, today);
        var form = AfterForm.Of(tunnel);
        foreach (var pair in gone)
            form = Edits.Put(form, $"agreed.pairs[{pair}]", null);
        var gateways = new List<Gateway>();
        var edits = new List<Edit>();
        foreach (var end in view.Ends)
        {
            var (e, other) = (end.Name.Key(), end.Name.Other());
            // A prefix goes from a list only when no other pair needs it there.
            var own = gone.Select(p => p.On(end.Name))
                .Distinct()
                .Where(p => left.All(l => l.On(end.Name) != p))
                .ToArray();
            var peer = gone.Select(p => p.On(other)).Distinct().Where(p => left.All(l => l.On(other) != p)).ToArray();
            foreach (var pair in gone.Select(p => $"{p.On(end.Name)} - {p.On(other)}"))
            {
                form =
                    Edits.Put(form, $"{e}.subnets.pairs[{pair}]", null) is var f && end.End.Subnets?.Pairs is not null
                        ? f
                        : form;
                foreach (var way in end.End.Rules is null ? [] : Rule.Ways.All)
                    form = Edits.Put(form, $"{e}.rules[{way} {pair}]", null);
                if (end.End.NoTranslation is not null)
                    form = Edits.Put(form, $"{e}.noTranslation[{pair}]", null);
            }

            foreach (
                var (prefix, list, held) in own.Select(p => (p, "own", end.End.Subnets?.OwnFrom))
                    .Concat(peer.Select(p => (p, "peer", end.End.Subnets?.PeerFrom)))
            )
            {
                if (held is null)
                {
                    if (list == "own" ? end.End.Subnets?.Own is not null : end.End.Subnets?.Peer is not null)
                        form = Edits.Put(form, $"{e}.subnets.{list}[{prefix}]", null);
                }
                else if (
                    inventory
                        .UsersOf(end.Gateway.Id, held, tunnel.Id)
                        .Where(u =>
                            !together.Any(s =>
                                s.TunnelId == u.Id
                                && u.End(end.Name == side.End ? s.End : s.End.Other()).GatewayId == end.Gateway.Id
                            )
                        )
                        .ToArray() is
                    { Length: > 0 } users
                )
                    refused.Add(
                        new(
                            "PLAN-09",
                            "remove",
                            $"{prefix} stands in {held} on {end.Gateway.Code}, which {StepWords.Tunnels(users)} {(users.Length == 1 ? "uses" : "use"):w} too.",
                            $"Take it out of all of them in one change, or give {tunnel} a list of its own first."
                        )
                    );
                else
                {
                    var gateway = gateways.FirstOrDefault(g => g.Id == end.Gateway.Id) ?? end.Gateway;
                    var was = WrittenGateway.Form.Write(gateway, IdNames.Instance);
                    var path = $"heldParts[{held}].members[{prefix}]";
                    // The first tunnel of the change that uses the list took it out for all.
                    if (Edits.Find(was, path) is null)
                        continue;
                    edits.Add(new(gateway.Id, RecordKind.Gateway, path, Edits.Find(was, path), null));
                    gateways.RemoveAll(g => g.Id == gateway.Id);
                    gateways.Add(AfterForm.Read(gateway, Edits.Put(was, path, null)));
                }
            }

            if (end.End.Routing is not null)
                foreach (
                    var (list, prefix) in own.Select(p => ("announces", p)).Concat(peer.Select(p => ("accepts", p)))
                )
                    form = Edits.Put(form, $"{e}.routing.{list}[{prefix}]", null);
            foreach (var to in peer)
            foreach (var into in end.End.Routes is null ? [] : new[] { "tunnel", "discard" })
                form = Edits.Put(form, $"{e}.routes[{into} {to}]", null);
        }

        if (refused.Count > 0)
            return (Planned.No(refused), null);
        var after = inventory.With([AfterForm.Read(tunnel, form), .. gateways]);
        var maker = new PlanMaker(inventory, after, [tunnel.Id], today, ct: ct);
        maker.Prepare();
        maker.Safeguard();
        maker.Work();
        var first = gone[0];
        maker.Add(
            $"prove-gone-{first.A}-{first.B}",
            Part.Prove,
            null,
            2,
            $"Show that it is gone: from {StepWords.PointIn(view.A, first)} nothing answers at {StepWords.PointIn(view.B, first)}.",
            proof: $"no answer",
            tunnel: tunnel.Id
        );
        maker.Prove();
        maker.Record();
        return (
            new(
                maker.Done(
                    Sentence.Of(
                        $"Takes {Say.Count(gone.Length, "pair"):w} out of {tunnel}: {Say.And(remove.Select(p => p.ToString()))} behind {side.End}."
                    ),
                    edits
                ),
                []
            ),
            after
        );
    }
}

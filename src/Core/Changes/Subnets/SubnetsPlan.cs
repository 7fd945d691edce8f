using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>
/// Subnets added and removed behind one end of one or several tunnels: tunnel by tunnel, each on the ground that the
/// one before left, and one plan of all.
/// </summary>
internal static class SubnetsPlan
{
    /// <summary>One tunnel's part of the plan.</summary>
    internal sealed record SubnetsPart(Plan? Plan, Inventory Ground, ImmutableArray<Refusal> Refused);

    public static Planned Of(Inventory inventory, SubnetsRequest request, DateOnly today, CancellationToken ct)
    {
        var sides = request.Also.Insert(0, new(request.TunnelId, request.End));
        var parts = new List<(string TunnelId, Plan Plan)>();
        var refused = new List<Refusal>();
        var ground = inventory;
        foreach (var side in sides)
        {
            ct.ThrowIfCancellationRequested();
            var view = new TunnelView(ground, ground.Get<Tunnel>(side.TunnelId), today);
            ImmutableArray<Prefix> Adds(TunnelSide s) => s.Add ?? request.Add;
            ImmutableArray<Prefix> Removes(TunnelSide s) => s.Remove ?? request.Remove;
            // A request that asks for nothing is refused as one that adds nothing.
            if (!Adds(side).IsEmpty || (sides.Length == 1 && request.Remove.IsEmpty))
                Take(
                    side,
                    Added(
                        view,
                        side,
                        Adds(side),
                        side == sides[0] ? request.Reach : [],
                        Together(side, Adds),
                        parts.Where(p => p.TunnelId == side.TunnelId).Sum(p => p.Plan.NewPairs.Length),
                        ct
                    )
                );
            if (!Removes(side).IsEmpty)
                Take(
                    side,
                    Taken(
                        new(ground, ground.Get<Tunnel>(side.TunnelId), today),
                        side,
                        Removes(side),
                        Together(side, Removes),
                        ct
                    )
                );
        }

        if (refused.Count > 0)
            return Planned.No(refused);
        return parts.Count switch
        {
            0 => Planned.No(
                new Refusal(
                    null,
                    "add",
                    $"No prefix to add or to remove is given.",
                    $"Give a prefix, such as 10.61.40.0/24."
                )
            ),
            1 when request.Also.IsEmpty && request.Remove.IsEmpty => Planned.Yes(parts[0].Plan),
            _ => Planned.Yes(new JoinedPlan(inventory, ground, parts, today).Make(ct)),
        };

        ImmutableArray<TunnelSide> Together(TunnelSide side, Func<TunnelSide, ImmutableArray<Prefix>> prefixes) =>
            [.. sides.Where(s => s.TunnelId != side.TunnelId && prefixes(s).ToHashSet().SetEquals(prefixes(side)))];

        void Take(TunnelSide side, SubnetsPart stage)
        {
            refused.AddRange(stage.Refused);
            if (stage.Plan is not { } plan)
                return;
            parts.Add((side.TunnelId, plan));
            ground = stage.Ground;
        }
    }

    private static SubnetsPart Added(
        TunnelView view,
        TunnelSide side,
        ImmutableArray<Prefix> add,
        ImmutableArray<Prefix> reach,
        ImmutableArray<TunnelSide> together,
        int addedBefore,
        CancellationToken ct
    )
    {
        var (pairs, refused) = new AddedRefusals(view, side, add, reach).Find();
        if (!refused.IsEmpty)
            return new(null, view.Inventory, refused);
        var added = new AddedSubnets(view, side.End, add, pairs, together);
        var after = added.After();
        return new(AddedPlan.Of(added, after, addedBefore, ct), after, []);
    }

    private static SubnetsPart Taken(
        TunnelView view,
        TunnelSide side,
        ImmutableArray<Prefix> remove,
        ImmutableArray<TunnelSide> together,
        CancellationToken ct
    )
    {
        var taken = new TakenSubnets(view, side.End, remove, together);
        if (taken.Refused() is { IsEmpty: false } refused)
            return new(null, view.Inventory, refused);
        var after = taken.After();
        return new(taken.Plan(after, ct), after, []);
    }
}

using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Changes.Playing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>
/// Subnets added and removed behind one end of one or several tunnels: the records go from tunnel to tunnel, each on
/// the ground that the one before left, and one plan leads from the first to the last.
/// </summary>
internal sealed class SubnetsPlan
{
    private readonly SubnetsRequest request;
    private readonly DateOnly today;
    private readonly ImmutableArray<TunnelSide> sides;
    private readonly List<Refusal> refused = [];
    private Inventory ground;

    private SubnetsPlan(Inventory inventory, SubnetsRequest request, DateOnly today)
    {
        (ground, this.request, this.today) = (inventory, request, today);
        sides = request.Also.Insert(0, new(request.TunnelId, request.End));
    }

    /// <exception cref="OperationCanceledException">Nobody waits for the plan any more.</exception>
    public static Planned Of(Inventory inventory, SubnetsRequest request, DateOnly today, CancellationToken ct) =>
        new SubnetsPlan(inventory, request, today).Make(ct);

    private ImmutableArray<Prefix> Adds(TunnelSide side) => side.Add ?? request.Add;

    private ImmutableArray<Prefix> Removes(TunnelSide side) => side.Remove ?? request.Remove;

    private TunnelView On(Inventory inventory, string tunnelId) =>
        new(inventory, inventory.Get<Tunnel>(tunnelId), today);

    private Planned Make(CancellationToken ct)
    {
        var before = ground;
        if (sides.All(s => Adds(s).IsEmpty && Removes(s).IsEmpty) && sides.Length > 1)
            return Planned.No(
                new Refusal(
                    null,
                    "add",
                    $"No prefix to add or to remove is given.",
                    $"Give a prefix, such as 10.61.40.0/24."
                )
            );
        foreach (var side in sides)
        {
            ct.ThrowIfCancellationRequested();
            // A request that asks for nothing is refused as one that adds nothing.
            if (!Adds(side).IsEmpty || (sides.Length == 1 && Removes(side).IsEmpty))
                Add(On(ground, side.TunnelId), side);
            if (!Removes(side).IsEmpty)
                Take(On(ground, side.TunnelId), side);
        }

        return refused.Count > 0 ? Planned.No(refused) : Planned.Yes(Plan(before, ct));
    }

    private void Add(TunnelView view, TunnelSide side)
    {
        var reach = side == sides[0] ? request.Reach : [];
        var (pairs, wrong) = new AddedRefusals(view, side, Adds(side), reach).Find();
        refused.AddRange(wrong);
        if (wrong.IsEmpty)
            ground = new AddedSubnets(view, side.End, Adds(side), pairs, Alike(side, Adds)).After();
    }

    private void Take(TunnelView view, TunnelSide side)
    {
        var taken = new TakenSubnets(view, side.End, Removes(side), Alike(side, Removes));
        var wrong = taken.Refused();
        refused.AddRange(wrong);
        if (wrong.IsEmpty)
            ground = taken.After();
    }

    /// <summary>The other tunnels to which the same is done in the same change.</summary>
    private ImmutableArray<TunnelSide> Alike(TunnelSide side, Func<TunnelSide, ImmutableArray<Prefix>> prefixes) =>
        [.. sides.Where(s => s.TunnelId != side.TunnelId && prefixes(s).ToHashSet().SetEquals(prefixes(side)))];

    private Plan Plan(Inventory before, CancellationToken ct)
    {
        var maker = new PlanMaker(before, ground, sides.Select(s => s.TunnelId).Distinct(), today, ct: ct)
        {
            OnlySubnets = true,
            RestsOn = sides.All(s => Removes(s).IsEmpty) ? Preconditions.OfSubnets : Preconditions.Everything,
        };
        foreach (var t in maker.Tunnels)
            maker.Differs(Pairs(t, many: maker.Tunnels.Count > 1));
        maker.Prepare();
        maker.Safeguard();
        maker.WorkEnds();
        maker.Prove();
        maker.Record();
        return maker.Done(
            measured => maker.Tunnels.Select(t => Opening(measured, t)),
            maker.Tunnels.SelectMany(Copied)
        ) with
        {
            NewPairs = [.. maker.Tunnels.SelectMany(t => t.NewPairs)],
        };
    }

    private static BeforeAfter Pairs(TunnelStages t, bool many)
    {
        var (was, then) = (t.Was.Tunnel, t.Then.Tunnel);
        return new(
            null,
            many ? $"{then.Code} subnet pairs wanted" : "subnet pairs wanted",
            Say.Count(was.Agreed.Pairs.Length, "pair"),
            Say.Count(then.Agreed.Pairs.Length, "pair"),
            [.. t.NewPairs.Select(t.Then.NameOf)]
        );
    }

    /// <summary>What the plan does to a tunnel, and what that does to what runs there.</summary>
    private Sentence Opening(PlayWords measured, TunnelStages t)
    {
        Sentence adds =
            $"Adds {Say.Count(t.NewPairs.Length, "pair"):w} to {t.Then.Tunnel}: {At(t.Then.A)}; " + $"{At(t.Then.B)}.";
        return (t.NewPairs.IsEmpty, t.GonePairs.IsEmpty) switch
        {
            (false, true) => adds,
            (true, _) => Removed(t),
            _ => $"{adds} {Removed(t)}",
        };
        Sentence At(EndView end) => measured.AtEnd(t.Then.Tunnel.Id, end.Name, end.Gateway.Code);
    }

    private Sentence Removed(TunnelStages t)
    {
        var gone = sides
            .Where(s => s.TunnelId == t.Then.Tunnel.Id && !Removes(s).IsEmpty)
            .Select(s => $"{Say.And(Removes(s).Select(p => p.ToString()))} behind {s.End}");
        return $"Removes {Say.Count(t.GonePairs.Length, "pair"):w} from {t.Then.Tunnel}: {Say.And(gone):w}.";
    }

    /// <summary>The lists that are copied because others use them.</summary>
    private static IEnumerable<VerdictPart> Copied(TunnelStages t) =>
        from end in t.Then.Ends
        from entered in t.Differs(end.Name).Enter
        where EntryByEntry.SharedAfter(entered) is not null
        let shared = entered.Before!.SharedList!
        select new VerdictPart(
            Tone.Weak,
            $"The subnet list {shared} at {end.Name} also serves {new EntryByEntry(t, end).Serves(shared)}. It is "
                + $"copied, not changed."
        );
}

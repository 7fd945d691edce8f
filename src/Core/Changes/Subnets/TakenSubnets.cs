using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>Subnets removed behind one end of a tunnel: what is asked for, and the records without it.</summary>
/// <param name="View">The tunnel before.</param>
/// <param name="Side">The end behind which the subnets are.</param>
/// <param name="Prefixes">The subnets.</param>
/// <param name="Together">Other tunnels that lose the same in the same change.</param>
internal sealed record TakenSubnets(
    TunnelView View,
    EndName Side,
    ImmutableArray<Prefix> Prefixes,
    ImmutableArray<TunnelSide> Together
)
{
    private Tunnel Tunnel => View.Tunnel;

    /// <summary>The pairs that go.</summary>
    public ImmutableArray<SubnetPair> Gone => [.. Tunnel.Agreed.Pairs.Where(p => Prefixes.Contains(p.On(Side)))];

    private IEnumerable<SubnetPair> Left => Tunnel.Agreed.Pairs.Except(Gone);

    /// <summary>Why they cannot be removed; none when they can.</summary>
    public ImmutableArray<Refusal> Refused()
    {
        var refused = Prefixes
            .Where(p => Tunnel.Agreed.Pairs.All(x => x.On(Side) != p))
            .Select(p => new Refusal(
                null,
                "remove",
                $"{p} behind {Side} is not in {Tunnel}.",
                $"Give one of {Say.And(Tunnel.Agreed.Pairs.Select(x => x.On(Side).ToString()).Distinct())}."
            ))
            .ToList();
        if (refused.Count == 0 && !Left.Any())
            refused.Add(
                new(null, "remove", $"{Tunnel} would have no pair left.", $"Retire the tunnel, or keep one prefix.")
            );
        if (refused.Count == 0)
            refused.AddRange(View.Ends.SelectMany(Lists).Select(InUse).OfType<Refusal>());
        return [.. refused];
    }

    /// <summary>A prefix that goes from a list on the gateway of an end.</summary>
    private sealed record FromList(EndView End, Prefix Prefix, string List);

    private IEnumerable<FromList> Lists(EndView end) =>
        Off(end, end.Name)
            .Select(p => (Prefix: p, List: end.End.Subnets?.LocalFrom))
            .Concat(Off(end, end.Name.Other()).Select(p => (Prefix: p, List: end.End.Subnets?.RemoteFrom)))
            .Where(x => x.List is not null)
            .Select(x => new FromList(end, x.Prefix, x.List!));

    /// <summary>A list that others use too stays as it is.</summary>
    private Refusal? InUse(FromList from)
    {
        var gateway = from.End.Gateway;
        bool Loses(Tunnel user) =>
            Together.Any(s =>
                s.TunnelId == user.Id && user.End(from.End.Name == Side ? s.End : s.End.Other()).GatewayId == gateway.Id
            );
        var users = View.Inventory.UsersOf(gateway.Id, from.List, Tunnel.Id).Where(u => !Loses(u)).ToArray();
        return users.Length == 0
            ? null
            : new(
                PlanCheck.OthersAffected.Code,
                "remove",
                $"{from.Prefix} is in {from.List} on {gateway.Code}, which {StepWords.Tunnels(users)} "
                    + $"{(users.Length == 1 ? "uses" : "use"):w} too.",
                $"Remove it from all of them in one change, or first give {Tunnel} its own list."
            );
    }

    /// <summary>The prefixes of a side that no other pair needs any more.</summary>
    private Prefix[] Off(EndView end, EndName side) =>
        [.. Gone.Select(p => p.On(side)).Distinct().Where(p => Left.All(l => l.On(side) != p))];

    /// <summary>The records as they will be.</summary>
    public Inventory After()
    {
        var tunnel = Tunnel with { Agreed = Tunnel.Agreed with { Pairs = [.. Left] } };
        tunnel = tunnel.WithEnds((name, end) => Without(end, View.End(name)));
        var gateways = View
            .Ends.SelectMany(Lists)
            .GroupBy(l => l.End.Gateway.Id)
            .Select(g => g.Aggregate(g.First().End.Gateway, Without));
        return View.Inventory.With([tunnel, .. gateways]);
    }

    private static Gateway Without(Gateway gateway, FromList from) =>
        gateway with
        {
            SharedEntries =
            [
                .. gateway.SharedEntries.Select(h =>
                    h.Name == from.List ? h with { Members = h.Members.Remove(from.Prefix) } : h
                ),
            ],
        };

    private TunnelEnd Without(TunnelEnd end, EndView view)
    {
        var gone = Gone.Select(p => p.At(view.Name)).ToHashSet();
        // What stands for two prefixes whatever the traffic goes with the last pair of them.
        var between = gone.Select(p => p.Prefixes).Except(Left.Select(p => p.At(view.Name).Prefixes)).ToHashSet();
        var (local, remote) = (Off(view, view.Name), Off(view, view.Name.Other()));
        return end with
        {
            Subnets = end.Subnets is not { } subnets
                ? null
                : subnets with
                {
                    Pairs = subnets.Pairs is { } pairs
                        ? [.. pairs.Where(p => !gone.Contains(p with { Pfs = null }))]
                        : null,
                    Local = subnets.LocalFrom is null && subnets.Local is { } o ? [.. o.Except(local)] : subnets.Local,
                    Remote =
                        subnets.RemoteFrom is null && subnets.Remote is { } p ? [.. p.Except(remote)] : subnets.Remote,
                },
            Rules = end.Rules?.Without(r =>
                gone.Contains(new(r.Local, r.Remote, r.Only)) || between.Contains(new(r.Local, r.Remote))
            ),
            NoNat = end.NoNat?.Without(between.Contains),
            Routes = end.Routes?.Without(r => remote.Contains(r.To)),
            Routing = end.Routing is not { } routing
                ? null
                : routing with
                {
                    Announces = [.. routing.Announces.Except(local)],
                    Accepts = [.. routing.Accepts.Except(remote)],
                },
        };
    }
}

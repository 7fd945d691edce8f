using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>Subnets added on one side of a tunnel: what is asked for, and the records with it.</summary>
/// <param name="View">The tunnel before.</param>
/// <param name="Side">The end behind which the subnets are.</param>
/// <param name="Prefixes">The subnets.</param>
/// <param name="Pairs">The pairs that they make with what they reach.</param>
/// <param name="Together">
/// Other tunnels that gain the same in the same change: a list that serves only them and this one is altered for all.
/// </param>
internal sealed record AddedSubnets(
    TunnelView View,
    EndName Side,
    ImmutableArray<Prefix> Prefixes,
    ImmutableArray<SubnetPair> Pairs,
    ImmutableArray<TunnelSide> Together
)
{
    /// <summary>The end behind which the subnets are.</summary>
    public EndView Near => View.End(Side);

    /// <summary>The end that is to reach them.</summary>
    public EndView Far => View.End(Side.Other());

    /// <summary>Whether an end is the one behind which they are.</summary>
    public bool IsNear(EndView end) => end.Name == Side;

    /// <summary>The pairs as an end has them.</summary>
    public IEnumerable<LocalRemote> PairsAt(EndView end) => Pairs.Select(p => p.At(end.Name));

    /// <summary>The records as they will be.</summary>
    public Inventory After()
    {
        var tunnel = View.Tunnel with
        {
            Agreed = View.Tunnel.Agreed with { Pairs = [.. View.Tunnel.Agreed.Pairs, .. Pairs] },
        };
        tunnel = View.Ends.Aggregate(tunnel, (t, end) => t.WithEnd(end.Name, e => With(e, end)));
        var gateways = View
            .Ends.Select(e => (Gateway: e.Gateway, List: SharedList.Of(this, e)))
            .Where(g => g.List is not null)
            .GroupBy(g => g.Gateway.Id)
            .Select(g => g.Aggregate(g.First().Gateway, (gateway, one) => one.List!.In(gateway)));
        return View.Inventory.With([tunnel, .. gateways]);
    }

    private TunnelEnd With(TunnelEnd end, EndView view)
    {
        end = WithSelectors(end, view);
        if (end.Rules is { } rules && view.Platform.IsManual(ManualWork.Rules) != false)
            end = end with { Rules = rules.With(PairsAt(view).SelectMany(Transforming.BothWays)) };
        if (end.NoNat is { } plain && view.Platform.IsManual(ManualWork.NoNat) != false)
            end = end with { NoNat = plain.With(PairsAt(view).Select(p => p.Prefixes).Distinct()) };
        if (end.Routes is { } routes && !IsNear(view) && View.Tunnel.Form == TunnelForm.RouteBased)
            end = end with { Routes = routes.With(RoutesAt(view)) };
        return end.Routing is { } routing ? end with { Routing = WithNeighbour(routing, view) } : end;
    }

    private IEnumerable<Route> RoutesAt(EndView view) =>
        new[] { true, false }
            .Where(discard => view.Platform.IsManual(discard ? ManualWork.DiscardRoute : ManualWork.Route) == true)
            .SelectMany(discard => Prefixes.Select(p => new Route(p, discard)));

    /// <summary>
    /// The near end announces the new prefixes and the far end takes them. Where nothing is listed nothing is held
    /// back, and a list of the new prefixes alone would be the first to do so.
    /// </summary>
    private DynamicRouting WithNeighbour(DynamicRouting routing, EndView view)
    {
        ImmutableArray<Prefix> Longer(ImmutableArray<Prefix> now) =>
            now.IsEmpty ? now : [.. now, .. Prefixes.Where(p => !now.Any(n => n.Contains(p)))];
        return IsNear(view)
            ? routing with
            {
                Announces = Longer(routing.Announces),
            }
            : routing with
            {
                Accepts = Longer(routing.Accepts),
            };
    }

    /// <summary>The selectors of an end: its own lists, or pairs; a list on the gateway is altered there.</summary>
    private TunnelEnd WithSelectors(TunnelEnd end, EndView view)
    {
        // Pairs that nobody recorded follow from what was agreed.
        if (
            view.AnyToAny || (end.Subnets is null && view.Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.One)
        )
            return end;
        var subnets = end.Subnets ?? new(null, null, null, null, null, null);
        if (subnets.Pairs is { } pairs)
            return end with { Subnets = subnets with { Pairs = [.. pairs, .. PairsAt(view).Except(pairs)] } };
        var own = IsNear(view);
        if (SharedList.Of(this, view) is { } shared)
            return shared.Copy is null
                ? end
                : end with
                {
                    Subnets = own
                        ? subnets with
                        {
                            LocalFrom = shared.Copy,
                        }
                        : subnets with
                        {
                            RemoteFrom = shared.Copy,
                        },
                };
        var longer = Missing(view).IsEmpty ? (ImmutableArray<Prefix>?)null : [.. Listed(view), .. Missing(view)];
        return longer is null
            ? end
            : end with
            {
                Subnets = own ? subnets with { Local = longer } : subnets with { Remote = longer },
            };
    }

    /// <summary>The list of an end in which the new prefixes belong, as it is.</summary>
    public ImmutableArray<Prefix> Listed(EndView end) =>
        (IsNear(end) ? end.LocalSubnets : end.RemoteSubnets).Value?.Items ?? [];

    /// <summary>What that list lacks of them.</summary>
    public ImmutableArray<Prefix> Missing(EndView end) => [.. Prefixes.Except(Listed(end))];
}

/// <summary>A list on a gateway that serves several tunnels: altered, or copied for this one.</summary>
/// <param name="List">The entry on the gateway.</param>
/// <param name="Missing">What it lacks.</param>
/// <param name="Others">The other tunnels that use it and that stay as they are.</param>
/// <param name="Gaining">The other tunnels that use it and gain the same.</param>
/// <param name="Copy">The copy that this tunnel gets; null when the list is altered.</param>
internal sealed record SharedList(
    SharedEntry List,
    ImmutableArray<Prefix> Missing,
    ImmutableArray<Tunnel> Others,
    ImmutableArray<Tunnel> Gaining,
    string? Copy
)
{
    /// <summary>The name of the list.</summary>
    public string Name => List.Name;

    /// <summary>What it holds then.</summary>
    public IEnumerable<Prefix> Then => List.Members.Concat(Missing);

    /// <summary>The list of an end on its gateway, when it lacks any of the new prefixes; else null.</summary>
    public static SharedList? Of(AddedSubnets added, EndView end)
    {
        var own = added.IsNear(end);
        var subnets = end.End.Subnets;
        var name = own ? subnets?.LocalFrom : subnets?.RemoteFrom;
        var missing = added.Missing(end);
        if (end.AnyToAny || name is null || missing.IsEmpty || end.Gateway.Held(name) is not { } list)
            return null;
        bool Gains(Tunnel user) =>
            added.Together.Any(s =>
                s.TunnelId == user.Id && user.End(own ? s.End : s.End.Other()).GatewayId == end.Gateway.Id
            );
        var users = end.Tunnel.Inventory.UsersOf(end.Gateway.Id, name, end.Tunnel.Tunnel.Id).ToLookup(Gains);
        return new(
            list,
            missing,
            [.. users[false]],
            [.. users[true]],
            users[false].Any() ? StepWords.Name(end, "nets") : null
        );
    }

    /// <summary>The gateway with the list altered, or with the copy beside it.</summary>
    public Gateway In(Gateway gateway)
    {
        var then = new SharedEntry(Copy ?? Name, Copy is null ? List.Called : null, [.. Then]);
        return gateway with
        {
            SharedEntries = Copy is null
                ? [.. gateway.SharedEntries.Select(h => h.Name == Name ? h with { Members = then.Members } : h)]
                : gateway.SharedEntries.Add(then),
        };
    }
}

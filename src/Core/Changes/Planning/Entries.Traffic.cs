using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// What lets traffic pass and leads it into the tunnel: firewall and no-NAT rules, routes, interface, routing.
/// </summary>
public static partial class Entries
{
    /// <summary>As recorded; as the wanted pairs need it where nobody recorded it and it is manual.</summary>
    private static IEnumerable<Entry> Rules(EndView end)
    {
        var recorded = end.End.Rules?.Value?.Items;
        IEnumerable<Rule> manual =
            end.Platform.IsManual(ManualWork.Rules) == true ? Wanted(end).SelectMany(Transforming.BothWays) : [];
        IEnumerable<Rule> rules = recorded is { } said ? said : manual;
        foreach (var rule in rules)
            yield return new(
                Work.Rules,
                $"rule {Rule.Ways.Of(rule.Way)} {rule.Local} - {rule.Remote}{(rule.Only is { } only ? $" {only.AtEnd}" : "")}",
                rule.Way switch
                {
                    RuleDirection.In => "allow inbound",
                    RuleDirection.Out => "allow outbound",
                    _ => "allow both ways",
                },
                rule.Way switch
                {
                    RuleDirection.In => $"{rule.Remote} → {rule.Local}, {Service(rule)}",
                    RuleDirection.Out => $"{rule.Local} → {rule.Remote}, {Service(rule)}",
                    _ => $"{rule.Local} ↔ {rule.Remote}, {Service(rule)}",
                }
            )
            {
                Item = recorded is null ? null : At(end, Paths(end).Rule(rule)),
                Parts = recorded is null ? [] : Sides(end, Paths(end).Rule(rule), new(rule.Local, rule.Remote)),
                Rule = rule,
            };
    }

    private static string Service(Rule rule) => rule.Only?.AtEnd ?? "any service";

    private static IEnumerable<Entry> NoNat(EndView end)
    {
        var recorded = end.End.NoNat?.Value?.Items;
        IEnumerable<LocalRemote> manual =
            end.Platform.IsManual(ManualWork.NoNat) == true ? Wanted(end).Select(p => p.Prefixes).Distinct() : [];
        IEnumerable<LocalRemote> plain = recorded is { } said ? said : manual;
        foreach (var pair in plain)
            yield return new(
                Work.NoNat,
                $"no-NAT {pair.Local} - {pair.Remote}",
                "no-NAT rule",
                $"{pair.Local} → {pair.Remote}"
            )
            {
                Item = recorded is null ? null : At(end, Paths(end).NoNatRule(pair)),
                Parts = recorded is null ? [] : Sides(end, Paths(end).NoNatRule(pair), pair),
                Pair = pair,
            };
    }

    private static IEnumerable<Entry> Routes(EndView end)
    {
        var recorded = end.End.Routes?.Value?.Items;
        IEnumerable<Route> routes = recorded is { } said ? said : ManualRoutes(end);
        foreach (var route in routes)
        {
            var to = route.To.ToString();
            var (work, key, label) = route.Discard
                ? (Work.Discard, $"discard {to}", "discard route to")
                : (Work.Routes, $"route {to}", "route into the tunnel to");
            yield return new(work, key, label, to)
            {
                At = recorded is null ? null : At(end, Paths(end).Route(route).Key("to")),
                Item = recorded is null ? null : At(end, Paths(end).Route(route)),
                Route = route,
            };
        }
    }

    private static IEnumerable<Route> ManualRoutes(EndView end)
    {
        if (end.Tunnel.Tunnel.Form != TunnelForm.RouteBased)
            return [];
        // An end that learns its routes from a neighbour gets no manual ones.
        var route = end.Platform.IsManual(ManualWork.Route) == true && end.End.Routing is null;
        var discard = end.Platform.IsManual(ManualWork.DiscardRoute) == true;
        return Wanted(end)
            .Select(p => p.Remote)
            .Distinct()
            .SelectMany(to => new[] { new Route(to, Discard: false), new Route(to, Discard: true) })
            .Where(r => r.Discard ? discard : route);
    }

    private static IEnumerable<Entry> Interface(EndView end)
    {
        if (end.End.TunnelAddress is not { } inner || inner.Value?.IsNone == true)
            yield break;
        var at = At(end, Paths(end).TunnelAddress);
        yield return new(Work.Interface, "interface", "tunnel address", inner.Value?.ToString() ?? "pending")
        {
            At = at,
            Pending = inner.Value is null
                ? new(
                    at,
                    $"tunnel address of {end.Tunnel.Tunnel.Code} at {end.Name}",
                    inner.Pending?.WhoKnows,
                    inner.Pending?.By
                )
                : null,
        };
    }

    private static IEnumerable<Entry> Routing(EndView end)
    {
        if (end.End.Routing is not { } routing)
            yield break;
        var paths = Paths(end);
        Entry Prefixes(string key, string label, ImmutableArray<Prefix> prefixes, Place at) =>
            new(Work.Routing, key, label, List(prefixes))
            {
                At = at,
                Parts = Items(at, prefixes),
                Prefixes = prefixes,
            };
        yield return new(
            Work.Routing,
            "routing",
            routing.Protocol,
            $"local AS {routing.LocalAs ?? "unknown"}, neighbour {routing.PeerAddress?.ToString() ?? "unknown"}, "
                + $"remote AS {routing.RemoteAs ?? "unknown"}"
        )
        {
            At = At(end, paths.Routing),
            Parts =
            [
                .. Part(routing.LocalAs, "localAs"),
                .. Part(routing.PeerAddress?.ToString(), "peerAddress"),
                .. Part(routing.RemoteAs, "remoteAs"),
            ],
        };
        yield return Prefixes(Entry.Announces, "announces", routing.Announces, At(end, paths.Announces));
        yield return Prefixes("accepts", "accepts only", routing.Accepts, At(end, paths.Accepts));
        if (routing.Hold is { } hold)
            yield return new(Work.Routing, "hold", "hold time", hold.ToString())
            {
                At = At(end, paths.Routing.Key("hold")),
            };

        IEnumerable<ValuePart> Part(string? text, string field) =>
            text is null ? [] : [new ValuePart(text, At(end, paths.Routing.Key(field)))];
    }
}

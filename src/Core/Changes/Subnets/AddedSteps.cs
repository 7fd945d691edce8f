using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>
/// The steps of one end that gains subnets, made of what differs there: one for each rule and route, one for the
/// selectors, one for the routing neighbour, and what switches it on.
/// </summary>
internal sealed partial class AddedSteps(AddedSubnets added, PlanMaker maker)
{
    private readonly TunnelView view = added.View;

    /// <summary>
    /// Adds the building steps of an end and gives back those that belong to the switch, which wait until both ends are
    /// built.
    /// </summary>
    public IReadOnlyList<Step> Build(EndView end)
    {
        var difference = maker.Tunnels[0].Differs(end.Name);
        var building = new List<Step>();
        var switching = new List<Step>();
        // Where entries take effect only when they are activated, entering them stops nothing.
        var entering = end.Platform.Effect == Effect.OnActivation ? building : switching;
        foreach (var pair in added.PairsAt(end))
            building.AddRange(Passing(end, pair, difference));
        TellPassing(end, difference);
        foreach (var discard in difference.Enter.Where(d => d.After.Work == Work.Discard))
            building.Add(Discard(end, discard.After.Route!));
        entering.AddRange(Selectors(end, difference));
        entering.AddRange(Neighbour(end, difference));
        foreach (var route in difference.Enter.Where(d => d.After.Work == Work.Routes))
            switching.Add(Route(end, route.After.Route!));
        TellRoutes(end, difference);
        if (end.Platform.Effect == Effect.OnRequest)
            return [.. AsOneRequest(end, [.. building, .. switching])];
        foreach (var step in building)
            maker.Add(step);
        if (end.Platform.Effect == Effect.OnActivation)
            switching.Add(Activate(end, building));
        return switching;
    }

    private static EndPaths Paths(EndView end) => TunnelPaths.Of(end.Name);

    private static string RequestKey(EndView end) => $"request-{end.Name.Key()}";

    /// <summary>
    /// A step carries what stands at a place; where everything goes in one request, the request does.
    /// </summary>
    private void Carry(EndView end, Place at, string stepKey) =>
        maker.Carriers.Take(at, end.Platform.Effect == Effect.OnRequest ? RequestKey(end) : stepKey);

    private void Carry(EndView end, FieldPath path, string stepKey) => Carry(end, Place.On(view.Tunnel, path), stepKey);

    private Place At(FieldPath path) => Place.On(view.Tunnel, path);

    private static Step New(EndView end, Part part, string key, int minutes, Sentence does) =>
        StepWords.At(end, StepKind.Enter, part, key, minutes, does);

    /// <summary>The firewall rules of a new pair, inbound and outbound, and its no-NAT rule.</summary>
    private IEnumerable<Step> Passing(EndView end, LocalRemote pair, EndDifference difference)
    {
        var entries = difference.Enter.Select(d => d.After).ToArray();
        foreach (var rule in entries.Where(e => e.Rule is { } r && r.Local == pair.Local && r.Remote == pair.Remote))
            yield return RuleOf(end, rule, pair);
        foreach (var plain in entries.Where(e => e.Work == Work.NoNat && e.Pair == pair))
            yield return NoNatStep(end, plain, pair);
    }

    private Step RuleOf(EndView end, Entry entry, LocalRemote pair)
    {
        var rule = entry.Rule!;
        var (from, to) = rule.Way == RuleDirection.In ? (pair.Remote, pair.Local) : (pair.Local, pair.Remote);
        var way = Rule.Ways.Of(rule.Way);
        var key = $"rule-{way}-{end.Name.Key()}-{pair.Local}-{pair.Remote}";
        Carry(end, Paths(end).Rule(rule), key);
        return New(end, Part.Build, key, 2, $"Allow {way:w}bound {from} → {to}, any service.") with
        {
            Enter =
            [
                Side("from", from, entry),
                Side("to", to, entry),
                new("name", StepWords.Name(end, $"{Brief(pair, end)}-{way}")),
            ],
            Undo = $"Remove the firewall rule {way:w}bound {from} → {to} on {end.Gateway.Code}.",
        };
    }

    private Step NoNatStep(EndView end, Entry entry, LocalRemote pair)
    {
        var key = $"no-NAT-{end.Name.Key()}-{pair.Local}-{pair.Remote}";
        Carry(end, Paths(end).NoNatRule(pair), key);
        return New(end, Part.Build, key, 2, $"Add a no-NAT rule {pair.Local} → {pair.Remote} above all NAT rules.") with
        {
            Enter =
            [
                Side("local", pair.Local, entry),
                Side("remote", pair.Remote, entry),
                new("name", StepWords.Name(end, $"{Brief(pair, end)}-plain")),
            ],
            Undo = $"Remove the no-NAT rule {pair.Local} → {pair.Remote} on {end.Gateway.Code}.",
        };
    }

    /// <summary>One prefix of an entry, as a value that can be set otherwise.</summary>
    private static StepValue Side(string label, Prefix prefix, Entry entry) =>
        new(label, prefix.ToString()) { At = entry.Parts.FirstOrDefault(p => p.Text == prefix.ToString())?.At };

    private void TellPassing(EndView end, EndDifference difference)
    {
        int New(Work work) => difference.Enter.Count(d => d.After.Work == work);
        if (end.End.Rules?.Value is { } rules && New(Work.Rules) > 0)
            Tell(
                end,
                "firewall rules",
                Say.Count(rules.Items.Length, "rule"),
                Say.Count(rules.Items.Length + New(Work.Rules), "rule"),
                added.Pairs.Select(p => $"{Label(p)}, both directions")
            );
        if (end.End.NoNat?.Value is { } plain && New(Work.NoNat) > 0)
            Tell(
                end,
                "no-NAT rules",
                Say.Count(plain.Items.Length, "rule"),
                Say.Count(plain.Items.Length + New(Work.NoNat), "rule"),
                added.Pairs.Select(Label)
            );
    }

    private void TellRoutes(EndView end, EndDifference difference)
    {
        var fresh = difference.Enter.Where(d => d.After.Work == Work.Routes).Select(d => d.After.Text).ToArray();
        if (fresh.Length == 0 || end.End.Routes?.Value is not { } routes)
            return;
        var now = routes.Items.Count(r => !r.Discard);
        Tell(end, "routes", Say.Count(now, "route"), Say.Count(now + fresh.Length, "route"), fresh);
    }

    private void Tell(EndView end, string what, string before, string after, IEnumerable<string> more) =>
        maker.Differs(new(end.Name, what, before, after, [.. more]));

    private Step Discard(EndView end, Route route)
    {
        var key = $"discard-{end.Name.Key()}-{route.To}";
        return RouteStep(
            end,
            route,
            New(
                end,
                Part.Build,
                key,
                1,
                $"Add a discard route to {route.To}, less preferred than the route into the tunnel, so that no "
                    + $"traffic leaks while the tunnel is down."
            ) with
            {
                Undo = $"Remove the discard route to {route.To} on {end.Gateway.Code}.",
            }
        );
    }

    private Step Route(EndView end, Route route)
    {
        var key = $"route-{end.Name.Key()}-{route.To}";
        return RouteStep(
            end,
            route,
            New(end, Part.Switch, key, 1, $"Add the route to {route.To} into the tunnel of {view.Tunnel}.") with
            {
                Undo = $"Remove the route to {route.To} into the tunnel on {end.Gateway.Code}.",
            }
        );
    }

    private Step RouteStep(EndView end, Route route, Step step)
    {
        var path = Paths(end).Route(route);
        Carry(end, path, step.Key);
        return step with
        {
            Enter =
            [
                new("to", $"{route.To}") { At = end.End.Routes is null ? null : At(path.Key("to")) },
                new("into", route.Discard ? "discard" : "tunnel"),
            ],
        };
    }

    /// <summary>
    /// Where routes are learned from a neighbour, the near end announces the new prefixes and the far end takes them.
    /// </summary>
    private IEnumerable<Step> Neighbour(EndView end, EndDifference difference)
    {
        foreach (var (was, then) in difference.Enter.Where(d => d.After.Work == Work.Routing))
        {
            var announces = added.IsNear(end);
            var list = announces ? "announces" : "accepts";
            var more = then.Prefixes.Except(was!.Prefixes).ToArray();
            var prefixes = Say.And(more.Select(p => p.ToString()));
            var protocol = end.End.Routing!.Protocol;
            var key = $"{list}-{end.Name.Key()}";
            Tell(end, $"{protocol} {list}", was.Text, then.Text, more.Select(p => p.ToString()));
            Carry(end, then.At!, key);
            yield return New(
                end,
                PartOf(end),
                key,
                2,
                announces
                    ? Sentence.Of($"Announce {prefixes} to the {protocol:w} neighbour of {view.Tunnel}.")
                    : Sentence.Of($"Accept {prefixes} from the {protocol:w} neighbour of {view.Tunnel}.")
            ) with
            {
                Enter = Values(list, then.At!, more),
                Expect = [new($"{list} then", then.Text)],
                Undo = announces
                    ? Sentence.Of($"Stop announcing {prefixes} on {end.Gateway.Code}.")
                    : Sentence.Of($"Stop accepting {prefixes} on {end.Gateway.Code}."),
            };
        }
    }

    private Step Activate(EndView end, IEnumerable<Step> building) =>
        StepWords.At(
            end,
            StepKind.Activate,
            Part.Switch,
            $"activate-{end.Name.Key()}",
            1 + ((end.Platform.EffectSeconds ?? 0) / 60),
            StepWords.Activate(end, [view.Tunnel])
        ) with
        {
            Stops = StepWords.Stops(end, onlyAddsPairs: true),
            Undo = $"Remove the entries on {end.Gateway.Code}, then activate again.",
            Needs = [.. building.Select(s => s.Key)],
        };

    /// <summary>Where a gateway is asked for in one request, everything of its end is one step.</summary>
    private IEnumerable<Step> AsOneRequest(EndView end, Step[] all)
    {
        if (all.Length == 0)
            yield break;
        var minutes = end.Platform.EffectSeconds is { } seconds ? 1 + (seconds / 60) : 5;
        Sentence takes = end.Platform.EffectSeconds is { } known
            ? $"it takes about {Lifetime.Say(known):w}"
            : Sentence.Of($"the profile of {end.Platform.Title:w} does not say how long it takes");
        yield return StepWords.At(
            end,
            StepKind.Request,
            Part.Switch,
            RequestKey(end),
            minutes,
            $"Send one request for {view.Tunnel} on {end.Gateway.Code} with these values; {takes}."
        ) with
        {
            Enter = [.. all.SelectMany(s => s.Enter)],
            Expect = [.. all.SelectMany(s => s.Expect)],
            Stops = all.Select(s => s.Stops).FirstOrDefault(s => s is not null),
            Undo = $"Send the request on {end.Gateway.Code} again with the old values.",
        };
    }

    private string Label(SubnetPair pair)
    {
        string Named(EndView end) => view.NameOf(end.Name, pair.On(end.Name));
        return $"{Named(added.Near)} to {Named(added.Far)}";
    }

    /// <summary>
    /// What a new pair is called in names on devices: its new network, and the one it reaches where there are several.
    /// </summary>
    private string Brief(LocalRemote pair, EndView end)
    {
        var (near, far) = added.IsNear(end) ? (pair.Local, pair.Remote) : (pair.Remote, pair.Local);
        var reached = added.Pairs.Select(p => p.On(added.Far.Name)).Distinct().Count();
        var name = view.NameOf(added.Near.Name, near);
        return reached > 1 ? $"{name}-{view.NameOf(added.Far.Name, far)}" : name;
    }
}

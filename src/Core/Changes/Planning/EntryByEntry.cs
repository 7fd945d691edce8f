using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// The steps of an end whose tunnel stays as it is but for subnets: one for each rule and route, and what a list gains.
/// </summary>
/// <param name="tunnel">The tunnel before and after.</param>
/// <param name="end">The end that is worked on.</param>
internal sealed class EntryByEntry(TunnelStages tunnel, EndView end)
{
    private readonly Tunnel of = tunnel.Then.Tunnel;
    private readonly string on = end.Gateway.Code;

    /// <summary>One kind of work in its steps.</summary>
    public IEnumerable<WorkStep> Of(Work work, ImmutableArray<Entered> enter, ImmutableArray<Entry> gone)
    {
        var pairs = enter.Where(e => e.IsNew && work == Work.Selectors && e.After.Pair is not null).ToImmutableArray();
        var single = enter.Except(pairs).Where(e => Grows(e) || SharedAfter(e) is not null).ToArray();
        var rest = enter.Except(pairs).Except(single).ToImmutableArray();
        foreach (var step in single.SelectMany(e => Single(work, e)))
            yield return step;
        if (!pairs.IsEmpty)
            yield return Pairs(pairs);
        if (!rest.IsEmpty || !gone.IsEmpty)
            yield return new(
                StepWords.KeyOf(work),
                StepWords.Minutes(work),
                StepWords.Does(work, tunnel, end, rest, gone),
                rest,
                gone
            );
    }

    /// <summary>Whether an entry is new, or a list that loses nothing.</summary>
    public static bool Grows(Entered entered) =>
        entered.Before is not { } before
            ? entered.After.Work is Work.Rules or Work.NoNat or Work.Discard or Work.Routes
            : entered.After.Prefixes.Length > 0
                && before.SharedList == entered.After.SharedList
                && before.Prefixes.All(entered.After.Prefixes.Contains);

    /// <summary>The list on the gateway that an end is to use instead of what it uses now; null when it keeps it.</summary>
    public static string? SharedAfter(Entered entered) =>
        entered.Before is { } before && before.SharedList != entered.After.SharedList ? entered.After.SharedList : null;

    private IEnumerable<WorkStep> Single(Work work, Entered entered) =>
        entered switch
        {
            { After: { Rule: { } rule } after } => [RuleStep(entered, after, rule)],
            { After: { Route: { } route } } => [RouteStep(entered, route)],
            { After: { Pair: { } pair } after } => [NoNatStep(entered, after, pair)],
            _ when SharedAfter(entered) is { } copy => [Copy(entered, copy), Use(entered, copy)],
            _ => [Longer(work, entered)],
        };

    private WorkStep RuleStep(Entered entered, Entry entry, Rule rule)
    {
        var (from, to) = rule.Way == RuleDirection.In ? (rule.Remote, rule.Local) : (rule.Local, rule.Remote);
        var way = Rule.Ways.Of(rule.Way);
        var name = StepWords.Name(end, $"{Brief(new(rule.Local, rule.Remote))}-{way}");
        return New(
            entered,
            $"rule-{way}-{rule.Local}-{rule.Remote}",
            $"Allow {way:w}bound {from} → {to}, any service.",
            Side("from", from, entry),
            Side("to", to, entry),
            new("name", name)
        );
    }

    private WorkStep NoNatStep(Entered entered, Entry entry, LocalRemote pair) =>
        New(
            entered,
            $"no-NAT-{pair.Local}-{pair.Remote}",
            $"Add a no-NAT rule {pair.Local} → {pair.Remote} above all NAT rules.",
            Side("local", pair.Local, entry),
            Side("remote", pair.Remote, entry),
            new("name", StepWords.Name(end, $"{Brief(pair)}-plain"))
        );

    private WorkStep RouteStep(Entered entered, Route route) =>
        New(
            entered,
            $"{(route.Discard ? "discard" : "route")}-{route.To}",
            route.Discard
                ? Sentence.Of(
                    $"Add a discard route to {route.To}, less preferred than the route into the tunnel, so that no "
                        + $"traffic leaks while the tunnel is down."
                )
                : Sentence.Of($"Add the route to {route.To} into the tunnel of {of}."),
            new("to", $"{route.To}") { At = entered.After.At },
            new("into", route.Discard ? "discard" : "tunnel")
        );

    private static WorkStep New(Entered entered, string key, Sentence does, params StepValue[] values) =>
        new(key, StepWords.Minutes(entered.After.Work), does, [entered], [])
        {
            Values = [values[0] with { Key = entered.After.Key, Whole = entered.After.Text }, .. values[1..]],
        };

    /// <summary>One prefix of an entry, as a value that can be set otherwise.</summary>
    private static StepValue Side(string label, Prefix prefix, Entry entry) =>
        new(label, prefix.ToString()) { At = entry.Parts.FirstOrDefault(p => p.Text == prefix.ToString())?.At };

    private WorkStep Pairs(ImmutableArray<Entered> pairs)
    {
        var said = Say.And(pairs.Select(p => $"{p.After.Pair!.Local} to {p.After.Pair.Remote}"));
        return new(
            StepWords.KeyOf(Work.Selectors),
            2,
            $"Add {Say.Count(pairs.Length, "protected pair"):w} to {of}: {said}.",
            pairs,
            []
        );
    }

    /// <summary>What a list of prefixes gains: selectors of the end or of its gateway, what is announced or accepted.</summary>
    private WorkStep Longer(Work work, Entered entered)
    {
        var after = entered.After;
        var more = More(entered);
        var prefixes = Say.And(more.Select(p => p.ToString()));
        return new(
            $"{KeyOf(after)}-{after.Key}",
            StepWords.Minutes(work),
            (work, after.SharedList) switch
            {
                (Work.Routing, _) => Exchanged(after, prefixes),
                (_, { } shared) => Sentence.Of(
                    $"Add {prefixes} to the subnet list {shared}, which only {Users(shared)}."
                ),
                _ => Sentence.Of($"Add {prefixes} to the {after.Label:w} of {of}."),
            },
            [entered],
            []
        )
        {
            Values = Added(after, more),
            Expect = [Standing(entered, new($"{after.SharedList ?? after.Label} then", after.PrefixText))],
            Carries = after.At is { } at ? [at] : [],
        };
    }

    private static string KeyOf(Entry list) =>
        list.Work == Work.Routing ? StepWords.KeyOf(list.Work)
        : list.SharedList is null ? "subnets"
        : "alter-list";

    private Sentence Exchanged(Entry after, string prefixes)
    {
        var protocol = end.End.Routing!.Protocol;
        return after.Key == Entry.Announces
            ? Sentence.Of($"Announce {prefixes} to the {protocol:w} neighbour of {of}.")
            : Sentence.Of($"Accept {prefixes} from the {protocol:w} neighbour of {of}.");
    }

    private WorkStep Copy(Entered entered, string copy)
    {
        var (was, after) = (entered.Before!, entered.After);
        var at = Place.On(end.Gateway, GatewayPaths.SharedEntry(copy));
        return new(
            $"copy-list-{after.Key}",
            4,
            $"Copy the subnet list {was.SharedList} to {copy} and add "
                + $"{Say.And(More(entered).Select(p => p.ToString()))}. {was.SharedList} stays as it is for "
                + $"{Serves(was.SharedList!)}.",
            [entered],
            []
        )
        {
            Values =
            [
                new("new list", copy) { At = at with { Path = at.Path.Key("name") } },
                .. Added(after, More(entered)),
            ],
            Expect = [new($"{copy} then", after.PrefixText)],
            Carries = [at],
            Undo = $"Remove the subnet list {copy} on {on}.",
            OnlyPrepares = true,
        };
    }

    private WorkStep Use(Entered entered, string copy)
    {
        var (was, after) = (entered.Before!, entered.After);
        var path = TunnelPaths.Of(end.Name).SubnetsFrom(after.Key == Entry.LocalSubnets);
        return new($"use-list-{after.Key}", 2, $"Set {copy} as the {after.Label:w} of {of}.", [entered], [])
        {
            Values = [new(after.Label, copy) { At = Place.On(of, path) }],
            Expect = [Standing(entered, new("list then in use", copy))],
            Carries = [Place.On(of, path)],
            Undo = $"Set {was.SharedList} again as the {after.Label:w} of {of} on {on}.",
        };
    }

    /// <summary>The other tunnels that a list of the gateway goes on serving.</summary>
    public Sentence Serves(string list)
    {
        var others = tunnel.Then.Inventory.UsersOf(end.Gateway.Id, list, of.Id).ToArray();
        return others.Length <= 3
            ? StepWords.Tunnels(others)
            : Sentence.Of($"{Say.Count(others.Length, "other tunnel"):w}");
    }

    private Sentence Users(string list)
    {
        Tunnel[] users = [of, .. tunnel.Then.Inventory.UsersOf(end.Gateway.Id, list, of.Id)];
        return Sentence.Of($"{StepWords.Tunnels(users)} {(users.Length == 1 ? "uses" : "use"):w}");
    }

    private static Prefix[] More(Entered entered) => [.. entered.After.Prefixes.Except(entered.Before!.Prefixes)];

    private static ImmutableArray<StepValue> Added(Entry after, IEnumerable<Prefix> prefixes) =>
        [
            .. prefixes.Select(p => new StepValue(OneOf(after), p.ToString())
            {
                At = after.At is { } at ? at with { Path = at.Path.Item(p.ToString()) } : null,
            }),
        ];

    private static string OneOf(Entry list) => list.Work == Work.Routing ? list.Label : list.Label.TrimEnd('s');

    /// <summary>The value that tells what stands on the device then.</summary>
    private static StepValue Standing(Entered entered, StepValue value) =>
        value with
        {
            Key = entered.After.Key,
            Before = entered.Before?.Text,
            Whole = entered.After.Text,
        };

    /// <summary>
    /// What a pair is called in names on devices: its new network, and the other side where one name would not tell.
    /// </summary>
    private string Brief(LocalRemote pair)
    {
        var (a, b) = end.Name == EndName.A ? (pair.Local, pair.Remote) : (pair.Remote, pair.Local);
        string NameOf(EndName side) => tunnel.Then.NameOf(side, side == EndName.A ? a : b);
        bool IsNew(EndName side) => tunnel.Was.Tunnel.Agreed.Pairs.All(p => p.On(side) != (side == EndName.A ? a : b));
        var near = IsNew(EndName.A) || !IsNew(EndName.B) ? EndName.A : EndName.B;
        var reached = tunnel.NewPairs.Count(p => p.On(near) == (near == EndName.A ? a : b));
        return reached > 1 ? $"{NameOf(near)}-{NameOf(near.Other())}" : NameOf(near);
    }
}

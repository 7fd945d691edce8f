using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>The selectors of an end: its own list, a list that it shares, or pairs.</summary>
internal sealed partial class AddedSteps
{
    /// <summary>
    /// The step that brings the new prefixes into the selectors of an end: its list, the list it shares, or its pairs.
    /// </summary>
    private IEnumerable<Step> Selectors(EndView end, EndDifference difference)
    {
        var entries = difference.Enter.Where(d => d.After.Work == Work.Selectors).Select(d => d.After).ToArray();
        var pairs = entries.Where(e => e.Pair is not null).ToArray();
        if (pairs.Length > 0)
            return [Pairs(end, pairs)];
        var missing = added.Missing(end);
        if (entries.Length > 0)
            Tell(
                end,
                $"{Which(end)} subnets",
                string.Join(", ", added.Listed(end)),
                string.Join(", ", added.Listed(end).Concat(missing)),
                missing.Select(p => p.ToString())
            );
        if (SharedList.Of(added, end) is { } shared)
            return shared.Copy is null ? [Alter(end, shared)] : [Copy(end, shared), Use(end, shared)];
        return entries.Length > 0 ? [List(end, missing)] : [];
    }

    private static Part PartOf(EndView end) => end.Platform.Effect == Effect.OnActivation ? Part.Build : Part.Switch;

    private static Sentence? StopsAt(EndView end) =>
        end.Platform.Effect == Effect.OnActivation ? null : StepWords.Stops(end, onlyAddsPairs: true);

    /// <summary>Whether the new prefixes are the own or the peer side of an end's selectors.</summary>
    private string Which(EndView end) => added.IsNear(end) ? "local" : "remote";

    private Step Pairs(EndView end, Entry[] pairs)
    {
        var key = $"pairs-{end.Name.Key()}";
        var said = Say.And(pairs.Select(p => $"{p.Pair!.Local} to {p.Pair.Remote}"));
        Carry(end, Paths(end).SubnetPairs, key);
        var before = Planning.Entries.Of(end).Count(e => e.Work == Work.Selectors);
        Tell(
            end,
            "pairs entered",
            Say.Count(before, "pair"),
            Say.Count(before + pairs.Length, "pair"),
            added.Pairs.Select(p => p.ToString())
        );
        return New(
            end,
            PartOf(end),
            key,
            2,
            $"Add {Say.Count(pairs.Length, "protected pair"):w} to {view.Tunnel}: {said}."
        ) with
        {
            Enter =
            [
                .. pairs.Select(p => new StepValue("local, remote", $"{p.Pair!.Local}, {p.Pair.Remote}")
                {
                    At = p.At,
                    Parts = p.Parts,
                }),
            ],
            Stops = StopsAt(end),
            Undo = $"Remove {said} from the protected pairs on {end.Gateway.Code}.",
        };
    }

    private Step List(EndView end, ImmutableArray<Prefix> missing)
    {
        var (key, which) = ($"subnets-{end.Name.Key()}", Which(end));
        var path = added.IsNear(end) ? Paths(end).LocalSubnets : Paths(end).RemoteSubnets;
        var prefixes = Say.And(missing.Select(p => p.ToString()));
        Carry(end, path, key);
        return New(end, PartOf(end), key, 2, $"Add {prefixes} to the {which:w} subnets of {view.Tunnel}.") with
        {
            Enter = Values($"{which} subnet", At(path), added.Prefixes),
            Expect = [Then($"{which} subnets", added.Listed(end).Concat(missing))],
            Stops = StopsAt(end),
            Undo = $"Remove {prefixes} from the {which:w} subnets of {view.Tunnel} on {end.Gateway.Code}.",
        };
    }

    private Step Alter(EndView end, SharedList shared)
    {
        var key = $"alter-list-{end.Name.Key()}";
        var prefixes = Say.And(shared.Missing.Select(p => p.ToString()));
        var members = Place.On(end.Gateway, GatewayPaths.SharedEntry(shared.Name).Key("members"));
        Carry(end, members, key);
        return New(
            end,
            PartOf(end),
            key,
            2,
            $"Add {prefixes} to the subnet list {shared.Name}, which only "
                + $"{StepWords.Tunnels([view.Tunnel, .. shared.Gaining])} "
                + $"{(shared.Gaining.IsEmpty ? "uses" : "use"):w}."
        ) with
        {
            Enter = Values($"{Which(end)} subnet", members, added.Prefixes),
            Expect = [Then(shared.Name, shared.Then)],
            Stops = StopsAt(end),
            Undo = $"Remove {prefixes} from the subnet list {shared.Name} on {end.Gateway.Code}.",
        };
    }

    private Step Copy(EndView end, SharedList shared)
    {
        var key = $"copy-list-{end.Name.Key()}";
        var at = Place.On(end.Gateway, GatewayPaths.SharedEntry(shared.Copy!));
        Carry(end, at, key);
        var name = new StepValue("new list", shared.Copy!) { At = at with { Path = at.Path.Key("name") } };
        return New(
            end,
            PartOf(end),
            key,
            4,
            $"Copy the subnet list {shared.Name} to {shared.Copy!} and add "
                + $"{Say.And(shared.Missing.Select(p => p.ToString()))}. {shared.Name} stays as it is for "
                + $"{Serves(shared)}."
        ) with
        {
            Enter =
            [
                name,
                .. Values($"{Which(end)} subnet", at with { Path = at.Path.Key("members") }, added.Prefixes),
            ],
            Expect = [Then(shared.Copy!, shared.Then)],
            Undo = $"Remove the subnet list {shared.Copy!} on {end.Gateway.Code}.",
        };
    }

    private Step Use(EndView end, SharedList shared)
    {
        var (key, which) = ($"use-list-{end.Name.Key()}", Which(end));
        var path = Paths(end).SubnetsFrom(added.IsNear(end));
        Carry(end, path, key);
        return New(end, PartOf(end), key, 2, $"Set {shared.Copy!} as the {which:w} subnets of {view.Tunnel}.") with
        {
            Enter = [new($"{which} subnets", shared.Copy!) { At = At(path) }],
            Expect = [new("list then in use", shared.Copy!)],
            Stops = StopsAt(end),
            Undo = $"Set {shared.Name} again as the {which:w} subnets of {view.Tunnel} on {end.Gateway.Code}.",
        };
    }

    /// <summary>The other tunnels that a shared list goes on serving.</summary>
    public static Sentence Serves(SharedList shared) =>
        shared.Others.Length <= 3
            ? StepWords.Tunnels(shared.Others)
            : Sentence.Of($"{Say.Count(shared.Others.Length, "other tunnel"):w}");

    private static ImmutableArray<StepValue> Values(string label, Place list, IEnumerable<Prefix> prefixes) =>
        [
            .. prefixes.Select(p => new StepValue(label, p.ToString())
            {
                At = list with { Path = list.Path.Item(p.ToString()) },
            }),
        ];

    private static StepValue Then(string label, IEnumerable<Prefix> prefixes) =>
        new($"{label} then", string.Join(", ", prefixes));
}

namespace Vellumkeep.Core.Findings.Path;

/// <summary>
/// PATH-13: dynamic routing whose numbers or addresses are not mirrored, that announces what is outside the pairs, or
/// is not taken at the far side.
/// </summary>
public static class RoutingNotMirrored
{
    /// <summary>Dynamic routing does not fit (PATH-13).</summary>
    public static readonly Check Check = new("PATH-13", "dynamic routing does not fit", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        var (a, b) = (c.View.A.End.Routing, c.View.B.End.Routing);
        if (a is null && b is null)
            yield break;
        if (a is null || b is null)
        {
            var on = a is null ? EndName.B : EndName.A;
            yield return Of(
                Severity.Blocks,
                "one",
                [],
                $"{on} speaks {(a ?? b)!.Protocol} through the tunnel; {on.Other()} does not.",
                $"No neighbour answers, so no route is learned.",
                $"Set it up at {on.Other()} too, or use static routes at both.",
                $"Only {on} speaks {(a ?? b)!.Protocol}: nothing is learned."
            );
            yield break;
        }

        foreach (var (mine, theirs, name) in new[] { (a, b, EndName.A), (b, a, EndName.B) })
        {
            if (mine.Peer is { } expected && theirs.Own is { } real && expected != real)
                yield return Of(
                    Severity.Blocks,
                    $"{name}:number",
                    [],
                    $"{name} expects {expected} of its neighbour; {name.Other()} is {real}.",
                    $"The neighbours refuse each other.",
                    $"Enter {real} at {name}.",
                    $"The routing neighbours refuse each other: {name} expects {expected}, {name.Other()} is {real}."
                );
            if (
                mine.PeerAddress is { } at
                && c.View.End(name.Other()).End.TunnelAddress?.Value is { } stands
                && stands.Address != at
            )
                yield return Of(
                    Severity.Blocks,
                    $"{name}:address",
                    [],
                    $"{name} has its neighbour at {at}; {name.Other()}'s tunnel address is {stands.Address}.",
                    $"The neighbour is never found.",
                    $"Enter {stands.Address} at {name}.",
                    $"{name} looks for its routing neighbour at {at}, which is {stands.Address}."
                );
            foreach (
                var announced in mine.Announces.Where(p =>
                    !c.View.Tunnel.Agreed.Pairs.IsEmpty
                    && !c.View.Tunnel.Agreed.Pairs.Any(x => x.On(name).Contains(p) || p.Contains(x.On(name)))
                )
            )
                yield return Of(
                    Severity.Degrades,
                    $"{name}:{announced}",
                    [],
                    $"{name} announces {announced}, which is in no pair.",
                    $"Traffic for it is drawn into the tunnel and fits no selector.",
                    $"Stop announcing it, or add the pair.",
                    null
                );
            ImmutableArray<SubnetPair> untaken =
            [
                .. c.View.Tunnel.Agreed.Pairs.Where(x =>
                    mine.Announces.Any(p => p.Contains(x.On(name)))
                    && !theirs.Accepts.IsEmpty
                    && !theirs.Accepts.Any(p => p.Contains(x.On(name)))
                ),
            ];
            if (!untaken.IsEmpty)
                yield return Of(
                    c.Weight(untaken),
                    $"{name}:taken",
                    untaken,
                    $"{name} announces {Say.And(untaken.Select(x => x.On(name).ToString()).Distinct())}; {name.Other()} does not take it.",
                    $"Without the route nothing goes back.",
                    $"Let {name.Other()} take it.",
                    $"{name.Other()} does not take the route to {Say.And(untaken.Select(x => x.On(name).ToString()).Distinct())}."
                );
        }

        Finding Of(
            Severity severity,
            string subject,
            ImmutableArray<SubnetPair> pairs,
            Sentence what,
            Sentence why,
            Sentence mend,
            Sentence? consequence
        ) =>
            new()
            {
                Code = "PATH-13",
                Severity = severity,
                Subject = subject,
                Pairs = pairs,
                What = what,
                Why = why,
                Do = mend,
                Consequence = consequence,
                Evidence =
                [
                    new Evidence(EndName.A, "Routing", Text(a), c.View.A.Gateway.Code),
                    new Evidence(EndName.B, "Routing", Text(b), c.View.B.Gateway.Code),
                ],
            };
    }

    private static string Text(DynamicRouting? r) =>
        r is null ? "none" : $"{r.Protocol} {r.Own} to {r.Peer}{(r.PeerAddress is { } p ? $" at {p}" : "")}";
}

namespace Vellumkeep.Core.Findings.Path;

/// <summary>
/// PATH-13: dynamic routing whose numbers or addresses are not mirrored, that announces what is outside the pairs, or
/// is not taken at the far side.
/// </summary>
public static class RoutingNotMirrored
{
    /// <summary>Dynamic routing does not fit (PATH-13).</summary>
    public static readonly Check Check = new("PATH-13", "dynamic routing does not match", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        var (a, b) = (c.View.A.End.Routing, c.View.B.End.Routing);
        return (a, b) switch
        {
            (null, null) => [],
            (null, { } only) => [OneSide(c, EndName.B, only)],
            ({ } only, null) => [OneSide(c, EndName.A, only)],
            ({ } one, { } other) => Neighbours(c, EndName.A, one, other).Concat(Neighbours(c, EndName.B, other, one)),
        };
    }

    private static Finding OneSide(Checked c, EndName on, DynamicRouting routing) =>
        Of(
            c,
            Severity.Blocks,
            "one",
            $"{on} runs {routing.Protocol} through the tunnel; {on.Other()} does not.",
            $"The neighbour does not respond, so no route is learned.",
            $"Set it up at {on.Other()} too, or use static routes at both ends."
        ) with
        {
            Consequence = $"Only {on} runs {routing.Protocol}: no route is learned.",
        };

    private static IEnumerable<Finding> Neighbours(Checked c, EndName name, DynamicRouting mine, DynamicRouting theirs)
    {
        if (mine.RemoteAs is { } expected && theirs.LocalAs is { } real && expected != real)
            yield return Of(
                c,
                Severity.Blocks,
                $"{name}:number",
                $"Remote AS {expected} at {name}; local AS {real} at {name.Other()}.",
                $"The neighbours refuse each other.",
                $"Set remote AS {real} at {name}."
            ) with
            {
                Consequence =
                    $"The routing neighbours refuse each other: remote AS {expected} at {name}, local AS {real} at "
                    + $"{name.Other()}.",
            };
        if (
            mine.PeerAddress is { } at
            && c.View.End(name.Other()).End.InterfaceAddress is { } stands
            && stands.Address != at
        )
            yield return Of(
                c,
                Severity.Blocks,
                $"{name}:address",
                $"{name} has {at} as the neighbour address; {name.Other()}'s tunnel address is {stands.Address}.",
                $"The neighbour session does not come up.",
                $"Set {stands.Address} as the neighbour address at {name}."
            ) with
            {
                Consequence = $"{name} has {at} as the neighbour address; it is {stands.Address}.",
            };
        foreach (var announced in mine.Announces.Where(p => InNoPair(c, name, p)))
            yield return Of(
                c,
                Severity.Degrades,
                $"{name}:{announced}",
                $"{name} announces {announced}, which is in no pair.",
                $"The other end routes traffic for it into the tunnel, where it matches no selector.",
                $"Stop announcing it at {name}, or add the pair."
            );
        if (Untaken(c, name, mine, theirs) is { IsEmpty: false } untaken)
        {
            var prefixes = Say.And(untaken.Select(x => x.On(name).ToString()).Distinct());
            yield return Of(
                c,
                c.Weight(untaken),
                $"{name}:taken",
                $"{name} announces {prefixes}; {name.Other()} does not accept it.",
                $"Without the route there is no return traffic.",
                $"Accept it at {name.Other()}."
            ) with
            {
                Pairs = untaken,
                Consequence = $"{name.Other()} does not accept the route to {prefixes}.",
            };
        }
    }

    private static bool InNoPair(Checked c, EndName name, Prefix announced) =>
        !c.View.Tunnel.Agreed.Pairs.IsEmpty
        && !c.View.Tunnel.Agreed.Pairs.Any(x => x.On(name).Contains(announced) || announced.Contains(x.On(name)));

    /// <summary>The pairs whose prefix one end announces and the other does not take.</summary>
    private static ImmutableArray<SubnetPair> Untaken(
        Checked c,
        EndName name,
        DynamicRouting mine,
        DynamicRouting theirs
    ) =>
        [
            .. c.View.Tunnel.Agreed.Pairs.Where(x =>
                mine.Announces.Any(p => p.Contains(x.On(name)))
                && !theirs.Accepts.IsEmpty
                && !theirs.Accepts.Any(p => p.Contains(x.On(name)))
            ),
        ];

    private static Finding Of(
        Checked c,
        Severity severity,
        string subject,
        Sentence what,
        Sentence why,
        Sentence fix
    ) =>
        new()
        {
            Severity = severity,
            Subject = subject,
            What = what,
            Why = why,
            Do = fix,
            Evidence =
            [
                new Evidence(EndName.A, "Routing", Text(c.View.A.End.Routing), c.View.A.Gateway.Code),
                new Evidence(EndName.B, "Routing", Text(c.View.B.End.Routing), c.View.B.Gateway.Code),
            ],
        };

    private static string Text(DynamicRouting? r) =>
        r is null ? "none" : $"{r.Protocol} {r.LocalAs} to {r.RemoteAs}{(r.PeerAddress is { } p ? $" at {p}" : "")}";
}

using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>
/// PAIR-15: tunnel addresses that are equal, cannot reach each other, are used twice, clash with a site, or are not
/// ours.
/// </summary>
public static class TunnelAddressesClash
{
    /// <summary>Tunnel addresses clash (PAIR-15).</summary>
    public static readonly Check Check = new("PAIR-15", "tunnel addresses clash", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        foreach (var (row, d) in c.Differences<TunnelAddressesDiffer>())
            yield return new()
            {
                Severity = Severity.Blocks,
                RowKey = row.Key,
                What =
                    d.A.Address == d.B.Address
                        ? Sentence.Of($"Both ends have the tunnel address {d.A.Address}.")
                        : Sentence.Of(
                            $"{d.A.ToString()} at {EndName.A} and {d.B.ToString()} at {EndName.B} do not lie in one network."
                        ),
                Why = $"Routes over the tunnel interface have no reachable next hop.",
                Do = $"Use two addresses of one /30 or /31, one at each end.",
                Consequence = $"The tunnel addresses cannot reach each other: {d.A.ToString()} and {d.B.ToString()}.",
                Evidence = Checked.Of(row),
            };
        foreach (var end in c.View.Ends.Where(e => Alone(e)))
            yield return new()
            {
                Severity = Severity.Risk,
                Subject = $"{end.Name}:alone",
                RowKey = RowKey.TunnelAddress,
                What = end.Other.End.TunnelAddress is null
                    ? Sentence.Of(
                        $"{end.Name} has the tunnel address {end.End.InterfaceAddress!.ToString()}; for {end.Name.Other()} none "
                            + $"is recorded."
                    )
                    : Sentence.Of(
                        $"{end.Name} has the tunnel address {end.End.InterfaceAddress!.ToString()}; {end.Name.Other()} has none."
                    ),
                Why =
                    $"Nothing answers in that network at the other end: a neighbour or a probe there is never reached.",
                Do = end.Other.End.TunnelAddress is null
                    ? Sentence.Of($"Record the tunnel address at {end.Name.Other()}, or none.")
                    : Sentence.Of(
                        $"Give {end.Name.Other()} an address of {end.End.InterfaceAddress!.Network}, or remove it at {end.Name}."
                    ),
                Evidence = Checked.Of(c.Row(RowKey.TunnelAddress)),
            };
        foreach (var end in c.View.Ends)
        {
            if (end.End.InterfaceAddress is not { } mine)
                continue;
            var row = c.Row(RowKey.TunnelAddress);
            if (
                c
                    .View.Inventory.WithTunnelAddress(end.Gateway.Id, end.End.ProtectedVrf, mine.Address)
                    .FirstOrDefault(t => t.Id != c.View.Tunnel.Id) is
                { } other
            )
                yield return new()
                {
                    Severity = Severity.Blocks,
                    Subject = $"{end.Name}:twice",
                    RowKey = RowKey.TunnelAddress,
                    What =
                        $"{end.Name} has the tunnel address {mine.Address}, which {other} has on {end.Gateway.Code} too.",
                    Why = $"Two tunnel interfaces of one VRF cannot have the same address.",
                    Do = $"Use a free address{(end.Gateway.TunnelPool is { } pool ? $" from {pool}" : ""):w}.",
                    Consequence = $"The tunnel address {mine.Address} is used twice on {end.Gateway.Code}.",
                    Evidence = Checked.Of(row),
                };
            foreach (var side in c.View.Ends)
                if (side.Site.Networks.FirstOrDefault(n => n.Prefix.Overlaps(mine.Network)) is { } n)
                    yield return new()
                    {
                        Severity = Severity.Blocks,
                        Subject = $"{end.Name}:{side.Name}:{n.Prefix}",
                        RowKey = RowKey.TunnelAddress,
                        What =
                            $"The tunnel address {mine.ToString()} at {end.Name} lies in {n.Prefix} ({n.Name:w}) at "
                            + $"{side.Site.Name:w}.",
                        Why = $"The device routes traffic for that network to the tunnel interface, or the reverse.",
                        Do = $"Use a tunnel address that is in no network of either site.",
                        Consequence =
                            $"The tunnel address at {end.Name} clashes with {n.Name:w} at {side.Site.Name:w}.",
                        Evidence = Checked.Of(row),
                    };
            if (!mine.Address.IsPrivate && end.Gateway.TunnelPool?.Contains(mine.Address) != true)
                yield return new()
                {
                    Severity = Severity.Risk,
                    Subject = $"{end.Name}:public",
                    RowKey = RowKey.TunnelAddress,
                    What =
                        $"The tunnel address {mine.Address} at {end.Name} is public and outside "
                        + $"{(end.Gateway.TunnelPool is { } p ? $"the pool {p}" : "any tunnel address pool"):w}.",
                    Why = $"It belongs to somebody else, and the site can then no longer reach the real owner.",
                    Do = $"Use an address from a private range.",
                    Standard = "RFC 1918",
                    Evidence = Checked.Of(row),
                };
        }
    }

    /// <summary>Whether only this end has an address, and the other's is not merely to come.</summary>
    private static bool Alone(EndView end) =>
        end.End.InterfaceAddress is not null && end.Other.End.TunnelAddress is (null or { Value.IsNone: true });
}

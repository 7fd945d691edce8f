namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>
/// ADR-06: an outer address that is private without a NAT, or not in its uplink's subnet; or that is reached
/// through its own tunnel.
/// </summary>
public static class OuterAddressOdd
{
    /// <summary>Outer address private, out of its subnet, or behind its own tunnel (ADR-06).</summary>
    public static readonly Check Check = new(
        "ADR-06",
        "outer address private, out of its subnet, or behind its own tunnel",
        Run
    );

    private static IEnumerable<Finding> Run(Checked c)
    {
        foreach (var e in c.View.Ends)
        {
            var row = RowKey.AddressOf(e.Name);
            foreach (var u in e.Uplinks)
            {
                if (u.Nat is null && u.Address.Value?.Fixed is { IsPrivate: true } local)
                    yield return new()
                    {
                        Severity = Severity.Degrades,
                        Subject = $"{e.Name}:{u.Label}:private",
                        RowKey = row,
                        What =
                            $"{local} on uplink {u.Label} of {e.Gateway.Code} is private, and no NAT in front of it is recorded.",
                        Why =
                            $"Nobody outside can send to it. Either there is NAT in front of it, or the address is wrong.",
                        Do = $"Record the NAT with its public address, or correct the address of {e.Gateway.Code}.",
                        Consequence = $"{e.Name}'s outer address {local} is private.",
                        Standard = "RFC 1918",
                        Evidence = Checked.Of(c.Row(row)),
                    };
                if (u.Subnet is { } subnet && u.Address.Value?.Fixed is { } at && !subnet.Contains(at))
                    yield return new()
                    {
                        Severity = Severity.Degrades,
                        Subject = $"{e.Name}:{u.Label}:subnet",
                        RowKey = row,
                        What = $"{at} on uplink {u.Label} of {e.Gateway.Code} is not in the uplink's subnet {subnet}.",
                        Why = $"One of the two is wrong.",
                        Do = $"Check {e.Gateway.Code} and correct the address or the subnet.",
                        Consequence = $"{e.Name}'s address {at} is not in its uplink's subnet {subnet}.",
                        Evidence = Checked.Of(c.Row(row)),
                    };
            }

            if (e.Other.Outer is { } peer)
                foreach (
                    var remote in c
                        .View.Tunnel.Agreed.Pairs.Select(p => p.On(e.Name.Other()))
                        .Distinct()
                        .Where(r => r.Contains(peer))
                )
                    yield return new()
                    {
                        Severity = Severity.Blocks,
                        Subject = $"{e.Name}:{remote}",
                        RowKey = RowKey.AddressOf(e.Name.Other()),
                        Pairs = [.. c.View.Tunnel.Agreed.Pairs.Where(p => p.On(e.Name.Other()) == remote)],
                        What =
                            $"{e.Name} sends {remote} into the tunnel, and the peer's outer address {peer} is in it.",
                        Why = $"The gateway routes the tunnel's own packets into the tunnel.",
                        Do = $"Exclude {peer} from the selectors, or route it outside the tunnel at {e.Name}.",
                        Consequence = $"{e.Name} routes the peer address {peer} into its own tunnel.",
                        Evidence = Checked.Of(c.Row(RowKey.AddressOf(e.Name.Other()))),
                    };
        }
    }
}

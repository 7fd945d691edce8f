namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-02: what the tunnel should reach on the far side is also a network at the near site.</summary>
public static class RemoteLivesHere
{
    /// <summary>A remote subnet already lives behind the local gateway (ADR-02).</summary>
    public static readonly Check Check = new("ADR-02", "a remote subnet is already behind the local gateway", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        foreach (var end in c.View.Ends)
        foreach (var remote in c.View.Tunnel.Agreed.Pairs.Select(p => p.On(end.Name.Other())).Distinct())
        foreach (var local in end.Site.Networks.Where(n => n.Prefix.Overlaps(remote)))
        {
            var pairs = c.View.Tunnel.Agreed.Pairs.Where(p => p.On(end.Name.Other()) == remote).ToImmutableArray();
            yield return new()
            {
                Severity = Severity.Blocks,
                Subject = $"{end.Name}:{remote}",
                RowKey = RowKey.SubnetsOf(end.Name.Other()),
                Pairs = pairs,
                What =
                    $"{remote} is wanted through the tunnel, but {end.Name} has {local.Prefix} ({local.Name:w}) at "
                    + $"{end.Site.Name:w}.",
                Why = $"{end.Gateway.Code} delivers to its connected network, not into the tunnel.",
                Do = $"Present {remote} as another prefix inside the tunnel, or renumber {local.Name:w}.",
                Consequence =
                    $"{end.Name} cannot send to {remote}: {local.Name:w} at {end.Site.Name:w} already uses {local.Prefix}.",
                Evidence =
                [
                    new Evidence(end.Name, $"Network {local.Name}", local.Prefix.ToString(), $"site {end.Site.Code}"),
                    new Evidence(end.Name.Other(), "Subnet", remote.ToString(), "agreed"),
                ],
            };
        }
    }
}

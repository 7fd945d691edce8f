namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>
/// ADR-03: two tunnels of one gateway, within one VRF, claim overlapping remote subnets. The longer prefix
/// wins; equal ones block.
/// </summary>
public static class ClaimedTwice
{
    /// <summary>Two tunnels of one gateway claim overlapping remote subnets (ADR-03).</summary>
    public static readonly Check Check = new(
        "ADR-03",
        "two tunnels of one gateway have overlapping remote subnets",
        Run
    );

    private static IEnumerable<Finding> Run(Checked c)
    {
        foreach (var end in c.View.Ends)
        {
            var remotes = c.View.Tunnel.Agreed.Pairs.Select(p => p.On(end.Name.Other())).Distinct().ToArray();
            foreach (
                var (mine, claimed) in remotes
                    .SelectMany(m => c.View.Inventory.RemotesOf(end.Gateway.Id).Overlapping(m).Select(o => (m, o)))
                    .Where(x =>
                        x.o.Value.Tunnel.Id != c.View.Tunnel.Id
                        && x.o.Value.Tunnel.End(x.o.Value.End).ProtectedVrf == end.End.ProtectedVrf
                    )
                    .OrderBy(x => x.o.Value.Tunnel.Code, StringComparer.OrdinalIgnoreCase)
            )
            {
                var (theirs, other) = (claimed.Prefix, claimed.Value.Tunnel);
                // Two tunnels in one fallback order carry the same traffic on purpose.
                if (other.Fallback is { } order && order.Order == c.View.Tunnel.Fallback?.Order)
                    continue;
                var taken = Argument.Of(other, theirs);
                var pairs = c.View.Tunnel.Agreed.Pairs.Where(p => p.On(end.Name.Other()) == mine).ToImmutableArray();
                Sentence wins =
                    mine == theirs
                        ? Sentence.Of($"the profile of {end.Platform.Title} does not say which tunnel gets the traffic")
                    : mine.Length > theirs.Length ? Sentence.Of($"the longer prefix {mine} wins, which is here")
                    : Sentence.Of($"the longer prefix takes its part of the traffic");
                yield return new()
                {
                    Severity = mine == theirs ? Severity.Blocks : Severity.Degrades,
                    Subject = $"{end.Name}:{mine}:{other.Id}",
                    RowKey = RowKey.SubnetsOf(end.Name.Other()),
                    Pairs = pairs,
                    What = $"{mine} behind {end.Name.Other()} overlaps {taken} of {other}, also on {end.Gateway.Code}.",
                    Why = $"A gateway sends an address into one tunnel only: {wins}.",
                    Do = $"Separate the two by VRF on {end.Gateway.Code}, or present one as another prefix (NAT).",
                    Consequence = $"{end.Gateway.Code} also sends {taken} into {other}: {wins}.",
                    Evidence =
                    [
                        new Evidence(end.Name, "Remote subnet", mine.ToString(), c.View.Tunnel.Code),
                        new Evidence(end.Name, "Also remote", theirs.ToString(), "another tunnel of the gateway")
                        {
                            Owner = other.CustomerId,
                        },
                    ],
                };
            }
        }
    }
}

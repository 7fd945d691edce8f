namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-03: two tunnels of one gateway, within one routing instance, claim overlapping remote subnets. The longer prefix wins; equal ones block.</summary>
public static class ClaimedTwice
{
    public static readonly Check Check = new("ADR-03", "two tunnels of one gateway claim overlapping remote subnets", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        foreach (var end in c.View.Ends)
        {
            var remotes = c.View.Tunnel.Agreed.Pairs.Select(p => p.On(end.Name.Other())).Distinct().ToArray();
            foreach (var (other, at) in c.View.Inventory.On(end.Gateway.Id))
            {
                if (other.Id == c.View.Tunnel.Id || other.End(at).Inside != end.End.Inside || other.State is TunnelState.Planned)
                    continue;
                foreach (var (mine, theirs) in from m in remotes
                                               from t in other.Agreed.Pairs.Select(p => p.On(at.Other())).Distinct()
                                               where m.Overlaps(t)
                                               select (m, t))
                {
                    var pairs = c.View.Tunnel.Agreed.Pairs.Where(p => p.On(end.Name.Other()) == mine).ToImmutableArray();
                    Sentence wins = mine == theirs ? Sentence.Of($"which of the two gets the traffic is not said by {end.Platform.Title}")
                        : mine.Length > theirs.Length ? Sentence.Of($"the longer {mine} wins here")
                        : Sentence.Of($"the longer {theirs} takes its part of the traffic away");
                    yield return new("ADR-03", mine == theirs ? Severity.Blocks : Severity.Degrades, $"{end.Name}:{mine}:{other.Id}", $"subnetsOf{end.Name.Other()}", pairs, null,
                        $"{mine} behind {end.Name.Other()} overlaps {theirs} of {other}, also on {end.Gateway.Code}.",
                        $"One gateway sends one address one way: {wins}.",
                        $"Part the two by routing instance on {end.Gateway.Code}, or present one as another prefix.",
                        $"{end.Gateway.Code} also sends {theirs} into {other}: {wins}.", null,
                        [new Evidence(end.Name, "Remote subnet", mine.ToString(), c.View.Tunnel.Code), new Evidence(end.Name, "Claimed also", theirs.ToString(), "another tunnel of the gateway")]);
                }
            }
        }
    }
}

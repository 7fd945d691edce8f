namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-04.</summary>
public static class SidesOverlap
{
    /// <summary>The two sides overlap each other (ADR-04).</summary>
    public static readonly Check Check = new("ADR-04", "the two sides overlap each other", c =>
        c.View.Tunnel.Agreed.Pairs.Where(p => p.A.Overlaps(p.B))
            .Select(p => new Finding
            {
                Severity = Severity.Blocks,
                Subject = p.ToString(),
                RowKey = RowKey.SubnetsOf(EndName.A),
                Pairs = [p],
                What = $"{p.A} behind {EndName.A} and {p.B} behind {EndName.B} overlap.",
                Why = $"Hosts take the remote side for their own network, so they send nothing into the tunnel.",
                Do = $"Present at least one side as another prefix of the same length (1:1 NAT).",
                Consequence = $"{p.A} is on both sides: NAT is needed.",
                Evidence =
                [
                    new Evidence(EndName.A, "Subnet", p.A.ToString(), "agreed"),
                    new Evidence(EndName.B, "Subnet", p.B.ToString(), "agreed"),
                ],
            })
    );
}

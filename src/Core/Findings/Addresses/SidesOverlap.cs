namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-04.</summary>
public static class SidesOverlap
{
    /// <summary>The two sides overlap each other (ADR-04).</summary>
    public static readonly Check Check = new("ADR-04", "the two sides overlap each other", c =>
        c.View.Tunnel.Agreed.Pairs.Where(p => p.A.Overlaps(p.B))
            .Select(p => new Finding(
                "ADR-04",
                Severity.Blocks,
                p.ToString(),
                "subnetsOfA",
                [p],
                null,
                $"{p.A} behind {EndName.A} and {p.B} behind {EndName.B} overlap.",
                $"A host cannot tell the far side from its own network, so nothing is sent into the tunnel.",
                $"Present at least one side as another prefix of the same length inside the tunnel.",
                $"{p.A} stands on both sides: translation is needed.",
                null,
                [
                    new Evidence(EndName.A, "Subnet", p.A.ToString(), "agreed"),
                    new Evidence(EndName.B, "Subnet", p.B.ToString(), "agreed"),
                ]
            ))
    );
}

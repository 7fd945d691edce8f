using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-22.</summary>
public static class NoFamilyInCommonCheck
{
    /// <summary>The outer addresses have no IP version in common (PAIR-22).</summary>
    public static readonly Check Check = new("PAIR-22", "outer addresses of different IP versions", c => c.Met(Check!)
            .Take(1)
            .Select(x =>
            {
                var (a, b) = (c.View.A.OuterText, c.View.B.OuterText);
                return new Finding
                {
                    Severity = Severity.Blocks,
                    RowKey = x.Obstacle.RowKey,
                    What = $"{EndName.A}'s outer address is {a}, {EndName.B}'s is {b}: no IP version in common.",
                    Why =
                        $"Both outer addresses of an SA are IPv4, or both are IPv6, so neither end can send to the other.",
                    Do = $"Give the tunnel an uplink of the same IP version at both ends.",
                    Consequence = $"{EndName.A}'s outer address is {a}, {EndName.B}'s is {b}: no IP version in common.",
                    Standard = "RFC 4301 section 4.4.1.2",
                    Evidence = Checked.Of(c.Row(x.Obstacle.RowKey!)),
                };
            })) { Meets = cause => cause is NoFamilyInCommon };
}

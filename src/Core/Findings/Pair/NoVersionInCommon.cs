using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-01.</summary>
public static class NoVersionInCommon
{
    /// <summary>No IKE version in common (PAIR-01).</summary>
    public static readonly Check Check = new("PAIR-01", "no IKE version in common", c => c.Differences<NoVersion>()
            .Select(d => new Finding
            {
                Severity = Severity.Blocks,
                RowKey = d.Row.Key,
                What = $"IKE is {d.Row.A.Text} at {EndName.A} and {d.Row.B.Text} at {EndName.B}: no version in common.",
                Why = $"A device does not negotiate a version that it does not support.",
                Do =
                    $"Agree a version that both {c.View.A.Platform.Title} and {c.View.B.Platform.Title} support, "
                    + $"and set it at both ends.",
                Consequence =
                    $"No IKE version in common: {d.Row.A.Text} at {EndName.A}, {d.Row.B.Text} at {EndName.B}.",
                Standard = "RFC 7296 section 2.5",
                Evidence = Checked.Of(d.Row),
            })) { Meets = cause => cause is VersionsMismatch or NoFallBack };
}

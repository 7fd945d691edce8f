using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-01.</summary>
public static class NoVersionInCommon
{
    /// <summary>No IKE version in common (PAIR-01).</summary>
    public static readonly Check Check = new("PAIR-01", "no IKE version in common", c =>
        c.Differences<NoVersion>()
            .Select(d => new Finding(
                "PAIR-01",
                Severity.Blocks,
                "",
                d.Row.Key,
                [],
                null,
                $"IKE is {d.Row.A.Text} at {EndName.A} and {d.Row.B.Text} at {EndName.B}: no version in common.",
                $"Neither end answers a version it does not speak, so nothing is negotiated.",
                $"Agree a version that both {c.View.A.Platform.Title} and {c.View.B.Platform.Title} can do, and set it at both ends.",
                $"No IKE version in common: {d.Row.A.Text} at {EndName.A}, {d.Row.B.Text} at {EndName.B}.",
                "RFC 7296 section 2.5",
                Checked.Of(d.Row)
            ))
    );
}

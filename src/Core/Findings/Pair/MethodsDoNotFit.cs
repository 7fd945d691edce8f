using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-09.</summary>
public static class MethodsDoNotFit
{
    /// <summary>Authentication methods do not fit (PAIR-09).</summary>
    public static readonly Check Check = new("PAIR-09", "authentication methods do not fit", c =>
        c.Differences<MethodsDiffer>()
            .Select(d => new Finding
            {
                Code = "PAIR-09",
                Severity = Severity.Blocks,
                RowKey = d.Row.Key,
                What = $"{EndName.A} authenticates by {d.Row.A.Text}, {EndName.B} by {d.Row.B.Text}.",
                Why = $"Each end verifies the other by the method it has set: AUTHENTICATION_FAILED.",
                Do = $"Agree one method and set it at both ends.",
                Consequence =
                    $"Authentication does not fit: {d.Row.A.Text} at {EndName.A}, {d.Row.B.Text} at {EndName.B}.",
                Standard = "RFC 7296 section 2.15",
                Evidence = Checked.Of(d.Row),
            })
    );
}

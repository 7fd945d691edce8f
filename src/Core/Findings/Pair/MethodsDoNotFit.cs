using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-09.</summary>
public static class MethodsDoNotFit
{
    /// <summary>Authentication methods do not fit (PAIR-09).</summary>
    public static readonly Check Check = new("PAIR-09", "authentication methods differ", c =>
        c.Differences<MethodsDiffer>()
            .Select(d => new Finding
            {
                Severity = Severity.Blocks,
                RowKey = d.Row.Key,
                What = $"{EndName.A} authenticates by {d.Row.A.Text}, {EndName.B} by {d.Row.B.Text}.",
                Why =
                    $"Each end verifies the other by its own method, so authentication fails with AUTHENTICATION_FAILED.",
                Do = $"Agree one method and set it at both ends.",
                Consequence = $"Authentication mismatch: A {d.Row.A.Text}, B {d.Row.B.Text}.",
                Standard = "RFC 7296 section 2.15",
                Evidence = Checked.Of(d.Row),
            })
    )
    {
        Meets = cause => cause is MethodsMismatch,
    };
}

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
                    c.View.Version == IkeVersion.IKEv1
                        ? Sentence.Of($"IKEv1 negotiates one method for both ends, so phase 1 is refused.")
                        : Sentence.Of(
                            $"An end expects another method than the other uses, so authentication fails with "
                                + $"AUTHENTICATION_FAILED."
                        ),
                Do = $"Agree one method and set it at both ends.",
                Consequence = $"Authentication mismatch: A {d.Row.A.Text}, B {d.Row.B.Text}.",
                Standard = c.View.Version == IkeVersion.IKEv1 ? "RFC 2409 section 5" : "RFC 7296 section 2.15",
                Evidence = Checked.Of(d.Row),
            })
            .Concat(
                c.Met(Check!)
                    .Where(x => x.Obstacle.Cause is SignaturesMismatch)
                    .Select(x => new Finding
                    {
                        Severity = Severity.Blocks,
                        Subject = $"{x.Obstacle.RefusedBy}:signature",
                        RowKey = Settings.Signatures,
                        What = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                        Why = $"A signature that the other end does not take fails like a wrong one.",
                        Do = $"Set a signature method at both ends that both support.",
                        Consequence = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                        Standard = "RFC 7427 section 4",
                        Evidence = Checked.Of(c.Row(Settings.Signatures)),
                    })
            )
    )
    {
        Meets = cause => cause is MethodsMismatch or SignaturesMismatch,
    };
}

using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-02, read off the rehearsal: main and aggressive mode at ends that take only their own.</summary>
public static class ModesDifferCheck
{
    /// <summary>Exchange modes differ (PAIR-02).</summary>
    public static readonly Check Check = new("PAIR-02", "exchange modes differ", c => c.Met(Check!)
            .Take(1)
            .Select(x => new Finding
            {
                Severity = Severity.Blocks,
                RowKey = Settings.ExchangeMode,
                What = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                Why = $"A responder set to the other mode drops the first message.",
                Do = $"Set main mode {c.WhereNotMain():w}. If an address is dynamic, use IKEv2.",
                Consequence =
                    $"The exchange modes differ: {c.Row(Settings.ExchangeMode)?.A.Text} at {EndName.A}, "
                    + $"{c.Row(Settings.ExchangeMode)?.B.Text} at {EndName.B}.",
                Standard = "RFC 2409 section 5",
                Evidence = Checked.Of(c.Row(Settings.ExchangeMode)),
            })) { Meets = cause => cause is ModesMismatch };
}

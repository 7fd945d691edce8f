namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-02, read off the rehearsal: main and aggressive mode at ends that take only their own.</summary>
public static class ModesDifferCheck
{
    /// <summary>Exchange modes differ (PAIR-02).</summary>
    public static readonly Check Check = new("PAIR-02", "exchange modes differ", c => c.Obstacles("PAIR-02")
            .Take(1)
            .Select(x => new Finding
            {
                Code = "PAIR-02",
                Severity = Severity.Blocks,
                RowKey = Settings.ExchangeMode.Key,
                What = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                Why = $"The first message of one mode is no message of the other, so the responder drops it.",
                Do = $"Set the same mode at both ends: main, unless an address moves and IKEv2 is out of reach.",
                Consequence =
                    $"The exchange modes differ: {c.Row(Settings.ExchangeMode.Key)?.A.Text} at {EndName.A}, {c.Row(Settings.ExchangeMode.Key)?.B.Text} at {EndName.B}.",
                Standard = "RFC 2409 section 5",
                Evidence = Checked.Of(c.Row(Settings.ExchangeMode.Key)),
            }));
}

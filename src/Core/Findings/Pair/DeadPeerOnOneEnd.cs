namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-12.</summary>
public static class DeadPeerOnOneEnd
{
    /// <summary>DPD on one end only, or off at both (PAIR-12).</summary>
    public static readonly Check Check = new("PAIR-12", "DPD on one end only, or off at both", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        var (a, b) = (c.View.A.Get(Settings.Dpd).Value, c.View.B.Get(Settings.Dpd).Value);
        if (a is null || b is null || (a != Dpd.Off && b != Dpd.Off))
            yield break;
        var row = c.Row(Settings.Dpd);
        if (a == Dpd.Off && b == Dpd.Off)
        {
            yield return new()
            {
                Severity = Severity.Degrades,
                RowKey = Settings.Dpd,
                What = $"DPD is off at both ends.",
                Why = $"A dead peer is detected only when a rekey fails.",
                Do = $"Enable DPD at both ends.",
                Consequence = $"A dead peer is not detected before the next rekey.",
                Standard = "RFC 7296 section 2.4",
                Evidence = Checked.Of(row),
            };
            yield break;
        }

        var on = a == Dpd.Off ? EndName.B : EndName.A;
        var old = c.View.Version == IkeVersion.IKEv1;
        yield return new()
        {
            Severity = old ? Severity.Degrades : Severity.Note,
            RowKey = Settings.Dpd,
            What = $"DPD is on at {on} only.",
            Why = old
                ? Sentence.Of(
                    $"In IKEv1 DPD works only if both ends announce it (vendor ID), so it works at neither end."
                )
                : Sentence.Of($"Only {on} detects a dead peer; {on.Other()} keeps sending until its next rekey fails."),
            Do = $"Enable DPD at {on.Other()}.",
            Standard = old ? "RFC 3706 section 5.1" : "RFC 7296 section 2.4",
            Evidence = Checked.Of(row),
        };
    }
}

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
        var row = c.Row(Settings.Dpd.Key);
        if (a == Dpd.Off && b == Dpd.Off)
        {
            yield return new()
            {
                Code = "PAIR-12",
                Severity = Severity.Degrades,
                RowKey = Settings.Dpd.Key,
                What = $"DPD is off at both ends.",
                Why = $"A dead peer is noticed only when a rekey fails.",
                Do = $"Switch DPD on at both ends.",
                Consequence = $"Nobody would notice a dead peer before the next rekey.",
                Standard = "RFC 7296 section 2.4",
                Evidence = Checked.Of(row),
            };
            yield break;
        }

        var on = a == Dpd.Off ? EndName.B : EndName.A;
        var old = c.View.Version == IkeVersion.IKEv1;
        yield return new()
        {
            Code = "PAIR-12",
            Severity = old ? Severity.Degrades : Severity.Note,
            RowKey = Settings.Dpd.Key,
            What = $"DPD is on at {on} only.",
            Why = old
                ? Sentence.Of($"Under IKEv1 it works only when both ends announce it, so none works.")
                : Sentence.Of(
                    $"{on} alone will notice a dead peer; {on.Other()} keeps sending until its next rekey fails."
                ),
            Do = $"Switch DPD on at {on.Other()}.",
            Standard = old ? "RFC 3706 section 5.1" : "RFC 7296 section 2.4",
            Evidence = Checked.Of(row),
        };
    }
}

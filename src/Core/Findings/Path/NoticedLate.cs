using Vellumkeep.Core.Calculations;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>
/// PATH-09: a dead peer is noticed later than the tunnel's importance allows: 120 s when high, 300 s when normal.
/// </summary>
public static class NoticedLate
{
    /// <summary>Failure seen later than the importance allows (PATH-09).</summary>
    public static readonly Check Check = new("PATH-09", "failure detected later than the importance allows", c =>
    {
        decimal? allowed = c.View.Tunnel.Importance switch
        {
            Importance.High => 120,
            Importance.Normal => 300,
            _ => null,
        };
        if (allowed is not { } most)
            return [];
        return c
            .View.Ends.Select(e => (End: e, Detected: Detection.Of(e, "", "")))
            .Where(x => x.Detected.Seconds > most)
            .Select(x => new Finding
            {
                Severity = Severity.Degrades,
                Subject = x.End.Name.ToString(),
                RowKey = Settings.Dpd,
                What =
                    $"{x.End.Name} detects a dead peer after "
                    + $"{x.Detected.Seconds!.Value.ToString("#,0.#", CultureInfo.InvariantCulture)} s: "
                    + $"{x.Detected.Working}.",
                Why =
                    $"The tunnel's importance is {WordsOf.Importances.Of(c.View.Tunnel.Importance!.Value):w}, which "
                    + $"allows {(int)most} s.",
                Do = Advice(x.End, most),
                Consequence =
                    $"{x.End.Name} detects a dead peer only after {Lifetime.Say((long)x.Detected.Seconds.Value):w}.",
                Evidence = Checked.Of(c.Row(Settings.Dpd)),
            });
    });

    /// <summary>
    /// What can be shortened: the interval, unless the retransmission alone takes longer than is allowed.
    /// </summary>
    private static Sentence Advice(Resolution.EndView end, decimal most)
    {
        if (end.Tunnel.Version == IkeVersion.IKEv1)
        {
            var tries = 1 + end.Get(Settings.Dpd).Value!.Retries;
            return $"Set the DPD interval at {end.Name} to at most {(int)(most / tries)} s, with as many retries as now.";
        }

        var waits = end.Platform.Retransmits!.Total;
        return waits >= most
            ? Sentence.Of(
                $"Shorten the retransmission schedule of {end.Gateway.Code} ({end.Platform.Retransmits.ToString()}): it "
                    + $"alone takes {waits.ToString("0.#", CultureInfo.InvariantCulture):w} s, so a shorter DPD interval "
                    + $"is not enough."
            )
            : Sentence.Of($"Set the DPD interval at {end.Name} to at most {(int)(most - waits)} s.");
    }
}

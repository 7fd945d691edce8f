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
                Code = "PATH-09",
                Severity = Severity.Degrades,
                Subject = x.End.Name.ToString(),
                RowKey = Settings.Dpd.Key,
                What =
                    $"{x.End.Name} detects a dead peer after "
                    + $"{x.Detected.Seconds!.Value.ToString("#,0.#", CultureInfo.InvariantCulture)} s: "
                    + $"{x.Detected.Working}.",
                Why =
                    $"The tunnel's importance is {WordsOf.Importances.Of(c.View.Tunnel.Importance!.Value):w}, which "
                    + $"allows {(int)most} s.",
                Do = $"Shorten the DPD interval at {x.End.Name}.",
                Consequence =
                    $"{x.End.Name} detects a dead peer only after {Lifetime.Say((long)x.Detected.Seconds.Value):w}.",
                Evidence = Checked.Of(c.Row(Settings.Dpd.Key)),
            });
    });
}

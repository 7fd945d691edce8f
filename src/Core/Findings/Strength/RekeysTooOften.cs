using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Strength;

/// <summary>
/// STR-15: a lifetime or data amount so small that the SA is rekeyed all the time. Less than a minute between two
/// rekeys is our own measure; no standard sets one.
/// </summary>
public static class RekeysTooOften
{
    private const int Least = 60;

    /// <summary>Rekeys so often that it harms (STR-15).</summary>
    public static readonly Check Check = new("STR-15", "rekeys so often that it harms", c =>
        c.View.Ends.SelectMany(e =>
                new[] { ByTime(c, e, Settings.IkeLifetime), ByTime(c, e, Settings.EspLifetime), ByData(c, e) }
            )
            .OfType<Finding>()
    );

    private static Finding? ByTime(Checked c, EndView end, Setting<Life> setting) =>
        Rekeying.Rekeys(end, setting, end.Name) is { } every && every.From < Least
            ? Of(
                c,
                end,
                setting,
                "time",
                every.From,
                $"its {setting.Label:w} is {LifeInForce.Of(end, setting, end.Name)!.Time.ToString()}"
            )
            : null;

    private static Finding? ByData(Checked c, EndView end) =>
        Rekeying.RekeysByData(end, end.Name) is { } every && every < Least
            ? Of(
                c,
                end,
                Settings.EspLifetime,
                "data",
                every,
                $"its data lifetime is {LifeInForce.Of(end, Settings.EspLifetime, end.Name)!.Data!.ToString()}, at "
                    + $"{c.View.Tunnel.Throughput!.Value} Mbit/s"
            )
            : null;

    private static Finding Of(
        Checked c,
        EndView end,
        Setting<Life> setting,
        string by,
        decimal every,
        Sentence because
    ) =>
        new()
        {
            Severity = Severity.Degrades,
            Subject = $"{end.Name}:{setting.Key}:{by}",
            RowKey = setting,
            What = $"{end.Name} rekeys every {Often(every):w}: {because}.",
            Why = $"Each rekey costs both ends a key exchange, and packets are lost where the new SA is not ready.",
            Do = $"Set a longer lifetime at {end.Name}: at least an hour, and more data than passes in an hour.",
            Consequence = $"{end.Name} rekeys every {Often(every):w}.",
            Standard = "RFC 7296 section 2.8",
            Evidence = Checked.Of(c.Row(setting)),
        };

    private static string Often(decimal seconds) =>
        seconds < 1 ? "less than a second" : $"{seconds.ToString("0.##", CultureInfo.InvariantCulture)} s";
}

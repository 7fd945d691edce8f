using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-08: more data under one key than the cipher allows.</summary>
public static class TooMuchForOneKey
{
    /// <summary>More data or time per key than the cipher allows (STR-08).</summary>
    public static readonly Check Check = new("STR-08", "more data or time per key than the cipher allows", c =>
    {
        if (
            c.Negotiations.Select(r => r.Esp).FirstOrDefault(e => e is not null) is not { } esp
            || CipherLimit.Of(esp.Encryption) is not { } limit
        )
            return [];
        var data = c
            .View.Ends.Select(e => e.Get(Settings.EspLifetime).Value?.Data?.InKilobytes)
            .Where(d => d is not null)
            .Min();
        var time = c
            .View.Ends.Select(e => e.Get(Settings.EspLifetime).Value?.Time.InSeconds)
            .Where(t => t is not null)
            .Min();
        if (data is { } kilobytes && kilobytes * 1000 <= limit.Bytes)
            return [];
        if (c.View.Tunnel.Throughput is { } slow && time is { } s && s * slow * 125_000L <= limit.Bytes)
            return [];
        Sentence passes =
            c.View.Tunnel.Throughput is { } speed && time is { } seconds
                ? Sentence.Of(
                    $"At {speed} Mbit/s up to "
                        + $"{(seconds * speed / 8000m).ToString("#,0.#", CultureInfo.InvariantCulture)} GB pass "
                        + $"before the rekey."
                )
                : Sentence.Plain("No lifetime limits the data before the rekey.");
        return
        [
            new Finding
            {
                Severity = Severity.Risk,
                RowKey = Settings.EspLifetime,
                What =
                    $"{esp.Encryption.Name} must not encrypt more than {(int)(limit.Bytes / 1_000_000)} MB with one "
                    + $"key. {passes}",
                Why = $"With 64-bit blocks, equal blocks occur and reveal plain text.",
                Do = $"Use AES. Until then set a data lifetime of at most {(int)(limit.Bytes / 1_000_000)} MB.",
                Standard = limit.Standard,
                Evidence = Checked.Of(c.Row(Settings.EspLifetime)),
            },
        ];
    });
}

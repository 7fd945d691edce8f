namespace Vellumkeep.Core.Calculations;

/// <summary>
/// What a lifetime comes to: how long, how much data passes in it at a throughput, and which of time and data ends it.
/// </summary>
/// <param name="Seconds">The time, in seconds.</param>
/// <param name="Says">The whole as one sentence.</param>
/// <param name="DataSeconds">Seconds until the data lifetime is used up at the throughput; null without data or
/// throughput.</param>
/// <param name="GigabytesInTime">Data in GB (10^9 octets) that passes in the time; null without throughput.</param>
/// <param name="Ends">Which of time and data is reached first, in words.</param>
public sealed record LifetimeCalculation(
    long Seconds,
    string Says,
    decimal? DataSeconds,
    decimal? GigabytesInTime,
    string Ends
)
{
    /// <param name="life">The lifetime that is worked out.</param>
    /// <param name="throughput">Mbit/s, from 1; null when not known.</param>
    public static LifetimeCalculation Of(Life life, int? throughput)
    {
        var seconds = life.Time.InSeconds;
        decimal? inTime = throughput is { } t ? seconds * (decimal)t / 8000 : null;
        decimal? used = throughput is { } speed && life.Data is { } data ? data.InKilobytes * 8m / 1000 / speed : null;
        return new(seconds, Lifetime.Say(seconds), used, inTime, used is { } u && u < seconds ? "data" : "time");
    }

    /// <summary>What a bare number means in each unit, for a number whose unit nobody wrote.</summary>
    public static IEnumerable<(TimeUnit Unit, Lifetime Reads)> Readings(long number) =>
        number < 1
            ? []
            : Enum.GetValues<TimeUnit>()
                .Where(u => number <= 10L * 366 * 86400 / (long)u)
                .Select(u => (u, Lifetime.Of(number, u)));
}

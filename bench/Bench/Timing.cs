namespace Vellumkeep.Bench;

/// <summary>Times of runs.</summary>
internal static class Timing
{
    public static async Task<(T Result, double Seconds)> TimedAsync<T>(Func<Task<T>> run)
    {
        var clock = Stopwatch.StartNew();
        var result = await run();
        return (result, clock.Elapsed.TotalSeconds);
    }

    public static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);
}

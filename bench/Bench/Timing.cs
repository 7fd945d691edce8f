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

    /// <summary>
    /// The seconds of processor that a process has used so far. What others do on the machine hardly adds to them, which
    /// the time on the wall cannot say.
    /// </summary>
    public static double ProcessorSeconds(Process process)
    {
        process.Refresh();
        return process.TotalProcessorTime.TotalSeconds;
    }

    /// <summary>The seconds of processor that this process used for a run.</summary>
    public static async Task<(T Result, double Seconds)> WorkedAsync<T>(Func<Task<T>> run)
    {
        using var own = Process.GetCurrentProcess();
        var from = ProcessorSeconds(own);
        var result = await run();
        return (result, ProcessorSeconds(own) - from);
    }

    public static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);
}

namespace Vellumkeep.Storage.Writing;

/// <summary>
/// Works on many at once where they are so many that it is worth it, and gives the results in their order.
/// </summary>
internal static class InParallel
{
    /// <summary>Fewer are worked one after the other: to share them out would take longer.</summary>
    private const int Many = 100;

    public static IEnumerable<TResult> Select<T, TResult>(
        IReadOnlyCollection<T> all,
        Func<T, TResult> one,
        CancellationToken ct
    ) =>
        all.Count < Many
            ? all.Select(one)
            : all.AsParallel()
                .AsOrdered()
                .WithCancellation(ct)
                .WithDegreeOfParallelism(Environment.ProcessorCount)
                .Select(one);

    /// <summary>The same in order; many by halves at once, which are then merged.</summary>
    public static T[] Sorted<T>(T[] all, Comparison<T> order)
    {
        if (all.Length < 100 * Many || Environment.ProcessorCount == 1)
        {
            Array.Sort(all, order);
            return all;
        }

        var half = all.Length / 2;
        var comparer = Comparer<T>.Create(order);
        Parallel.Invoke(
            () => Array.Sort(all, 0, half, comparer),
            () => Array.Sort(all, half, all.Length - half, comparer)
        );
        var merged = new T[all.Length];
        for (int to = 0, a = 0, b = half; to < merged.Length; to++)
            merged[to] = b == all.Length || (a < half && order(all[a], all[b]) <= 0) ? all[a++] : all[b++];
        return merged;
    }
}

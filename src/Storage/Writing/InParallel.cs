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

    /// <summary>All of them in an order.</summary>
    public static T[] Sorted<T>(T[] all, Comparison<T> order)
    {
        var comparer = Comparer<T>.Create(order);
        return all.Length < 100 * Many ? [.. all.Order(comparer)] : [.. all.AsParallel().OrderBy(one => one, comparer)];
    }
}

namespace Vellumkeep.Core.Addressing;

/// <summary>
/// Prefixes with something attached, indexed by where they lie. Answers what contains a prefix, what lies within it and
/// what overlaps it without walking them all: two prefixes either nest or are apart, so what contains one is found by
/// its own leading bits (one look-up for each length that occurs), and what lies within one is a run in their order.
/// Built once, immutable; safe to read from several threads.
/// </summary>
public sealed class PrefixIndex<T>
{
    private readonly (Prefix Prefix, T Value)[] sorted;
    private readonly Dictionary<Prefix, (int From, int Count)> exact = [];
    private readonly int[] lengths4;
    private readonly int[] lengths6;

    /// <param name="entries">The values, each with its prefix; several may have the same.</param>
    public PrefixIndex(IEnumerable<(Prefix Prefix, T Value)> entries)
    {
        sorted = [.. entries];
        // A stable order keeps equal prefixes as they came.
        sorted = [.. sorted.OrderBy(e => e.Prefix)];
        for (var i = 0; i < sorted.Length; )
        {
            var from = i;
            while (i < sorted.Length && sorted[i].Prefix == sorted[from].Prefix)
                i++;
            exact[sorted[from].Prefix] = (from, i - from);
        }

        lengths4 = [.. exact.Keys.Where(p => p.Family == Family.IPv4).Select(p => p.Length).Distinct().Order()];
        lengths6 = [.. exact.Keys.Where(p => p.Family == Family.IPv6).Select(p => p.Length).Distinct().Order()];
    }

    /// <summary>How many values it holds.</summary>
    public int Count => sorted.Length;

    /// <summary>Entries that contain the prefix, itself included, widest first.</summary>
    public IEnumerable<(Prefix Prefix, T Value)> Containing(Prefix prefix)
    {
        foreach (var length in prefix.Family == Family.IPv4 ? lengths4 : lengths6)
        {
            if (length > prefix.Length)
                yield break;
            if (exact.TryGetValue(Prefix.Around(prefix.Network, length), out var run))
                for (var i = run.From; i < run.From + run.Count; i++)
                    yield return sorted[i];
        }
    }

    /// <summary>Entries that contain the address, widest first.</summary>
    public IEnumerable<(Prefix Prefix, T Value)> Containing(Address address) =>
        Containing(Prefix.Around(address, address.Width));

    /// <summary>Entries within the prefix, itself included, in order.</summary>
    public IEnumerable<(Prefix Prefix, T Value)> Within(Prefix prefix)
    {
        for (var i = FirstAtOrAfter(prefix); i < sorted.Length && prefix.Contains(sorted[i].Prefix); i++)
            yield return sorted[i];
    }

    /// <summary>Entries that overlap the prefix: those that contain it, then those within it, each once.</summary>
    public IEnumerable<(Prefix Prefix, T Value)> Overlapping(Prefix prefix) =>
        Containing(prefix).Concat(Within(prefix).Where(e => e.Prefix != prefix));

    /// <summary>
    /// The first <paramref name="most"/> prefixes of <paramref name="length"/> bits within <paramref name="space"/>
    /// that overlap no entry, in order.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The length is shorter than the space or longer than the family
    /// allows.</exception>
    public IEnumerable<Prefix> Free(Prefix space, int length, int most)
    {
        if (length < space.Length || length > space.Network.Width)
            throw new ArgumentOutOfRangeException(
                nameof(length),
                $"A length of {space.Length} to {space.Network.Width} is needed."
            );
        if (Containing(space).Any() || most < 1)
            yield break;
        if (length == 0)
        {
            if (!Within(space).Any())
                yield return space;
            yield break;
        }

        var at = space.Network.Bits;
        var size = UInt128.One << (space.Network.Width - length);
        foreach (var (taken, _) in Within(space))
        {
            for (; most > 0 && taken.First.Bits >= at && taken.First.Bits - at >= size; at += size, most--)
                yield return Prefix.Around(Address.Of(space.Family, at), length);
            if (most == 0)
                yield break;
            if (taken.Last.Bits < at)
                continue;
            if (taken.Last.Bits / size == space.Last.Bits / size)
                yield break;
            // The next place that begins on a multiple of the size.
            at = ((taken.Last.Bits / size) + UInt128.One) * size;
        }

        while (most-- > 0 && at <= space.Last.Bits)
        {
            yield return Prefix.Around(Address.Of(space.Family, at), length);
            if (space.Last.Bits - at < size)
                yield break;
            at += size;
        }
    }

    private int FirstAtOrAfter(Prefix prefix)
    {
        int low = 0,
            high = sorted.Length;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (sorted[middle].Prefix.CompareTo(prefix) < 0)
                low = middle + 1;
            else
                high = middle;
        }

        return low;
    }
}

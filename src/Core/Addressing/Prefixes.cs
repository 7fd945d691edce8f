namespace Vellumkeep.Core.Addressing;

/// <summary>Arithmetic on sets of prefixes.</summary>
public static class Prefixes
{
    /// <summary>The fewest prefixes that hold exactly the same addresses, in order.</summary>
    public static ImmutableArray<Prefix> Merge(IEnumerable<Prefix> prefixes)
    {
        var stack = new Stack<Prefix>();
        foreach (var p in prefixes.Order())
        {
            if (stack.TryPeek(out var top) && top.Contains(p))
                continue;
            var next = p;
            while (
                stack.TryPeek(out var left)
                && left.Length == next.Length
                && left.Length > 0
                && Parent(left) == Parent(next)
                && left != next
            )
            {
                stack.Pop();
                next = Parent(left);
            }

            stack.Push(next);
        }

        return [.. stack.Reverse()];
    }

    /// <summary>
    /// What of <paramref name="from"/> is left without <paramref name="taken"/>, in the fewest prefixes, in order.
    /// </summary>
    public static ImmutableArray<Prefix> Subtract(IEnumerable<Prefix> from, IEnumerable<Prefix> taken)
    {
        var holes = Merge(taken);
        return Merge(Merge(from).SelectMany(f => Without(f, [.. holes.Where(h => h.Overlaps(f))])));
    }

    /// <summary>The parts of a prefix at a longer length, in order, at most <paramref name="most"/>.</summary>
    public static Parsed<ImmutableArray<Prefix>> Split(Prefix prefix, int length, int most = 4096)
    {
        if (length < prefix.Length || length > prefix.Network.Width)
            return Parsed<ImmutableArray<Prefix>>.Fail(
                $"{prefix} cannot be split into /{length}",
                $"a length from {prefix.Length} to {prefix.Network.Width}"
            );
        if (length - prefix.Length > 30 || 1L << (length - prefix.Length) > most)
            return Parsed<ImmutableArray<Prefix>>.Fail(
                $"{prefix} has more than {most} parts of /{length}",
                $"a length of at most /{prefix.Length + (int)Math.Log2(most)}"
            );
        var size = length == 0 ? UInt128.Zero : UInt128.One << (prefix.Network.Width - length);
        return Parsed<ImmutableArray<Prefix>>.Of([
            .. Enumerable
                .Range(0, 1 << (length - prefix.Length))
                .Select(i =>
                    Prefix.Around(Address.Of(prefix.Family, prefix.Network.Bits + (size * (UInt128)i)), length)
                ),
        ]);
    }

    private static Prefix Parent(Prefix p) => Prefix.Around(p.Network, p.Length - 1);

    private static IEnumerable<Prefix> Without(Prefix p, Prefix[] holes)
    {
        if (holes.Length == 0)
            return [p];
        if (holes.Any(h => h.Contains(p)))
            return [];
        var low = Prefix.Around(p.Network, p.Length + 1);
        var high = Prefix.Around(
            Address.Of(p.Family, p.Network.Bits | (UInt128.One << (p.Network.Width - p.Length - 1))),
            p.Length + 1
        );
        return Without(low, [.. holes.Where(h => h.Overlaps(low))])
            .Concat(Without(high, [.. holes.Where(h => h.Overlaps(high))]));
    }
}

using Vellumkeep.Contract;
using Vellumkeep.Core.Addressing;

namespace Vellumkeep.Views;

/// <summary>Calculations on prefixes: show, split, merge, contains, subtract and free.</summary>
/// <param name="all">The prefixes.</param>
/// <param name="without">The prefixes that are looked for, subtracted or in use.</param>
/// <param name="length">The length to split into or to find free.</param>
internal sealed class PrefixCalculations(ImmutableArray<Prefix> all, ImmutableArray<Prefix> without, int? length)
{
    /// <summary>The most places that are told of what is free.</summary>
    private const int MostFree = 12;

    /// <summary>The result of an operation by its word.</summary>
    public Parsed<PrefixResult> Of(string? verb) =>
        verb switch
        {
            "show" => Answer(verb, all, [.. all.Select(p => $"{p}: {p.First} to {p.Last}, {Count(p)} addresses")]),
            "split" => Split(),
            "merge" => Merge(),
            "contains" => Contains(),
            "subtract" => Subtract(),
            "free" => Free(),
            _ => Parsed<PrefixResult>
                .Fail(
                    $"'{Typed.Short(verb ?? "")}' is not an operation on prefixes",
                    "show, split, merge, contains, subtract or free"
                )
                .In("verb"),
        };

    private Parsed<PrefixResult> Answer(string verb, IEnumerable<Prefix> answer, params string[] working) =>
        Parsed<PrefixResult>.Of(
            new(verb, [.. all.Select(p => p.ToString())], [.. answer.Select(p => p.ToString())], working)
        );

    private Parsed<PrefixResult> Split()
    {
        if (length is not { } into)
            return Parsed<PrefixResult>.Fail("the length to split into is missing", "a length such as 26").In("length");
        var parts = all.Select(p => Prefixes.Split(p, into)).ToArray();
        return parts.FirstOrDefault(p => !p.Ok) is { Ok: false, Wrong: { } wrong } bad
            ? Parsed<PrefixResult>.Fail(wrong, bad.Right!).In("length")
            : Answer(
                "split",
                parts.SelectMany(p => p.Value),
                [
                    .. all.Zip(parts, (p, made) =>
                        $"{p} into {made.Value.Length} of /{into}, {Count(made.Value[0])} addresses each"
                    ),
                ]
            );
    }

    private Parsed<PrefixResult> Merge()
    {
        var merged = Prefixes.Merge(all);
        return Answer(
            "merge",
            merged,
            $"{Say.Count(all.Length, "prefix", "prefixes")} in, {merged.Length} out, the same addresses"
        );
    }

    private Parsed<PrefixResult> Contains() =>
        without.IsEmpty
            ? Parsed<PrefixResult>
                .Fail(
                    "the address or prefix to look for is missing",
                    "an address or prefix to look for, such as 10.61.0.20"
                )
                .In("less")
            : Answer(
                "contains",
                all.Where(p => without.All(p.Contains)),
                [.. all.SelectMany(p => without.Select(w => Lie(p, w)))]
            );

    private static string Lie(Prefix prefix, Prefix other) =>
        prefix.LieTo(other) switch
        {
            PrefixRelation.Apart => $"{prefix} and {other} are apart",
            PrefixRelation.Equal => $"{prefix} is {other}",
            PrefixRelation.Contains => $"{prefix} contains {other}",
            _ => $"{prefix} is within {other}",
        };

    private Parsed<PrefixResult> Subtract() =>
        without.IsEmpty
            ? Parsed<PrefixResult>
                .Fail("the prefix to subtract is missing", "at least one prefix to subtract")
                .In("less")
            : Answer("subtract", Prefixes.Subtract(all, without), $"{Listed(all)} without {Listed(without)}");

    private Parsed<PrefixResult> Free()
    {
        var odd = all.Where(p => length is null || length < p.Length || length > p.Network.Width).ToArray();
        if (odd.Length > 0)
            return Parsed<PrefixResult>
                .Fail(
                    "the wanted length is missing or out of range",
                    $"a length from {odd[0].Length} to {odd[0].Network.Width}"
                )
                .In("length");
        var index = new PrefixIndex<int>(without.Select(p => (p, 0)));
        var free = all.SelectMany(p => index.Free(p, length!.Value, MostFree)).Take(MostFree).ToArray();
        return Answer(
            "free",
            free,
            $"{(free.Length == MostFree ? $"the first {MostFree}" : Say.Count(free.Length, "place"))} of /{length} in "
                + $"{Listed(all)} without {Listed(without)}"
        );
    }

    private static string Listed(ImmutableArray<Prefix> prefixes) => string.Join(", ", prefixes);

    private static string Count(Prefix prefix) => CalculationPages.Count(prefix);
}

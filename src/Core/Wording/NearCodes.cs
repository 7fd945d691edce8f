namespace Vellumkeep.Core.Wording;

/// <summary>What there is where a code that was typed does not exist: the codes that begin as it does.</summary>
/// <param name="Beginning">The longest beginning of what was typed that some code has; empty when none has any.</param>
/// <param name="Count">How many codes begin so.</param>
/// <param name="Codes">The first of them, at most <see cref="Most"/>, in order.</param>
public sealed record NearCodes(string Beginning, int Count, IReadOnlyList<string> Codes)
{
    /// <summary>How many codes are named at most.</summary>
    public const int Most = 10;

    /// <summary>
    /// The beginnings to try, longest first: the whole code, its parts up to each hyphen or @, its first letter, and
    /// none at all.
    /// </summary>
    public static IEnumerable<string> Beginnings(string code)
    {
        var typed = code.Trim();
        IEnumerable<int> lengths = Enumerable.Range(1, typed.Length).Where(n => typed[n - 1] is '-' or '@');
        return lengths
            .Append(typed.Length)
            .Append(FirstLetter(typed))
            .Append(0)
            .Distinct()
            .OrderDescending()
            .Select(n => typed[..n]);
    }

    /// <summary>The length of the first letter; some take two places of a string.</summary>
    private static int FirstLetter(string typed) =>
        typed.Length > 1 && char.IsSurrogatePair(typed, 0) ? 2 : Math.Min(1, typed.Length);

    /// <summary>The nearest of some codes to one that is not among them.</summary>
    public static NearCodes Among(IEnumerable<string> codes, string code)
    {
        var all = codes.Order(StringComparer.OrdinalIgnoreCase).ToArray();
        return Beginnings(code)
            .Select(start => new NearCodes(
                start,
                0,
                [.. all.Where(c => c.StartsWith(start, StringComparison.OrdinalIgnoreCase))]
            ))
            .Select(near => near with { Count = near.Codes.Count, Codes = [.. near.Codes.Take(Most)] })
            .FirstOrDefault(near => near.Count > 0)
            ?? new("", 0, []);
    }

    /// <summary>The one code that is meant, where only one begins with the whole of what was typed.</summary>
    public string? Meant(string code) => Count == 1 && IsWhole(code) ? Codes[0] : null;

    /// <summary>Whether these codes begin with the whole of what was typed.</summary>
    public bool IsWhole(string code) => Beginning.Length > 0 && Beginning.Length == code.Trim().Length;

    /// <summary>What to answer: that there is no such code, and what there is.</summary>
    /// <param name="kind">What the codes are of: tunnel.</param>
    /// <param name="code">What was typed.</param>
    public string Refusal(string kind, string code)
    {
        var typed = Parsing.Typed.Short(code.Trim());
        var missing = $"There is no {kind} '{typed}'.";
        if (Count == 0)
            return missing;
        var named = string.Join(", ", Codes) + (Count > Codes.Count ? $" and {Count - Codes.Count:N0} more" : "");
        var counted = Say.Count(Count, kind, kind == "person" ? "people" : null);
        if (Beginning.Length == 0)
            return $"{missing} There {(Count == 1 ? "is" : "are")} {counted}: {named}.";
        return IsWhole(code)
            ? $"'{typed}' matches {counted}: {named}."
            : $"{missing} {counted} {(Count == 1 ? "begins" : "begin")} with '{Beginning}': {named}.";
    }
}

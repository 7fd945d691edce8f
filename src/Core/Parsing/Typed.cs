namespace Vellumkeep.Core.Parsing;

/// <summary>What is done to everything somebody typed or pasted, before it is read.</summary>
public static class Typed
{
    /// <summary>Cuts blanks of every kind (the non-breaking ones too) from both ends.</summary>
    public static string Trim(string text) =>
        text.Replace('\u00a0', ' ').Replace('\u202f', ' ').Replace("\ufeff", "").Trim();

    /// <summary>The parts of a line that commas part; none of an empty one.</summary>
    public static string[] Parts(string line) =>
        line.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);

    /// <summary>
    /// Shortens to 40 characters, for quoting in an error. What may be a key is not quoted: keys are pasted into wrong
    /// fields, and errors are read aloud, logged and sent on.
    /// </summary>
    public static string Short(string text)
    {
        if (MayBeKey(text))
            return $"a value of {text.Length} characters";
        return text.Length <= 40 ? text : text[..37] + "...";
    }

    /// <summary>Letters or digits in one run from which on a value may be a key.</summary>
    private const int ShortestKey = 14;

    private static readonly string[] Algorithms =
    [
        "aes",
        "3des",
        "des",
        "sha",
        "md5",
        "hmac",
        "prf",
        "gcm",
        "cbc",
        "chacha",
        "dh",
        "group",
        "modp",
        "ecp",
        "curve",
        "ike",
        "esp",
    ];

    /// <summary>
    /// Whether a value may be a pre-shared key: a long run of letters and digits mixed, or a long one with signs that
    /// no code, name, address or algorithm has.
    /// </summary>
    public static bool MayBeKey(string text)
    {
        var word = text.Trim().Trim('"', '\'');
        if (word.Length < ShortestKey || Algorithms.Any(a => word.StartsWith(a, StringComparison.OrdinalIgnoreCase)))
            return false;
        if (word.Any(char.IsWhiteSpace))
            return word.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Any(MayBeKey);
        var mixed = word.Any(char.IsAsciiDigit) && word.Any(char.IsAsciiLetter);
        var signs = word.Any(c => "!#$%&*^~?".Contains(c));
        return (mixed && LongestRun(word) >= ShortestKey) || (signs && word.Length >= ShortestKey);
    }

    /// <summary>A text of an error with every word that may be a key replaced by how long it is.</summary>
    public static string WithoutKeys(string text)
    {
        if (text.Length < ShortestKey)
            return text;
        var words = text.Split(' ');
        for (var i = 0; i < words.Length; i++)
            if (words[i].Trim('\'', '"', '(', ')', ',', '.', ':', ';') is var word && MayBeKey(word))
                words[i] = words[i].Replace(word, $"a value of {word.Length} characters", StringComparison.Ordinal);
        return string.Join(' ', words);
    }

    private static int LongestRun(string word)
    {
        var (run, longest) = (0, 0);
        foreach (var c in word)
        {
            run = char.IsAsciiLetterOrDigit(c) ? run + 1 : 0;
            longest = Math.Max(longest, run);
        }

        return longest;
    }

    /// <summary>Lower case letters and digits only: how aliases and closed words are compared.</summary>
    public static string Folded(string text) =>
        new([.. text.Where(char.IsLetterOrDigit).Select(char.ToLowerInvariant)]);

    /// <summary>
    /// The words nearest to <paramref name="text"/> by edit distance, nearest first, at most <paramref name="most"/>.
    /// </summary>
    public static IEnumerable<string> Nearest(string text, IEnumerable<string> known, int most = 3)
    {
        var folded = Folded(text);
        return known
            .Distinct()
            .Select(k => (Word: k, Far: Distance(folded, Folded(k))))
            .OrderBy(k => k.Far)
            .ThenBy(k => k.Word, StringComparer.Ordinal)
            .Take(most)
            .Select(k => k.Word);
    }

    /// <summary>
    /// Reads one of a closed set of words, whatever the case; the refusal names all of them, or the nearest three when
    /// there are many.
    /// </summary>
    public static Parsed<T> OneOf<T>(string text, IReadOnlyDictionary<string, T> words, string what)
    {
        var t = Trim(text);
        foreach (var (word, value) in words)
            if (string.Equals(word, t, StringComparison.OrdinalIgnoreCase))
                return Parsed<T>.Of(value);
        var named = words.Count <= 8 ? words.Keys : Nearest(t, words.Keys);
        return Parsed<T>.Fail($"'{Short(t)}' is not {what}", string.Join(", ", named));
    }

    private static int Distance(string a, string b)
    {
        if (a.Length > 60)
            a = a[..60];
        var row = Enumerable.Range(0, b.Length + 1).ToArray();
        for (var i = 1; i <= a.Length; i++)
        {
            var diagonal = row[0];
            row[0] = i;
            for (var j = 1; j <= b.Length; j++)
            {
                var above = row[j];
                row[j] = Math.Min(Math.Min(row[j] + 1, row[j - 1] + 1), diagonal + (a[i - 1] == b[j - 1] ? 0 : 1));
                diagonal = above;
            }
        }

        return row[b.Length];
    }
}

namespace Vellumkeep.Core.Parsing;

/// <summary>Days, numbers, yes and no as they are typed and written.</summary>
public static class Scalars
{
    /// <summary>
    /// The first and the last day that can be written: a day before or after them is an error, and calculations with it
    /// would leave the calendar.
    /// </summary>
    public static readonly DateOnly FirstDay = new(1990, 1, 1),
        LastDay = new(2199, 12, 31);

    /// <summary>
    /// Reads year-month-day (ISO 8601), from <see cref="FirstDay"/> to <see cref="LastDay"/>, both included.
    /// </summary>
    public static Parsed<DateOnly> Date(string text) =>
        !DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
            ? Parsed<DateOnly>.Fail($"'{Typed.Short(text)}' is not a date", "year-month-day, such as 2026-11-24")
        : date < FirstDay || date > LastDay
            ? Parsed<DateOnly>.Fail($"{text} is out of range", $"a day from {Write(FirstDay)} to {Write(LastDay)}")
        : Parsed<DateOnly>.Of(date);

    /// <summary>
    /// Reads a text when every character of it can be kept and shown; otherwise names the first that cannot.
    /// </summary>
    public static Parsed<T> Fit<T>(string text, Func<string, Parsed<T>> parse) =>
        Characters.Unfit(text) is { } unfit
            ? Parsed<T>.Fail(
                $"it holds the character {unfit}, which is invisible or changes the writing direction",
                "the same without it, on one line"
            )
            : parse(text);

    /// <summary>A day as it is written: 2026-11-27 (ISO 8601).</summary>
    public static string Write(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    /// <summary>Reads a whole number within bounds, both included.</summary>
    public static Parsed<int> Number(string text, int least, int most, string what) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var n) && n >= least && n <= most
            ? Parsed<int>.Of(n)
            : Parsed<int>.Fail($"'{Typed.Short(text)}' is not {what}", $"a whole number from {least} to {most}");

    /// <summary>Reads yes or no.</summary>
    public static Parsed<bool> YesNo(string text) => Typed.OneOf(text, YesNoWords, "yes or no");

    /// <summary>Yes or no.</summary>
    public static string Write(bool yes) => yes ? "yes" : "no";

    private static readonly Dictionary<string, bool> YesNoWords = new()
    {
        ["yes"] = true,
        ["no"] = false,
        ["true"] = true,
        ["false"] = false,
    };

    /// <summary>A version of a key, 1 to 9999, with or without the word: <c>2</c>, <c>version 2</c>.</summary>
    public static Parsed<int> KeyVersion(string text) =>
        KeyVersions(text)
            .Then(v =>
                v.Length == 1
                    ? Parsed<int>.Of(v[0])
                    : Parsed<int>.Fail($"'{Typed.Short(text)}' is more than one key version", "one version")
            );

    /// <summary>Versions of a key: <c>2</c>, <c>version 2</c>, <c>versions 1, 2</c>.</summary>
    public static Parsed<ImmutableArray<int>> KeyVersions(string text)
    {
        var numbers = ImmutableArray.CreateBuilder<int>();
        foreach (
            var word in text.Replace("versions", "", StringComparison.OrdinalIgnoreCase)
                .Replace("version", "", StringComparison.OrdinalIgnoreCase)
                .Split([',', ' ', ';'], StringSplitOptions.RemoveEmptyEntries)
        )
        {
            var read = Number(word, 1, 9999, "a key version");
            if (!read.Ok)
                return Parsed<ImmutableArray<int>>.Fail(read.Wrong!, read.Right!);
            numbers.Add(read.Value);
        }

        return numbers.Count > 0
            ? Parsed<ImmutableArray<int>>.Of(numbers.ToImmutable())
            : Parsed<ImmutableArray<int>>.Fail("no key version is named", "the version it holds, such as 2");
    }
}

namespace Vellumkeep.Core.Quantities;

/// <summary>The units a lifetime is typed in.</summary>
public enum TimeUnit
{
    /// <summary>Seconds.</summary>
    Seconds = 1,

    /// <summary>Minutes.</summary>
    Minutes = 60,

    /// <summary>Hours.</summary>
    Hours = 3600,

    /// <summary>Days.</summary>
    Days = 86400,
}

/// <summary>
/// A length of time as somebody typed it: the amount and its unit are kept, because a slip can only be recognised in
/// what was typed. Two lifetimes of the same length are equal in <see cref="InSeconds"/>, not as records. Amount 1 to
/// 9,999,999; at most ten years.
/// </summary>
public sealed record Lifetime
{
    private const long TenYears = 10L * 366 * 86400;

    private Lifetime(long amount, TimeUnit unit) => (Amount, Unit) = (amount, unit);

    /// <summary>The number, as typed.</summary>
    public long Amount { get; }

    /// <summary>The unit, as typed.</summary>
    public TimeUnit Unit { get; }

    /// <summary>In seconds, as a lifetime is negotiated (RFC 2407 section 4.5).</summary>
    public long InSeconds => Amount * (long)Unit;

    private static readonly Dictionary<string, TimeUnit> Units = new(StringComparer.OrdinalIgnoreCase)
    {
        ["s"] = TimeUnit.Seconds,
        ["sec"] = TimeUnit.Seconds,
        ["second"] = TimeUnit.Seconds,
        ["seconds"] = TimeUnit.Seconds,
        ["min"] = TimeUnit.Minutes,
        ["minute"] = TimeUnit.Minutes,
        ["minutes"] = TimeUnit.Minutes,
        ["h"] = TimeUnit.Hours,
        ["hour"] = TimeUnit.Hours,
        ["hours"] = TimeUnit.Hours,
        ["d"] = TimeUnit.Days,
        ["day"] = TimeUnit.Days,
        ["days"] = TimeUnit.Days,
    };

    /// <summary>Makes a lifetime.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The amount is below 1 or the time is above ten years.</exception>
    public static Lifetime Of(long amount, TimeUnit unit) =>
        amount < 1 || amount > TenYears / (long)unit
            ? throw new ArgumentOutOfRangeException(nameof(amount), "A lifetime is at least 1 and at most ten years.")
            : new(amount, unit);

    /// <summary>
    /// Reads <c>3600 s</c>, <c>60 min</c>, <c>8 h</c>, <c>28,800 s</c>. A number without a unit is refused: both
    /// readings are named.
    /// </summary>
    public static Parsed<Lifetime> Parse(string text)
    {
        var t = Typed.Trim(text).Replace(",", "");
        var split = t.TakeWhile(char.IsAsciiDigit).Count();
        if (split == 0 || !long.TryParse(t[..split], NumberStyles.None, CultureInfo.InvariantCulture, out var amount))
            return Parsed<Lifetime>.Fail(
                $"'{Typed.Short(text)}' is not a length of time",
                "a number with its unit, such as 3600 s, 60 min or 8 h"
            );
        var unitText = t[split..].Trim();
        if (unitText.Length == 0)
            return Parsed<Lifetime>.Fail($"'{t}' has no unit", $"{amount} s or {amount} min, whichever was meant");
        if (!Units.TryGetValue(unitText, out var unit))
            return Parsed<Lifetime>.Fail($"'{Typed.Short(unitText)}' is not a unit of time", "s, min, h or d");
        return amount < 1 || amount > TenYears / (long)unit
            ? Parsed<Lifetime>.Fail($"'{t}' is out of range", "at least 1 s and at most ten years")
            : Parsed<Lifetime>.Of(new(amount, unit));
    }

    /// <summary>
    /// The same length of time written in <paramref name="unit"/>, or null when that unit cannot say it in whole
    /// numbers.
    /// </summary>
    public Lifetime? In(TimeUnit unit) => InSeconds % (long)unit == 0 ? new(InSeconds / (long)unit, unit) : null;

    /// <summary>
    /// A length of time for reading, in the largest unit that says it in at most one decimal: <c>48 minutes</c>, <c>8
    /// hours</c>, <c>2.5 days</c>.
    /// </summary>
    public static string Say(long seconds)
    {
        if (seconds < 1)
            return "less than 1 second";
        (long Size, string Name)[] units = [(86400, "day"), (3600, "hour"), (60, "minute"), (1, "second")];
        foreach (var (size, name) in units)
            if (seconds >= size * 2 || (seconds == size && size < 3600) || size == 1)
            {
                var tenths = seconds * 10 / size;
                var number =
                    tenths % 10 == 0 || tenths >= 200
                        ? (tenths / 10).ToString("N0", CultureInfo.InvariantCulture)
                        : (tenths / 10m).ToString("0.0", CultureInfo.InvariantCulture);
                return $"{number} {name}{(number == "1" ? "" : "s")}";
            }

        throw new ArgumentOutOfRangeException(nameof(seconds));
    }

    /// <summary>The unit as it is typed: s, min, h or d.</summary>
    public static string Word(TimeUnit unit) =>
        unit switch
        {
            TimeUnit.Seconds => "s",
            TimeUnit.Minutes => "min",
            TimeUnit.Hours => "h",
            _ => "d",
        };

    /// <summary>As typed, with thousands separated: <c>28,800 s</c>.</summary>
    public override string ToString() => $"{Amount.ToString("N0", CultureInfo.InvariantCulture)} {Word(Unit)}";
}

namespace Vellumkeep.Core.Forms;

/// <summary>How one value is read from its text and written as text.</summary>
/// <param name="Read">Reads a trimmed text, or says what is wrong with it and what would be right.</param>
/// <param name="Write">Writes what <paramref name="Read"/> reads.</param>
public sealed record Codec<T>(Func<string, Parsed<T>> Read, Func<T, string> Write)
{
    /// <summary>What the value is, where its type does not tell: a time zone that is kept as its name.</summary>
    public Type Holds { get; init; } = typeof(T);

    /// <summary>The closed set of words that the text is one of; empty when it is free.</summary>
    public ImmutableArray<string> Words { get; init; } = [];
}

/// <summary>The codecs that several fields share.</summary>
public static class Codecs
{
    /// <summary>An IPv4 or IPv6 prefix; host bits are refused (RFC 4632, RFC 4291).</summary>
    public static readonly Codec<Prefix> Prefix = Of(Addressing.Prefix.Parse);

    /// <summary>An IPv4 or IPv6 address.</summary>
    public static readonly Codec<Address> Address = Of(Addressing.Address.Parse);

    /// <summary>A day as year-month-day (ISO 8601).</summary>
    public static readonly Codec<DateOnly> Day = new(Scalars.Date, Scalars.Write);

    /// <summary>A time zone of the IANA database, kept as its name.</summary>
    public static readonly Codec<string> TimeZone = Of(Customer.ZoneText) with { Holds = typeof(TimeZoneInfo) };

    /// <summary>Yes or no.</summary>
    public static readonly Codec<bool> YesNo = new(Scalars.YesNo, Scalars.Write) { Words = ["yes", "no"] };

    /// <summary>A text as it stands.</summary>
    public static readonly Codec<string> Line = new(Parsed<string>.Of, text => text);

    /// <summary>A length of time with its unit, written in the unit in which it was typed.</summary>
    public static readonly Codec<Lifetime> Lifetime = new(Quantities.Lifetime.Parse, time =>
        $"{time.Amount} {Quantities.Lifetime.Word(time.Unit)}"
    );

    /// <summary>A value that is written as it reads.</summary>
    public static Codec<T> Of<T>(Func<string, Parsed<T>> parse) => new(parse, value => value!.ToString()!);

    /// <summary>One of a closed set of words.</summary>
    public static Codec<T> Word<T>(Words<T> words)
        where T : struct, Enum => new(words.Parse, words.Of) { Words = [.. words.All] };

    /// <summary>A whole number; <paramref name="least"/> and <paramref name="most"/> included.</summary>
    /// <param name="least">The smallest that is taken.</param>
    /// <param name="most">The largest that is taken.</param>
    /// <param name="what">What the number is, for the refusal: "a version".</param>
    public static Codec<int> Number(int least, int most, string what) =>
        new(text => Scalars.Number(text, least, most, what), number => number.ToString(CultureInfo.InvariantCulture));

    /// <summary>A yes or no that has words of its own.</summary>
    /// <param name="yes">The word for true.</param>
    /// <param name="no">The word for false.</param>
    /// <param name="what">What the words say, for the refusal: "a way of comparing names".</param>
    public static Codec<bool> Either(string yes, string no, string what) =>
        new(
            text =>
                text.Equals(yes, StringComparison.OrdinalIgnoreCase) ? Parsed<bool>.Of(true)
                : text.Equals(no, StringComparison.OrdinalIgnoreCase) ? Parsed<bool>.Of(false)
                : Parsed<bool>.Fail($"'{Typed.Short(text)}' is not {what}", $"{yes}, or {no}"),
            value => value ? yes : no
        )
        {
            Words = [yes, no],
        };
}

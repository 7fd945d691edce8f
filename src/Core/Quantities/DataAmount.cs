namespace Vellumkeep.Core.Quantities;

/// <summary>
/// An amount of data as typed: kB, MB, GB or TB, in powers of 1,000. Data lifetimes under IKEv1 count kilobytes (RFC
/// 2407 section 4.5).
/// </summary>
public sealed record DataAmount
{
    private DataAmount(long amount, string unit) => (Amount, Unit) = (amount, unit);

    /// <summary>The number, as typed.</summary>
    public long Amount { get; }

    /// <summary>The unit, as typed: kB, MB, GB or TB.</summary>
    public string Unit { get; }

    /// <summary>In kilobytes, as a lifetime is negotiated (RFC 2407 section 4.5).</summary>
    public long InKilobytes => Amount * Sizes[Unit];

    private static readonly Dictionary<string, long> Sizes = new(StringComparer.OrdinalIgnoreCase)
    {
        ["kB"] = 1,
        ["MB"] = 1_000,
        ["GB"] = 1_000_000,
        ["TB"] = 1_000_000_000,
    };

    /// <summary>Reads <c>4608000 kB</c> or <c>4 GB</c>: 1 to 9,999,999,999 with a unit.</summary>
    public static Parsed<DataAmount> Parse(string text)
    {
        var t = Typed.Trim(text).Replace(",", "");
        var split = t.TakeWhile(char.IsAsciiDigit).Count();
        var unit = Sizes.Keys.FirstOrDefault(k =>
            string.Equals(k, t[split..].Trim(), StringComparison.OrdinalIgnoreCase)
        );
        return split is > 0 and <= 10 && long.TryParse(t[..split], out var amount) && amount > 0 && unit is not null
            ? Parsed<DataAmount>.Of(new(amount, unit))
            : Parsed<DataAmount>.Fail(
                $"'{Typed.Short(text)}' is not an amount of data",
                "a number with kB, MB, GB or TB, such as 4 GB"
            );
    }

    /// <inheritdoc/>
    public override string ToString() => $"{Amount.ToString("N0", CultureInfo.InvariantCulture)} {Unit}";
}

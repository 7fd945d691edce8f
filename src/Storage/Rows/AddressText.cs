namespace Vellumkeep.Storage.Rows;

/// <summary>Addresses as text that orders as they do.</summary>
public static class AddressText
{
    public static string Of(Address address) => address.Bits.ToString("x32", CultureInfo.InvariantCulture);

    /// <summary>The prefix from its first and last address.</summary>
    public static Prefix Between(Family family, string low, string high)
    {
        var (from, to) = (
            UInt128.Parse(low, NumberStyles.HexNumber, CultureInfo.InvariantCulture),
            UInt128.Parse(high, NumberStyles.HexNumber, CultureInfo.InvariantCulture)
        );
        var first = Address.Of(family, from);
        var bits = 0;
        for (var span = from ^ to; span != UInt128.Zero; span >>= 1)
            bits++;
        return Prefix.Around(first, first.Width - bits);
    }
}

using System.Net;
using System.Net.Sockets;

namespace Vellumkeep.Core.Addressing;

/// <summary>The two address families, by their version number.</summary>
public enum Family
{
    /// <summary>IPv4 (RFC 791): 32 bits.</summary>
    IPv4 = 4,

    /// <summary>IPv6 (RFC 8200): 128 bits.</summary>
    IPv6 = 6,
}

/// <summary>
/// One IPv4 or IPv6 address, always in the canonical spelling (RFC 5952 section 4 for IPv6).
/// Addresses order by family, then by value. The default value is 0.0.0.0.
/// </summary>
public readonly record struct Address : IComparable<Address>
{
    private readonly bool six;

    private Address(bool six, UInt128 bits)
    {
        this.six = six;
        Bits = bits;
    }

    /// <summary>IPv4 or IPv6.</summary>
    public Family Family => six ? Family.IPv6 : Family.IPv4;

    /// <summary>The address as a number: 0 to 2^32-1 for IPv4, 0 to 2^128-1 for IPv6.</summary>
    public UInt128 Bits { get; }

    /// <summary>32 for IPv4, 128 for IPv6.</summary>
    public int Width => six ? 128 : 32;

    /// <summary>
    /// Whether the address is set aside for private use (RFC 1918, RFC 4193, RFC 6598) or for one link.
    /// </summary>
    public bool IsPrivate
    {
        get
        {
            var me = this;
            return PrivateUse.Any(p => p.Contains(me));
        }
    }

    private static readonly ImmutableArray<Prefix> PrivateUse =
    [
        .. new[]
        {
            "10.0.0.0/8",
            "172.16.0.0/12",
            "192.168.0.0/16",
            "100.64.0.0/10",
            "169.254.0.0/16",
            "fc00::/7",
            "fe80::/10",
        }.Select(t => Prefix.Parse(t).Value),
    ];

    /// <summary>Makes an address from its number.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The number does not fit the family.</exception>
    public static Address Of(Family family, UInt128 bits) =>
        family == Family.IPv4 && bits > uint.MaxValue
            ? throw new ArgumentOutOfRangeException(nameof(bits), "An IPv4 address has 32 bits.")
            : new(family == Family.IPv6, bits);

    /// <summary>
    /// Reads an address as RFC 4291 section 2.2 and dotted decimal write it: four decimal parts without leading zeros,
    /// or IPv6 without a zone.
    /// </summary>
    public static Parsed<Address> Parse(string text)
    {
        var t = Typed.Trim(text);
        var right = "an address such as 192.0.2.10 or 2001:db8::10";
        if (t.Length is 0 or > 45 || t.Contains('%') || t.Contains('/'))
            return Parsed<Address>.Fail($"'{Typed.Short(text)}' is not an address", right);
        if (!t.Contains(':'))
        {
            var parts = t.Split('.');
            if (parts.Length != 4)
                return Parsed<Address>.Fail($"'{t}' is not an address: it has {parts.Length} parts, not four", right);
            uint bits = 0;
            foreach (var part in parts)
            {
                if (
                    !byte.TryParse(part, NumberStyles.None, CultureInfo.InvariantCulture, out var b)
                    || (part.Length > 1 && part[0] == '0')
                )
                    return Parsed<Address>.Fail(
                        $"'{t}' is not an address: '{part}' is not a number from 0 to 255 without leading zeros",
                        right
                    );
                bits = (bits << 8) | b;
            }

            return Parsed<Address>.Of(new(false, bits));
        }

        if (!IPAddress.TryParse(t, out var ip) || ip.AddressFamily != AddressFamily.InterNetworkV6)
            return Parsed<Address>.Fail($"'{t}' is not an address", right);
        return Parsed<Address>.Of(
            new(
                true,
                new UInt128(
                    System.Buffers.Binary.BinaryPrimitives.ReadUInt64BigEndian(ip.GetAddressBytes().AsSpan(0, 8)),
                    System.Buffers.Binary.BinaryPrimitives.ReadUInt64BigEndian(ip.GetAddressBytes().AsSpan(8, 8))
                )
            )
        );
    }

    /// <inheritdoc/>
    public int CompareTo(Address other) => six == other.six ? Bits.CompareTo(other.Bits) : six.CompareTo(other.six);

    /// <inheritdoc/>
    public override string ToString()
    {
        if (!six)
            return $"{(uint)Bits >> 24}.{((uint)Bits >> 16) & 255}.{((uint)Bits >> 8) & 255}.{(uint)Bits & 255}";
        Span<byte> bytes = stackalloc byte[16];
        System.Buffers.Binary.BinaryPrimitives.WriteUInt128BigEndian(bytes, Bits);
        return new IPAddress(bytes).ToString();
    }
}

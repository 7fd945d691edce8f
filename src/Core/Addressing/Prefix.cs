namespace Vellumkeep.Core.Addressing;

/// <summary>How two prefixes lie to each other.</summary>
public enum PrefixRelation
{
    /// <summary>They share no address.</summary>
    Apart,

    /// <summary>They are the same.</summary>
    Equal,

    /// <summary>The first holds all of the second, and more.</summary>
    Contains,

    /// <summary>The first lies within the second, which holds more.</summary>
    Within,
}

/// <summary>
/// An address prefix (RFC 4632 section 3.1, RFC 4291 section 2.3): a network address with no host bit set, and a length
/// of 0 to 32 or 0 to 128. Prefixes order by family, network address and then length, the shorter first. The default
/// value is 0.0.0.0/0.
/// </summary>
public readonly record struct Prefix : IComparable<Prefix>
{
    private Prefix(Address network, int length)
    {
        Network = network;
        Length = length;
    }

    /// <summary>The first address; its host bits are zero.</summary>
    public Address Network { get; }

    /// <summary>The length, 0 to 32 (IPv4) or 128 (IPv6) bits.</summary>
    public int Length { get; }

    /// <summary>IPv4 or IPv6.</summary>
    public Family Family => Network.Family;

    /// <summary>The first address, which is the network address.</summary>
    public Address First => Network;

    /// <summary>The last address, included.</summary>
    public Address Last => Address.Of(Family, Network.Bits | HostMask(Network.Width, Length));

    /// <summary>Whether this is the prefix of length 0 of its family.</summary>
    public bool IsAny => Length == 0;

    /// <summary>
    /// The prefix that holds <paramref name="address"/> and has <paramref name="length"/> bits; host bits are cleared.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The length is not within the family's width.</exception>
    public static Prefix Around(Address address, int length) =>
        length < 0 || length > address.Width
            ? throw new ArgumentOutOfRangeException(nameof(length), $"A length of 0 to {address.Width} is needed.")
            : new(Address.Of(address.Family, address.Bits & ~HostMask(address.Width, length)), length);

    /// <summary>
    /// Reads <c>10.61.0.0/24</c>, <c>2001:db8::/48</c>, <c>10.61.0.0/255.255.255.0</c>, <c>10.61.0.0 255.255.255.0</c>
    /// or a bare address (all bits). A prefix with host bits is refused and the two likely meanings are named; so is a
    /// wildcard mask.
    /// </summary>
    public static Parsed<Prefix> Parse(string text)
    {
        var t = Typed.Trim(text);
        var cut = t.IndexOfAny(['/', ' ']);
        var addressText = cut < 0 ? t : t[..cut];
        var address = Address.Parse(addressText);
        if (!address.Ok)
            return Parsed<Prefix>.Fail(
                $"'{Typed.Short(text)}' is not a prefix: {address.Wrong}",
                "a prefix such as 10.61.0.0/24 or 2001:db8:61::/48"
            );
        var a = address.Value;
        var length = a.Width;
        if (cut >= 0)
        {
            var lengthText = t[(cut + 1)..].Trim();
            if (lengthText.Contains('.') && a.Family == Family.IPv4)
            {
                var mask = Address.Parse(lengthText);
                if (!mask.Ok)
                    return Parsed<Prefix>.Fail(
                        $"'{t}' has no readable mask: {mask.Wrong}",
                        "a mask such as 255.255.255.0, or /24"
                    );
                var bits = (uint)mask.Value.Bits;
                length = System.Numerics.BitOperations.PopCount(bits);
                if (bits != 0 && length < 32 && bits != uint.MaxValue << (32 - length))
                {
                    var inverse = ~bits;
                    var wildcard =
                        inverse == 0 || inverse == uint.MaxValue << System.Numerics.BitOperations.PopCount(bits);
                    return Parsed<Prefix>.Fail(
                        $"'{lengthText}' is not a mask: its ones are not in one "
                            + $"run{(wildcard ? "; it looks like a wildcard mask" : "")}",
                        wildcard ? $"{addressText}/{32 - length}" : "a mask such as 255.255.255.0, or /24"
                    );
                }
            }
            else if (
                !int.TryParse(lengthText, NumberStyles.None, CultureInfo.InvariantCulture, out length)
                || length > a.Width
            )
            {
                return Parsed<Prefix>.Fail(
                    $"'{Typed.Short(t)}' has no length from 0 to {a.Width}",
                    $"{addressText}/{(a.Family == Family.IPv4 ? 24 : 48)}"
                );
            }
        }

        var network = Around(a, length);
        return network.Network == a
            ? Parsed<Prefix>.Of(network)
            : Parsed<Prefix>.Fail(
                $"{a}/{length} has host bits (ADR-01)",
                $"{network} for the network, or {a}/{a.Width} for that one host"
            ) with
            {
                Slip = Slip.HostBits,
            };
    }

    /// <summary>Whether an address lies within it; never one of the other family.</summary>
    public bool Contains(Address address) =>
        address.Family == Family && (address.Bits & ~HostMask(Network.Width, Length)) == Network.Bits;

    /// <summary>
    /// Whether every address of <paramref name="other"/> is in this prefix; a prefix contains itself.
    /// </summary>
    public bool Contains(Prefix other) => other.Length >= Length && Contains(other.Network);

    /// <summary>Whether it shares an address with another; never with one of the other family.</summary>
    public bool Overlaps(Prefix other) => Contains(other) || other.Contains(this);

    /// <summary>How it lies to another.</summary>
    public PrefixRelation LieTo(Prefix other)
    {
        if (this == other)
            return PrefixRelation.Equal;
        if (Contains(other))
            return PrefixRelation.Contains;
        return other.Contains(this) ? PrefixRelation.Within : PrefixRelation.Apart;
    }

    /// <inheritdoc/>
    public int CompareTo(Prefix other)
    {
        var byNetwork = Network.CompareTo(other.Network);
        return byNetwork != 0 ? byNetwork : Length.CompareTo(other.Length);
    }

    /// <inheritdoc/>
    public override string ToString() => $"{Network}/{Length}";

    private static UInt128 HostMask(int width, int length) =>
        length == width ? UInt128.Zero : UInt128.MaxValue >> (128 - (width - length));
}

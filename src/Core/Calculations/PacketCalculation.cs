namespace Vellumkeep.Core.Calculations;

/// <summary>One term of a calculation: what it is, and how many octets.</summary>
/// <param name="What">What takes the room, such as "outer IPv4 header".</param>
/// <param name="Octets">How much it takes.</param>
public sealed record Term(string What, int Octets);

/// <summary>
/// The largest inner packet that fits a link: the link's MTU less what ESP adds (RFC 4303 section 2),
/// rounded down to the alignment, less the two octets of the trailer. All in octets.
/// </summary>
/// <param name="LinkMtu">The largest packet of the link.</param>
/// <param name="Terms">What is taken off, from the outside in.</param>
/// <param name="Left">What is left for the encrypted part.</param>
/// <param name="Alignment">The cipher's block, or 4 for combined-mode and stream ciphers.</param>
/// <param name="Aligned">That, rounded down to the alignment of the cipher.</param>
/// <param name="Inside">What is taken off within the encrypted part: what the tunnel interface puts around the packet.</param>
/// <param name="Inner">Largest inner packet.</param>
public sealed record PacketCalculation(
    int LinkMtu,
    ImmutableArray<Term> Terms,
    int Left,
    int Alignment,
    int Aligned,
    ImmutableArray<Term> Inside,
    int Inner
)
{
    /// <summary>Largest TCP segment with IPv4 inside: the inner packet less 40.</summary>
    public int MssIPv4 => Inner - 40;

    /// <summary>Largest TCP segment with IPv6 inside: the inner packet less 60.</summary>
    public int MssIPv6 => Inner - 60;

    /// <summary>Whether IPv6 inside falls below its smallest MTU of 1,280 (RFC 8200 section 5).</summary>
    public bool BelowIPv6 => Inner < 1280;

    /// <summary>The calculation for a proposal on a link.</summary>
    /// <param name="proposal">The algorithms that protect the packet.</param>
    /// <param name="outer">The IP version of the outer header.</param>
    /// <param name="encapsulated">Whether ESP goes in UDP (RFC 3948).</param>
    /// <param name="linkMtu">576 to 9,216 octets.</param>
    /// <param name="mode">Tunnel or transport mode.</param>
    /// <param name="wrap">What the tunnel interface puts around the packet before.</param>
    public static Parsed<PacketCalculation> Of(
        EspProposal proposal,
        Family outer,
        bool encapsulated,
        int linkMtu,
        EspMode mode = EspMode.Tunnel,
        InterfaceEncapsulation wrap = InterfaceEncapsulation.None
    )
    {
        if (linkMtu is < 576 or > 9216)
            return Parsed<PacketCalculation>.Fail($"{linkMtu} is not a link MTU", "octets, 576 to 9216, such as 1500");
        var cipher = proposal.Encryption;
        var (vector, block) = cipher.Number switch
        {
            12 => (16, 16),
            2 or 3 => (8, 8),
            11 => (0, 4),
            _ => (8, 4),
        };
        var terms = new List<Term>
        {
            new(outer == Family.IPv4 ? "outer header, IPv4" : "outer header, IPv6", outer == Family.IPv4 ? 20 : 40),
        };
        if (encapsulated)
            terms.Add(new("UDP header", 8));
        terms.Add(new("ESP header", 8));
        terms.Add(new($"initialization vector of {cipher.Name}", vector));
        terms.Add(
            new(
                proposal.Integrity is { } i ? $"integrity value of {i.Name}" : $"integrity value of {cipher.Name}",
                proposal.Integrity is { } x ? Value(x) : Tag(cipher)
            )
        );
        var left = linkMtu - terms.Sum(t => t.Octets);
        var aligned = left / block * block;
        var inside = InsideOf(mode, wrap, terms[0].Octets);
        return Parsed<PacketCalculation>.Of(
            new(linkMtu, [.. terms], left, block, aligned, inside, aligned - 2 - inside.Sum(t => t.Octets))
        );
    }

    /// <summary>
    /// What stands between the ESP header and the inner packet. In transport mode the header of the packet itself, or the
    /// delivery header of the interface, is the one outside, and takes no room again.
    /// </summary>
    private static ImmutableArray<Term> InsideOf(EspMode mode, InterfaceEncapsulation wrap, int header)
    {
        var terms = ImmutableArray.CreateBuilder<Term>();
        if (mode == EspMode.Transport && wrap == InterfaceEncapsulation.None)
            terms.Add(new("the packet's own header, which is outside", -header));
        if (mode == EspMode.Tunnel && wrap != InterfaceEncapsulation.None)
            terms.Add(new("delivery header of the interface", header));
        if (wrap == InterfaceEncapsulation.Gre)
            terms.Add(new("GRE header", 4));
        if (wrap == InterfaceEncapsulation.GreWithKey)
            terms.Add(new("GRE header with key", 8));
        return terms.ToImmutable();
    }

    /// <summary>The tag of a combined-mode cipher (RFC 4106 section 6, RFC 7634 section 2).</summary>
    private static int Tag(Encryption cipher) =>
        cipher.Number switch
        {
            18 => 8,
            19 => 12,
            _ => 16,
        };

    private static int Value(Integrity i) =>
        i.Number switch
        {
            14 => 32,
            13 => 24,
            12 => 16,
            _ => 12,
        };
}

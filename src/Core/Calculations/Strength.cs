namespace Vellumkeep.Core.Calculations;

/// <summary>
/// Security strength in bits: NIST SP 800-57 part 1 rev. 5 tables 2 and 3, SP 800-56A rev. 3 table 26 for the MODP
/// groups above 3072 bits. What lies under 80, where the tables begin, is told as 0.
/// </summary>
public static class Strength
{
    /// <summary>The strength of a cipher in bits (NIST SP 800-57 part 1, table 2).</summary>
    public static int Of(Encryption e) =>
        e.KeyBits
        ?? (
            e.Number switch
            {
                28 => 256,
                3 => 112,
                _ => 0,
            }
        );

    /// <summary>
    /// As a message authentication code or PRF: half the tables' hash collision figure does not apply to HMAC (SP
    /// 800-57 part 1 table 3). MD5 is not in the table.
    /// </summary>
    public static int Of(Integrity i) =>
        i.Number switch
        {
            14 or 13 or 12 => 256,
            2 => 128,
            _ => 0,
        };

    /// <summary>The strength of a pseudorandom function in bits.</summary>
    public static int Of(Prf p) =>
        p.Number switch
        {
            7 or 6 or 5 => 256,
            2 => 128,
            _ => 0,
        };

    /// <summary>The strength of a group in bits (NIST SP 800-57 part 1, table 2; RFC 3526 section 8).</summary>
    public static int Of(DhGroup g) =>
        g.Number switch
        {
            2 or 5 or 22 => 80,
            14 or 23 or 24 => 112,
            15 or 19 or 31 => 128,
            16 => 152,
            17 => 176,
            20 => 192,
            18 => 200,
            32 => 224,
            21 => 256,
            _ => 0,
        };

    /// <summary>The strength of the weakest member, with its name.</summary>
    public static (int Bits, string Weakest) Of(IkeProposal p) => Weakest(Members(p));

    /// <inheritdoc cref="Of(IkeProposal)"/>
    public static (int Bits, string Weakest) Of(EspProposal p) => Weakest(Members(p));

    internal static IEnumerable<(string Name, int Bits, Grade Grade)> Members(IkeProposal p)
    {
        yield return (p.Encryption.Name, Of(p.Encryption), p.Encryption.Ike);
        if (p.Integrity is { } i)
            yield return (i.Name, Of(i), i.Ike);
        yield return (p.Prf.Name, Of(p.Prf), p.Prf.Ike);
        yield return (p.Group.Name, Of(p.Group), p.Group.Ike);
    }

    internal static IEnumerable<(string Name, int Bits, Grade Grade)> Members(EspProposal p)
    {
        yield return (p.Encryption.Name, Of(p.Encryption), p.Encryption.Esp);
        if (p.Integrity is { } i)
            yield return (i.Name, Of(i), i.Esp);
    }

    private static (int, string) Weakest(IEnumerable<(string Name, int Bits, Grade Grade)> members) =>
        members.OrderBy(m => m.Bits).Select(m => (m.Bits, m.Name)).First();
}

/// <summary>A member of a proposal with its strength and what the standard asks.</summary>
/// <param name="Name">The algorithm.</param>
/// <param name="Bits">Of security, by NIST SP 800-57.</param>
/// <param name="Word">The requirement as the standard writes it, such as MUST.</param>
/// <param name="Standard">The RFC with its section.</param>
public sealed record GradedMember(string Name, int Bits, string Word, string Standard);

/// <summary>
/// A proposal graded: RFC 8247 for IKE, RFC 8221 for ESP; the worst word of its members, and the strength of the
/// weakest.
/// </summary>
/// <param name="Proposal">As it is written.</param>
/// <param name="Layer">IKE or ESP.</param>
/// <param name="Bits">Of its weakest member.</param>
/// <param name="Weakest">The member that sets the strength.</param>
/// <param name="Worst">The strictest that any member is given.</param>
/// <param name="Word">That as the standard writes it.</param>
/// <param name="Members">Each algorithm in it, in the order of the proposal.</param>
public sealed record Graded(
    string Proposal,
    string Layer,
    int Bits,
    string Weakest,
    Requirement Worst,
    string Word,
    ImmutableArray<GradedMember> Members
)
{
    /// <summary>An IKE proposal with what the standards say of it (RFC 8247).</summary>
    public static Graded Of(IkeProposal p) => Of(p.ToString(), "IKE", Strength.Of(p), [.. Strength.Members(p)]);

    /// <summary>An ESP proposal with what the standards say of it (RFC 8221).</summary>
    public static Graded Of(EspProposal p) => Of(p.ToString(), "ESP", Strength.Of(p), [.. Strength.Members(p)]);

    /// <summary>Reads a proposal of either layer: one with a DH group is an IKE proposal.</summary>
    public static Parsed<Graded> Parse(string text)
    {
        var ike = IkeProposal.Parse(text);
        if (ike.Ok)
            return Parsed<Graded>.Of(Of(ike.Value));
        var esp = EspProposal.Parse(text);
        return esp.Ok ? Parsed<Graded>.Of(Of(esp.Value))
            : ike.Slip == Slip.NoDhGroup ? Parsed<Graded>.Fail(esp.Wrong!, esp.Right!)
            : Parsed<Graded>.Fail(ike.Wrong!, ike.Right!);
    }

    private static Graded Of(
        string proposal,
        string layer,
        (int Bits, string Weakest) strength,
        ImmutableArray<(string Name, int Bits, Grade Grade)> members
    )
    {
        var worst = members.Select(m => m.Grade).MaxBy(g => g.Requirement);
        return new(
            proposal,
            layer,
            strength.Bits,
            strength.Weakest,
            worst.Requirement,
            worst.Word,
            [.. members.Select(m => new GradedMember(m.Name, m.Bits, m.Grade.Word, m.Grade.Standard))]
        );
    }
}

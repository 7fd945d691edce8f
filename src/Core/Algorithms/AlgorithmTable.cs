using static Vellumkeep.Core.Algorithms.Requirement;

namespace Vellumkeep.Core.Algorithms;

/// <summary>
/// The closed sets of algorithms with the one table of aliases. Input is generous (case, blanks and hyphens do not
/// count); output is the one canonical spelling. An unknown word is refused with the nearest known ones.
/// </summary>
public static class AlgorithmTable
{
    private static Grade Ike(Requirement r, string section) => new(r, $"RFC 8247 section {section}");

    private static Grade Esp(Requirement r, string section) => new(r, $"RFC 8221 section {section}");

    /// <summary>
    /// What neither RFC mentions MAY be implemented (RFC 8221 section 1, RFC 8247 section 1); what we say of it beside
    /// that is named as ours.
    /// </summary>
    private static Grade Ours(string judgement) =>
        new(NotMentioned, $"in neither RFC 8221 nor RFC 8247; our own judgement: {judgement}");

    /// <summary>Ciphers (IANA IKEv2 transform type 1), the ones that are recommended first.</summary>
    public static readonly ImmutableArray<Encryption> Encryptions =
    [
        new("AES-256-GCM-16", 20, null, 20, 256, true, Ike(Should, "2.1"), Esp(Must, "5")),
        new("AES-192-GCM-16", 20, null, 20, 192, true, Ike(May, "2.1"), Esp(May, "5")),
        new("AES-128-GCM-16", 20, null, 20, 128, true, Ike(Should, "2.1"), Esp(Must, "5")),
        new("CHACHA20-POLY1305", 28, null, null, null, true, Ike(Should, "2.1"), Esp(Should, "5")),
        new("AES-256-GCM-12", 19, null, 19, 256, true, Ours(ShortTag), Ours(ShortTag)),
        new("AES-192-GCM-12", 19, null, 19, 192, true, Ours(ShortTag), Ours(ShortTag)),
        new("AES-128-GCM-12", 19, null, 19, 128, true, Ours(ShortTag), Ours(ShortTag)),
        new("AES-256-GCM-8", 18, null, 18, 256, true, Ours(ShortTag), Ours(ShortTag)),
        new("AES-192-GCM-8", 18, null, 18, 192, true, Ours(ShortTag), Ours(ShortTag)),
        new("AES-128-GCM-8", 18, null, 18, 128, true, Ours(ShortTag), Ours(ShortTag)),
        new("AES-256-CBC", 12, 7, 12, 256, false, Ike(Must, "2.1"), Esp(Must, "5")),
        new("AES-192-CBC", 12, 7, 12, 192, false, Ike(May, "2.1"), Esp(May, "5")),
        new("AES-128-CBC", 12, 7, 12, 128, false, Ike(Must, "2.1"), Esp(Must, "5")),
        new("3DES-CBC", 3, 5, 3, null, false, Ike(May, "2.1"), Esp(ShouldNot, "5")),
        new("DES-CBC", 2, 1, 2, null, false, Ike(MustNot, "2.1"), Esp(MustNot, "5")),
        // Integrity alone. An IKE SA never has it; ESP has to be able to, which is no advice to use it (STR-16).
        new("NULL", 11, null, 11, null, false, new(MustNot, "IANA IKEv2 transform type 1"), Esp(Must, "5")),
    ];

    private const string Sound = "sound, at its strength";

    private const string ShortTag = "usable; the 16 octet tag is better";

    /// <summary>Integrity algorithms (IANA IKEv2 transform type 3).</summary>
    public static readonly ImmutableArray<Integrity> Integrities =
    [
        new("HMAC-SHA2-512-256", 14, 6, 7, Ike(Should, "2.3"), Esp(Should, "6")),
        new("HMAC-SHA2-384-192", 13, 5, 6, Ours(Sound), Ours(Sound)),
        new("HMAC-SHA2-256-128", 12, 4, 5, Ike(Must, "2.3"), Esp(Must, "6")),
        new("HMAC-SHA1-96", 2, 2, 2, Ike(MustMinus, "2.3"), Esp(MustMinus, "6")),
        new("HMAC-MD5-96", 1, 1, 1, Ike(MustNot, "2.3"), Esp(MustNot, "6")),
    ];

    /// <summary>Pseudorandom functions (IANA IKEv2 transform type 2).</summary>
    public static readonly ImmutableArray<Prf> Prfs =
    [
        new("PRF-HMAC-SHA2-512", 7, Ike(ShouldPlus, "2.2")),
        new("PRF-HMAC-SHA2-384", 6, Ours(Sound)),
        new("PRF-HMAC-SHA2-256", 5, Ike(Must, "2.2")),
        new("PRF-HMAC-SHA1", 2, Ike(MustMinus, "2.2")),
        new("PRF-HMAC-MD5", 1, Ike(MustNot, "2.2")),
    ];

    /// <summary>Key exchange groups (IANA IKEv2 transform type 4).</summary>
    public static readonly ImmutableArray<DhGroup> Groups =
    [
        new(1, "768-bit MODP", true, Ike(MustNot, "2.4")),
        new(2, "1024-bit MODP", true, Ike(ShouldNot, "2.4")),
        new(5, "1536-bit MODP", true, Ike(ShouldNot, "2.4")),
        new(14, "2048-bit MODP", true, Ike(Must, "2.4")),
        new(15, "3072-bit MODP", true, Ours(Sound)),
        new(16, "4096-bit MODP", true, Ours(Sound)),
        new(17, "6144-bit MODP", true, Ours(Sound)),
        new(18, "8192-bit MODP", true, Ours(Sound)),
        new(19, "256-bit random ECP", true, Ike(Should, "2.4")),
        new(20, "384-bit random ECP", true, Ours(Sound)),
        new(21, "521-bit random ECP", true, Ours(Sound)),
        new(22, "1024-bit MODP with 160-bit subgroup", true, Ike(MustNot, "2.4")),
        new(23, "2048-bit MODP with 224-bit subgroup", true, Ike(ShouldNot, "2.4")),
        new(24, "2048-bit MODP with 256-bit subgroup", true, Ike(ShouldNot, "2.4")),
        new(31, "Curve25519", false, Ours(Sound)),
        new(32, "Curve448", false, Ours(Sound)),
    ];

    private static readonly Dictionary<string, Encryption> EncryptionNames = Named(
        Encryptions,
        e => e.Name,
        e =>
            e switch
            {
                { Combined: true, Number: 20 } =>
                [
                    $"AES{e.KeyBits}GCM",
                    $"AESGCM{e.KeyBits}",
                    $"AESGCM16{e.KeyBits}",
                    $"AES{e.KeyBits}GCM128",
                    $"ENCRAESGCM16{e.KeyBits}",
                ],
                { Combined: true, Number: 18 or 19 } => ShortTags(e),
                { Number: 11 } => ["none", "ENCRNULL", "NULLENCRYPTION"],
                { Number: 28 } => ["CHACHA20", "CHACHAPOLY", "CHACHA20POLY"],
                { Number: 12 } =>
                [
                    $"AES{e.KeyBits}",
                    $"AESCBC{e.KeyBits}",
                    $"CBCAES{e.KeyBits}",
                    $"ENCRAESCBC{e.KeyBits}",
                ],
                { Number: 3 } => ["3DES", "TripleDES", "TDES", "DES3", "3DESCBC168"],
                _ => ["DES", "DES56"],
            }
    );

    private static string[] ShortTags(Encryption e)
    {
        var octets = e.Number == 18 ? 8 : 12;
        return [$"AES{e.KeyBits}GCM{octets * 8}", $"AESGCM{octets}{e.KeyBits}", $"ENCRAESGCM{octets}{e.KeyBits}"];
    }

    private static readonly Dictionary<string, Integrity> IntegrityNames = Named(
        Integrities,
        i => i.Name,
        i =>
            i.Number switch
            {
                14 => ["SHA512", "SHA2512", "HMACSHA512", "HMACSHA2512", "HMACSHA512256"],
                13 => ["SHA384", "SHA2384", "HMACSHA384", "HMACSHA2384", "HMACSHA384192"],
                12 => ["SHA256", "SHA2256", "HMACSHA256", "HMACSHA2256", "HMACSHA256128"],
                2 => ["SHA", "SHA1", "HMACSHA", "HMACSHA1"],
                _ => ["MD5", "HMACMD5"],
            }
    );

    private static readonly Dictionary<string, Prf> PrfNames = Named(
        Prfs,
        p => p.Name,
        p =>
            p.Number switch
            {
                7 => ["PRFSHA512", "PRFSHA2512", "PRFHMACSHA512"],
                6 => ["PRFSHA384", "PRFSHA2384", "PRFHMACSHA384"],
                5 => ["PRFSHA256", "PRFSHA2256", "PRFHMACSHA256"],
                2 => ["PRFSHA1", "PRFSHA"],
                _ => ["PRFMD5"],
            }
    );

    private static readonly Dictionary<string, DhGroup> GroupNames = Named(
        Groups,
        g => g.Name,
        g =>
            [
                $"{g.Number}",
                $"group{g.Number}",
                $"G{g.Number}",
                g.Also,
                .. g.Number switch
                {
                    1 => Modp(768),
                    2 => Modp(1024),
                    5 => Modp(1536),
                    14 => Modp(2048),
                    15 => Modp(3072),
                    16 => Modp(4096),
                    17 => Modp(6144),
                    18 => Modp(8192),
                    19 => [.. Ecp(256), "prime256v1"],
                    20 => Ecp(384),
                    21 => Ecp(521),
                    31 => ["X25519", "25519"],
                    32 => ["X448"],
                    _ => (string[])[],
                },
            ]
    );

    // The length alone names a MODP group; of a curve it would also be that of a key, so that a curve is named.
    private static string[] Modp(int bits) =>
        [$"MODP{bits}", $"{bits}bit", $"{bits}bits", $"MODP{bits}bit", $"DH{bits}"];

    private static string[] Ecp(int bits) =>
        [$"ECP{bits}", $"P{bits}", $"NISTP{bits}", $"secp{bits}r1", $"{bits}bitECP", $"ECDH{bits}", $"EC{bits}"];

    /// <summary>Reads the name of a cipher, as a standard or a device spells it.</summary>
    public static Parsed<Encryption> Encryption(string text) =>
        Look(text, EncryptionNames, Encryptions.Select(e => e.Name), "an encryption algorithm");

    /// <summary>Reads the name of an integrity algorithm.</summary>
    public static Parsed<Integrity> Integrity(string text) =>
        Look(text, IntegrityNames, Integrities.Select(e => e.Name), "an integrity algorithm");

    /// <summary>Reads the name of a pseudorandom function.</summary>
    public static Parsed<Prf> Prf(string text) => Look(text, PrfNames, Prfs.Select(e => e.Name), "a PRF");

    /// <summary>Reads a group by its number or name, such as <c>DH 14</c>.</summary>
    public static Parsed<DhGroup> Group(string text) =>
        Look(text, GroupNames, Groups.Select(e => e.Name), "a Diffie-Hellman group");

    /// <summary>
    /// The PRF built on the same hash as <paramref name="integrity"/>: what is meant when a proposal names only a hash.
    /// </summary>
    public static Prf PrfOf(Integrity integrity) =>
        Prfs.First(p =>
            p.Number
            == integrity.Number switch
            {
                14 => 7,
                13 => 6,
                12 => 5,
                2 => 2,
                _ => 1,
            }
        );

    /// <summary>The canonical name of an algorithm of any type.</summary>
    public static Parsed<string> AnyName(string text)
    {
        if (EncryptionNames.TryGetValue(Typed.Folded(text), out var e))
            return Parsed<string>.Of(e.Name);
        if (IsGroup(text))
            return Group(text).To(g => g.Name);
        return Typed.Folded(text).StartsWith("prf", StringComparison.Ordinal)
            ? Prf(text).To(p => p.Name)
            : Integrity(text).To(i => i.Name);
    }

    internal static bool IsGroup(string text) => GroupNames.ContainsKey(Typed.Folded(text));

    private static Dictionary<string, T> Named<T>(
        IEnumerable<T> all,
        Func<T, string> name,
        Func<T, string[]> aliases
    ) =>
        all.SelectMany(x => aliases(x).Prepend(name(x)).Select(n => (Key: Typed.Folded(n), x)))
            .DistinctBy(p => p.Key)
            .ToDictionary(p => p.Key, p => p.x);

    private static Parsed<T> Look<T>(
        string text,
        Dictionary<string, T> names,
        IEnumerable<string> canonical,
        string what
    )
    {
        if (names.TryGetValue(Typed.Folded(text), out var found))
            return Parsed<T>.Of(found);
        // Some ciphers are named whole but for the key length or tag, which decides everything: say which are left to
        // choose from.
        var folded = Typed.Folded(text);
        var near =
            folded is "aes" or "aescbc" ? ["AES-128-CBC", "AES-256-CBC"]
            : folded is "aesgcm" or "aesgcm16" ? ["AES-128-GCM-16", "AES-256-GCM-16"]
            : Typed.Nearest(text, canonical).ToArray();
        return Parsed<T>.Fail(
            $"'{Typed.Short(Typed.Trim(text))}' is not {what} that is known here",
            string.Join(", ", near)
        );
    }
}

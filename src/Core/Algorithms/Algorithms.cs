namespace Vellumkeep.Core.Algorithms;

/// <summary>
/// A cipher with its key length. Numbers are those of the IKEv2 transform type 1 registry (RFC 7296 section 3.3.2), of
/// the IKEv1 encryption attribute (RFC 2409 appendix A) and of the IKEv1 ESP transform (RFC 2407 section 4.4.4); null
/// where that version has none.
/// </summary>
/// <param name="Name">As it is written everywhere, such as AES-256-GCM-16.</param>
/// <param name="Number">Of the IKEv2 transform type 1.</param>
/// <param name="Ikev1Number">Of the IKEv1 encryption attribute; null where IKEv1 cannot use it for its own SA.</param>
/// <param name="Ikev1EspNumber">Of the IKEv1 ESP transform; null where IKEv1 cannot offer it.</param>
/// <param name="KeyBits">Key length; null for a cipher of fixed length, for which none may be sent.</param>
/// <param name="Combined">Whether the cipher protects integrity itself, so that no integrity algorithm goes with it
/// (RFC 5282).</param>
/// <param name="Ike">What RFC 8247 asks of it in an IKE SA.</param>
/// <param name="Esp">What RFC 8221 asks of it in ESP.</param>
public sealed record Encryption(
    string Name,
    int Number,
    int? Ikev1Number,
    int? Ikev1EspNumber,
    int? KeyBits,
    bool Combined,
    Grade Ike,
    Grade Esp
)
{
    /// <summary>Whether it encrypts nothing (RFC 2410): for ESP alone, never for an IKE SA.</summary>
    public bool IsNull => Number == 11;

    /// <inheritdoc/>
    public override string ToString() => Name;
}

/// <summary>
/// An integrity algorithm: IKEv2 transform type 3, the IKEv1 hash (RFC 2409 appendix A) and ESP authentication
/// attribute (RFC 2407 section 4.5).
/// </summary>
/// <param name="Name">As it is written everywhere, such as HMAC-SHA2-256-128.</param>
/// <param name="Number">Of the IKEv2 transform type 3.</param>
/// <param name="Ikev1Hash">Of the IKEv1 hash attribute.</param>
/// <param name="Ikev1EspNumber">Of the IKEv1 ESP authentication attribute.</param>
/// <param name="Ike">What RFC 8247 asks of it in an IKE SA.</param>
/// <param name="Esp">What RFC 8221 asks of it in ESP.</param>
public sealed record Integrity(string Name, int Number, int Ikev1Hash, int Ikev1EspNumber, Grade Ike, Grade Esp)
{
    /// <inheritdoc/>
    public override string ToString() => Name;
}

/// <summary>
/// A pseudorandom function: IKEv2 transform type 2. IKEv1 uses the HMAC of its hash (RFC 2409 section 4).
/// </summary>
/// <param name="Name">As it is written everywhere, such as PRF-HMAC-SHA2-256.</param>
/// <param name="Number">Of the IKEv2 transform type 2.</param>
/// <param name="Ike">What RFC 8247 asks of it.</param>
public sealed record Prf(string Name, int Number, Grade Ike)
{
    /// <inheritdoc/>
    public override string ToString() => Name;
}

/// <summary>
/// A Diffie-Hellman group: IKEv2 transform type 4. <paramref name="InIkev1"/> says whether IKEv1 has a code point for
/// it.
/// </summary>
/// <param name="Number">Of the IKEv2 transform type 4, by which it is named: DH 19.</param>
/// <param name="Also">The name of its curve or the length of its modulus.</param>
/// <param name="InIkev1">Whether IKEv1 has a code point for it.</param>
/// <param name="Ike">What RFC 8247 asks of it.</param>
public sealed record DhGroup(int Number, string Also, bool InIkev1, Grade Ike)
{
    /// <summary>Its name, such as <c>DH 14</c>.</summary>
    public string Name => $"DH {Number}";

    /// <inheritdoc/>
    public override string ToString() => Name;
}

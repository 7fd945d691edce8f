namespace Vellumkeep.Core.Records;

/// <summary>The kinds of identity (RFC 7296 section 3.5).</summary>
public enum IdentityKind
{
    /// <summary>ID_IPV4_ADDR or ID_IPV6_ADDR.</summary>
    Address,

    /// <summary>ID_FQDN.</summary>
    Fqdn,

    /// <summary>ID_RFC822_ADDR.</summary>
    Email,

    /// <summary>ID_DER_ASN1_DN.</summary>
    DistinguishedName,

    /// <summary>ID_KEY_ID.</summary>
    KeyId,
}

/// <summary>
/// An identity as it is sent or expected (RFC 7296 section 3.5): its kind, and its value exactly as typed, blanks at
/// the ends included.
/// </summary>
/// <param name="Type">Its kind.</param>
/// <param name="Value">As typed.</param>
public sealed record Identity(IdentityKind Type, string Value)
{
    /// <summary>The words of the kinds.</summary>
    public static readonly Words<IdentityKind> Kinds = new(
        "an identity type",
        (IdentityKind.Address, "address"),
        (IdentityKind.Fqdn, "fqdn"),
        (IdentityKind.Email, "e-mail"),
        (IdentityKind.DistinguishedName, "dn"),
        (IdentityKind.KeyId, "key-id")
    );

    /// <summary>
    /// Reads the kind and the value, parted by a blank; a value with blanks at its ends stands in quotes: <c>fqdn
    /// "gw.example "</c>.
    /// </summary>
    public static Parsed<Identity> Parse(string text)
    {
        var t = text.TrimStart();
        var cut = t.IndexOf(' ');
        const string right =
            "type and value, such as: fqdn churn.brindle.example, address 192.0.2.10, e-mail gw@brindle.example, "
            + "dn CN=churn, key-id 4711";
        if (cut < 0)
            return Parsed<Identity>.Fail($"'{Typed.Short(t)}' is not an identity", right);
        var kind = Kinds.Parse(t[..cut]);
        if (!kind.Ok)
            return Parsed<Identity>.Fail(kind.Wrong!, kind.Right!);
        var value = t[(cut + 1)..].TrimStart();
        value = value is ['"', .., '"'] && value.Length > 1 ? value[1..^1] : value.TrimEnd();
        if (value.Length is 0 or > 255)
            return Parsed<Identity>.Fail($"'{Typed.Short(t)} ' has no value after the type", right);
        if (kind.Value != IdentityKind.Address)
            return Parsed<Identity>.Of(new(kind.Value, value));
        var address = Addressing.Address.Parse(value);
        return address.Ok
            ? Parsed<Identity>.Of(new(kind.Value, address.Value.ToString()))
            : Parsed<Identity>.Fail(address.Wrong!, address.Right!);
    }

    /// <inheritdoc/>
    public override string ToString() => $"{Kinds.Of(Type)} {(Value != Value.Trim() ? $"\"{Value}\"" : Value)}";
}

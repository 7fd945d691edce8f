using System.Text;

namespace Vellumkeep.Core.Comparison;

/// <summary>
/// Identities compared as what they are: distinguished names by RFC 5280 section 7.1 (types and values whatever their
/// case, blanks folded as RFC 4518 section 2.6.1 has it, the members of one level in any order), everything else octet
/// by octet.
/// </summary>
internal static class NameMatch
{
    /// <summary>Whether the two are the same, whatever the platform does with case.</summary>
    internal static bool Same(Identity one, Identity other) =>
        one == other
        || (
            one.Type == IdentityKind.DistinguishedName
            && other.Type == IdentityKind.DistinguishedName
            && SameName(Levels(one.Value), Levels(other.Value))
        );

    /// <summary>
    /// Whether they differ in case alone: then the platform decides. A key-id is octets and no text (RFC 7296 section
    /// 3.5), so that nothing in it is upper or lower case.
    /// </summary>
    internal static bool OnlyCase(Identity one, Identity other) =>
        one.Type == other.Type
        && one.Type != IdentityKind.KeyId
        && one.Value != other.Value
        && string.Equals(one.Value, other.Value, StringComparison.OrdinalIgnoreCase);

    // A name is written from its last level (RFC 4514 section 2.1) or from its first, as devices do.
    private static bool SameName(string[] one, string[] other) =>
        one.SequenceEqual(other) || one.Reverse().SequenceEqual(other);

    private static string[] Levels(string name) =>
        [.. Parts(name.TrimStart('/'), name.StartsWith('/') ? '/' : ',').Select(Level)];

    private static string Level(string level) =>
        string.Join('+', Parts(level, '+').Select(Folded).Order(StringComparer.Ordinal));

    private static string Folded(string typeAndValue)
    {
        var cut = typeAndValue.IndexOf('=');
        if (cut < 0)
            return Blanks(typeAndValue);
        var type = Blanks(typeAndValue[..cut]);
        return $"{(type is "e" or "email" ? "emailaddress" : type)}={Blanks(typeAndValue[(cut + 1)..])}";
    }

    private static string Blanks(string text) =>
        string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).ToLowerInvariant();

    /// <summary>The parts between separators that are not escaped or quoted.</summary>
    private static IEnumerable<string> Parts(string text, char separator)
    {
        var part = new StringBuilder();
        var quoted = false;
        for (var i = 0; i < text.Length; i++)
            if (text[i] == '\\' && i + 1 < text.Length)
                part.Append(text[i++]).Append(text[i]);
            else if (text[i] == '"')
                quoted = !quoted;
            else if (text[i] == separator && !quoted)
            {
                yield return part.ToString();
                part.Clear();
            }
            else
                part.Append(text[i]);
        yield return part.ToString();
    }
}

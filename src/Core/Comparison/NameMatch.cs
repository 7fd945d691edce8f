using System.Text;

namespace Vellumkeep.Core.Comparison;

/// <summary>How two identities stand to each other.</summary>
internal enum NameFit
{
    /// <summary>They are the same.</summary>
    Same,

    /// <summary>They are the same if the two platforms write their levels in opposite order, which nobody says.</summary>
    SameIfReversed,

    /// <summary>They are not the same.</summary>
    Unlike,
}

/// <summary>
/// Identities compared as what they are: distinguished names by RFC 5280 section 7.1 (types and values whatever their
/// case, blanks folded as RFC 4518 section 2.6.1 has it, the members of one level in any order), everything else octet
/// by octet.
/// </summary>
internal static class NameMatch
{
    /// <summary>Whether the two are the same, whatever the platform does with case, and in whatever order.</summary>
    internal static bool Same(Identity one, Identity other) => Of(one, null, other, null) != NameFit.Unlike;

    /// <summary>How an identity stands to another, each as its platform writes it.</summary>
    internal static NameFit Of(Identity one, NameOrder? ordered, Identity other, NameOrder? otherOrdered)
    {
        if (one == other && (ordered is null || otherOrdered is null || ordered == otherOrdered))
            return NameFit.Same;
        if (one.Type != IdentityKind.DistinguishedName || other.Type != IdentityKind.DistinguishedName)
            return one == other ? NameFit.Same : NameFit.Unlike;
        var (a, b) = (Levels(one.Value), Levels(other.Value));
        if ((OrderOf(one, ordered), OrderOf(other, otherOrdered)) is ({ } x, { } y))
            return a.SequenceEqual(x == y ? b : b.Reverse()) ? NameFit.Same : NameFit.Unlike;
        return a.SequenceEqual(b) ? NameFit.Same
            : a.SequenceEqual(b.Reverse()) ? NameFit.SameIfReversed
            : NameFit.Unlike;
    }

    // A name with slashes is written from its most general level.
    private static NameOrder? OrderOf(Identity name, NameOrder? ordered) =>
        name.Value.StartsWith('/') ? NameOrder.GeneralFirst : ordered;

    /// <summary>
    /// Whether they differ in case alone: then the platform decides. A key-id is octets and no text (RFC 7296 section
    /// 3.5), so that nothing in it is upper or lower case.
    /// </summary>
    internal static bool OnlyCase(Identity one, Identity other) =>
        one.Type == other.Type
        && one.Type != IdentityKind.KeyId
        && one.Value != other.Value
        && string.Equals(one.Value, other.Value, StringComparison.OrdinalIgnoreCase);

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

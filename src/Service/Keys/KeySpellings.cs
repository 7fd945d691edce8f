using System.Text;

namespace Vellumkeep.Service.Keys;

/// <summary>
/// How a key can stand in a text: as it is, in hexadecimal, and in Base64 (RFC 4648, section 4) wherever in the encoded
/// text it begins. Of each only the beginning and the end are taken: who has pasted one of them has pasted the key, or
/// a part of it that is long enough to be no chance.
/// </summary>
public static class KeySpellings
{
    /// <summary>Signs of a key by which it is recognised: half of it, and no more than this.</summary>
    private const int Most = 12;

    /// <summary>Shorter parts would be found by chance.</summary>
    public const int Least = 8;

    private static readonly Encoding[] Encodings = [Encoding.UTF8, Encoding.Unicode, Encoding.BigEndianUnicode];

    /// <summary>
    /// Small letters and digits only: groups, dashes, quotes, line breaks and capitals do not hide a key.
    /// </summary>
    public static string Squeezed(string text) =>
        string.Create(text.Count(char.IsAsciiLetterOrDigit), text, (squeezed, from) =>
        {
            var at = 0;
            foreach (var c in from)
                if (char.IsAsciiLetterOrDigit(c))
                    squeezed[at++] = char.ToLowerInvariant(c);
        });

    /// <summary>The parts by which a key is recognised, squeezed; none where it is too short for that.</summary>
    public static IEnumerable<string> Of(string key)
    {
        var plain = Squeezed(key);
        if (plain.Length < Least)
            return [];
        var many = Math.Clamp(plain.Length / 2, Least, Most);
        string[] parts = [key[..Math.Min(many, key.Length)], key[Math.Max(0, key.Length - many)..]];
        return parts
            .SelectMany(p => Encodings.SelectMany(e => Encoded(e.GetBytes(p))))
            .Concat([plain[..many], plain[^many..]])
            .Where(s => s.Length >= Least)
            .Distinct();
    }

    private static IEnumerable<string> Encoded(byte[] octets)
    {
        yield return Convert.ToHexStringLower(octets);
        // Three octets are four signs: where a part begins decides its signs, but for those it shares with others.
        for (var before = 0; before < 3; before++)
        {
            var signs = Convert.ToBase64String([.. new byte[before], .. octets]);
            var from = before == 0 ? 0 : before + 1;
            var to = (before + octets.Length) / 3 * 4;
            yield return Squeezed(signs[from..to]);
        }
    }
}

namespace Vellumkeep.Core.Parsing;

/// <summary>
/// Characters that no text of the inventory holds: what cannot be stored, seen, or read from left to right as it
/// stands.
/// </summary>
public static class Characters
{
    /// <summary>
    /// The first character that is refused, as it would be named (<c>U+202E</c>); null when the text is fit. Refused
    /// are control characters (category Cc; line breaks and tabs too, unless <paramref name="lines"/>), characters that
    /// turn the direction of writing (Unicode UAX #9, section 2), invisible ones (U+200B, U+2060 to U+2064), halves of
    /// surrogate pairs, and what is no character at all (U+FFFE, U+FFFF and their like).
    /// </summary>
    public static string? Unfit(string text, bool lines = false)
    {
        for (var i = 0; i < text.Length; i++)
        {
            var c = text[i];
            if (c is >= ' ' and < '\u007f')
                continue;
            if (char.IsHighSurrogate(c) && i + 1 < text.Length && char.IsLowSurrogate(text[i + 1]))
            {
                // The last two of every plane are no characters.
                if ((char.ConvertToUtf32(c, text[i + 1]) & 0xfffe) == 0xfffe)
                    return Named(char.ConvertToUtf32(c, text[i + 1]));
                i++;
                continue;
            }

            if (IsRefused(c) && !(lines && (c is '\n' or '\r' or '\t')))
                return Named(c);
        }

        return null;
    }

    private static bool IsRefused(char c) =>
        char.IsControl(c)
        || char.IsSurrogate(c)
        || c is '\u061c' or '\u200b' or '\u200e' or '\u200f'
        || c is >= '\u2028' and <= '\u202e'
        || c is >= '\u2060' and <= '\u2069'
        || c is >= '\ufdd0' and <= '\ufdef'
        || c is '\ufffe' or '\uffff';

    private static string Named(int c) => "U+" + c.ToString("X4", CultureInfo.InvariantCulture);
}

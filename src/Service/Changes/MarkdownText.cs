using System.Text;

namespace Vellumkeep.Service.Changes;

/// <summary>
/// What people typed, made part of a Markdown document (CommonMark 0.31) so that it stays text: no line of it begins a
/// heading, a list or a fence, and nothing in it is a link, a tag or an emphasis.
/// </summary>
public static class MarkdownText
{
    private const string Special = "\\`*_[]<>|~&";

    /// <summary>On one line, within a line of the document.</summary>
    public static string Inline(string? text)
    {
        var kept = new StringBuilder();
        foreach (var c in OneLine(text ?? ""))
        {
            if (Special.Contains(c))
                kept.Append('\\');
            kept.Append(c);
        }

        return kept.ToString();
    }

    /// <summary>As a cell of a table; nothing is said where there is nothing.</summary>
    public static string Cell(string? text) => Inline(text ?? "nothing");

    /// <summary>
    /// Several lines as a quotation: every line is marked as one, and none of them is more than text.
    /// </summary>
    public static IEnumerable<string> Quoted(string text)
    {
        foreach (var line in text.ReplaceLineEndings("\n").Split('\n'))
        {
            var inline = Inline(line.Trim());
            // What would begin a heading, a list, a rule or an underlining at the beginning of a line.
            var digits = inline.TakeWhile(char.IsAsciiDigit).Count();
            if (inline.Length > 0 && "#+-=".Contains(inline[0]))
                inline = "\\" + inline;
            else if (digits > 0 && digits < inline.Length && inline[digits] is '.' or ')')
                inline = inline.Insert(digits, "\\");
            yield return inline.Length == 0 ? ">" : $"> {inline}";
        }
    }

    /// <summary>A value in the fixed-width face: its fence is longer than any run of fences within it.</summary>
    public static string Code(string? text)
    {
        var line = OneLine(text ?? "");
        var fence = new string('`', Longest(line) + 1);
        return line.Contains('`') ? $"{fence} {line} {fence}" : $"{fence}{line}{fence}";
    }

    /// <summary>Pasted lines as a block of code.</summary>
    public static IEnumerable<string> Block(string text)
    {
        var fence = new string('`', Math.Max(3, Longest(text) + 1));
        return [fence, .. text.ReplaceLineEndings("\n").Split('\n').Select(OneLine), fence];
    }

    private static string OneLine(string text) =>
        new([
            .. text.ReplaceLineEndings(" ")
                .Replace('\t', ' ')
                .Where(c => Characters.Unfit(c.ToString()) is null || char.IsSurrogate(c)),
        ]);

    /// <summary>The longest run of back quotes.</summary>
    private static int Longest(string text)
    {
        var (longest, run) = (0, 0);
        foreach (var c in text)
        {
            run = c == '`' ? run + 1 : 0;
            longest = Math.Max(longest, run);
        }

        return longest;
    }
}

using System.Runtime.CompilerServices;
using System.Text;
using System.Text.RegularExpressions;

namespace Vellumkeep.Core.Wording;

/// <summary>
/// What a typed argument of a sentence is, so that each surface can show it in its own way, or show less.
/// </summary>
public enum ArgumentKind
{
    /// <summary>A value to be set in the fixed-width face.</summary>
    Value,

    /// <summary>End A or end B.</summary>
    End,

    /// <summary>
    /// A tunnel, by id and code; someone without the right to see it reads "another customer's tunnel".
    /// </summary>
    Tunnel,

    /// <summary>A plain word or number.</summary>
    Word,
}

/// <summary>One typed argument of a sentence.</summary>
/// <param name="Kind">Of what kind it is, so that a surface can set it in its face.</param>
/// <param name="Text">As it is read.</param>
/// <param name="Owner">The id of the customer it belongs to, where that may be another one than the reader's: always
/// for a tunnel, and for what belongs to somebody else's tunnel or gateway.</param>
public sealed record Argument(ArgumentKind Kind, string Text, string? Owner = null)
{
    /// <summary>A tunnel.</summary>
    public static Argument Tunnel(Tunnel tunnel) => new(ArgumentKind.Tunnel, tunnel.Code, tunnel.CustomerId);

    /// <summary>A value of a tunnel: someone without the right to see that tunnel reads "a prefix" instead.</summary>
    public static Argument Of(Tunnel tunnel, object value) =>
        new(ArgumentKind.Value, value.ToString()!, tunnel.CustomerId);

    /// <summary>A value.</summary>
    public static Argument Value(object value) => new(ArgumentKind.Value, value.ToString()!);

    /// <summary>A plain word or number.</summary>
    public static Argument Word(object value) => new(ArgumentKind.Word, value.ToString()!);
}

/// <summary>
/// A sentence made of a template and typed arguments, never of finished strings. Written as an interpolated string:
/// values, ends and tunnels that stand in the holes keep their type.
/// </summary>
[InterpolatedStringHandler]
public sealed partial class Sentence
{
    private readonly StringBuilder template = new();
    private readonly List<Argument> arguments = [];

    /// <param name="formattedCount">How many arguments it has.</param>
    /// <param name="literalLength">As the compiler counts it; not used.</param>
    public Sentence(int literalLength, int formattedCount) { }

    private Sentence(string text, IEnumerable<Argument> arguments)
    {
        template.Append(text);
        this.arguments.AddRange(arguments);
    }

    /// <summary>
    /// The template, with {0}, {1} ... where the arguments stand; an opening brace that somebody typed stands twice.
    /// </summary>
    public string Template => template.ToString();

    /// <summary>The arguments, in the order of their places.</summary>
    public IReadOnlyList<Argument> Arguments => arguments;

    /// <summary>The sentence that is written in place.</summary>
    public static Sentence Of(Sentence sentence) => sentence;

    /// <summary><c>a, b and c</c>, each with its arguments.</summary>
    public static Sentence And(IEnumerable<Sentence> items)
    {
        var all = items.ToArray();
        var made = Plain("");
        foreach (var (item, i) in all.Select((item, i) => (item, i)))
        {
            made.AppendLiteral(
                i == 0 ? ""
                : i < all.Length - 1 ? ", "
                : " and "
            );
            made.AppendFormatted(item);
        }

        return made;
    }

    /// <summary>A sentence without arguments.</summary>
    public static Sentence Plain(string text) => new(Literal(text), []);

    /// <summary>Puts back together what <see cref="Template"/> and <see cref="Arguments"/> were stored as.</summary>
    public static Sentence Stored(string template, IEnumerable<Argument> arguments) => new(template, arguments);

    /// <summary>The same with its first letter a capital, where that is literal text.</summary>
    public Sentence Capitalised() =>
        template.Length > 0 && char.IsLower(template[0]) ? new(Say.Capital(Template), arguments) : this;

    /// <summary>The same with a full stop.</summary>
    public Sentence Dotted() => Template.EndsWith('.') ? this : new(Template + ".", arguments);

    /// <summary>Adds what stands between the arguments.</summary>
    public void AppendLiteral(string text) => template.Append(Literal(text));

    /// <summary>Adds an argument.</summary>
    public void AppendFormatted(Argument argument) => Hole(argument);

    /// <summary>Adds an end.</summary>
    public void AppendFormatted(EndName end) => Hole(new(ArgumentKind.End, end.ToString()));

    /// <summary>Adds a tunnel.</summary>
    public void AppendFormatted(Tunnel tunnel) => Hole(Argument.Tunnel(tunnel));

    /// <summary>Adds a prefix.</summary>
    public void AppendFormatted(Prefix prefix) => Hole(Argument.Value(prefix));

    /// <summary>Adds an address.</summary>
    public void AppendFormatted(Address address) => Hole(Argument.Value(address));

    /// <summary>Adds a number.</summary>
    public void AppendFormatted(int number) =>
        Hole(new(ArgumentKind.Word, number.ToString("N0", CultureInfo.InvariantCulture)));

    /// <summary>A text in a hole is a value (fixed-width face).</summary>
    public void AppendFormatted(string? text) => Hole(Argument.Value(text ?? "nothing"));

    /// <summary>A word that reads as part of the sentence: <c>{text:w}</c>.</summary>
    public void AppendFormatted(string? text, string format) =>
        Hole(format == "w" ? Argument.Word(text ?? "") : Argument.Value(text ?? "nothing"));

    /// <summary>Adds a sentence with its arguments.</summary>
    public void AppendFormatted(Sentence inner)
    {
        foreach (var (literal, argument) in inner.Parts())
        {
            AppendLiteral(literal);
            if (argument is not null)
                Hole(argument);
        }
    }

    /// <summary>The parts in reading order: a literal, then the argument after it, or null at the end.</summary>
    public IEnumerable<(string Literal, Argument? Argument)> Parts()
    {
        var text = Template;
        var literal = new StringBuilder();
        for (var at = 0; at < text.Length; at++)
        {
            if (text[at] == '{' && at + 1 < text.Length && text[at + 1] == '{')
            {
                literal.Append('{');
                at++;
                continue;
            }

            var end = text[at] == '{' ? text.IndexOf('}', at) : -1;
            if (end < 0 || !int.TryParse(text.AsSpan(at + 1, end - at - 1), out var hole) || hole >= arguments.Count)
            {
                literal.Append(text[at]);
                continue;
            }

            yield return (literal.ToString(), arguments[hole]);
            literal.Clear();
            at = end;
        }

        yield return (literal.ToString(), null);
    }

    private static string Literal(string text) => text.Replace("{", "{{");

    /// <summary>The sentence as plain text, every tunnel by its code.</summary>
    public override string ToString() => string.Concat(Parts().Select(p => p.Literal + p.Argument?.Text));

    /// <summary>A value made of words stands in quotes, so that one hears where it begins and ends.</summary>
    private void Hole(Argument argument)
    {
        var inQuotes = template.Length > 0 && template[^1] == '\'';
        var quote = argument.Kind == ArgumentKind.Value && !inQuotes && Words().IsMatch(argument.Text) ? "'" : "";
        template.Append(quote).Append('{').Append(arguments.Count).Append('}').Append(quote);
        arguments.Add(argument);
    }

    /// <summary>
    /// Two words at least, one of them in small letters. A number with its unit is none (3,600 min, 20 seconds), and a
    /// list is several.
    /// </summary>
    [GeneratedRegex(@"^(?![\d.,]+ [a-z]+$)(?!.* and )(?=.*[ ,]).*(?<![\w.-])[a-z]{3,}(?![\w.-])")]
    private static partial Regex Words();
}

/// <summary>Small pieces of wording.</summary>
public static class Say
{
    /// <summary><c>a, b and c</c>.</summary>
    public static string And(IEnumerable<string> items)
    {
        var all = items.ToArray();
        return all.Length switch
        {
            0 => "nothing",
            1 => all[0],
            _ => $"{string.Join(", ", all[..^1])} and {all[^1]}",
        };
    }

    /// <summary><c>1 pair</c>, <c>3 pairs</c>.</summary>
    public static string Count(int n, string one, string? many = null) =>
        $"{n.ToString("N0", CultureInfo.InvariantCulture)} {(n == 1 ? one : many ?? one + "s")}";

    /// <summary>The things spoken of, with how many they are when they are several: the rule, the 3 rules.</summary>
    public static string The(int n, string one, string? many = null) =>
        n == 1 ? $"the {one}" : $"the {Count(n, one, many)}";

    /// <summary>A noun with its article: an Alderquay Major, a Teasel Minor.</summary>
    public static string A(string noun) =>
        (noun.Length > 0 && "AEIOU".Contains(char.ToUpperInvariant(noun[0]), StringComparison.Ordinal) ? "an " : "a ")
        + noun;

    /// <summary>The text with its first letter a capital.</summary>
    public static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    /// <summary>
    /// The name of a field as a label: windowMinutes is Window minutes. A path with dots stays as it is written.
    /// </summary>
    public static string Label(string field) =>
        field.Contains('.') || field.Contains('[')
            ? Capital(field)
            : Capital(
                string.Concat(
                    field.Select(
                        (c, i) =>
                            i > 0 && char.IsUpper(c) && char.IsLower(field[i - 1]) && !EndsHere(field, i)
                                ? $" {char.ToLowerInvariant(c)}"
                            : i > 0 && EndsHere(field, i) ? $" {c}"
                            : $"{c}"
                    )
                )
            );

    /// <summary>A or B at the end of a name is an end of a tunnel.</summary>
    private static bool EndsHere(string field, int at) => at == field.Length - 1 && field[at] is 'A' or 'B';
}

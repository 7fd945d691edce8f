using Spectre.Console;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Terminal;

/// <summary>
/// Writing for people: the width of the terminal respected, colour only on a terminal and never the only sign.
/// </summary>
internal sealed partial class Screen
{
    private readonly IAnsiConsole console;

    private readonly TextWriter to;

    public Screen(Surroundings around)
    {
        to = around.Out;
        var forced = around.Variable("VELLUMKEEP_FORCE_TERMINAL") == "1";
        console = AnsiConsole.Create(
            new AnsiConsoleSettings
            {
                Out = new AnsiConsoleOutput(around.Out),
                Ansi = forced ? AnsiSupport.Yes : AnsiSupport.Detect,
                ColorSystem = forced ? ColorSystemSupport.TrueColor : ColorSystemSupport.Detect,
            }
        );
        Terminal = forced || !around.OutRedirected;
        Colour = Terminal && around.Variable("NO_COLOR") is not { Length: > 0 };
        Width = Math.Clamp(
            int.TryParse(around.Variable("COLUMNS"), out var columns) ? columns
                : Terminal ? console.Profile.Width
                : 120,
            60,
            200
        );
        console.Profile.Width = 1000;
    }

    public bool Terminal { get; }

    public bool Colour { get; }

    public int Width { get; }

    public void Line(string text = "")
    {
        IsBlank = false;
        to.WriteLine(text);
    }

    /// <summary>Whether nothing was written yet.</summary>
    public bool IsBlank { get; private set; } = true;

    /// <summary>Text as it is, without a line of its own.</summary>
    public void Write(string text) => to.Write(text);

    /// <summary>Text in one of the product's hues: a, b, stops, weak, holds, soft, strong.</summary>
    public string In(string hue, string text) =>
        !Colour || text.Length == 0
            ? text
            : hue switch
            {
                "a" => $"\u001b[38;2;92;137;196m{text}\u001b[39m",
                "b" => $"\u001b[38;2;186;108;158m{text}\u001b[39m",
                "stops" => $"\u001b[38;2;222;94;66m{text}\u001b[39m",
                "weak" => $"\u001b[38;2;206;146;46m{text}\u001b[39m",
                "holds" => $"\u001b[38;2;74;164;142m{text}\u001b[39m",
                "soft" => $"\u001b[2m{text}\u001b[22m",
                _ => $"\u001b[1m{text}\u001b[22m",
            };

    /// <summary>Wraps at words to the width, every line after the first indented.</summary>
    public void Wrapped(string text, int indent = 0, string hue = "")
    {
        foreach (var line in Lines(text, Width - indent))
            Line(new string(' ', indent) + (hue.Length > 0 ? In(hue, line) : line));
    }

    public static IEnumerable<string> Lines(string text, int width)
    {
        var line = "";
        foreach (var word in text.Split(' '))
        {
            if (line.Length > 0 && line.Length + 1 + word.Length > width)
            {
                yield return line;
                line = "";
            }

            line = line.Length == 0 ? word : $"{line} {word}";
        }

        yield return line;
    }

    public void Verdict(IReadOnlyList<VerdictSentence> verdict)
    {
        // Sentences run on in one paragraph; each keeps its hue across the lines it falls on.
        var words = verdict.SelectMany(v => v.Says.Text.Split(' ').Select(w => (Word: w, v.Tone))).ToArray();
        var length = 0;
        var line = "";
        foreach (var (word, tone) in words)
        {
            if (length > 0 && length + 1 + word.Length > Math.Min(Width, 100))
            {
                Line(line);
                (line, length) = ("", 0);
            }

            var shown = tone is "stops" or "weak" ? In(tone, word) : word;
            line += (length == 0 ? "" : " ") + shown;
            length += (length == 0 ? 0 : 1) + word.Length;
        }

        Line(line);
    }

    /// <summary>The six forms in characters, with the word beside them where there is no terminal.</summary>
    public string Stroke(DrawnForm form)
    {
        var drawn = form.Stroke switch
        {
            "whole" => "━━━━",
            "dotted" => "┄┄┄┄",
            "twoHairlines" => "════",
            "thin" => "────",
            "flag" => "━▸━━",
            _ => "━┤├━",
        };
        var hue = form.Stroke switch
        {
            "gap" => "stops",
            "thin" or "flag" => "weak",
            "twoHairlines" => "soft",
            _ => "",
        };
        return (hue.Length > 0 ? In(hue, drawn) : drawn) + (Colour ? "" : $" {form.Word}");
    }

    /// <summary>A table without lines: columns aligned, the last one cut to the width, or wrapped within it.</summary>
    public void Table(IReadOnlyList<string> heads, IEnumerable<IReadOnlyList<string>> rows, bool whole = false)
    {
        var all = rows.ToArray();
        if (all.Length == 0)
            return;
        var before = Enumerable
            .Range(0, heads.Count - 1)
            .Sum(i => 2 + Math.Max(heads[i].Length, all.Max(r => Plain(r[i]).Length)));
        var room = Math.Max(20, Width - before);
        var table = new Table { Border = TableBorder.None };
        for (var i = 0; i < heads.Count; i++)
            table.AddColumn(
                new TableColumn(Cell(In("soft", heads[i])))
                {
                    NoWrap = true,
                    Padding = new Padding(0, 0, i < heads.Count - 1 ? 2 : 0, 0),
                }
            );
        foreach (var row in all)
            table.AddRow([.. row.SkipLast(1).Append(Fitting(row[^1], room, whole)).Select(Cell)]);
        foreach (var line in Drawn(table))
            Line(line.TrimEnd());
    }

    private static string Fitting(string text, int room, bool whole)
    {
        if (Plain(text).Length <= room)
            return text;
        return whole ? string.Join('\n', Lines(text, room)) : Plain(text)[..(room - 1)] + "…";
    }

    /// <summary>A text with our own hues as the library takes it.</summary>
    private static Paragraph Cell(string text)
    {
        var cell = new Paragraph();
        var style = Style.Plain;
        foreach (var part in Hue().Split(text))
            if (!part.StartsWith('\u001b'))
                cell.Append(part, style);
            else
                style = StyleOf(part);
        return cell;
    }

    private static Style StyleOf(string sequence) =>
        sequence[2..^1].Split(';') switch
        {
            ["38", "2", var r, var g, var b] => new(new Color(byte.Parse(r), byte.Parse(g), byte.Parse(b))),
            ["1"] => new(decoration: Decoration.Bold),
            ["2"] => new(decoration: Decoration.Dim),
            _ => Style.Plain,
        };

    private string[] Drawn(Table table)
    {
        using var drawn = new StringWriter();
        var on = AnsiConsole.Create(
            new AnsiConsoleSettings
            {
                Ansi = Colour ? AnsiSupport.Yes : AnsiSupport.No,
                ColorSystem = Colour ? ColorSystemSupport.TrueColor : ColorSystemSupport.NoColors,
                Out = new AnsiConsoleOutput(drawn),
            }
        );
        // Values are never cut or broken to make a table fit: what is read aloud is what is entered.
        on.Profile.Width = 4000;
        on.Write(table);
        return drawn.ToString().ReplaceLineEndings("\n").TrimEnd('\n').Split('\n');
    }

    [System.Text.RegularExpressions.GeneratedRegex("(\u001b\\[[0-9;]*m)")]
    private static partial System.Text.RegularExpressions.Regex Hue();

    public static string Plain(string text) =>
        System.Text.RegularExpressions.Regex.Replace(text, "\u001b\\[[0-9;]*m", "");
}

using Spectre.Console;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli;

/// <summary>
/// Writing for people: the width of the terminal respected, colour only on a terminal and never the only sign.
/// </summary>
internal sealed class Screen
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

    public void Line(string text = "") => to.WriteLine(text);

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

    /// <summary>A table without lines: columns aligned, the last one cut to the width.</summary>
    public void Table(IReadOnlyList<string> heads, IEnumerable<IReadOnlyList<string>> rows, bool whole = false)
    {
        var all = rows.ToArray();
        if (all.Length == 0)
            return;
        var widths = heads.Select((h, i) => Math.Max(h.Length, all.Max(r => Plain(r[i]).Length))).ToArray();
        Line(In("soft", string.Join("  ", heads.Select((h, i) => h.PadRight(widths[i])))).TrimEnd());
        foreach (var row in all)
        {
            var before = widths[..^1].Sum() + (2 * (widths.Length - 1));
            var last = row[^1];
            var room = Math.Max(20, Width - before);
            if (whole && Plain(last).Length > room)
            {
                foreach (var (line, i) in Lines(last, room).Select((l, i) => (l, i)))
                    Line(
                        i > 0
                            ? new string(' ', before) + line
                            : string.Concat(
                                row.SkipLast(1).Select((c, k) => c + new string(' ', widths[k] - Plain(c).Length + 2))
                            ) + line
                    );
                continue;
            }

            Line(
                string.Concat(row.SkipLast(1).Select((c, i) => c + new string(' ', widths[i] - Plain(c).Length + 2)))
                    + (Plain(last).Length > room ? Plain(last)[..(room - 1)] + "…" : last)
            );
        }
    }

    public static string Plain(string text) =>
        System.Text.RegularExpressions.Regex.Replace(text, "\u001b\\[[0-9;]*m", "");
}

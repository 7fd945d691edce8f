using YamlDotNet.Core;
using YamlDotNet.Core.Events;

namespace Vellumkeep.Exchange.Keepfiles;

/// <summary>
/// YAML (and JSON, which is YAML) to and from written forms. Every scalar is text; anchors, aliases, tags and more than
/// one document are refused.
/// </summary>
public static class YamlText
{
    private const int DeepestNesting = 30;

    /// <summary>
    /// Texts, lists and maps of one file. The largest import that is allowed by default has about a hundred thousand.
    /// </summary>
    private const int MostNodes = 2_000_000;

    /// <summary>
    /// The longest line that is read, in characters. The longest field of a keepfile is notes, of 4,000.
    /// </summary>
    private const int LongestLine = 32_000;

    /// <summary>The form and no problem, or null and the one problem that stopped the reading.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits for the answer any more.</exception>
    public static (Node? Root, Problem? Problem) Read(string text, CancellationToken ct = default)
    {
        // A file that is no text at all is told from its first part, before a parser loses time over it.
        var head = text.AsSpan(0, Math.Min(text.Length, 4096));
        foreach (var ch in head)
            if (ch is '\0' or '\ufffd' || (char.IsControl(ch) && ch is not ('\n' or '\r' or '\t')))
                return (
                    null,
                    new(
                        "file",
                        1,
                        "this is not a text file",
                        "a keepfile in YAML or JSON that begins with: vellumkeep: keepfile/1"
                    )
                );
        if (!head.Contains("vellumkeep", StringComparison.Ordinal))
            return (
                null,
                new(
                    "vellumkeep",
                    1,
                    "the file is not marked as a keepfile",
                    "vellumkeep: keepfile/1 near its beginning"
                )
            );
        return ReadPart(text, ct);
    }

    /// <summary>Reads a part of a keepfile on its own: the form of one record, or one value.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits for the answer any more.</exception>
    public static (Node? Root, Problem? Problem) ReadPart(string text, CancellationToken ct = default)
    {
        // So is a line that no writer of ours or hand would make: JSON in one line stays readable, ten million letters
        // do not reach the parser.
        var lines = 0;
        foreach (var line in text.AsSpan().EnumerateLines())
        {
            lines++;
            if (line.Length > LongestLine && !line.TrimStart().StartsWith("{"))
                return (
                    null,
                    new(
                        "file",
                        lines,
                        $"this line is {line.Length} characters long",
                        $"lines of at most {LongestLine} characters, one field on each"
                    )
                );
        }

        Parser? parser = null;
        try
        {
            parser = new Parser(new StringReader(text));
            parser.Consume<StreamStart>();
            if (!parser.TryConsume<DocumentStart>(out _))
                return (null, new("file", 1, "the file is empty", "vellumkeep: keepfile/1"));
            var left = MostNodes;
            var (root, problem) = One(parser, 0, ref left, ct);
            if (problem is not null)
                return (null, problem);
            parser.Consume<DocumentEnd>();
            return parser.TryConsume<DocumentStart>(out var second)
                ? (
                    null,
                    new("file", (int)second.Start.Line, "a second document begins here", "one document in the file")
                )
                : (root, null);
        }
        catch (YamlException e)
        {
            return (
                null,
                new(
                    "file",
                    (int)e.Start.Line,
                    $"this is not readable YAML: {Typed.Short(Typed.Trim(e.Message))}",
                    "check the indentation, colons and quotes of this line"
                )
            );
        }
        catch (InvalidOperationException)
        {
            // The scanner gives up so where a bracket or a brace is never closed.
            return (
                null,
                new(
                    "file",
                    (int)Math.Max(1, parser?.Current?.End.Line ?? 1),
                    "this is not readable YAML: a bracket or brace is not closed on this line or below",
                    "as many ] and } as there are [ and {"
                )
            );
        }
    }

    public static string Write(Node root)
    {
        var writer = new StringWriter { NewLine = "\n" };
        var emitter = new Emitter(writer, new EmitterSettings(2, 4000, false, 100));
        emitter.Emit(new StreamStart());
        emitter.Emit(new DocumentStart(null, null, true));
        Emit(emitter, root, 0);
        emitter.Emit(new DocumentEnd(true));
        emitter.Emit(new StreamEnd());
        return writer.ToString();
    }

    private static (Node?, Problem?) One(IParser parser, int depth, ref int left, CancellationToken ct)
    {
        ct.ThrowIfCancellationRequested();
        var e = parser.Current!;
        var line = (int)e.Start.Line;
        if (--left < 0)
            return (
                null,
                new(
                    "file",
                    line,
                    $"more than {MostNodes:N0} values are before this line",
                    "several files, one for each group of customers"
                )
            );
        if (e is AnchorAlias)
            return (null, new("file", line, "an alias (*) is here", "the value itself; keepfiles have no anchors"));
        if (e is NodeEvent { Anchor.IsEmpty: false })
            return (null, new("file", line, "an anchor (&) is here", "the value itself; keepfiles have no anchors"));
        if (e is NodeEvent { Tag.IsEmpty: false })
            return (null, new("file", line, "a tag (!) is here", "the plain value"));
        if (depth > DeepestNesting)
            return (
                null,
                new("file", line, $"more than {DeepestNesting} levels are nested here", "a keepfile has fewer than ten")
            );
        if (parser.TryConsume<Scalar>(out var scalar))
            return (
                new TextNode(
                    scalar.Value is "~" or "null" && scalar.Style == ScalarStyle.Plain ? "" : scalar.Value,
                    line
                ),
                null
            );
        if (parser.TryConsume<SequenceStart>(out _))
        {
            var items = ImmutableArray.CreateBuilder<Node>();
            while (!parser.TryConsume<SequenceEnd>(out _))
            {
                var (item, problem) = One(parser, depth + 1, ref left, ct);
                if (problem is not null)
                    return (null, problem);
                items.Add(item!);
            }

            return (new ListNode(items.ToImmutable(), line), null);
        }

        parser.Consume<MappingStart>();
        var entries = ImmutableArray.CreateBuilder<KeyValuePair<string, Node>>();
        while (!parser.TryConsume<MappingEnd>(out _))
        {
            if (parser.Current is not Scalar { Anchor.IsEmpty: true } key)
                return (
                    null,
                    new("file", (int)parser.Current!.Start.Line, "a key that is not a word is here", "key: value")
                );
            parser.MoveNext();
            var (value, problem) = One(parser, depth + 1, ref left, ct);
            if (problem is not null)
                return (null, problem);
            entries.Add(new(key.Value, value!));
        }

        return (new MapNode(entries.ToImmutable(), line), null);
    }

    /// <summary>
    /// How a text is written so that it reads back as it is: in quotes where a plain scalar would be read as nothing or
    /// lose a tab (YAML 1.2 section 7.3.3), line by line where it has several (section 8.1.2: folding would join those
    /// beside an indented one).
    /// </summary>
    private static ScalarStyle StyleOf(string text)
    {
        // A colon at the beginning is lost on the way, as of ::/0.
        var quoted =
            text.Length == 0
            || text is "~" or "null"
            || text[0] == ':'
            || text.Any(c => char.IsControl(c) && c != '\n');
        if (quoted || text.Split('\n').Any(l => l.Length > 0 && (l[0] == ' ' || l[^1] == ' ')))
            return ScalarStyle.DoubleQuoted;
        return text.Contains('\n') ? ScalarStyle.Literal : ScalarStyle.Any;
    }

    private static void Emit(IEmitter emitter, Node node, int depth)
    {
        switch (node)
        {
            case TextNode t:
                emitter.Emit(new Scalar(null, null, t.Text, StyleOf(t.Text), true, false));
                break;
            case ListNode l:
                emitter.Emit(
                    new SequenceStart(
                        null,
                        null,
                        true,
                        l.Items.All(i => i is TextNode { Text.Length: < 24 }) && l.Items.Length < 9
                            ? SequenceStyle.Flow
                            : SequenceStyle.Block
                    )
                );
                foreach (var item in l.Items)
                    Emit(emitter, item, depth + 1);
                emitter.Emit(new SequenceEnd());
                break;
            case MapNode m:
                // An empty one in block style is nothing at all.
                var small =
                    m.Entries.IsEmpty
                    || depth > 2
                        && m.Entries.Length <= 4
                        && m.Entries.All(e =>
                            e.Value is TextNode or MapNode { Entries.Length: <= 3 } && e.Value.ToString().Length < 60
                        );
                emitter.Emit(new MappingStart(null, null, true, small ? MappingStyle.Flow : MappingStyle.Block));
                foreach (var (key, value) in m.Entries)
                {
                    emitter.Emit(new Scalar(key));
                    Emit(emitter, value, depth + 1);
                }

                emitter.Emit(new MappingEnd());
                break;
        }
    }
}

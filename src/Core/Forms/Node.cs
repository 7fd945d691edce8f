namespace Vellumkeep.Core.Forms;

/// <summary>
/// The written form of a record: text, lists and maps, as in a keepfile. Every scalar is text and is read by its own
/// field's rule. A node carries the line it stood on (0 when it was not read from a file); lines do not count for
/// <see cref="Same"/>.
/// </summary>
/// <param name="line">The line of the file that it stood on, from 1; 0 when it was not read from a file.</param>
public abstract class Node(int line)
{
    /// <summary>The line in the file it was read from; 1 where there is none.</summary>
    public int Line { get; } = line;

    /// <summary>
    /// Whether two forms say the same: texts alike, lists in order, maps whatever the order of their keys.
    /// </summary>
    public static bool Same(Node? a, Node? b) =>
        (a, b) switch
        {
            (null, null) => true,
            (TextNode x, TextNode y) => x.Text == y.Text,
            (ListNode x, ListNode y) => x.Items.Length == y.Items.Length
                && x.Items.Zip(y.Items).All(p => Same(p.First, p.Second)),
            (MapNode x, MapNode y) => x.Entries.Length == y.Entries.Length
                && x.Entries.All(e => y.Find(e.Key) is { } other && Same(e.Value, other)),
            _ => false,
        };

    /// <summary>A text as a node.</summary>
    public static implicit operator Node(string text) => new TextNode(text);

    /// <summary>One line for reading: texts as they are, lists parted by commas, maps as <c>key value</c>.</summary>
    public sealed override string ToString() =>
        this switch
        {
            TextNode t => t.Text,
            ListNode l => string.Join(", ", l.Items),
            MapNode m when m.Find("a") is { } a && m.Find("b") is { } b => $"A {a}, B {b}",
            MapNode m => string.Join(
                " ",
                m.Entries.Select(e =>
                    e.Key is "is" or "way" ? $"{e.Value}"
                    : e.Key == "local" && m.Find("remote") is not null ? $"local {e.Value},"
                    : $"{e.Key} {e.Value}"
                )
            ),
            _ => "",
        };
}

/// <summary>A scalar, as text.</summary>
/// <param name="text">The scalar, as it was written.</param>
/// <param name="line">The line of the file that it stood on, from 1; 0 when it was not read from a file.</param>
public sealed class TextNode(string text, int line = 0) : Node(line)
{
    /// <summary>The text.</summary>
    public string Text { get; } = text;
}

/// <summary>An ordered list.</summary>
/// <param name="items">In their order.</param>
/// <param name="line">The line of the file that it stood on, from 1; 0 when it was not read from a file.</param>
public sealed class ListNode(ImmutableArray<Node> items, int line = 0) : Node(line)
{
    /// <summary>The items, in order.</summary>
    public ImmutableArray<Node> Items { get; } = items;

    /// <summary>A list of nodes.</summary>
    public static ListNode Of(IEnumerable<Node> items) => new([.. items]);

    /// <summary>A list of texts: each item as it writes itself.</summary>
    public static ListNode OfTexts<T>(IEnumerable<T> items) =>
        new([.. items.Select(i => (Node)new TextNode(i!.ToString()!))]);
}

/// <summary>Keys with values, kept in the order in which they are written.</summary>
/// <param name="entries">In the order in which they are written.</param>
/// <param name="line">The line of the file that it stood on, from 1; 0 when it was not read from a file.</param>
public sealed class MapNode(ImmutableArray<KeyValuePair<string, Node>> entries, int line = 0) : Node(line)
{
    /// <summary>The keys with what stands under them, in order.</summary>
    public ImmutableArray<KeyValuePair<string, Node>> Entries { get; } = entries;

    /// <summary>A map without keys.</summary>
    public static readonly MapNode Empty = new([]);

    /// <summary>What stands under a key; null when nothing does.</summary>
    public Node? Find(string key) => Entries.FirstOrDefault(e => e.Key == key).Value;

    /// <summary>The text under a key; null when nothing stands there, or something else.</summary>
    public string? Text(string key) => (Find(key) as TextNode)?.Text;

    /// <summary>
    /// The map with <paramref name="key"/> set, in its place when it was there, at the end when not; a null value takes
    /// it out.
    /// </summary>
    public MapNode With(string key, Node? value)
    {
        var at = Entries.ToList().FindIndex(e => e.Key == key);
        return new(
            value is null
                ? at < 0
                    ? Entries
                    : Entries.RemoveAt(at)
                : at < 0
                    ? Entries.Add(new(key, value))
                    : Entries.SetItem(at, new(key, value)),
            Line
        );
    }
}

/// <summary>Puts a map together, leaving out what is not there.</summary>
public sealed class MapWriter
{
    private readonly ImmutableArray<KeyValuePair<string, Node>>.Builder entries = ImmutableArray.CreateBuilder<
        KeyValuePair<string, Node>
    >();

    /// <summary>Adds a node, unless it is null or an empty list or map.</summary>
    public MapWriter Add(string key, Node? value)
    {
        if (value is not (null or ListNode { Items.Length: 0 } or MapNode { Entries.Length: 0 }))
            entries.Add(new(key, value));
        return this;
    }

    /// <summary>Adds a text, unless it is null.</summary>
    public MapWriter Add(string key, string? text) => text is null ? this : Add(key, new TextNode(text));

    /// <summary>Adds a list of texts, unless it is empty.</summary>
    public MapWriter Texts<T>(string key, IEnumerable<T> items) => Add(key, ListNode.OfTexts(items));

    /// <summary>Adds a list, unless it is empty.</summary>
    public MapWriter List<T>(string key, IEnumerable<T> items, Func<T, Node> write) =>
        Add(key, ListNode.Of(items.Select(write)));

    /// <summary>
    /// Adds a list even when it is empty, because an empty list says something that a missing one does not.
    /// </summary>
    public MapWriter Always(string key, Node? value)
    {
        if (value is not null)
            entries.Add(new(key, value));
        return this;
    }

    /// <summary>The map that was written.</summary>
    public MapNode Done() => new(entries.ToImmutable());
}

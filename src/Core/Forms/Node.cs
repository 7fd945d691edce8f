namespace Vellumkeep.Core.Forms;

/// <summary>
/// The written form of a record: text, lists and maps, as in a keepfile. Every scalar is text and is read by its own
/// field's rule. A node carries the line it stood on (0 when it was not read from a file); lines do not count for
/// <see cref="Same"/>.
/// </summary>
public abstract class Node(int line)
{
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
                    : e.Key == "own" && m.Find("peer") is not null ? $"own {e.Value},"
                    : $"{e.Key} {e.Value}"
                )
            ),
            _ => "",
        };
}

/// <summary>A scalar, as text.</summary>
public sealed class TextNode(string text, int line = 0) : Node(line)
{
    public string Text { get; } = text;
}

/// <summary>An ordered list.</summary>
public sealed class ListNode(ImmutableArray<Node> items, int line = 0) : Node(line)
{
    public ImmutableArray<Node> Items { get; } = items;

    public static ListNode Of(IEnumerable<Node> items) => new([.. items]);

    public static ListNode OfTexts<T>(IEnumerable<T> items) =>
        new([.. items.Select(i => (Node)new TextNode(i!.ToString()!))]);
}

/// <summary>Keys with values, kept in the order in which they are written.</summary>
public sealed class MapNode(ImmutableArray<KeyValuePair<string, Node>> entries, int line = 0) : Node(line)
{
    public ImmutableArray<KeyValuePair<string, Node>> Entries { get; } = entries;

    public static readonly MapNode Empty = new([]);

    public Node? Find(string key) => Entries.FirstOrDefault(e => e.Key == key).Value;

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

    public MapWriter Add(string key, Node? value)
    {
        if (value is not (null or ListNode { Items.Length: 0 } or MapNode { Entries.Length: 0 }))
            entries.Add(new(key, value));
        return this;
    }

    public MapWriter Add(string key, string? text) => text is null ? this : Add(key, new TextNode(text));

    public MapWriter Texts<T>(string key, IEnumerable<T> items) => Add(key, ListNode.OfTexts(items));

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

    public MapNode Done() => new(entries.ToImmutable());
}

namespace Vellumkeep.Core.Forms;

/// <summary>A difference between two written forms.</summary>
/// <param name="Path">Where they differ.</param>
/// <param name="Before">What stands there in the first; null when nothing does.</param>
/// <param name="After">What stands there in the second; null when nothing does.</param>
public sealed record Changed(FieldPath Path, Node? Before, Node? After);

/// <summary>Reading, writing and comparing written forms by path.</summary>
public static class Edits
{
    /// <summary>
    /// What identifies an item of a list: its text, its code or name, or the prefixes that make it up.
    /// </summary>
    public static string KeyOf(Node item) =>
        item switch
        {
            TextNode t => t.Text,
            MapNode m when (m.Text("code") ?? m.Text("name") ?? m.Text("label")) is { } named => named,
            MapNode m when m.Text("a") is { } a => $"{a} - {m.Text("b")}{Only(m)}",
            MapNode m when m.Text("to") is { } to => $"{m.Text("into")} {to}",
            MapNode m when m.Text("way") is { } way => $"{way} {m.Text("local")} - {m.Text("remote")}{Only(m)}",
            MapNode m when m.Text("local") is { } own => $"{own} - {m.Text("remote")}{Only(m)}",
            MapNode m when m.Text("prefix") is { } prefix => prefix,
            MapNode m when m.Text("address") is { } address => address,
            _ => item.ToString(),
        };

    /// <summary>A pair for some traffic alone is another than the pair for all of it.</summary>
    private static string Only(MapNode pair) => pair.Text("only") is { } only ? $", {only}" : "";

    /// <summary>What stands at the path; null when nothing does.</summary>
    public static Node? Find(Node root, FieldPath path)
    {
        Node? at = root;
        foreach (var (key, isItem) in path.Steps)
        {
            at = isItem
                ? (Inside(at) as ListNode)?.Items.FirstOrDefault(i => KeyOf(i) == key)
                : (at as MapNode)?.Find(key);
            if (at is null)
                return null;
        }

        return at;
    }

    /// <summary>
    /// The form with <paramref name="value"/> at the path; null removes what stands there. Maps and lists on the way
    /// are made when missing.
    /// </summary>
    /// <exception cref="InvalidCastException">The path is that of the whole form.</exception>
    public static MapNode Put(MapNode root, FieldPath path, Node? value) => (MapNode)Put(root, path.Steps, 0, value)!;

    /// <summary>
    /// Every path at which two forms differ, in the order of the second form, items of lists by what identifies them.
    /// </summary>
    /// <param name="before">As it was; null when there was nothing.</param>
    /// <param name="after">As it is; null when there is nothing.</param>
    /// <param name="intoItems">
    /// Whether a list that holds the same items in the same order is told item by item; else it is told as a whole.
    /// </param>
    public static ImmutableArray<Changed> Between(Node? before, Node? after, bool intoItems = false)
    {
        var found = ImmutableArray.CreateBuilder<Changed>();
        Walk(FieldPath.Whole, before, after);
        return found.ToImmutable();

        void Walk(FieldPath path, Node? x, Node? y)
        {
            if (Node.Same(x, y))
                return;
            if (x is MapNode mx && y is MapNode my)
                foreach (var key in my.Entries.Select(e => e.Key).Union(mx.Entries.Select(e => e.Key)))
                    Walk(path.Key(key), mx.Find(key), my.Find(key));
            else if (
                x is ListNode lx
                && y is ListNode ly
                && Distinct(lx)
                && Distinct(ly)
                && (
                    intoItems && lx.Items.Select(KeyOf).SequenceEqual(ly.Items.Select(KeyOf))
                    || !lx.Items.Select(KeyOf).ToHashSet().SetEquals(ly.Items.Select(KeyOf))
                )
            )
                foreach (var key in ly.Items.Select(KeyOf).Union(lx.Items.Select(KeyOf)))
                    Walk(
                        path.Item(key),
                        lx.Items.FirstOrDefault(i => KeyOf(i) == key),
                        ly.Items.FirstOrDefault(i => KeyOf(i) == key)
                    );
            else
                found.Add(new(path, x, y));
        }

        static bool Distinct(ListNode list) => list.Items.Select(KeyOf).Distinct().Count() == list.Items.Length;
    }

    /// <summary>The items of a list, recorded with how it was confirmed or not; null when it is none.</summary>
    public static ImmutableArray<Node>? ItemsOf(Node node) => (Inside(node) as ListNode)?.Items;

    private static Node? Inside(Node? node) =>
        node is MapNode map && (map.Find("is") ?? map.Find("temporary")) is { } value ? value : node;

    private static Node? Put(Node? at, ImmutableArray<PathStep> path, int depth, Node? value)
    {
        if (depth == path.Length)
            return value;
        var (key, isItem) = path[depth];
        if (!isItem)
        {
            var map = at as MapNode ?? MapNode.Empty;
            var made = map.With(key, Put(map.Find(key), path, depth + 1, value));
            // A map that was only made to hold what is now removed goes with it.
            return value is null && depth > 0 && made.Entries.IsEmpty ? null : made;
        }

        if (at is MapNode recorded && recorded.Find("is") is { } inner)
            return recorded.With("is", Put(inner, path, depth, value));
        var list = at as ListNode ?? new ListNode([]);
        var index = list.Items.ToList().FindIndex(i => KeyOf(i) == key);
        var changed = Put(index < 0 ? null : list.Items[index], path, depth + 1, value);
        return new ListNode(
            changed is null
                ? index < 0
                    ? list.Items
                    : list.Items.RemoveAt(index)
                : index < 0
                    ? list.Items.Add(changed)
                    : list.Items.SetItem(index, changed)
        );
    }
}

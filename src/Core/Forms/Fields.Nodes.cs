namespace Vellumkeep.Core.Forms;

/// <summary>What is read of a node as it stands: a value with what is recorded of it, or a list.</summary>
public sealed partial class Fields
{
    /// <summary>
    /// Anything else: the node itself, with the path for messages. <paramref name="item"/> reads one item where it is a
    /// list of maps, so that the form can say which fields an item has.
    /// </summary>
    public T? Raw<T>(
        string key,
        string about,
        Func<Node, string, List<Problem>, T?> read,
        bool required = false,
        Func<Fields, object?>? item = null,
        Type? holds = null
    )
        where T : class
    {
        notes.Add(
            new(key, FieldShape.Any, required, about, Describing ? Described(item) : [], [])
            {
                Holds = Plain(holds ?? typeof(T)),
                OneLine = Describing && item is null ? OneLine(key, read) : null,
            }
        );
        if (map.Find(key) is { } node)
            return Unfit(node, At(key)) ? null : read(node, At(key), reading.Problems);
        if (required)
            Missing(key, about);
        return null;
    }

    /// <summary>A line as one value or, where it is none, as several that commas part.</summary>
    private static Func<string, Parsed<Node>> OneLine<T>(string key, Func<Node, string, List<Problem>, T?> read)
        where T : class =>
        text =>
        {
            var problems = new List<Problem>();
            foreach (var node in new Node[] { new TextNode(Typed.Trim(text)), ListNode.OfTexts(Typed.Parts(text)) })
            {
                problems.Clear();
                if (read(node, key, problems) is not null && problems.Count == 0)
                    return Parsed<Node>.Of(node);
            }

            return Parsed<Node>.Fail(problems[0].Wrong, problems[0].Right);
        };

    private static Func<string, Parsed<Node>> OneText<T>(Func<string, Parsed<T>> parse) =>
        text => Scalars.Fit(Typed.Trim(text), parse).To(Node (_) => new TextNode(Typed.Trim(text)));

    /// <summary>The type of a value without what is recorded of it, and of one item where it is a list.</summary>
    private static Type Plain(Type type)
    {
        var inner = Nullable.GetUnderlyingType(type) ?? type;
        return
            inner.IsGenericType
            && (
                inner.GetGenericTypeDefinition() is var open
                && (open == typeof(Recorded<>) || open == typeof(Several<>))
            )
            ? Plain(inner.GetGenericArguments()[0])
            : inner;
    }

    /// <summary>The words of a field, for whoever asks what the form has: nobody does while records are read.</summary>
    private ImmutableArray<string> Described(IEnumerable<string>? words) => Describing ? [.. words ?? []] : [];

    private ImmutableArray<FieldNote> Described(Func<Fields, object?>? item)
    {
        if (item is null)
            return [];
        var inner = new Fields(null, "", reading);
        item(inner);
        return inner.Notes;
    }

    /// <summary>Reads a list of texts; a single text counts as a list of one.</summary>
    public static ImmutableArray<T> TextsOf<T>(
        Node node,
        Func<string, Parsed<T>> parse,
        string path,
        List<Problem> problems
    )
    {
        var result = ImmutableArray.CreateBuilder<T>();
        var items = node is ListNode l ? l.Items : [node];
        if (items.Length > MostItems)
        {
            problems.Add(new(path, node.Line, $"the list has {items.Length:N0} items", $"at most {MostItems:N0}"));
            return [];
        }

        for (var i = 0; i < items.Length; i++)
        {
            var at = node is ListNode ? $"{path}[{i + 1}]" : path;
            if (items[i] is not TextNode text)
            {
                problems.Add(
                    new(at, items[i].Line, "one value is expected here, not a list or fields", "one value on the line")
                );
                continue;
            }

            var read = Scalars.Fit(Typed.Trim(text.Text), parse);
            if (read.Ok)
                result.Add(read.Value);
            else
                problems.Add(Problem.Of(at, items[i].Line, read));
        }

        return result.ToImmutable();
    }

    /// <summary>Reads one text; a list is refused, never cut to its first.</summary>
    public static T? OneOf<T>(Node node, Func<string, Parsed<T>> parse, string path, List<Problem> problems)
        where T : class
    {
        if (node is TextNode)
            return TextsOf(node, parse, path, problems).FirstOrDefault();
        problems.Add(new(path, node.Line, "one value is expected here, not a list or fields", "one value on the line"));
        return null;
    }

    /// <summary>Whether any text of a part holds what no text holds; the first one is named.</summary>
    private bool Unfit(Node node, string at)
    {
        switch (node)
        {
            case TextNode text when Scalars.Fit(text.Text, Parsed<string>.Of) is { Ok: false } unfit:
                reading.Problems.Add(Problem.Of(at, node.Line, unfit));
                return true;
            case ListNode { Items.Length: > MostItems } list:
                reading.Problems.Add(
                    new(at, node.Line, $"the list has {list.Items.Length:N0} items", $"at most {MostItems:N0}")
                );
                return true;
            case ListNode list:
                return list.Items.Select((item, i) => (Item: item, At: $"{at}[{i + 1}]")).Any(i => Unfit(i.Item, i.At));
            case MapNode fields:
                return fields.Entries.Any(e =>
                    Unfit(new TextNode(e.Key, e.Value.Line), at) || Unfit(e.Value, $"{at}.{e.Key}")
                );
            default:
                return false;
        }
    }
}

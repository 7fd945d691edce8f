namespace Vellumkeep.Core.Forms;

public sealed partial class Fields
{
    /// <summary>A map below <paramref name="key"/>; null when it is missing.</summary>
    public T? Map<T>(string key, string about, Func<Fields, T?> read, bool required = false)
        where T : class
    {
        var node = map.Find(key);
        if (node is null && !reading.Describing)
        {
            if (required)
                Missing(key, about);
            return null;
        }

        var inner = new Fields(node, At(key), reading);
        var result = read(inner);
        notes.Add(new(key, FieldShape.Map, required, about, inner.Notes, []) { Holds = typeof(T) });
        return result;
    }

    /// <summary>
    /// A list of maps below <paramref name="key"/>; those that could not be built are left out, their problems noted.
    /// </summary>
    public ImmutableArray<T> Maps<T>(string key, string about, Func<Fields, T?> read, bool askedFirst = false)
        where T : class
    {
        var node = map.Find(key);
        var items = node switch
        {
            null => reading.Describing ? [MapNode.Empty] : ImmutableArray<Node>.Empty,
            ListNode l => l.Items,
            _ => [],
        };
        if (node is not (null or ListNode))
            reading.Problems.Add(
                new(At(key), node.Line, "a list is expected here", "one line beginning with '- ' for each")
            );
        if (items.Length > MostItems)
        {
            reading.Problems.Add(
                new(At(key), node!.Line, $"the list has {items.Length:N0} items", $"at most {MostItems:N0}")
            );
            items = [];
        }

        var result = ImmutableArray.CreateBuilder<T>();
        ImmutableArray<FieldNote> inside = [];
        for (var i = 0; i < items.Length; i++)
        {
            var inner = new Fields(items[i], $"{At(key)}[{i + 1}]", reading);
            if (read(inner) is { } one)
                result.Add(one);
            inside = inner.Notes;
        }

        notes.Add(new(key, FieldShape.Maps, false, about, inside, []) { AskedFirst = askedFirst });
        return result.ToImmutable();
    }
}

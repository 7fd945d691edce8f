namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>
/// A value that was set otherwise than planned, as the inventory writes it: read by what the form declares at its place.
/// </summary>
internal static class SetOtherwise
{
    private static readonly ImmutableArray<FieldNote> OfTunnels = WrittenRecord.Describe(RecordKind.Tunnel);
    private static readonly ImmutableArray<FieldNote> OfGateways = WrittenRecord.Describe(RecordKind.Gateway);

    /// <summary>What was set, as the inventory writes it at a place; or why it cannot stand there.</summary>
    public static Parsed<Node> Written(Place at, string set)
    {
        var (note, isItem) = Declared(at.Kind == RecordKind.Gateway ? OfGateways : OfTunnels, at.Path);
        return (note, isItem) switch
        {
            ({ Shape: FieldShape.Texts, OneLine: { } one }, false) => Typed.Parts(set) is { Length: > 0 } parts
                ? All(parts.Select(one)).To(Node (nodes) => new ListNode(nodes, 0))
                : Parsed<Node>.Fail("nothing is given", note.About),
            ({ OneLine: { } one }, _) => one(set),
            ({ Inside: { IsEmpty: false } inside }, true) => Parts(inside, set),
            _ => Parsed<Node>.Fail(
                "it is not one recorded value",
                "skip the step with the reason, and correct the tunnel afterwards"
            ),
        };
    }

    /// <summary>The field that stands at a place, and whether the place is one item of it.</summary>
    private static (FieldNote? Note, bool IsItem) Declared(ImmutableArray<FieldNote> fields, FieldPath path)
    {
        FieldNote? note = null;
        foreach (var step in path.Steps.Where(s => !s.IsItem))
        {
            note = fields.FirstOrDefault(f => f.Key == step.Name);
            fields = note?.Inside ?? [];
        }

        return (note, path.Steps[^1].IsItem);
    }

    /// <summary>An item with parts, such as a pair: its parts in their order, parted by commas.</summary>
    private static Parsed<Node> Parts(ImmutableArray<FieldNote> inside, string set)
    {
        var parts = Typed.Parts(set);
        if (parts.Length != inside.Length || inside.Any(f => f.OneLine is null))
            return Parsed<Node>.Fail(
                $"'{Typed.Short(set)}' has not the parts that stand there",
                $"{Say.And(inside.Select(f => f.About))}, separated by a comma"
            );
        return All(inside.Select((f, i) => f.OneLine!(parts[i])))
            .To(
                Node (nodes) =>
                    new MapNode([.. nodes.Select((n, i) => new KeyValuePair<string, Node>(inside[i].Key, n))], 0)
            );
    }

    private static Parsed<ImmutableArray<Node>> All(IEnumerable<Parsed<Node>> read)
    {
        var nodes = read.ToArray();
        return nodes.FirstOrDefault(n => !n.Ok) is { Ok: false } wrong
            ? Parsed<ImmutableArray<Node>>.Fail(wrong.Wrong!, wrong.Right!)
            : Parsed<ImmutableArray<Node>>.Of([.. nodes.Select(n => n.Value)]);
    }
}

namespace Vellumkeep.Core.Changes;

/// <summary>
/// One edit of a plan: a path in the written form of a record, what stands there before, and after (null: nothing). A
/// path is keys parted by dots; <c>[key]</c> picks an item of a list by what identifies it, so that two edits collide
/// only on the same item.
/// </summary>
public sealed record Edit(string RecordId, RecordKind Kind, string Path, Node? Before, Node? After)
{
    /// <summary>The end whose value this is; null when it is agreed, or a gateway's.</summary>
    public EndName? End =>
        Kind != RecordKind.Tunnel ? null
        : Path.StartsWith("a.", StringComparison.Ordinal) ? EndName.A
        : Path.StartsWith("b.", StringComparison.Ordinal) ? EndName.B
        : null;
}

/// <summary>Carrying out edits.</summary>
public static class EditsOfForms
{
    /// <summary>The edits carried out, in order.</summary>
    public static MapNode With(this MapNode form, IEnumerable<Edit> edits) =>
        edits.Aggregate(form, (made, e) => Edits.Put(made, e.Path, e.After));
}

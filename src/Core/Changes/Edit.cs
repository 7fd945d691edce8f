namespace Vellumkeep.Core.Changes;

/// <summary>One edit of a plan: a place in a record, what stands there before, and after.</summary>
/// <param name="At">Where. Two edits collide only on the same item of a list.</param>
/// <param name="Before">What stands there before; null when nothing does.</param>
/// <param name="After">What stands there after; null when nothing does.</param>
public sealed record Edit(Place At, Node? Before, Node? After)
{
    /// <summary>The end whose value this is; null when it is agreed, or a gateway's.</summary>
    public EndName? End => At.Kind == RecordKind.Tunnel ? TunnelPaths.EndOf(At.Path) : null;
}

/// <summary>Carrying out edits.</summary>
public static class EditsOfForms
{
    /// <summary>The edits carried out, in order.</summary>
    public static MapNode With(this MapNode form, IEnumerable<Edit> edits) =>
        edits.Aggregate(form, (made, e) => Edits.Put(made, e.At.Path, e.After));
}

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>
/// Values that were set otherwise than planned: what is said is bound once to the places where the inventory keeps it,
/// and closing writes it there and nowhere else.
/// </summary>
internal static class Deviations
{
    /// <summary>
    /// The value of a step that is meant: by what is entered, or by its label; null when there is none.
    /// </summary>
    public static StepValue? ValueOf(Step step, string planned) =>
        step.Enter.FirstOrDefault(v => v.Text == planned)
        ?? step.Enter.FirstOrDefault(v => v.Label.Equals(planned, StringComparison.OrdinalIgnoreCase));

    /// <summary>Binds what was said to the values of the step, or says why it cannot be so.</summary>
    public static (Deviation? Bound, Refused? Refused) Bind(Change c, Step step, Deviation said)
    {
        var number = c.Plan.NumberOf(step.Key);
        if (string.IsNullOrWhiteSpace(said.Reason))
            return No(
                null,
                $"The deviation on step {number} of {c.Code} has no reason.",
                $"Enter why another value was set."
            );
        if (Prefix.Parse(said.Planned).Ok && Prefix.Parse(said.Set) is { Ok: false } bad)
            return No(Findings.Addresses.HostBits.Check.Code, $"{bad.Wrong!:w}.", $"{bad.Right!:w}.");
        if (ValueOf(step, said.Label ?? said.Planned) is { } value)
            return IsKeptInParts(value)
                ? No(
                    null,
                    $"Step {number} of {c.Code}: {value.Label:w} has several parts, and one of them was set otherwise.",
                    $"Name the planned part: {Say.And(value.Parts.Select(p => p.Text)):w}."
                )
                : Bound(c, number, said with { Planned = value.Text, Label = value.Label }, PlacesOf(value));
        // One prefix of a list, or one side of a rule, wherever the step enters it.
        var parts = step.Enter.SelectMany(v => v.Parts).Where(p => p.Text == said.Planned).ToArray();
        return parts.Length > 0
            ? Bound(c, number, said, [.. parts.Select(p => p.At)])
            : No(
                null,
                $"Step {number} of {c.Code} sets no {said.Planned}.",
                $"Use a value that the step enters: {Say.And(step.Enter.Select(v => v.Text)):w}."
            );
    }

    /// <summary>Whether only the parts of a value can be written, each for itself.</summary>
    private static bool IsKeptInParts(StepValue value) =>
        value.Parts.Length > 0
        && (
            value.At is not { } at
            || value.Parts.All(p => p.At.Path.Steps.Length == at.Path.Steps.Length + 1 && !p.At.Path.Steps[^1].IsItem)
        );

    /// <summary>
    /// Where a value is kept as a whole; none when the inventory keeps only its parts, or nothing of it.
    /// </summary>
    private static ImmutableArray<Place> PlacesOf(StepValue value) => value.At is { } at ? [at] : [];

    private static (Deviation?, Refused?) Bound(Change c, int number, Deviation deviation, ImmutableArray<Place> places)
    {
        foreach (var place in places)
            if (SetOtherwise.Written(place, deviation.Set) is { Ok: false } wrong)
                return No(
                    null,
                    $"Step {number} of {c.Code}: {deviation.Label ?? deviation.Planned:w} cannot be "
                        + $"{deviation.Set}: {wrong.Wrong!:w}.",
                    $"{wrong.Right!:w}."
                );
        return (deviation with { At = places }, null);
    }

    private static (Deviation?, Refused?) No(string? code, Sentence wrong, Sentence right) =>
        (null, new(code, wrong, right));

    /// <summary>What is written at the place of an edit, with the deviations of its step.</summary>
    /// <param name="edit">The edit that the step carries.</param>
    /// <param name="deviation">What was set otherwise by the step; null when nothing was.</param>
    public static Node? After(Edit edit, Deviation? deviation)
    {
        var after = edit.After;
        foreach (var place in deviation?.At ?? [])
        {
            var set = SetOtherwise.Written(place, deviation!.Set) is { Ok: true } read ? read.Value : null;
            if (place == edit.At)
                after = set is null ? null : WrittenRecorded.Again(edit.After, set, null);
            // A part of what the edit writes.
            else if (place.IsWithin(edit.At) && after is not null)
                after = Within(after, place.Path.Below(edit.At.Path), set);
        }

        return after;
    }

    /// <summary>
    /// The places of a deviation that no edit of the plan writes: a list that was set otherwise as a whole where single
    /// items were planned, and a value that the record held already as it was planned.
    /// </summary>
    public static IEnumerable<Place> Unwritten(Deviation deviation, IReadOnlyCollection<Edit> edits) =>
        deviation.At.Where(p => !edits.Any(e => p.IsWithin(e.At)));

    private static Node? Within(Node node, FieldPath below, Node? set)
    {
        // Paths are of maps: a list or a text that is an edit's whole value is put under a name of its own for a
        // moment.
        var holder = MapNode.Empty.With("value", node);
        return Edits.Put(holder, FieldPath.Of("value").Join(below), set).Find("value");
    }
}

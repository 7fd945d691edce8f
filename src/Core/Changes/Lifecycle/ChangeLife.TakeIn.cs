namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>Corrections of the records that were made while a change was under way.</summary>
public static partial class ChangeLife
{
    /// <summary>
    /// Takes corrections into a change that is under way: from then on it rests on what the records say now. What its
    /// steps enter stays what closing writes there, and the remark says what was corrected.
    /// </summary>
    public static Next<Change> TakeIn(Change c, Inventory now, string by, DateTimeOffset at)
    {
        if (Stop(ChangeAct.TakeIn, c, by, Changed(c, now)) is { } stopped)
            return stopped;
        var moved = Moved(c, now);
        var told = moved.Select(e =>
            $"{e.At.Path}: was {Short(e.Before)}, is {Short(Found(e))}, will be {Short(e.After)}"
        );
        return Yes(
            c with
            {
                Plan = c.Plan with
                {
                    Edits = [.. c.Plan.Edits.Select(e => moved.Contains(e) ? e with { Before = Found(e) } : e)],
                },
                Remarks = c.Remarks.Add(new(by, at, $"corrections taken in: {string.Join("; ", told)}", null)),
            }
        );

        Node? Found(Edit edit) => Edits.Find(FormOf(edit.At, now)!, edit.At.Path);

        static string Short(Node? node) => node is null ? "nothing" : Typed.Short(node.ToString()!);
    }
}

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>
/// What closing writes: the change, and the records it brings to the as-built state. What giving up writes: the change,
/// and the records from which filled-in values are taken back.
/// </summary>
/// <param name="Change">The change as it then stands.</param>
/// <param name="AsBuilt">The records as they are to be written.</param>
public sealed record Closed(Change Change, ImmutableArray<IRecord> AsBuilt);

/// <summary>Closing: the inventory becomes what was built.</summary>
public static partial class ChangeLife
{
    /// <summary>
    /// Closes: every edit of a step that was done becomes set and confirmed on its end, deviations alter only theirs,
    /// and what was agreed moves. Refused while a step is open or failed, and when a path it writes no longer holds
    /// what the plan found there.
    /// </summary>
    public static Next<Closed> Close(Change c, Inventory now, string by, DateTimeOffset at)
    {
        if (ChangeActs.Stops(ChangeAct.Close, c, by, []) is { } stopped)
            return new(null, stopped.Why);
        var built = ImmutableArray.CreateBuilder<IRecord>();
        var places = c
            .Plan.Edits.Select(e => e.At)
            .Concat(c.Attempts.Where(t => t.Counts).SelectMany(t => t.Deviation?.At ?? []))
            .Select(p => (p.RecordId, p.Kind))
            .Distinct();
        foreach (var (id, kind) in places)
        {
            IRecord record = kind == RecordKind.Tunnel ? now.Get<Tunnel>(id) : now.Get<Gateway>(id);
            var (made, refused) = new AsBuilt(c, record, at).Make(
                [.. c.Plan.Edits.Where(e => e.At.RecordId == id)],
                now
            );
            if (made is null)
                return new(null, refused);
            built.Add(made);
        }

        return new(new(Pass(c, ChangeState.Done, by, at, null), built.ToImmutable()), null);
    }
}

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>What closing writes: the change, and the records it brings to the as-built state.</summary>
public sealed record Closed(Change Change, ImmutableArray<IRecord> AsBuilt);

/// <summary>Closing: the inventory becomes what was built.</summary>
public static partial class ChangeLife
{
    /// <summary>
    /// Closes: every edit of a step that was done becomes set and seen on its end, deviations alter only theirs, and
    /// what was agreed moves. Refused while a step is open or failed, and when a path it writes no longer holds what
    /// the plan found there.
    /// </summary>
    public static Next<Closed> Close(Change c, Inventory now, string by, DateTimeOffset at)
    {
        if (ChangeActs.Stops(ChangeAct.Close, c, by, []) is { } stopped)
            return new(null, stopped.Why);
        var built = ImmutableArray.CreateBuilder<IRecord>();
        foreach (var edits in c.Plan.Edits.GroupBy(e => (e.At.RecordId, e.At.Kind)))
        {
            IRecord record =
                edits.Key.Kind == RecordKind.Tunnel
                    ? now.Get<Tunnel>(edits.Key.RecordId)
                    : now.Get<Gateway>(edits.Key.RecordId);
            var (made, refused) = new AsBuilt(c, record, at).Make([.. edits], now);
            if (made is null)
                return new(null, refused);
            built.Add(made);
        }

        return new(new(Pass(c, ChangeState.Done, by, at, null), built.ToImmutable()), null);
    }
}

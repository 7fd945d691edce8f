namespace Vellumkeep.Service.History;

/// <summary>What became of one record, version by version.</summary>
public static class RecordHistory
{
    public static async Task<IReadOnlyList<HistoryEntry>> OfAsync(
        KeepContext context,
        string id,
        Scope scope,
        CancellationToken ct
    )
    {
        var names = new KeptNames(context, Scope.Everything);
        var history = await new HistoryList(context).HistoryAsync(scope, id, ct);
        // A reason given for several owners' records at once may speak of somebody else's.
        var mixed = await new HistoryList(context).MixedAsync(scope, [.. history.Select(h => h.Commit.Number)], ct);
        return
        [
            .. history.Select(h => new HistoryEntry(
                h.Commit.Number,
                h.Version,
                DateTimeOffset.Parse(h.Commit.At, CultureInfo.InvariantCulture),
                h.Commit.Who,
                h.Commit.Act,
                mixed.Contains(h.Commit.Number) ? null : h.Commit.Reason,
                h.Commit.ChangeId is { } change ? names.TextOf(RecordKind.Change, change) : null,
                Differences.Between(h.Kind, h.Before, h.After, names),
                h.Commit.Digest
            )),
        ];
    }
}

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
        var names = new StoredNames(context, Scope.Everything);
        var history = await new HistoryList(context).HistoryAsync(scope, id, ct);
        // A reason given for several owners' records at once may speak of somebody else's.
        var mixed = await new HistoryList(context).MixedAsync(scope, [.. history.Select(h => h.Commit.Number)], ct);
        return
        [
            .. history.Select(h => new HistoryEntry
            {
                Commit = h.Commit.Number,
                Version = h.Version,
                At = DateTimeOffset.Parse(h.Commit.At, CultureInfo.InvariantCulture),
                Who = h.Commit.Who,
                What = h.Commit.Act,
                Reason = mixed.Contains(h.Commit.Number) ? null : h.Commit.Reason,
                Change = h.Commit.ChangeId is { } change ? names.TextOf(RecordKind.Change, change) : null,
                Differences = Differences.Between(h.Kind, h.Before, h.After, names),
                Digest = h.Commit.Digest,
            }),
        ];
    }
}

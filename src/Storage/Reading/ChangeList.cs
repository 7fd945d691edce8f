namespace Vellumkeep.Storage.Reading;

/// <summary>Changes by state and tunnel.</summary>
public sealed class ChangeList(KeepContext context)
{
    /// <summary>Changes, the one that was written last first.</summary>
    /// <param name="states">In which states; null for any.</param>
    /// <param name="tunnelId">Only those that are about a tunnel; null for all.</param>
    /// <param name="after">The last one of the page before; null from the newest on.</param>
    public async Task<IReadOnlyList<Kept<Change>>> ChangesAsync(
        Scope scope,
        IReadOnlyCollection<ChangeState>? states,
        string? tunnelId,
        int most,
        CancellationToken ct,
        (long CommitNumber, string Id)? after = null
    )
    {
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Change));
        if (states is not null)
        {
            var words = states.Select(Change.States.Of).ToArray();
            rows = rows.Where(r => words.Contains(r.State!));
        }

        if (tunnelId is not null)
            rows = rows.Where(r =>
                context.Links.Any(l => l.FromId == r.Id && l.ToId == tunnelId && l.Role == "tunnel")
            );
        if (after is { } last)
            rows = rows.Where(r =>
                r.CommitNumber < last.CommitNumber
                || (r.CommitNumber == last.CommitNumber && string.Compare(r.Id, last.Id) > 0)
            );
        return
        [
            .. (await rows.OrderByDescending(r => r.CommitNumber).ThenBy(r => r.Id).Take(most).ToListAsync(ct)).Select(
                r => new Kept<Change>((Change)RecordBody.Read(r.Kind, r.Id, r.Body), r.Version, r.CommitNumber)
            ),
        ];
    }

    /// <summary>The open changes that are about any of these records.</summary>
    public async Task<IReadOnlyList<Change>> OpenChangesAsync(
        Scope scope,
        IReadOnlyCollection<string> about,
        CancellationToken ct
    )
    {
        string[] states =
        [
            .. new[] { ChangeState.Draft, ChangeState.InReview, ChangeState.Approved, ChangeState.UnderWay }.Select(
                Change.States.Of
            ),
        ];
        var rows = scope.Over(
            context,
            context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Change && states.Contains(r.State!))
        );
        var found = new Dictionary<string, Change>();
        foreach (var some in about.Chunk(500))
        foreach (
            var r in await rows.Where(r => context.Links.Any(l => l.FromId == r.Id && some.Contains(l.ToId)))
                .ToListAsync(ct)
        )
            found[r.Id] = (Change)RecordBody.Read(r.Kind, r.Id, r.Body);
        return [.. found.Values.OrderBy(c => c.Code, StringComparer.OrdinalIgnoreCase)];
    }
}

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

    /// <summary>Changes that fit a filter, newest first, from after a place in the list on.</summary>
    public async Task<IReadOnlyList<Kept<Change>>> FilteredAsync(
        Scope scope,
        ChangeFilter filter,
        int most,
        (long CommitNumber, string Id)? after,
        CancellationToken ct
    )
    {
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Change));
        if (filter.States is { } states)
        {
            var words = states.Select(Change.States.Of).ToArray();
            rows = rows.Where(r => words.Contains(r.State!));
        }

        if (filter.AboutId is { } about)
            rows = rows.Where(r => r.OwnerId == about || context.Links.Any(l => l.FromId == r.Id && l.ToId == about));
        foreach (var word in filter.Words)
        {
            var (low, key) = (word.ToLowerInvariant(), word.ToUpperInvariant());
            rows = rows.Where(r => r.Name.ToLower().Contains(low) || r.CodeKey.StartsWith(key));
        }

        // Author and window stand in the body alone: as many are read as it takes.
        const int atOnce = 200;
        var found = new List<Kept<Change>>();
        for (var place = after; ; )
        {
            var from = place is { } last
                ? rows.Where(r =>
                    r.CommitNumber < last.CommitNumber
                    || (r.CommitNumber == last.CommitNumber && string.Compare(r.Id, last.Id) > 0)
                )
                : rows;
            var some = await from.OrderByDescending(r => r.CommitNumber).ThenBy(r => r.Id).Take(atOnce).ToListAsync(ct);
            found.AddRange(
                some.Select(r => new Kept<Change>(
                        (Change)RecordBody.Read(r.Kind, r.Id, r.Body),
                        r.Version,
                        r.CommitNumber
                    ))
                    .Where(k => filter.Fits(k.Record))
            );
            if (found.Count >= most || some.Count < atOnce)
                return [.. found.Take(most)];
            place = (some[^1].CommitNumber, some[^1].Id);
        }
    }

    /// <summary>The code of a change; null when there is none that the asker sees.</summary>
    public Task<string?> CodeAsync(Scope scope, string id, CancellationToken ct) =>
        scope
            .Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Change && r.Id == id))
            .Select(r => (string?)r.Code)
            .FirstOrDefaultAsync(ct);

    /// <summary>The open changes that are about any of these records.</summary>
    public async Task<IReadOnlyList<Change>> OpenChangesAsync(
        Scope scope,
        IReadOnlyCollection<string> about,
        CancellationToken ct
    )
    {
        string[] states = [.. Change.OpenStates.Select(Change.States.Of)];
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

/// <summary>Which changes a list shows.</summary>
public sealed record ChangeFilter
{
    public IReadOnlyCollection<ChangeState>? States { get; init; }

    /// <summary>A tunnel, gateway or customer that the change is about.</summary>
    public string? AboutId { get; init; }

    /// <summary>Words of the title, or beginnings of the code; all of them.</summary>
    public IReadOnlyList<string> Words { get; init; } = [];

    /// <summary>The sign-in name of who wrote it.</summary>
    public string? Author { get; init; }

    /// <summary>The window begins then or later.</summary>
    public DateTimeOffset? WindowFrom { get; init; }

    /// <summary>The window begins before then.</summary>
    public DateTimeOffset? WindowUntil { get; init; }

    internal bool Fits(Change change) =>
        (Author is null || string.Equals(change.Author, Author, StringComparison.OrdinalIgnoreCase))
        && (WindowFrom is null || change.Window?.Start >= WindowFrom)
        && (WindowUntil is null || change.Window?.Start < WindowUntil);
}

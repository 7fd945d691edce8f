namespace Vellumkeep.Storage.Reading;

/// <summary>Changes by state and tunnel.</summary>
public sealed class ChangeList(KeepContext context)
{
    public async Task<IReadOnlyList<Kept<Change>>> ChangesAsync(
        Scope scope,
        IReadOnlyCollection<ChangeState>? states,
        string? tunnelId,
        CancellationToken ct,
        int most = 2000
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
        return
        [
            .. (await rows.OrderByDescending(r => r.CommitNumber).Take(most).ToListAsync(ct)).Select(
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

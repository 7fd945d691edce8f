namespace Vellumkeep.Storage.Reading;

/// <summary>Records of a kind by code, now or as they were.</summary>
public sealed class RecordList(KeepContext context)
{
    /// <summary>Records of a kind by code, now or as they were.</summary>
    public async Task<IReadOnlyList<(string Code, string Name, string? State, int Version)>> RecordsAsync(
        Scope scope,
        RecordKind kind,
        string? ownerId,
        string? text,
        DateOnly? on,
        string? after,
        int most,
        CancellationToken ct
    )
    {
        if (on is { } day)
            return
            [
                .. (
                    await (await Past.OnAsync(context, day, ct)).LinesAsync(scope, kind, ownerId, after, most, ct)
                ).Select(v => (v.CodeKey, v.Name, v.State, v.Version)),
            ];
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == kind));
        if (ownerId is not null)
            rows = rows.Where(r => r.OwnerId == ownerId);
        rows = context.WithText(rows, text);
        return
        [
            .. (
                await ListQueries
                    .Page(rows, after, most)
                    .Select(r => new
                    {
                        r.Code,
                        r.Name,
                        r.State,
                        r.Version,
                    })
                    .ToListAsync(ct)
            ).Select(r => (r.Code, r.Name, r.State, r.Version)),
        ];
    }
}

namespace Vellumkeep.Storage.Reading;

/// <summary>
/// The records as they were recorded up to a commit. A correction made later does not rewrite what this shows.
/// </summary>
public sealed class Past(KeepContext context, long commit)
{
    /// <summary>The last commit that is seen.</summary>
    public long Commit => commit;

    /// <summary>The last commit of a day (UTC, that day included); 0 when there was none yet.</summary>
    public static async Task<Past> OnAsync(KeepContext context, DateOnly day, CancellationToken ct)
    {
        var next = new DateTimeOffset(day.AddDays(1).ToDateTime(TimeOnly.MinValue), TimeSpan.Zero).ToString(
            "O",
            CultureInfo.InvariantCulture
        );
        return new(
            context,
            await context
                .Commits.AsNoTracking()
                .Where(c => string.Compare(c.At, next) < 0)
                .MaxAsync(c => (long?)c.Number, ct)
                ?? 0
        );
    }

    private IQueryable<VersionRow> Then =>
        context
            .Versions.AsNoTracking()
            .Where(v =>
                v.CommitNumber <= commit
                && !context.Versions.Any(n =>
                    n.RecordId == v.RecordId && n.Version > v.Version && n.CommitNumber <= commit
                )
            );

    /// <summary>The record that had this code then, or has it now and was there then.</summary>
    public async Task<Kept<T>?> ByCodeAsync<T>(Scope scope, RecordKind kind, string code, CancellationToken ct)
        where T : class, IRecord
    {
        var key = code.ToUpperInvariant();
        var now = context.Records.Where(r => r.Kind == kind && r.CodeKey == key).Select(r => r.Id);
        var rows = await scope
            .Over(context, Then)
            .Where(v => v.Kind == kind && (v.CodeKey == key || now.Contains(v.RecordId)))
            .Take(2)
            .ToListAsync(ct);
        var row = rows.FirstOrDefault(r => r.CodeKey == key) ?? rows.FirstOrDefault();
        return row is null ? null : Read<T>(row);
    }

    /// <summary>
    /// Records of a kind by code, from after <paramref name="after"/> on, at most <paramref name="most"/>.
    /// </summary>
    public async Task<IReadOnlyList<Kept<T>>> ListAsync<T>(
        Scope scope,
        RecordKind kind,
        string? ownerId,
        string? state,
        string? after,
        int most,
        CancellationToken ct
    )
        where T : class, IRecord
    {
        var rows = scope.Over(context, Then).Where(v => v.Kind == kind);
        if (ownerId is not null)
            rows = rows.Where(v => v.OwnerId == ownerId);
        if (state is not null)
            rows = rows.Where(v => v.State == state);
        if (after is not null)
            rows = rows.Where(v => string.Compare(v.CodeKey, after) > 0);
        return [.. (await rows.OrderBy(v => v.CodeKey).Take(most).ToListAsync(ct)).Select(Read<T>)];
    }

    /// <summary>Records of a kind by code, without their bodies.</summary>
    public async Task<IReadOnlyList<VersionRow>> LinesAsync(
        Scope scope,
        RecordKind kind,
        string? ownerId,
        string? after,
        int most,
        CancellationToken ct
    ) =>
        await scope
            .Over(context, Then)
            .Where(v =>
                v.Kind == kind
                && (ownerId == null || v.OwnerId == ownerId)
                && (after == null || string.Compare(v.CodeKey, after) > 0)
            )
            .OrderBy(v => v.CodeKey)
            .Select(v => new VersionRow
            {
                RecordId = v.RecordId,
                Version = v.Version,
                Kind = v.Kind,
                CommitNumber = v.CommitNumber,
                CodeKey = v.CodeKey,
                Name = v.Name,
                State = v.State,
                OwnerId = v.OwnerId,
                Body = Array.Empty<byte>(),
            })
            .Take(most)
            .ToListAsync(ct);

    /// <summary>
    /// Everything a computation about these tunnels needs, as it was: see <see cref="RecordReader.AroundAsync"/>.
    /// </summary>
    public async Task<Inventory> AroundAsync(IReadOnlyCollection<Tunnel> tunnels, CancellationToken ct)
    {
        var records = tunnels.ToDictionary(t => t.Id, t => (IRecord)t);
        var gateways = tunnels.SelectMany(t => new[] { t.A.GatewayId, t.B.GatewayId }).Distinct().ToArray();
        foreach (var some in gateways.Chunk(500))
            await LoadAsync(
                await context
                    .VersionLinks.AsNoTracking()
                    .Where(l => some.Contains(l.ToId))
                    .Select(l => l.RecordId)
                    .Distinct()
                    .Take(5000)
                    .ToListAsync(ct)
            );
        // A change refers to a tunnel, not to a gateway; whatever else came along by an older link is left out again.
        foreach (
            var stray in records
                .Values.Where(r =>
                    r is Tunnel t
                    && !tunnels.Any(w => w.Id == t.Id)
                    && !gateways.Contains(t.A.GatewayId)
                    && !gateways.Contains(t.B.GatewayId)
                )
                .ToArray()
        )
            records.Remove(stray.Id);
        for (var step = 0; step < 3; step++)
            await LoadAsync([.. records.Values.SelectMany(RecordReader.Refers).Distinct()]);
        return Inventory.Of(records.Values);

        async Task LoadAsync(IReadOnlyCollection<string> ids)
        {
            foreach (var chunk in ids.Where(id => !records.ContainsKey(id)).Chunk(500))
            foreach (
                var row in await Then.Where(v => chunk.Contains(v.RecordId) && v.Kind != RecordKind.Change)
                    .ToListAsync(ct)
            )
                records[row.RecordId] = RecordBody.Read(row.Kind, row.RecordId, row.Body);
        }
    }

    private static Kept<T> Read<T>(VersionRow row)
        where T : class, IRecord =>
        new((T)RecordBody.Read(row.Kind, row.RecordId, row.Body), row.Version, row.CommitNumber);
}

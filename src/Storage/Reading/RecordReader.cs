namespace Vellumkeep.Storage.Reading;

/// <summary>A record with the version it is at.</summary>
public sealed record Kept<T>(T Record, int Version, long CommitNumber)
    where T : class, IRecord;

/// <summary>
/// Reads records inside one context. What a person may see is asked with a <see cref="Scope"/>; what a computation
/// needs around a tunnel is not.
/// </summary>
public sealed partial class RecordReader
{
    private readonly KeepContext context;
    private readonly PendingWrites? pending;
    private readonly Neighbours neighbours;
    private readonly HashSet<string> loaded = [];

    public RecordReader(KeepContext context)
        : this(context, null) { }

    /// <param name="pending">What is about to be written: read as though it were.</param>
    internal RecordReader(KeepContext context, PendingWrites? pending) =>
        (this.context, this.pending, neighbours) = (context, pending, new(context, pending));

    /// <summary>The ids of every record that was read: what a writing rests on.</summary>
    internal IReadOnlySet<string> Loaded => loaded;

    public async Task<Kept<T>?> ByCodeAsync<T>(Scope scope, RecordKind kind, string code, CancellationToken ct)
        where T : class, IRecord
    {
        var key = code.ToUpperInvariant();
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == kind));
        var row = await rows.FirstOrDefaultAsync(r => r.CodeKey == key, ct);
        return row is null ? null : new((T)Read(row), row.Version, row.CommitNumber);
    }

    /// <summary>What there is of a kind that begins as <paramref name="code"/> does.</summary>
    public async Task<NearCodes> NearAsync(Scope scope, RecordKind kind, string code, CancellationToken ct)
    {
        foreach (var start in NearCodes.Beginnings(code))
        {
            var key = start.ToUpperInvariant();
            var rows = scope.Over(
                context,
                context.Records.AsNoTracking().Where(r => r.Kind == kind && r.CodeKey.StartsWith(key))
            );
            var count = await rows.CountAsync(ct);
            if (count == 0)
                continue;
            var codes = await rows.OrderBy(r => r.CodeKey).Select(r => r.Code).Take(NearCodes.Most).ToListAsync(ct);
            return new(start, count, codes);
        }

        return new("", 0, []);
    }

    /// <summary>The numbers after <paramref name="start"/> in codes that are that and a number.</summary>
    public async Task<IReadOnlyList<int>> BeginningNumbersAsync(RecordKind kind, string start, CancellationToken ct)
    {
        var key = start.ToUpperInvariant();
        var codes = await context
            .Records.AsNoTracking()
            .Where(r => r.Kind == kind && r.CodeKey.StartsWith(key))
            .Select(r => r.CodeKey)
            .ToListAsync(ct);
        return
        [
            .. codes.Select(c =>
                int.TryParse(c[key.Length..], NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n : 0
            ),
        ];
    }

    public async Task<Kept<T>?> ByIdAsync<T>(Scope scope, string id, CancellationToken ct)
        where T : class, IRecord
    {
        var row = await scope.Over(context, context.Records.AsNoTracking()).FirstOrDefaultAsync(r => r.Id == id, ct);
        return row is null || Read(row) is not T record ? null : new(record, row.Version, row.CommitNumber);
    }

    public async Task<IReadOnlyList<IRecord>> AllAsync(Scope scope, CancellationToken ct) =>
        [
            .. (
                await scope
                    .Over(
                        context,
                        context
                            .Records.AsNoTracking()
                            .Where(r => r.Kind != RecordKind.Change && r.Kind != RecordKind.Person)
                    )
                    .ToListAsync(ct)
            ).Select(r => RecordBody.Read(r.Kind, r.Id, r.Body)),
        ];

    /// <summary>Every record of a kind, by code.</summary>
    public async Task<IReadOnlyList<T>> AllAsync<T>(Scope scope, RecordKind kind, CancellationToken ct)
        where T : class, IRecord =>
        [
            .. (
                await scope
                    .Over(context, context.Records.AsNoTracking().Where(r => r.Kind == kind))
                    .OrderBy(r => r.CodeKey)
                    .ToListAsync(ct)
            ).Select(r => (T)RecordBody.Read(r.Kind, r.Id, r.Body)),
        ];

    /// <summary>Those of some records that are within the scope, by id.</summary>
    public async Task<Dictionary<string, Kept<IRecord>>> KeptAsync(
        Scope scope,
        IReadOnlyCollection<string> ids,
        CancellationToken ct
    )
    {
        var found = new Dictionary<string, Kept<IRecord>>();
        foreach (var some in ids.Chunk(500))
        foreach (
            var row in await scope
                .Over(context, context.Records.AsNoTracking())
                .Where(r => some.Contains(r.Id))
                .ToListAsync(ct)
        )
            found[row.Id] = new(Read(row), row.Version, row.CommitNumber);
        return found;
    }

    /// <summary>The first of some codes that a record has, whoever may see it; null when all are free.</summary>
    public async Task<(RecordKind Kind, string Code)?> TakenAsync(
        IReadOnlyCollection<(RecordKind Kind, string Code)> codes,
        CancellationToken ct
    )
    {
        foreach (var kind in codes.GroupBy(c => c.Kind))
        foreach (var some in kind.Select(c => c.Code.ToUpperInvariant()).Chunk(500))
            if (
                await context
                    .Records.Where(r => r.Kind == kind.Key && some.Contains(r.CodeKey))
                    .Select(r => r.Code)
                    .FirstOrDefaultAsync(ct) is
                { } code
            )
                return (kind.Key, code);
        return null;
    }

    /// <summary>Every record with its code in upper case, its name and whose it is.</summary>
    public async Task<
        IReadOnlyList<(string Id, RecordKind Kind, string CodeKey, string Name, string? OwnerId)>
    > NamedAsync(Scope scope, CancellationToken ct) =>
        [
            .. (
                await scope
                    .Over(context, context.Records.AsNoTracking())
                    .Select(r => new
                    {
                        r.Id,
                        r.Kind,
                        r.CodeKey,
                        r.Name,
                        r.OwnerId,
                    })
                    .ToListAsync(ct)
            ).Select(r => (r.Id, r.Kind, r.CodeKey, r.Name, r.OwnerId)),
        ];

    /// <summary>Every code with its id, for understanding references.</summary>
    public async Task<CodeNames> CodesAsync(Scope scope, CancellationToken ct)
    {
        var names = new CodeNames();
        foreach (
            var r in await scope
                .Over(context, context.Records.AsNoTracking())
                .Select(r => new
                {
                    r.Kind,
                    r.Code,
                    r.Id,
                })
                .ToListAsync(ct)
        )
            names.Add(r.Kind, r.Code, r.Id);
        if (scope.All)
            return names;
        // What the asker's own records refer to is named on their pages: it can be said again, and nothing else of
        // other owners.
        var own = scope.Over(context, context.Records.AsNoTracking());
        var referred =
            from l in context.Links
            join mine in own on l.FromId equals mine.Id
            join r in context.Records on l.ToId equals r.Id
            select new
            {
                r.Kind,
                r.Code,
                r.Id,
            };
        foreach (var r in await referred.Distinct().ToListAsync(ct))
            names.Add(r.Kind, r.Code, r.Id);
        return names;
    }

    /// <summary>Whether a record is about to be written for the first time.</summary>
    internal bool IsNew(string id) => pending?.IsNew(id) == true;

    private IRecord Read(RecordRow row)
    {
        loaded.Add(row.Id);
        return RecordBody.Read(row.Kind, row.Id, row.Body);
    }

    /// <summary>The records with these ids.</summary>
    internal async Task<IReadOnlyList<IRecord>> LoadAsync(IReadOnlyCollection<string> ids, CancellationToken ct)
    {
        var found = new List<IRecord>(ids.Count);
        var others = new List<string>();
        foreach (var id in ids)
        {
            if (pending is not null && pending.Records.TryGetValue(id, out var record))
                found.Add(record);
            else
                others.Add(id);
        }

        foreach (var chunk in others.Chunk(500))
        foreach (var row in await context.Records.AsNoTracking().Where(r => chunk.Contains(r.Id)).ToListAsync(ct))
            found.Add(Read(row));
        return found;
    }

    /// <summary>
    /// Every record that a record names: those that it refers to, and the tunnel it is managed through.
    /// </summary>
    public static IEnumerable<string> Names(IRecord record) =>
        record is Gateway { ManagementAccess.TunnelId: { } through } ? Refers(record).Append(through) : Refers(record);

    /// <summary>The records that a record cannot be read without.</summary>
    public static IEnumerable<string> Refers(IRecord record) =>
        record switch
        {
            Tunnel t => new[] { t.CustomerId, t.A.GatewayId, t.B.GatewayId, t.Agreed.SuiteId }.OfType<string>(),
            Gateway g => [g.SiteId, g.PlatformId],
            Site s => [s.CustomerId],
            _ => [],
        };

    /// <summary>Whether anything refers to a record in a role, whoever may see it.</summary>
    public Task<bool> ReferringAsync(string id, string role, CancellationToken ct) =>
        context.Links.AnyAsync(l => l.ToId == id && l.Role == role, ct);

    /// <summary>The tunnels with an end on a gateway, retired ones left out.</summary>
    public async Task<IReadOnlyList<Tunnel>> OnGatewayAsync(string gatewayId, CancellationToken ct) =>
        [
            .. (
                await context
                    .Records.AsNoTracking()
                    .Where(r =>
                        r.Kind == RecordKind.Tunnel
                        && r.State != "retired"
                        && context.Links.Any(l =>
                            l.FromId == r.Id && l.ToId == gatewayId && (l.Role == "a" || l.Role == "b")
                        )
                    )
                    .ToListAsync(ct)
            ).Select(r => (Tunnel)Read(r)),
        ];
}

using System.Data;
using Microsoft.EntityFrameworkCore.Storage;

namespace Vellumkeep.Storage.Writing;

/// <summary>What is worked out before anything is written.</summary>
public sealed partial class Keeper
{
    /// <summary>Reads as of one moment.</summary>
    private async Task<IDbContextTransaction> SnapshotAsync(KeepContext context, CancellationToken ct)
    {
        if (databases.IsPostgres)
            return await context.Database.BeginTransactionAsync(IsolationLevel.RepeatableRead, ct);
        // Deferred: a reader of the write-ahead log takes no lock.
        await context.Database.OpenConnectionAsync(ct);
        var connection = (Microsoft.Data.Sqlite.SqliteConnection)context.Database.GetDbConnection();
        return (await context.Database.UseTransactionAsync(connection.BeginTransaction(deferred: true), ct))!;
    }

    private static Task<CommitRow?> HeadAsync(KeepContext context, CancellationToken ct) =>
        context.Commits.AsNoTracking().OrderByDescending(c => c.Number).FirstOrDefaultAsync(ct);

    private async Task<(Prepared Prepared, T Result)> PrepareAsync<T>(
        KeepContext context,
        Act act,
        Func<Writing, RecordReader, Task<T>> work,
        IProgress<Progressed>? progress,
        CancellationToken ct
    )
    {
        var head = await HeadAsync(context, ct);
        // What an import makes is numbered in a series of its own, so that it need not begin anew because somebody
        // added a record meanwhile.
        var writing = new Writing(context, head?.Number ?? 0, act.What == "import" ? "i" : "r");
        var reader = new RecordReader(context);
        var result = await work(writing, reader);
        var (records, before) = await DifferingAsync(context, writing, ct);
        var restsOn = reader.Loaded.ToHashSet();
        if (guard is not null && (records.Count > 0 || writing.Noted))
            await guard.LookAsync(
                context,
                act,
                [.. records.Select(r => (r.Record, before.GetValueOrDefault(r.Record.Id)))],
                ct
            );
        var pending = new PendingWrites();
        foreach (var record in records)
            pending.Add(record.Record, record.IsNew);
        var (tunnels, changes) = await FindingsAsync(
            context,
            reader,
            records,
            Recounted(records, before),
            pending,
            restsOn,
            act.At,
            progress,
            ct
        );
        var prepared = new Prepared
        {
            Head = head?.Number ?? 0,
            Writing = writing,
            Records = records,
            Pending = pending,
            Tunnels = tunnels,
            FindingChanges = changes,
            RestsOn = restsOn,
        };
        prepared.Sort();
        return (prepared, result);
    }

    /// <summary>
    /// Of what was put, what differs from what is kept, in the order of the history; and those records as they are
    /// kept.
    /// </summary>
    private static async Task<(List<PreparedRecord> Records, Dictionary<string, IRecord> Before)> DifferingAsync(
        KeepContext context,
        Writing writing,
        CancellationToken ct
    )
    {
        var rows = new Dictionary<string, RecordRow>();
        foreach (var some in writing.Puts.Keys.Where(id => !writing.Made(id)).Chunk(500))
        foreach (var row in await context.Records.AsNoTracking().Where(r => some.Contains(r.Id)).ToListAsync(ct))
            rows[row.Id] = row;
        var sites = await OwnersOfSitesAsync(context, writing, ct);
        var (records, before) = (new List<PreparedRecord>(), new Dictionary<string, IRecord>());
        var ordered = writing
            .Puts.Values.OrderBy(p => p.Record.Kind)
            .ThenBy(p => p.Record.Code, StringComparer.OrdinalIgnoreCase)
            .ToArray();
        foreach (var (record, expected) in ordered)
            if (
                expected is { } version
                && (rows.GetValueOrDefault(record.Id)?.Version ?? 0) is var stands
                && stands != version
            )
                throw new ConflictException(record.Id, version, stands);
        foreach (
            var prepared in InParallel.Select(
                ordered,
                put => Differing(put.Record, rows.GetValueOrDefault(put.Record.Id), sites),
                ct
            )
        )
            if (prepared is not null)
            {
                records.Add(prepared);
                if (rows.TryGetValue(prepared.Record.Id, out var row))
                    before[row.Id] = RecordBody.Read(row.Kind, row.Id, row.Body);
            }

        // A gateway is its site's owner's: when a site changes hands, its gateways do too.
        return (records, before);
    }

    /// <summary>What is to be written of a record; null when it stands already.</summary>
    private static PreparedRecord? Differing(IRecord record, RecordRow? row, Dictionary<string, string?> sites)
    {
        var body = RecordBody.Bytes(record);
        return row is not null && row.Body.AsSpan().SequenceEqual(body)
            ? null
            : new(record, body, row?.Version ?? 0, RecordRows.OwnerOf(record, sites.GetValueOrDefault));
    }

    private static async Task<Dictionary<string, string?>> OwnersOfSitesAsync(
        KeepContext context,
        Writing writing,
        CancellationToken ct
    )
    {
        var owners = writing
            .Puts.Values.Select(p => p.Record)
            .OfType<Site>()
            .ToDictionary(s => s.Id, s => (string?)s.CustomerId);
        foreach (
            var some in writing
                .Puts.Values.Select(p => p.Record)
                .OfType<Gateway>()
                .Select(g => g.SiteId)
                .Where(id => !owners.ContainsKey(id))
                .Distinct()
                .ToArray()
                .Chunk(500)
        )
        foreach (
            var row in await context
                .Records.AsNoTracking()
                .Where(r => some.Contains(r.Id))
                .Select(r => new { r.Id, r.OwnerId })
                .ToListAsync(ct)
        )
            owners[row.Id] = row.OwnerId;
        return owners;
    }

    /// <summary>
    /// Checks what the records touch: the tunnels that refer to them, and those whose prefixes or keys meet theirs, now
    /// or before, on a shared gateway.
    /// </summary>
    private static async Task<(List<PreparedTunnel> Tunnels, List<FindingChange> Changes)> FindingsAsync(
        KeepContext context,
        RecordReader reader,
        List<PreparedRecord> records,
        IReadOnlyCollection<string> recounted,
        PendingWrites pending,
        HashSet<string> restsOn,
        DateTimeOffset at,
        IProgress<Progressed>? progress,
        CancellationToken ct
    )
    {
        var touching = records
            .Where(r => r.Record.Kind is not (RecordKind.Change or RecordKind.Person or RecordKind.Offer))
            .ToArray();
        if (touching.Length == 0)
            return ([], []);
        // What met the old prefixes and look-up keys has to be checked again as well as what meets the new ones.
        var looked = await reader.RelookedAsync(
            touching.Where(r => !r.IsNew).Select(r => (r.Record.Id, r.Record.Kind)),
            ct
        );
        var met = await reader.MeetingAsync(looked, ct);
        var after = new RecordReader(context, pending);
        await LookupsAsync(
            after,
            pending,
            await after.RelookedAsync(touching.Select(r => (r.Record.Id, r.Record.Kind)), ct),
            ct
        );
        var touched = looked
            .Union(met)
            .Union(await after.TouchedAsync([.. touching.Select(r => (r.Record.Id, r.Record.Kind, r.IsNew))], ct))
            .Union(await after.AtTheEdgeOfAHubAsync(recounted, ct))
            .ToArray();
        var found = await FindingRefresher.RunAsync(context, after, touched, at, progress, ct);
        restsOn.UnionWith(reader.Loaded);
        restsOn.UnionWith(after.Loaded);
        return found;
    }

    /// <summary>The gateways on which there are more tunnels or fewer than before.</summary>
    private static HashSet<string> Recounted(List<PreparedRecord> records, IReadOnlyDictionary<string, IRecord> before)
    {
        static IEnumerable<string> On(IRecord? record) =>
            record is Tunnel { State: not TunnelState.Retired } t ? [t.A.GatewayId, t.B.GatewayId] : [];
        var found = new HashSet<string>();
        foreach (var record in records.Select(r => r.Record))
        {
            var (was, now) = (On(before.GetValueOrDefault(record.Id)).ToHashSet(), On(record).ToHashSet());
            was.SymmetricExceptWith(now);
            found.UnionWith(was);
        }

        return found;
    }

    /// <summary>The keys by which gateways will find these tunnels.</summary>
    private static async Task LookupsAsync(
        RecordReader reader,
        PendingWrites pending,
        IReadOnlyCollection<string> tunnels,
        CancellationToken ct
    )
    {
        foreach (var some in tunnels.Chunk(500))
        {
            var read = (await reader.LoadAsync(some, ct)).Cast<Tunnel>().ToArray();
            var gateways = (
                await reader.LoadAsync([.. read.SelectMany(t => new[] { t.A.GatewayId, t.B.GatewayId }).Distinct()], ct)
            )
                .Cast<Gateway>()
                .ToDictionary(g => g.Id);
            foreach (var tunnel in read)
                pending.AddLookups(tunnel.Id, [.. RecordRows.Lookups(tunnel, id => gateways[id])]);
        }
    }
}

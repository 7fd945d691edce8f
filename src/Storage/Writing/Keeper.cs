using System.Data;
using Microsoft.Extensions.Logging;

namespace Vellumkeep.Storage.Writing;

/// <summary>
/// The only place where anything is written: one transaction, one commit of the chain, projections and findings brought
/// along. Everything is worked out before the transaction: reading, planning and checking keep nobody waiting. Inside
/// it, it is only asked whether somebody wrote meanwhile what this rests on, and if so it is worked out again. Readers
/// never wait for writers, and writers wait in line.
/// </summary>
public sealed partial class Keeper(Databases databases, IWriteGuard? guard = null, ILogger<Keeper>? log = null)
{
    private const long PostgresLock = 0x56454c4c;

    /// <summary>
    /// So often it is worked out anew when somebody was faster; after that it is worked out while the others wait.
    /// </summary>
    private const int Tries = 4;

    /// <summary>Of so many versions written meanwhile it is asked whether they matter; more are taken to.</summary>
    private const int MostBetween = 500;

    /// <summary>How long a writer stands in line before the service counts as busy.</summary>
    private static readonly TimeSpan LongestLine = TimeSpan.FromSeconds(20);

    /// <summary>A write that takes longer than this is told in the log.</summary>
    private static readonly TimeSpan Notable = TimeSpan.FromMilliseconds(300);

    private int clockTold;

    /// <summary>
    /// Runs <paramref name="work"/> and commits what it put. When it puts nothing, or nothing differs, nothing is
    /// written. It may be run several times.
    /// </summary>
    /// <param name="keep">False for a dry run: everything is worked out and nothing is written.</param>
    /// <exception cref="ConflictException">A record is not at the version the writer expected.</exception>
    public async Task<Wrote<T>> WriteAsync<T>(
        Act act,
        Func<Writing, RecordReader, Task<T>> work,
        CancellationToken ct,
        bool keep = true,
        IProgress<Progressed>? progress = null
    )
    {
        for (var time = 1; time < Tries; time++)
        {
            Prepared prepared;
            T result;
            await using (var reading = databases.Open())
            {
                await using var snapshot = await SnapshotAsync(reading, ct);
                (prepared, result) = await PrepareAsync(reading, act, work, progress, ct);
            }

            if (prepared.Records.Count == 0 && !prepared.Writing.Noted)
                return new(result, null, []);
            if (!keep)
                return new(result, null, prepared.FindingChanges);
            if (await TryAsync(act, prepared, progress, ct) is { } number)
                return new(result, number, prepared.FindingChanges);
        }

        return await WhileOthersWaitAsync(act, work, progress, ct);
    }

    /// <summary>Writes down that something happened and changed no record: a token made or ended.</summary>
    public Task NoteAsync(Act act, CancellationToken ct, Func<KeepContext, Task>? besides = null) =>
        WriteAsync(
            act,
            (writing, _) =>
            {
                if (besides is not null)
                    writing.Beside(besides);
                writing.Note();
                return Task.FromResult(true);
            },
            ct
        );

    /// <summary>
    /// Checks again the tunnels whose findings may have changed with the calendar alone, and those that an earlier
    /// version of the checks has looked at. Nothing of a record is written.
    /// </summary>
    public async Task<int> RecheckDueAsync(DateTimeOffset now, CancellationToken ct)
    {
        string[] due;
        var day = Scalars.Write(DateOnly.FromDateTime(now.UtcDateTime));
        await using (var context = databases.Open())
            due = await context
                .Tunnels.Where(t =>
                    t.CheckedBy != Checks.Version
                    || (t.CheckAgainOn != null && string.Compare(t.CheckAgainOn, day) <= 0)
                )
                .Select(t => t.Id)
                .ToArrayAsync(ct);
        foreach (var some in due.Chunk(200))
            for (var time = 0; time < Tries && !await RecheckAsync(some, now, ct); time++)
                log?.LogInformation(
                    "Somebody wrote while {Count} tunnels were checked for the day; they are checked again",
                    some.Length
                );
        return due.Length;
    }

    private async Task<bool> RecheckAsync(string[] tunnels, DateTimeOffset now, CancellationToken ct)
    {
        Prepared prepared;
        await using (var reading = databases.Open())
        {
            await using var snapshot = await SnapshotAsync(reading, ct);
            var head = await HeadAsync(reading, ct);
            var reader = new RecordReader(reading);
            var (found, changes) = await FindingRefresher.RunAsync(reading, reader, tunnels, now, null, ct);
            prepared = new()
            {
                Head = head?.Number ?? 0,
                Writing = new(reading, 0, "r"),
                Records = [],
                Pending = new(),
                Tunnels = found,
                FindingChanges = changes,
                RestsOn = reader.Loaded,
            };
            prepared.Sort();
        }

        return await LockedAsync(
            async (context, _) =>
            {
                if (await IsStaleAsync(context, prepared, ct))
                    return false;
                await RecordStore.FindingsAsync(context, prepared, ct);
                return true;
            },
            committed => committed,
            ct
        );
    }

    /// <summary>
    /// Writes what was prepared unless somebody wrote meanwhile what it rests on; gives the number of the commit.
    /// </summary>
    private Task<long?> TryAsync(Act act, Prepared prepared, IProgress<Progressed>? progress, CancellationToken ct) =>
        LockedAsync(
            async (context, last) =>
            {
                if (await IsStaleAsync(context, prepared, ct))
                    return null;
                return (long?)await CommitAsync(context, last, act, prepared, progress, ct);
            },
            number => number is not null,
            ct
        );

    private async Task<Wrote<T>> WhileOthersWaitAsync<T>(
        Act act,
        Func<Writing, RecordReader, Task<T>> work,
        IProgress<Progressed>? progress,
        CancellationToken ct
    ) =>
        await LockedAsync(
            async (context, last) =>
            {
                var (prepared, result) = await PrepareAsync(context, act, work, progress, ct);
                if (prepared.Records.Count == 0 && !prepared.Writing.Noted)
                    return new Wrote<T>(result, null, []);
                return new Wrote<T>(
                    result,
                    await CommitAsync(context, last, act, prepared, progress, ct),
                    prepared.FindingChanges
                );
            },
            wrote => wrote.Commit is not null,
            ct
        );

    private async Task<long> CommitAsync(
        KeepContext context,
        CommitRow? last,
        Act act,
        Prepared prepared,
        IProgress<Progressed>? progress,
        CancellationToken ct
    )
    {
        var (at, tell) = await Chain.WhenAsync(context, last, act.At, ct);
        if (tell is not null && Interlocked.Exchange(ref clockTold, 1) == 0)
        {
            log?.LogWarning("{Clock}", tell);
            context.Audit.Add(
                new()
                {
                    At = act.At.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture),
                    Who = "vellumkeep",
                    What = "clock",
                    About = tell,
                    Outcome = "done",
                    From = "here",
                }
            );
        }

        await RecordStore.WriteAsync(context, last, act with { At = at }, prepared, progress, ct);
        var number = (last?.Number ?? 0) + 1;
        if (IdempotentCall.Current is { } once)
            await once.NoteAsync(context, number, ct);
        return number;
    }

    /// <summary>Whether somebody wrote, since it was worked out, anything that it rests on.</summary>
    private static async Task<bool> IsStaleAsync(KeepContext context, Prepared prepared, CancellationToken ct)
    {
        var between = await context
            .Versions.AsNoTracking()
            .Where(v => v.CommitNumber > prepared.Head)
            .Select(v => new { v.RecordId, v.Kind })
            .Take(MostBetween + 1)
            .ToListAsync(ct);
        if (between.Count == 0)
            return false;
        var mine = prepared.Records.Select(r => r.Record.Id).ToHashSet();
        if (
            between.Count > MostBetween
            || between.Any(b => mine.Contains(b.RecordId) || prepared.RestsOn.Contains(b.RecordId))
        )
            return true;
        // A gateway may show an address of ours, and people are counted.
        var kinds = prepared.Records.Select(r => r.Record.Kind).ToHashSet();
        if (
            between.Any(b =>
                b.Kind is RecordKind.Gateway or RecordKind.Person
                && (
                    b.Kind == RecordKind.Person
                        ? kinds.Contains(RecordKind.Person)
                        : prepared.Tunnels.Count > 0 || kinds.Contains(RecordKind.Change)
                )
            )
        )
            return true;
        if (
            prepared.Writing.MadeAny
            && await context.Records.AnyAsync(r => r.Id.StartsWith(prepared.Writing.Prefix), ct)
        )
            return true;
        // What was written meanwhile may have come to stand on a gateway that it rests on, or to refer to what it takes
        // out of use.
        string[] ids = [.. between.Select(b => b.RecordId).Distinct()];
        var referred = await context
            .Links.Where(l => ids.Contains(l.FromId))
            .Select(l => new { l.ToId, l.Role })
            .ToListAsync(ct);
        return referred.Any(l => mine.Contains(l.ToId) || (l.Role is "a" or "b" && prepared.RestsOn.Contains(l.ToId)));
    }

    /// <summary>
    /// The one writer's transaction, when it is this one's turn. SQLite takes the write lock with it. PostgreSQL is
    /// given a lock of its own and reads what is committed when it has it: a snapshot taken while waiting would be
    /// older than what the writer before wrote.
    /// </summary>
    /// <param name="keep">Whether what was done is kept.</param>
    private async Task<T> LockedAsync<T>(
        Func<KeepContext, CommitRow?, Task<T>> write,
        Func<T, bool> keep,
        CancellationToken ct
    )
    {
        if (!await databases.Writers.WaitAsync(LongestLine, ct))
            throw new BusyException();
        try
        {
            await using var context = databases.Open();
            await using var transaction = await context.Database.BeginTransactionAsync(
                databases.IsPostgres ? IsolationLevel.ReadCommitted : IsolationLevel.Serializable,
                ct
            );
            if (databases.IsPostgres)
                await context.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock({PostgresLock})", ct);
            var clock = System.Diagnostics.Stopwatch.StartNew();
            var result = await write(context, await HeadAsync(context, ct));
            if (keep(result))
                await transaction.CommitAsync(ct);
            if (clock.Elapsed > Notable)
                log?.LogInformation("A write kept the others waiting for {Milliseconds} ms", clock.ElapsedMilliseconds);
            return result;
        }
        finally
        {
            databases.Writers.Release();
        }
    }
}

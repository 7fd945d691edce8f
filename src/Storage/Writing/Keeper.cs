using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;
using Vellumkeep.Storage.Reading;

namespace Vellumkeep.Storage.Writing;

/// <summary>Who writes, when, as which act, and why.</summary>
public sealed record Act(string Who, DateTimeOffset At, string What, string? Reason = null, string? ChangeId = null);

/// <summary>The record is not at the version the writer saw.</summary>
public sealed class ConflictException(string recordId, int expected, int current) : Exception($"Record {recordId} is at version {current}, not {expected}.")
{
    public string RecordId { get; } = recordId;

    public int Expected { get; } = expected;

    public int Current { get; } = current;
}

/// <summary>How far a long write is: what is done at the moment, and how many of how many.</summary>
public sealed record Progressed(string Doing, int Done, int Of);

/// <summary>A finding that a write added, or took away.</summary>
public sealed record FindingMove(bool Added, string TunnelId, Finding Finding);

/// <summary>What a write gave back, the number of its commit (null when nothing differed), and what it did to findings.</summary>
public sealed record Wrote<T>(T Result, long? Commit, IReadOnlyList<FindingMove> Moves);

/// <summary>What a piece of writing is given: the records as they are inside the transaction, and a place to put new versions.</summary>
public sealed class Writing
{
    private readonly Dictionary<string, (IRecord Record, int? Expected)> puts = [];
    private int made;

    internal Writing(KeepContext context, long number) => (Context, Number) = (context, number);

    internal KeepContext Context { get; }

    /// <summary>For reading inside the transaction what <see cref="RecordReader"/> does not give.</summary>
    public KeepContext Read => Context;

    internal long Number { get; }

    internal IReadOnlyDictionary<string, (IRecord Record, int? Expected)> Puts => puts;

    /// <summary>An id that no record has: ids tell the commit that made them and never change.</summary>
    public string NewId() => $"r{Number}-{++made}";

    /// <summary>What this writing puts under an id; null when nothing.</summary>
    public IRecord? PutUnder(string id) => puts.TryGetValue(id, out var put) ? put.Record : null;

    /// <summary>Whether an id was made by this writing, so that no record can have it yet.</summary>
    public bool Made(string id) => id.StartsWith($"r{Number}-", StringComparison.Ordinal);

    /// <summary>That a commit is written even when no record moved: something happened that the history has to say.</summary>
    public bool Noted { get; private set; }

    /// <summary>Writes down that something happened, whatever records move with it.</summary>
    public void Note() => Noted = true;

    /// <summary>Puts a version. With <paramref name="expected"/> the record has to be at that version.</summary>
    public void Put(IRecord record, int? expected = null) => puts[record.Id] = (record, expected);
}

/// <summary>
/// The one way in which anything is written: one transaction, one commit of the chain, projections and findings brought along.
/// Writers queue; readers never wait for them.
/// </summary>
public sealed class Keeper(Databases databases)
{
    private const long PostgresLock = 0x56454c4c;

    /// <summary>
    /// Runs <paramref name="work"/> inside a transaction and commits what it put. When it puts nothing, or nothing differs, nothing is written.
    /// </summary>
    /// <param name="keep">False for a dry run: everything is done and then undone.</param>
    /// <exception cref="ConflictException">A record is not at the version the writer expected.</exception>
    public async Task<Wrote<T>> WriteAsync<T>(Act act, Func<Writing, RecordReader, Task<T>> work, CancellationToken ct, bool keep = true, IProgress<Progressed>? progress = null)
    {
        await using var context = databases.Open();
        await using var transaction = await BeginAsync(context, ct);
        var last = await context.Commits.AsNoTracking().OrderByDescending(c => c.Number).FirstOrDefaultAsync(ct);
        // The history goes forward in time, whatever the clock of a machine says: it is read by the day.
        if (last is not null && DateTimeOffset.Parse(last.At, CultureInfo.InvariantCulture) is var before && act.At < before)
            act = act with { At = before };
        var writing = new Writing(context, (last?.Number ?? 0) + 1);
        var reader = new RecordReader(context);
        var result = await work(writing, reader);
        // What met the old prefixes and look-up keys has to be checked again as well as what meets the new ones.
        var met = await reader.MeetingAsync(await reader.RelookedAsync(writing.Puts.Values.Where(p => !writing.Made(p.Record.Id)).Select(p => (p.Record.Id, p.Record.Kind)), ct), ct);
        var written = await StoreAsync(context, last, act, writing, progress, ct);
        if (written.Count == 0 && !writing.Noted)
            return new(result, null, []);
        reader.Knows(written.Select(w => writing.Puts[w.RecordId].Record));
        await RelookAsync(context, reader, await reader.RelookedAsync(written.Select(w => (w.RecordId, w.Kind)), ct), ct);
        var moves = await RecheckAsync(context, reader, written, met, act.At, progress, ct);
        if (!keep)
            return new(result, null, moves);
        await transaction.CommitAsync(ct);
        return new(result, writing.Number, moves);
    }

    /// <summary>
    /// The one writer's transaction. SQLite takes the write lock with it. PostgreSQL is given a lock of its own and reads what is committed when it has it: a snapshot
    /// taken while waiting would be older than what the writer before wrote.
    /// </summary>
    private async Task<Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction> BeginAsync(KeepContext context, CancellationToken ct)
    {
        var transaction = await context.Database.BeginTransactionAsync(databases.IsPostgres ? System.Data.IsolationLevel.ReadCommitted : System.Data.IsolationLevel.Serializable, ct);
        if (databases.IsPostgres)
            await context.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock({PostgresLock})", ct);
        return transaction;
    }

    /// <summary>Writes down something that happened and moved no record: a lockout, a token made or ended.</summary>
    public Task NoteAsync(Act act, CancellationToken ct, Func<KeepContext, Task>? besides = null) => WriteAsync(act, async (writing, _) =>
    {
        if (besides is not null)
            await besides(writing.Context);
        writing.Note();
        return true;
    }, ct);

    /// <summary>
    /// Goes through the whole chain: every digest from the bodies as they are kept. Returns the number of commits, or the first that does not hold.
    /// </summary>
    public async Task<(long Commits, long? Broken)> VerifyAsync(CancellationToken ct)
    {
        await using var context = databases.Open();
        await using var inner = databases.Open();
        // Two readers side by side, in the order of the chain: nothing is kept but the commit at hand.
        await using var versions = inner.Versions.AsNoTracking().OrderBy(v => v.CommitNumber).AsAsyncEnumerable().GetAsyncEnumerator(ct);
        var more = await versions.MoveNextAsync();
        CommitRow? before = null;
        long count = 0;
        await foreach (var commit in context.Commits.AsNoTracking().OrderBy(c => c.Number).AsAsyncEnumerable().WithCancellation(ct))
        {
            var wrote = new List<VersionRow>();
            for (; more && versions.Current.CommitNumber <= commit.Number; more = await versions.MoveNextAsync())
                wrote.Add(versions.Current);
            var again = Chained(before, commit.Number, new(commit.Who, DateTimeOffset.Parse(commit.At, CultureInfo.InvariantCulture), commit.Act, commit.Reason, commit.ChangeId), wrote);
            if (commit.Number != (before?.Number ?? 0) + 1 || commit.Before != again.Before || commit.Digest != again.Digest)
                return (count, commit.Number);
            before = commit;
            count++;
        }

        return (count, null);
    }

    /// <summary>The commit that follows another: its digest (SHA-256) covers the one before, who did what when and why, and every body it wrote.</summary>
    public static CommitRow Chained(CommitRow? last, long number, Act act, IReadOnlyCollection<VersionRow> versions)
    {
        var before = last?.Digest ?? new string('0', 64);
        var at = act.At.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        void Add(string text) => hash.AppendData(Encoding.UTF8.GetBytes(text + "\u001f"));
        Add(before);
        Add(number.ToString(CultureInfo.InvariantCulture));
        Add(at);
        Add(act.Who);
        Add(act.What);
        Add(act.Reason ?? "");
        Add(act.ChangeId ?? "");
        foreach (var v in versions.OrderBy(v => v.RecordId, StringComparer.Ordinal))
        {
            Add($"{v.RecordId} {v.Version} {v.Kind}");
            hash.AppendData(SHA256.HashData(v.Body));
        }

        return new() { Number = number, At = at, Who = act.Who, Act = act.What, Reason = act.Reason, ChangeId = act.ChangeId, Before = before, Digest = Convert.ToHexStringLower(hash.GetHashAndReset()) };
    }

    private static async Task<List<VersionRow>> StoreAsync(KeepContext context, CommitRow? last, Act act, Writing writing, IProgress<Progressed>? progress, CancellationToken ct)
    {
        var ids = writing.Puts.Keys.ToArray();
        var rows = new Dictionary<string, RecordRow>();
        foreach (var some in ids.Chunk(500))
            foreach (var row in await context.Records.Where(r => some.Contains(r.Id)).ToListAsync(ct))
                rows[row.Id] = row;
        var written = new List<VersionRow>();
        var added = new List<RecordRow>();
        foreach (var (record, expected) in writing.Puts.Values.OrderBy(p => p.Record.Kind).ThenBy(p => p.Record.Code, StringComparer.OrdinalIgnoreCase))
        {
            var body = RecordBody.Bytes(record);
            rows.TryGetValue(record.Id, out var row);
            if (expected is { } version && (row?.Version ?? 0) != version)
                throw new ConflictException(record.Id, version, row?.Version ?? 0);
            if (row is not null && row.Body.AsSpan().SequenceEqual(body))
                continue;
            if (row is null)
                added.Add(row = new() { Id = record.Id, Kind = record.Kind, Code = record.Code, CodeKey = "", Name = "", Body = body });
            row.Version++;
            row.CommitNumber = writing.Number;
            row.Body = body;
            row.Code = record.Code;
            row.CodeKey = record.Code.ToUpperInvariant();
            row.OwnerId = record switch
            {
                Customer c => c.Id,
                Site s => s.CustomerId,
                Gateway g => await OwnerOfSiteAsync(context, writing, g.SiteId, ct),
                Offer o => o.CustomerId,
                Person => Scope.People,
                Tunnel t => t.CustomerId,
                Change c => c.AllCustomers.Length > 1 ? Scope.Several : c.CustomerId,
                _ => null,
            };
            (row.Name, row.State) = Shown(record);
            written.Add(new()
            {
                RecordId = record.Id,
                Version = row.Version,
                Kind = record.Kind,
                CommitNumber = writing.Number,
                Body = body,
                CodeKey = row.CodeKey,
                Name = row.Name,
                State = row.State,
                OwnerId = row.OwnerId,
            });
        }

        if (written.Count == 0 && !writing.Noted)
            return written;
        context.Commits.Add(Chained(last, writing.Number, act, written));
        await context.SaveChangesAsync(ct);
        // What is saved is let go of: an import of tens of thousands would otherwise be gone through again with each piece.
        context.ChangeTracker.Clear();
        // Links are foreign keys, so that they are projected when every record of the commit is there.
        await Bulk.InsertAsync(context, added, ct);
        await Bulk.InsertAsync(context, written, ct);
        var projected = 0;
        foreach (var some in written.Chunk(1000))
        {
            // A first version has nothing projected yet.
            foreach (var old in some.Where(w => w.Version > 1).Select(w => w.RecordId).Chunk(500))
            {
                await context.Links.Where(l => old.Contains(l.FromId)).ExecuteDeleteAsync(ct);
                await context.Prefixes.Where(p => old.Contains(p.RecordId)).ExecuteDeleteAsync(ct);
                await context.Held.Where(h => old.Contains(h.TunnelId)).ExecuteDeleteAsync(ct);
                await context.Words.Where(w => old.Contains(w.RecordId) && w.Field != SearchWords.Around).ExecuteDeleteAsync(ct);
            }

            var beside = new Projection();
            foreach (var kept in some)
            {
                var record = writing.Puts[kept.RecordId].Record;
                Project(beside, record, kept.Version);
                beside.Words.AddRange(SearchWords.Of(record));
                if (record is Person person)
                    await ProjectAsync(context, person, ct);
            }

            await context.SaveChangesAsync(ct);
            context.ChangeTracker.Clear();
            await beside.InsertAsync(context, ct);
            progress?.Report(new("records", projected += some.Length, written.Count));
        }

        if (written.Count >= 1000)
            await Databases.LearnAsync(context, ct);
        return written;
    }

    /// <summary>Name and state as a list shows them.</summary>
    internal static (string Name, string? State) Shown(IRecord record) => (record switch
    {
        Customer c => c.Name,
        Site s => s.Name,
        Offer o => o.Name,
        Person p => p.Name,
        Tunnel t => t.Name,
        Change c => c.Title,
        Suite s => s.About ?? s.Name,
        Platform p => p.Title,
        _ => record.Code,
    }, record switch
    {
        Tunnel t => WordsOf.States.Of(t.State),
        Change c => Change.States.Of(c.State),
        _ => record.Retired is null ? null : "retired",
    });

    /// <summary>What signing in needs; who has left loses every session and token in the same stroke.</summary>
    private static async Task ProjectAsync(KeepContext context, Person person, CancellationToken ct)
    {
        var row = await context.People.FirstOrDefaultAsync(p => p.Name == person.Code, ct);
        if (row is null)
            context.People.Add(row = new() { Name = person.Code, RecordId = person.Id, Display = "", Grants = "" });
        row.Display = person.Name;
        row.Grants = string.Join(';', person.Grants.Select(g => g.Write(IdNames.Instance)));
        row.Disabled = person.Left is not null;
        if (!row.Disabled)
            return;
        await context.Sessions.Where(s => s.Person == person.Code).ExecuteDeleteAsync(ct);
        await context.Tokens.Where(t => t.Person == person.Code).ExecuteDeleteAsync(ct);
    }

    private static async Task<string?> OwnerOfSiteAsync(KeepContext context, Writing writing, string siteId, CancellationToken ct) =>
        writing.Puts.TryGetValue(siteId, out var put) ? ((Site)put.Record).CustomerId
        : await context.Records.AsNoTracking().Where(r => r.Id == siteId).Select(r => r.OwnerId).FirstOrDefaultAsync(ct);

    /// <summary>What is kept beside the records, so that lists and searches are answered without reading them.</summary>
    private sealed class Projection
    {
        public List<LinkRow> Links { get; } = [];

        public List<VersionLinkRow> VersionLinks { get; } = [];

        public List<PrefixRow> Prefixes { get; } = [];

        public List<HeldRow> Held { get; } = [];

        public List<WordRow> Words { get; } = [];

        public async Task InsertAsync(KeepContext context, CancellationToken ct)
        {
            await Bulk.InsertAsync(context, Links, ct);
            await Bulk.InsertAsync(context, VersionLinks, ct);
            await Bulk.InsertAsync(context, Prefixes, ct);
            await Bulk.InsertAsync(context, Held, ct);
            await Bulk.InsertAsync(context, Words, ct);
        }
    }

    private static void Project(Projection rows, IRecord record, int version)
    {
        var linked = new HashSet<string>();
        void Link(string to, string role)
        {
            rows.Links.Add(new() { FromId = record.Id, ToId = to, Role = role });
            if (linked.Add(to))
                rows.VersionLinks.Add(new() { ToId = to, RecordId = record.Id, Version = version });
        }

        void Lies(Prefix p, string role, string? gateway) =>
            rows.Prefixes.Add(new() { RecordId = record.Id, GatewayId = gateway, Role = role, Family = (int)p.Family, Low = AddressText.Of(p.First), High = AddressText.Of(p.Last) });
        switch (record)
        {
            case Site site:
                Link(site.CustomerId, "customer");
                foreach (var n in site.Networks)
                {
                    Lies(n.Prefix, "network", null);
                    if (n.PresentedAs is { } shown)
                        Lies(shown, "presented", null);
                }

                break;
            case Gateway gateway:
                Link(gateway.SiteId, "site");
                Link(gateway.PlatformId, "platform");
                foreach (var outer in gateway.Uplinks.Select(u => u.Outer).OfType<Address>().Distinct())
                    Lies(Prefix.Around(outer, outer.Width), "outer", null);
                break;
            case Offer offer:
                Link(offer.CustomerId, "party");
                break;
            case Change change:
                foreach (var about in change.Wish.Tunnels.Distinct())
                    Link(about, "tunnel");
                foreach (var on in change.Wish.Gateways.Distinct())
                    Link(on, "gateway");
                break;
            case Tunnel tunnel:
                Link(tunnel.CustomerId, "customer");
                if (tunnel.Agreed.SuiteId is { } suite)
                    Link(suite, "suite");
                foreach (var name in Enum.GetValues<EndName>())
                {
                    var end = tunnel.End(name);
                    Link(end.GatewayId, name.Key());
                    foreach (var remote in tunnel.Agreed.Pairs.Select(p => p.On(name.Other())).Distinct())
                        Lies(remote, "remote", end.GatewayId);
                    foreach (var part in new[] { end.Subnets?.OwnFrom, end.Subnets?.PeerFrom, end.ProposalsFrom }.OfType<string>().Distinct())
                        rows.Held.Add(new() { TunnelId = tunnel.Id, GatewayId = end.GatewayId, Part = part });
                }

                break;
        }
    }

    /// <summary>Projects the look-up keys of tunnels anew: what each of their gateways finds them by.</summary>
    private static async Task RelookAsync(KeepContext context, RecordReader reader, IReadOnlyCollection<string> tunnels, CancellationToken ct)
    {
        foreach (var some in tunnels.Chunk(500))
        {
            await context.Lookups.Where(l => some.Contains(l.TunnelId)).ExecuteDeleteAsync(ct);
            var read = (await reader.LoadAsync(some, ct)).Cast<Tunnel>().ToArray();
            var gateways = (await reader.LoadAsync([.. read.SelectMany(t => new[] { t.A.GatewayId, t.B.GatewayId }).Distinct()], ct)).Cast<Gateway>().ToDictionary(g => g.Id);
            await Bulk.InsertAsync(context, read.SelectMany(t => Keys(t, gateways)), ct);
        }
    }

    private static IEnumerable<LookupRow> Keys(Tunnel tunnel, Dictionary<string, Gateway> gateways)
    {
        var keys = new HashSet<(string Gateway, string Key, bool Held)>();
        foreach (var name in Enum.GetValues<EndName>())
        {
            var (end, other) = (tunnel.End(name), tunnel.End(name.Other()));
            var uplinks = gateways[other.GatewayId].Uplinks.Where(u => other.Uplinks.IsEmpty || other.Uplinks.Contains(u.Label)).ToArray();
            foreach (var seen in uplinks.Select(u => u.Outer).OfType<Address>())
                keys.Add((end.GatewayId, $"a:{AddressText.Of(seen)}", false));
            var entered = end.PeerAddress?.Value;
            var entry = entered is null ? uplinks.FirstOrDefault()?.Outer is { } derived ? $"a:{AddressText.Of(derived)}" : null
                : entered.IsAny ? "any" : entered.Address is { } at ? $"a:{AddressText.Of(at)}" : $"n:{entered.Name}";
            if (entry is not null)
                keys.Add((end.GatewayId, entry, true));
            if (end.TunnelAddress?.Value is { } inner)
                keys.Add((end.GatewayId, $"t:{end.Inside}:{AddressText.Of(inner.Address)}", true));
            if (tunnel.Fallback is { } place)
                keys.Add((end.GatewayId, $"o:{place.Order}", true));
        }

        return keys.Select(k => new LookupRow { TunnelId = tunnel.Id, GatewayId = k.Gateway, Key = k.Key, Held = k.Held });
    }

    /// <summary>Checks again the tunnels whose findings may have moved with the calendar alone. Nothing of a record is written.</summary>
    public async Task<int> RecheckDueAsync(DateTimeOffset now, CancellationToken ct)
    {
        await using var context = databases.Open();
        await using var transaction = await BeginAsync(context, ct);
        var day = Scalars.Write(DateOnly.FromDateTime(now.UtcDateTime));
        var due = await context.Tunnels.Where(t => t.CheckAgainOn != null && string.Compare(t.CheckAgainOn, day) <= 0).Select(t => t.Id).ToListAsync(ct);
        var reader = new RecordReader(context);
        foreach (var some in due.Chunk(500))
            await RecheckAsync(context, await reader.AroundAsync(some, wholeGateways: false, ct), some, now, [], ct);
        await transaction.CommitAsync(ct);
        return due.Count;
    }

    /// <summary>Checks again what the written records touch: the tunnels that refer to them, and those whose prefixes meet theirs on a shared gateway.</summary>
    private static async Task<IReadOnlyList<FindingMove>> RecheckAsync(KeepContext context, RecordReader reader, List<VersionRow> written, IEnumerable<string> met, DateTimeOffset at, IProgress<Progressed>? progress, CancellationToken ct)
    {
        static bool Touches(VersionRow w) => w.Kind is not (RecordKind.Change or RecordKind.Person or RecordKind.Offer);
        if (!written.Any(Touches))
            return [];
        var moves = new List<FindingMove>();
        var touched = met.Union(await reader.TouchedAsync([.. written.Where(Touches).Select(w => (w.RecordId, w.Kind, New: w.Version == 1))], ct)).ToArray();
        var again = 0;
        foreach (var some in touched.Chunk(500))
        {
            var inventory = await reader.AroundAsync(some, wholeGateways: false, ct);
            await RecheckAsync(context, inventory, some, at, moves, ct);
            progress?.Report(new("tunnels checked", again += some.Length, touched.Length));
        }

        return moves;
    }

    private static async Task RecheckAsync(KeepContext context, Inventory inventory, IReadOnlyCollection<string> tunnels, DateTimeOffset at, List<FindingMove> moves, CancellationToken ct)
    {
        var known = (await context.Findings.AsNoTracking().Where(f => tunnels.Contains(f.TunnelId)).ToListAsync(ct)).ToDictionary(f => (f.TunnelId, f.Code, f.Subject));
        var shown = (await context.Tunnels.Where(t => tunnels.Contains(t.Id)).ToListAsync(ct)).ToDictionary(t => t.Id);
        await context.Findings.Where(f => tunnels.Contains(f.TunnelId)).ExecuteDeleteAsync(ct);
        await context.Words.Where(w => tunnels.Contains(w.RecordId) && w.Field == SearchWords.Around).ExecuteDeleteAsync(ct);
        var day = DateOnly.FromDateTime(at.UtcDateTime);
        var (listedNew, findingRows, words) = (new List<TunnelRow>(), new List<FindingRow>(), new List<WordRow>());
        foreach (var id in tunnels)
        {
            var view = new TunnelView(inventory, inventory.Get<Tunnel>(id), day);
            var about = new Checked(view);
            var findings = Checks.Run(about);
            foreach (var f in findings.Where(f => !known.ContainsKey((id, f.Code, f.Subject))))
                moves.Add(new(true, id, f));
            foreach (var (key, row) in known.Where(k => k.Key.TunnelId == id && !findings.Any(f => f.Code == k.Key.Code && f.Subject == k.Key.Subject)))
                moves.Add(new(false, id, JsonSerializer.Deserialize<Finding>(row.Body, RecordBody.Json)!));
            foreach (var f in findings.DistinctBy(f => (f.Code, f.Subject)))
                findingRows.Add(new()
                {
                    TunnelId = id,
                    Code = f.Code,
                    Subject = f.Subject,
                    Severity = (int)f.Severity,
                    Digest = f.Digest,
                    FirstSeen = known.TryGetValue((id, f.Code, f.Subject), out var seen) && seen.Digest == f.Digest ? seen.FirstSeen : at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture),
                    Body = JsonSerializer.SerializeToUtf8Bytes(f, RecordBody.Json),
                    CodeKey = view.Tunnel.Code.ToUpperInvariant(),
                    OwnerId = view.Tunnel.CustomerId,
                });
            if (!shown.TryGetValue(id, out var listed))
                listedNew.Add(listed = new() { Id = id, Verdict = [], EndA = "", EndB = "" });
            // What was accepted counts no longer, unless it blocks.
            listed.Worst = findings.Where(f => f.Accepted is null || f.Severity == Severity.Blocks).Select(f => (int)f.Severity).DefaultIfEmpty(4).Min();
            listed.CheckAgainOn = NextDay(view, day) is { } next ? Scalars.Write(next) : null;
            listed.Verdict = JsonSerializer.SerializeToUtf8Bytes(Verdict.Of(about, findings), RecordBody.Json);
            listed.EndA = view.A.Site.Name;
            listed.EndB = view.B.Site.Name;
            words.AddRange(SearchWords.AroundOf(view));
        }

        await context.SaveChangesAsync(ct);
        context.ChangeTracker.Clear();
        await Bulk.InsertAsync(context, listedNew, ct);
        await Bulk.InsertAsync(context, findingRows, ct);
        await Bulk.InsertAsync(context, words, ct);
    }

    /// <summary>The next day on which a date in these records is passed.</summary>
    private static DateOnly? NextDay(TunnelView view, DateOnly today) =>
        view.Ends.SelectMany(e => new[] { e.Platform.SupportEnds, e.Platform.SupportEnds?.AddDays(-183), e.End.Certificate?.From, e.End.Certificate?.Until?.AddDays(1), e.End.Certificate?.Until?.AddDays(-30), e.PeerAddress.ForNow?.Deadline.AddDays(1) }
            .Concat(Settings.All.Select(s => s.Until(e)?.AddDays(1)))).Concat(view.Tunnel.Accepted.Select(a => (DateOnly?)a.Until.AddDays(1))).Where(d => d > today).Min();
}

/// <summary>Addresses as text that orders as they do.</summary>
public static class AddressText
{
    public static string Of(Address address) => address.Bits.ToString("x32", CultureInfo.InvariantCulture);

    /// <summary>The prefix from its first and last address.</summary>
    public static Prefix Between(Family family, string low, string high)
    {
        var (from, to) = (UInt128.Parse(low, NumberStyles.HexNumber, CultureInfo.InvariantCulture), UInt128.Parse(high, NumberStyles.HexNumber, CultureInfo.InvariantCulture));
        var first = Address.Of(family, from);
        var bits = 0;
        for (var span = from ^ to; span != UInt128.Zero; span >>= 1)
            bits++;
        return Prefix.Around(first, first.Width - bits);
    }
}

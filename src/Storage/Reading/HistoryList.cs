namespace Vellumkeep.Storage.Reading;

/// <summary>One commit that touched a record, with the version before and after it.</summary>
public sealed record StoredVersion(CommitRow Commit, int Version, RecordKind Kind, byte[]? Before, byte[] After);

/// <summary>What the history is narrowed to; days are UTC and both included.</summary>
public sealed record CommitFilter(string? Who, string? OwnerId, RecordKind? Kind, DateOnly? From, DateOnly? To);

/// <summary>
/// A commit with the versions in it that may be seen: the first of them, and how many it wrote. Whole: there are no
/// others, so that its reason tells nothing of somebody else.
/// </summary>
public sealed record StoredCommit(CommitRow Commit, IReadOnlyList<CommitRecord> Records, int Wrote, bool Whole);

/// <summary>A version that a commit wrote.</summary>
public sealed record CommitRecord(RecordKind Kind, string Code, string RecordId, int Version);

/// <summary>Commits and versions.</summary>
public sealed class HistoryList(KeepContext context)
{
    /// <summary>
    /// The versions of a record that belonged to somebody whom the asker may see, newest first, each with the one
    /// before it where that did too.
    /// </summary>
    public async Task<IReadOnlyList<StoredVersion>> HistoryAsync(Scope scope, string recordId, CancellationToken ct)
    {
        var rows = await (
            from v in context.Versions.AsNoTracking()
            join c in context.Commits on v.CommitNumber equals c.Number
            where v.RecordId == recordId
            orderby v.Version
            select new { v, c }
        ).ToListAsync(ct);
        var visible = rows.Where(r => scope.Sees(r.v.OwnerId)).ToArray();
        return
        [
            .. visible
                .Select(
                    (r, i) =>
                        new StoredVersion(r.c, r.v.Version, r.v.Kind, i == 0 ? null : visible[i - 1].v.Body, r.v.Body)
                )
                .Reverse(),
        ];
    }

    /// <summary>Those of the commits that also wrote records which the asker may not see.</summary>
    public async Task<IReadOnlySet<long>> MixedAsync(Scope scope, long[] commits, CancellationToken ct)
    {
        if (scope.All)
            return new HashSet<long>();
        var found = new HashSet<long>();
        foreach (var some in commits.Chunk(500))
        {
            var mine = scope.Over(context, context.Versions.AsNoTracking()).Select(v => new { v.RecordId, v.Version });
            found.UnionWith(
                await context
                    .Versions.Where(v =>
                        some.Contains(v.CommitNumber)
                        && !mine.Any(m => m.RecordId == v.RecordId && m.Version == v.Version)
                    )
                    .Select(v => v.CommitNumber)
                    .Distinct()
                    .ToListAsync(ct)
            );
        }

        return found;
    }

    public async Task<byte[]?> BodyAsync(string recordId, int version, CancellationToken ct) =>
        await context
            .Versions.AsNoTracking()
            .Where(v => v.RecordId == recordId && v.Version == version)
            .Select(v => v.Body)
            .FirstOrDefaultAsync(ct);

    /// <summary>
    /// Commits, newest first, with the versions in them that the asker may see; those that show nothing are left out.
    /// </summary>
    public async Task<(IReadOnlyList<StoredCommit> Items, long? Cursor)> CommitsAsync(
        Scope scope,
        CommitFilter filter,
        long? before,
        int most,
        CancellationToken ct
    )
    {
        var commits = context.Commits.AsNoTracking().AsQueryable();
        if (before is { } cursor)
            commits = commits.Where(c => c.Number < cursor);
        if (filter.Who is { } who)
            commits = commits.Where(c => c.Who == who);
        if (filter.From is { } from && Day(from) is var fromText)
            commits = commits.Where(c => string.Compare(c.At, fromText) >= 0);
        if (filter.To is { } to && Day(to.AddDays(1)) is var toText)
            commits = commits.Where(c => string.Compare(c.At, toText) < 0);
        var versions = scope.Over(context, context.Versions.AsNoTracking());
        if (filter.OwnerId is { } owner)
            versions = versions.Where(v => v.OwnerId == owner);
        if (filter.Kind is { } kind)
            versions = versions.Where(v => v.Kind == kind);
        // What somebody who sees some customers only is shown is a commit that touched one of theirs, not one of the
        // house's.
        if (!scope.All)
            versions = versions.Where(v => v.OwnerId != null);
        var narrowed = !scope.All || filter.OwnerId is not null || filter.Kind is not null;
        if (narrowed)
        {
            var wanted = await NumbersAsync(commits, versions, filter, before, most, ct);
            commits = context.Commits.AsNoTracking().Where(c => wanted.Contains(c.Number));
        }

        // Between two days, by the time: the numbers would be gone through from the newest down to that day.
        var ordered =
            filter.From is null && filter.To is null
                ? commits.OrderByDescending(c => c.Number)
                : commits.OrderByDescending(c => c.At).ThenByDescending(c => c.Number);
        var page = await ordered.Take(most + 1).ToListAsync(ct);
        var numbers = page.Take(most).Select(c => c.Number).ToArray();
        var (sizes, inside) = await WroteAsync(versions, numbers, filter.OwnerId is not null, ct);
        var codes = await CodesAsync(inside.SelectMany(g => g).Select(v => v.RecordId).Distinct(), ct);
        var (all, visible) = scope.All
            ? ([], [])
            : (
                await SizesAsync(context.Versions, numbers, ct),
                await SizesAsync(scope.Over(context, context.Versions.AsNoTracking()), numbers, ct)
            );
        return (
            [
                .. page.Take(most)
                    .Select(c => new StoredCommit(
                        c,
                        [
                            .. inside[c.Number]
                                .OrderBy(v => v.Kind)
                                .ThenBy(v => v.CodeKey)
                                .Select(v => new CommitRecord(v.Kind, codes[v.RecordId], v.RecordId, v.Version)),
                        ],
                        sizes.GetValueOrDefault(c.Number),
                        all.GetValueOrDefault(c.Number) == visible.GetValueOrDefault(c.Number)
                    )),
            ],
            page.Count > most ? page[most - 1].Number : null
        );
    }

    /// <summary>
    /// The numbers of the commits that wrote any of some versions, newest first: at least one more than asked for.
    /// </summary>
    private static async Task<List<long>> NumbersAsync(
        IQueryable<CommitRow> commits,
        IQueryable<VersionRow> versions,
        CommitFilter filter,
        long? before,
        int most,
        CancellationToken ct
    )
    {
        var numbered = versions.Select(v => v.CommitNumber);
        if (before is { } below)
            numbered = numbered.Where(n => n < below);
        if (filter.Who is not null || filter.From is not null || filter.To is not null)
            numbered = from n in numbered join c in commits on n equals c.Number select n;
        // In the order of the index, some at a time: a commit that wrote thousands is passed over once it was seen.
        var wanted = new List<long>();
        for (var under = long.MaxValue; wanted.Count <= most; )
        {
            var some = await numbered.Where(n => n < under).OrderByDescending(n => n).Take(500).ToListAsync(ct);
            wanted.AddRange(some.Distinct());
            if (some.Count < 500)
                break;
            under = some[^1];
        }

        return wanted;
    }

    private async Task<Dictionary<string, string>> CodesAsync(IEnumerable<string> ids, CancellationToken ct)
    {
        var codes = new Dictionary<string, string>();
        foreach (var some in ids.Chunk(500))
        foreach (
            var r in await context
                .Records.AsNoTracking()
                .Where(r => some.Contains(r.Id))
                .Select(r => new { r.Id, r.Code })
                .ToListAsync(ct)
        )
            codes[r.Id] = r.Code;
        return codes;
    }

    /// <summary>
    /// How many versions each commit wrote, and the first of them. Together: they are of one customer, whose versions
    /// lie side by side and are few.
    /// </summary>
    private static async Task<(Dictionary<long, int> Sizes, ILookup<long, VersionRow> First)> WroteAsync(
        IQueryable<VersionRow> versions,
        long[] numbers,
        bool together,
        CancellationToken ct
    )
    {
        static IQueryable<VersionRow> Named(IQueryable<VersionRow> rows) =>
            rows.Select(v => new VersionRow
            {
                RecordId = v.RecordId,
                Version = v.Version,
                Kind = v.Kind,
                CommitNumber = v.CommitNumber,
                CodeKey = v.CodeKey,
                Body = Array.Empty<byte>(),
            });
        if (together && numbers.Length > 0)
        {
            var (lowest, highest) = (numbers.Min(), numbers.Max());
            var own = (
                await Named(versions.Where(v => v.CommitNumber >= lowest && v.CommitNumber <= highest)).ToListAsync(ct)
            ).ToLookup(v => v.CommitNumber);
            return (
                own.ToDictionary(g => g.Key, g => g.Count()),
                own.SelectMany(g => g.Take(MostNamed)).ToLookup(v => v.CommitNumber)
            );
        }

        // An import may have written thousands: only the first of them are read.
        var sizes = await SizesAsync(versions, numbers, ct);
        var small = sizes.Where(z => z.Value <= MostNamed).Select(z => z.Key).ToArray();
        var first = await Named(versions.Where(v => small.Contains(v.CommitNumber))).ToListAsync(ct);
        foreach (var large in sizes.Where(z => z.Value > MostNamed))
            first.AddRange(
                await Named(versions.Where(v => v.CommitNumber == large.Key)).Take(MostNamed).ToListAsync(ct)
            );
        return (sizes, first.ToLookup(v => v.CommitNumber));
    }

    private static Task<Dictionary<long, int>> SizesAsync(
        IQueryable<VersionRow> versions,
        long[] numbers,
        CancellationToken ct
    ) =>
        versions
            .Where(v => numbers.Contains(v.CommitNumber))
            .GroupBy(v => v.CommitNumber)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, ct);

    /// <summary>So many records of a commit are named in a list.</summary>
    private const int MostNamed = 50;

    /// <summary>
    /// The versions that the commits after one up to another wrote, by commit, as far as the asker may see them.
    /// </summary>
    public async Task<ILookup<long, CommitRecord>> WrittenAsync(
        Scope scope,
        long after,
        long upTo,
        CancellationToken ct
    )
    {
        var versions = scope
            .Over(context, context.Versions.AsNoTracking())
            .Where(v => v.CommitNumber > after && v.CommitNumber <= upTo);
        return (
            await (
                from v in versions
                join r in context.Records on v.RecordId equals r.Id
                orderby v.CommitNumber, v.Kind, r.CodeKey
                select new
                {
                    v.CommitNumber,
                    v.Kind,
                    r.Code,
                    v.RecordId,
                    v.Version,
                }
            )
                .Take(5000)
                .ToListAsync(ct)
        ).ToLookup(v => v.CommitNumber, v => new CommitRecord(v.Kind, v.Code, v.RecordId, v.Version));
    }

    private static string Day(DateOnly day) =>
        new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero).ToString(
            "O",
            CultureInfo.InvariantCulture
        );
}

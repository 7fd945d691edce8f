using System.Text.Json;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Storage.Reading;

/// <summary>What a list of tunnels is narrowed to; null is all.</summary>
public sealed record TunnelFilter(
    string? CustomerCode,
    string? State,
    string? FindingCode,
    string? Severity,
    string? Text
);

/// <summary>A tunnel as a list shows it.</summary>
public sealed record TunnelListed(
    string Id,
    string Code,
    string Name,
    string CustomerId,
    string State,
    string EndA,
    string EndB,
    int Worst,
    ImmutableArray<VerdictPart> Verdict
);

/// <summary>A finding as it is kept, with the tunnel it is on.</summary>
public sealed record FindingKept(string TunnelId, string TunnelCode, Finding Finding, DateTimeOffset FirstSeen);

/// <summary>One commit that touched a record, with the version before and after it.</summary>
public sealed record HistoryKept(CommitRow Commit, int Version, RecordKind Kind, byte[]? Before, byte[] After);

/// <summary>What a search found: by which field, and the word or prefix that fitted.</summary>
public sealed record SearchFound(
    RecordKind Kind,
    string Code,
    string Name,
    string Owner,
    string? State,
    string Field,
    string Fits
);

/// <summary>What the history is narrowed to; days are UTC and both included.</summary>
public sealed record CommitFilter(string? Who, string? OwnerId, RecordKind? Kind, DateOnly? From, DateOnly? To);

/// <summary>
/// A commit with the versions in it that may be seen: the first of them, and how many it wrote. Whole: there are no
/// others, so that its reason tells nothing of somebody else.
/// </summary>
public sealed record CommitKept(CommitRow Commit, IReadOnlyList<CommitRecord> Records, int Wrote, bool Whole);

/// <summary>A version that a commit wrote.</summary>
public sealed record CommitRecord(RecordKind Kind, string Code, string RecordId, int Version);

/// <summary>A gateway as a list shows it.</summary>
public sealed record GatewayListed(
    string Code,
    string Site,
    string Owner,
    string Platform,
    string Outer,
    int Tunnels,
    int Blocked
);

/// <summary>
/// Lists over projections: nothing here reads a record's body to decide what to leave out. Ids of which there may be
/// any number are given as one parameter, because a statement takes only so many.
/// </summary>
public sealed class Lists(KeepContext context)
{
    /// <summary>
    /// Up to so many records are looked up by their ids; beyond that, records are gone through in the order of the list
    /// and asked one by one. There, adding nothing to a column keeps a plan from using the index on it, which would go
    /// through all its entries for each record.
    /// </summary>
    private const int Few = 1500;

    public async Task<(IReadOnlyList<TunnelListed> Items, string? Cursor)> TunnelsAsync(
        Scope scope,
        TunnelFilter filter,
        string? after,
        int most,
        CancellationToken ct
    )
    {
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));
        var looked = false;
        IQueryable<RecordRow> Those(IQueryable<RecordRow> among, string[] few)
        {
            looked = true;
            return among.Where(r => few.Contains(r.Id));
        }

        async Task<IQueryable<RecordRow>> WithFindingAsync(string check) =>
            await FewAsync(context.Findings.Where(f => f.Code == check).Select(f => f.TunnelId), ct, Few / 3) is { } few
                ? Those(rows, few)
                : rows.Where(r => context.Findings.Any(f => f.TunnelId == r.Id && f.Code == check));

        if (filter.CustomerCode is { } code)
        {
            var owner = await OwnerIdAsync(code, ct);
            rows = rows.Where(r => r.OwnerId == owner);
        }

        if (filter.State is { } state)
            rows = rows.Where(r => r.State == state);
        if (filter.FindingCode is { } finding)
            rows = await WithFindingAsync(finding.ToUpperInvariant());
        if (filter.Severity is { } word && Severities.Words.Parse(word) is { Ok: true } severity)
            rows = rows.Where(r =>
                context.Findings.Any(f => f.TunnelId == r.Id && f.Severity + 0 == (int)severity.Value)
            );
        foreach (var text in (filter.Text ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(8))
        {
            if (Prefix.Parse(text) is { Ok: true } prefix)
            {
                // An address finds what contains it; a prefix finds what overlaps it; both also find themselves in
                // outer addresses.
                var (low, high, family, typed) = (
                    AddressText.Of(prefix.Value.First),
                    AddressText.Of(prefix.Value.Last),
                    (int)prefix.Value.Family,
                    prefix.Value.Network.ToString()
                );
                var ids = Containing(prefix.Value)
                    .Concat(Inside(prefix.Value))
                    .Select(p => p.RecordId)
                    .Concat(context.Words.Where(w => w.Word == typed).Select(w => w.RecordId));
                // A tunnel has several prefixes, so that many of them may still be few tunnels.
                rows = await FewAsync(ids, ct, prefix.Value.Length < 12 ? Few : 8 * Few) is { } few
                    ? Those(rows, few)
                    : rows.Where(r =>
                        context.Prefixes.Any(p =>
                            p.RecordId == r.Id
                            && p.Family == family
                            && string.Compare(p.Low + "", high) <= 0
                            && string.Compare(p.High, low) >= 0
                        )
                    );
            }
            else if (
                Checks.All.FirstOrDefault(c => c.Code.Equals(text, StringComparison.OrdinalIgnoreCase))?.Code is
                { } check
            )
            {
                rows = await WithFindingAsync(check);
            }
            else
            {
                var (from, to) = Range(text);
                rows = await FewAsync(Found(text).Select(w => w.RecordId), ct) is { } few
                    ? Those(rows, few)
                    : rows.Where(r =>
                        context.Words.Any(w =>
                            w.RecordId == r.Id
                            && string.Compare(w.Word + "", from) >= 0
                            && string.Compare(w.Word + "", to) < 0
                        )
                    );
            }
        }

        if (after is not null)
            rows = rows.Where(r => string.Compare(r.CodeKey, after) > 0);
        if (looked)
        {
            // Few: found by their ids and put in order here, so that no plan goes through the whole list in its order
            // to find them.
            var keys = await rows.Select(r => new { r.Id, r.CodeKey }).ToListAsync(ct);
            string[] page = [.. keys.OrderBy(k => k.CodeKey, StringComparer.Ordinal).Take(most + 1).Select(k => k.Id)];
            rows = context.Records.AsNoTracking().Where(r => EF.Parameter(page).Contains(r.Id));
        }

        var found = await (
            from r in rows
            join t in context.Tunnels on r.Id equals t.Id
            orderby r.CodeKey
            select new
            {
                r.Id,
                r.Code,
                r.CodeKey,
                r.Name,
                r.OwnerId,
                r.State,
                t.EndA,
                t.EndB,
                t.Worst,
                t.Verdict,
            }
        )
            .Take(most + 1)
            .ToListAsync(ct);
        return (
            [
                .. found
                    .Take(most)
                    .Select(f => new TunnelListed(
                        f.Id,
                        f.Code,
                        f.Name,
                        f.OwnerId!,
                        f.State!,
                        f.EndA,
                        f.EndB,
                        f.Worst,
                        JsonSerializer.Deserialize<ImmutableArray<VerdictPart>>(f.Verdict, RecordBody.Json)
                    )),
            ],
            found.Count > most ? found[most - 1].CodeKey : null
        );
    }

    /// <summary>The ids when they are few; null when they are many.</summary>
    private static async Task<string[]?> FewAsync(IQueryable<string> ids, CancellationToken ct, int few = Few)
    {
        var some = await ids.Take(few + 1).ToListAsync(ct);
        return some.Count > few ? null : [.. some.Distinct()];
    }

    /// <summary>The id of a customer by code; an id that nothing has when there is none.</summary>
    private async Task<string> OwnerIdAsync(string code, CancellationToken ct)
    {
        var key = code.ToUpperInvariant();
        return await context
            .Records.Where(c => c.Kind == RecordKind.Customer && c.CodeKey == key)
            .Select(c => c.Id)
            .FirstOrDefaultAsync(ct)
            ?? "none";
    }

    /// <summary>
    /// Prefixes in use that contain one, itself among them. Prefixes contain one another or are apart, so that what
    /// contains one begins at one of the 33 (IPv6: 129) addresses at which a prefix around it can begin.
    /// </summary>
    private IQueryable<PrefixRow> Containing(Prefix prefix)
    {
        var (high, family) = (AddressText.Of(prefix.Last), (int)prefix.Family);
        string[] begins =
        [
            .. Enumerable
                .Range(0, prefix.Length + 1)
                .Select(l => AddressText.Of(Prefix.Around(prefix.First, l).First))
                .Distinct(),
        ];
        return context
            .Prefixes.AsNoTracking()
            .Where(p => p.Family == family && begins.Contains(p.Low) && string.Compare(p.High, high) >= 0);
    }

    /// <summary>Prefixes in use that lie in one and are smaller than it.</summary>
    private IQueryable<PrefixRow> Inside(Prefix prefix)
    {
        var (low, high, family) = (AddressText.Of(prefix.First), AddressText.Of(prefix.Last), (int)prefix.Family);
        return context
            .Prefixes.AsNoTracking()
            .Where(p =>
                p.Family == family
                && string.Compare(p.Low, low) >= 0
                && string.Compare(p.Low, high) <= 0
                && string.Compare(p.High, high) <= 0
                && !(p.Low == low && p.High == high)
            );
    }

    /// <summary>Findings, worst first, then by tunnel. Skip: how many come before.</summary>
    public async Task<IReadOnlyList<FindingKept>> FindingsAsync(
        Scope scope,
        string? tunnelId,
        string? customerCode,
        string? code,
        string? severity,
        int most,
        CancellationToken ct,
        string? gatewayId = null,
        int skip = 0
    )
    {
        var rows = scope.Over(context.Findings.AsNoTracking());
        if (tunnelId is not null)
            rows = rows.Where(f => f.TunnelId == tunnelId);
        if (gatewayId is not null)
        {
            var on = context
                .Links.Where(l => l.ToId == gatewayId && (l.Role == "a" || l.Role == "b"))
                .Select(l => l.FromId);
            rows = rows.Where(f => on.Contains(f.TunnelId));
        }

        if (customerCode is not null)
        {
            var owner = await OwnerIdAsync(customerCode, ct);
            rows = rows.Where(f => f.OwnerId == owner);
        }

        if (code?.ToUpperInvariant() is { } wanted)
            rows = rows.Where(f => f.Code == wanted);
        if (severity is not null && Severities.Words.Parse(severity) is { Ok: true } s)
            rows = rows.Where(f => f.Severity == (int)s.Value);
        var found = await rows.OrderBy(f => f.Severity)
            .ThenBy(f => f.CodeKey)
            .ThenBy(f => f.Code)
            .ThenBy(f => f.Subject)
            .Skip(skip)
            .Take(most)
            .ToListAsync(ct);
        var ids = found.Select(f => f.TunnelId).Distinct().ToArray();
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
        return
        [
            .. found.Select(f => new FindingKept(
                f.TunnelId,
                codes[f.TunnelId],
                JsonSerializer.Deserialize<Finding>(f.Body, RecordBody.Json)!,
                DateTimeOffset.Parse(f.FirstSeen, CultureInfo.InvariantCulture)
            )),
        ];
    }

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

    /// <summary>
    /// The versions of a record that belonged to somebody whom the asker may see, newest first, each with the one
    /// before it where that did too.
    /// </summary>
    public async Task<IReadOnlyList<HistoryKept>> HistoryAsync(Scope scope, string recordId, CancellationToken ct)
    {
        var rows = await (
            from v in context.Versions.AsNoTracking()
            join c in context.Commits on v.CommitNumber equals c.Number
            where v.RecordId == recordId
            orderby v.Version
            select new { v, c }
        ).ToListAsync(ct);
        var seen = rows.Where(r => scope.Sees(r.v.OwnerId)).ToArray();
        return
        [
            .. seen.Select(
                    (r, i) => new HistoryKept(r.c, r.v.Version, r.v.Kind, i == 0 ? null : seen[i - 1].v.Body, r.v.Body)
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

    /// <summary>Customers by code, with how many tunnels each has and how many of those are blocked.</summary>
    public async Task<
        IReadOnlyList<(string Code, string Name, OwnerKind Owner, int Tunnels, int Blocked)>
    > CustomersAsync(Scope scope, string? after, int most, CancellationToken ct)
    {
        var rows = await Page(
                scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Customer)),
                after,
                most
            )
            .ToListAsync(ct);
        var ids = rows.Select(r => r.Id).ToArray();
        var counts = await (
            from r in context.Records
            where r.Kind == RecordKind.Tunnel && EF.Parameter(ids).Contains(r.OwnerId!)
            join t in context.Tunnels on r.Id equals t.Id
            group t by r.OwnerId into g
            select new
            {
                g.Key,
                All = g.Count(),
                Blocked = g.Count(t => t.Worst == 0),
            }
        ).ToDictionaryAsync(g => g.Key!, ct);
        return
        [
            .. rows.Select(r =>
                (
                    r.Code,
                    r.Name,
                    ((Customer)RecordBody.Read(r.Kind, r.Id, r.Body)).Owner,
                    counts.GetValueOrDefault(r.Id)?.All ?? 0,
                    counts.GetValueOrDefault(r.Id)?.Blocked ?? 0
                )
            ),
        ];
    }

    private static IQueryable<RecordRow> Page(IQueryable<RecordRow> rows, string? after, int most) =>
        (after is null ? rows : rows.Where(r => string.Compare(r.CodeKey, after) > 0))
            .OrderBy(r => r.CodeKey)
            .Take(most);

    /// <summary>How many tunnels there are, how many of them are blocked, and how many risks they bear.</summary>
    public async Task<(int Tunnels, int Blocked, int Risks)> CountsAsync(Scope scope, CancellationToken ct)
    {
        var tunnels = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));
        var blocked = context.Tunnels.Where(t => t.Worst == 0);
        return (
            await tunnels.CountAsync(ct),
            scope.All
                ? await blocked.CountAsync(ct)
                : await blocked.CountAsync(t => tunnels.Any(r => r.Id == t.Id), ct),
            await scope.Over(context.Findings.AsNoTracking()).CountAsync(f => f.Severity == (int)Severity.Risk, ct)
        );
    }

    /// <summary>How many records refer to each of some in a role.</summary>
    public async Task<Dictionary<string, int>> UsersAsync(
        Scope scope,
        IReadOnlyCollection<string> ids,
        string role,
        CancellationToken ct
    )
    {
        var links = context.Links.Where(l => EF.Parameter(ids).Contains(l.ToId) && l.Role == role);
        if (!scope.All)
        {
            var seen = scope.Over(context, context.Records.AsNoTracking());
            links = links.Where(l => seen.Any(r => r.Id == l.FromId));
        }

        return await links
            .GroupBy(l => l.ToId)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, ct);
    }

    /// <summary>The codes of the records that refer to one in a role.</summary>
    public async Task<IReadOnlyList<string>> ReferringAsync(
        Scope scope,
        string id,
        string role,
        CancellationToken ct
    ) =>
        await (
            from l in context.Links
            where l.ToId == id && l.Role == role
            join r in scope.Over(context, context.Records.AsNoTracking()) on l.FromId equals r.Id
            orderby r.CodeKey
            select r.Code
        )
            .Take(500)
            .ToListAsync(ct);

    /// <summary>How many tunnels refer to a record in one of the roles, whoever may see them.</summary>
    public Task<int> CountReferringAsync(string id, string[] roles, CancellationToken ct) =>
        context
            .Links.Where(l => l.ToId == id && roles.Contains(l.Role))
            .Select(l => l.FromId)
            .Distinct()
            .CountAsync(ct);

    /// <summary>The tunnels that refer to a record in one of the roles, as a list shows them.</summary>
    public async Task<IReadOnlyList<TunnelListed>> TunnelsOfAsync(
        Scope scope,
        string id,
        string[] roles,
        CancellationToken ct
    )
    {
        var ids =
            id is not null && roles is ["customer"]
                ? null
                : context.Links.Where(l => l.ToId == id && roles.Contains(l.Role)).Select(l => l.FromId).Distinct();
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));
        rows = ids is null ? rows.Where(r => r.OwnerId == id) : from i in ids join r in rows on i equals r.Id select r;
        var found = await (
            from r in rows
            join t in context.Tunnels on r.Id equals t.Id
            orderby r.CodeKey
            select new
            {
                r.Id,
                r.Code,
                r.Name,
                r.OwnerId,
                r.State,
                t.EndA,
                t.EndB,
                t.Worst,
                t.Verdict,
            }
        )
            .Take(2000)
            .ToListAsync(ct);
        return
        [
            .. found.Select(f => new TunnelListed(
                f.Id,
                f.Code,
                f.Name,
                f.OwnerId!,
                f.State!,
                f.EndA,
                f.EndB,
                f.Worst,
                JsonSerializer.Deserialize<ImmutableArray<VerdictPart>>(f.Verdict, RecordBody.Json)
            )),
        ];
    }

    /// <summary>How the tunnels stand that refer to a record in one of the roles, retired ones left out.</summary>
    public async Task<IReadOnlyList<Standing>> StandingAsync(
        Scope scope,
        string id,
        string[] roles,
        CancellationToken ct
    )
    {
        var listed = (await TunnelsOfAsync(scope, id, roles, ct)).Where(t => t.State != "retired").ToArray();
        var ids = listed.Select(t => t.Id).ToArray();
        var blocking = (
            await context
                .Findings.AsNoTracking()
                .Where(f => EF.Parameter(ids).Contains(f.TunnelId) && f.Severity == 0)
                .Select(f => new { f.TunnelId, f.Code })
                .ToListAsync(ct)
        ).ToLookup(f => f.TunnelId, f => f.Code);
        return [.. listed.Select(t => new Standing(t.Code, t.CustomerId, t.Worst, t.Verdict, [.. blocking[t.Id]]))];
    }

    /// <summary>The codes of the tunnels that use each held part of a gateway.</summary>
    public async Task<Dictionary<string, IReadOnlyList<string>>> HeldAsync(
        Scope scope,
        string gatewayId,
        CancellationToken ct
    )
    {
        var seen = scope.Over(context, context.Records.AsNoTracking());
        var rows = await (
            from h in context.Held
            join r in seen on h.TunnelId equals r.Id
            where h.GatewayId == gatewayId
            orderby r.CodeKey
            select new { h.Part, r.Code }
        ).ToListAsync(ct);
        return rows.GroupBy(r => r.Part)
            .ToDictionary(g => g.Key, g => (IReadOnlyList<string>)[.. g.Select(r => r.Code)]);
    }

    /// <summary>Gateways with their site, platform, outer address and how many tunnels run through them.</summary>
    public async Task<IReadOnlyList<GatewayListed>> GatewaysAsync(
        Scope scope,
        string? customerCode,
        string? after,
        int most,
        CancellationToken ct
    )
    {
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Gateway));
        if (customerCode is not null)
        {
            var owner = await OwnerIdAsync(customerCode, ct);
            rows = rows.Where(r => r.OwnerId == owner);
        }

        var found = (await Page(rows, after, most).ToListAsync(ct))
            .Select(r => (Gateway)RecordBody.Read(r.Kind, r.Id, r.Body))
            .ToArray();
        var ids = found.Select(g => g.Id).ToArray();
        var counts = await (
            from l in context.Links
            where EF.Parameter(ids).Contains(l.ToId) && (l.Role == "a" || l.Role == "b")
            join t in context.Tunnels on l.FromId equals t.Id
            group t by l.ToId into g
            select new
            {
                g.Key,
                All = g.Count(),
                Blocked = g.Count(t => t.Worst == 0),
            }
        ).ToDictionaryAsync(g => g.Key, ct);
        var around = found.SelectMany(g => new[] { g.SiteId, g.PlatformId }).Distinct().ToArray();
        var beside = (
            await context
                .Records.AsNoTracking()
                .Where(r => EF.Parameter(around).Contains(r.Id))
                .Select(r => new
                {
                    r.Id,
                    r.Name,
                    r.OwnerId,
                })
                .ToListAsync(ct)
        ).ToDictionary(r => r.Id);
        var owning = beside.Values.Select(r => r.OwnerId).OfType<string>().Distinct().ToArray();
        var owners = (
            await context
                .Records.AsNoTracking()
                .Where(r => EF.Parameter(owning).Contains(r.Id))
                .Select(r => new { r.Id, r.Code })
                .ToListAsync(ct)
        ).ToDictionary(r => r.Id, r => r.Code);
        return
        [
            .. found.Select(g => new GatewayListed(
                g.Code,
                beside[g.SiteId].Name,
                owners.GetValueOrDefault(beside[g.SiteId].OwnerId ?? "", ""),
                beside[g.PlatformId].Name,
                g.Uplinks.FirstOrDefault()?.OuterText ?? "unknown",
                counts.GetValueOrDefault(g.Id)?.All ?? 0,
                counts.GetValueOrDefault(g.Id)?.Blocked ?? 0
            )),
        ];
    }

    /// <summary>The gateways at a site.</summary>
    public async Task<IReadOnlyList<Gateway>> GatewaysOfSiteAsync(Scope scope, string siteId, CancellationToken ct) =>
        [
            .. (
                await (
                    from l in context.Links
                    where l.ToId == siteId && l.Role == "site"
                    join r in scope.Over(context, context.Records.AsNoTracking()) on l.FromId equals r.Id
                    orderby r.CodeKey
                    select r
                ).ToListAsync(ct)
            ).Select(r => (Gateway)RecordBody.Read(r.Kind, r.Id, r.Body)),
        ];

    /// <summary>The sites of a customer with their networks and gateways.</summary>
    /// <param name="within">Only sites with a network that overlaps this prefix, as it is or as it is
    /// presented.</param>
    public async Task<IReadOnlyList<(Site Site, IReadOnlyList<string> Gateways)>> SitesAsync(
        Scope scope,
        string customerId,
        int most,
        CancellationToken ct,
        Prefix? within = null
    )
    {
        var rows = scope.Over(
            context,
            context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Site && r.OwnerId == customerId)
        );
        if (within is { } prefix)
        {
            var there = Containing(prefix).Concat(Inside(prefix)).Select(p => p.RecordId);
            rows = rows.Where(r => there.Contains(r.Id));
        }

        var sites = (await rows.OrderBy(r => r.CodeKey).Take(most).ToListAsync(ct))
            .Select(r => (Site)RecordBody.Read(r.Kind, r.Id, r.Body))
            .ToArray();
        var ids = sites.Select(t => t.Id).ToArray();
        var gateways = (
            await (
                from l in context.Links
                where EF.Parameter(ids).Contains(l.ToId) && l.Role == "site"
                join r in scope.Over(context, context.Records.AsNoTracking()) on l.FromId equals r.Id
                orderby r.CodeKey
                select new { l.ToId, r.Code }
            ).ToListAsync(ct)
        ).ToLookup(g => g.ToId, g => g.Code);
        return [.. sites.Select(t => (t, (IReadOnlyList<string>)[.. gateways[t.Id]]))];
    }

    public Task<int> CountSitesAsync(Scope scope, string customerId, CancellationToken ct) =>
        scope
            .Over(
                context,
                context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Site && r.OwnerId == customerId)
            )
            .CountAsync(ct);

    /// <summary>
    /// Every prefix in use that overlaps one, with whose it is: networks of sites, what they are presented as, and what
    /// tunnels claim at gateways.
    /// </summary>
    public async Task<
        IReadOnlyList<(Prefix Prefix, string Role, string OwnerCode, string Code, string Name)>
    > PlacesAsync(Scope scope, Prefix prefix, string? customerCode, CancellationToken ct)
    {
        var seen = scope.Over(context, context.Records.AsNoTracking());
        if (customerCode is not null)
        {
            var owner = await OwnerIdAsync(customerCode, ct);
            seen = seen.Where(r => r.OwnerId == owner);
        }

        var rows = await (
            from p in Containing(prefix).Concat(Inside(prefix))
            join r in seen on p.RecordId equals r.Id
            join c in context.Records on r.OwnerId equals c.Id
            where p.Role != "outer"
            orderby p.Low, p.High descending, r.CodeKey
            select new
            {
                p.Low,
                p.High,
                p.Role,
                Owner = c.Code,
                r.Code,
                r.Name,
            }
        )
            .Distinct()
            .Take(2000)
            .ToListAsync(ct);
        return
        [
            .. rows.Select(r => (AddressText.Between(prefix.Family, r.Low, r.High), r.Role, r.Owner, r.Code, r.Name)),
        ];
    }

    /// <summary>
    /// What a text finds anywhere: records by their words (codes first), by what they refer to when those are few, and
    /// for an address or prefix what contains or overlaps it, outer addresses too.
    /// </summary>
    public async Task<IReadOnlyList<SearchFound>> SearchAsync(Scope scope, string text, int most, CancellationToken ct)
    {
        var seen = scope.Over(context, context.Records.AsNoTracking());
        if (Question(text) is var (prefix, containing, inside))
        {
            // What contains it, the nearest first; then what lies in it, in order.
            var around = !containing
                ? []
                : await (
                    from p in Containing(prefix)
                    join r in seen on p.RecordId equals r.Id
                    orderby p.Low descending, p.High, r.Kind, r.CodeKey
                    select new
                    {
                        p.Low,
                        p.High,
                        p.Role,
                        r.Kind,
                        r.Id,
                        r.Code,
                        r.Name,
                        r.OwnerId,
                        r.State,
                    }
                )
                    .Take(most * 2)
                    .ToListAsync(ct);
            var within = !inside
                ? []
                : await (
                    from p in Inside(prefix)
                    join r in seen on p.RecordId equals r.Id
                    orderby p.Low
                    select new
                    {
                        p.Low,
                        p.High,
                        p.Role,
                        r.Kind,
                        r.Id,
                        r.Code,
                        r.Name,
                        r.OwnerId,
                        r.State,
                    }
                )
                    .Take(most * 2)
                    .ToListAsync(ct);
            return await OwnedAsync(
                [
                    .. around
                        .Concat(within)
                        .DistinctBy(l => (l.Id, l.Low, l.High))
                        .Take(most)
                        .Select(l =>
                            (
                                new SearchFound(
                                    l.Kind,
                                    l.Code,
                                    l.Name,
                                    "",
                                    l.State,
                                    l.Role,
                                    AddressText.Between(prefix.Family, l.Low, l.High).ToString()
                                ),
                                l.OwnerId
                            )
                        ),
                ],
                ct
            );
        }

        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(w => w.Trim(',', ';', '(', ')'))
            .Where(w => w.Length > 0)
            .OrderByDescending(w => w.Length)
            .Take(6)
            .ToArray();
        if (words.Length == 0)
            return [];
        var found = new List<(SearchFound, string?)>();
        foreach (var around in new[] { false, true })
        {
            if (found.Count >= most)
                break;
            var rows =
                from w in Found(words[0])
                where (w.Field == Writing.SearchWords.Around) == around
                join r in seen on w.RecordId equals r.Id
                select new
                {
                    w.Word,
                    w.Field,
                    r,
                };
            foreach (var more in words[1..])
            {
                var others = Found(more);
                rows = rows.Where(x => others.Any(w => w.RecordId == x.r.Id));
            }

            // In the order of the words, so that a common beginning is not gone through to its end; the word itself
            // comes first.
            var exact = words[0].ToLowerInvariant();
            var some = (
                await rows.OrderBy(x => x.Word)
                    .Select(x => new
                    {
                        x.r.Kind,
                        x.r.Code,
                        x.r.Name,
                        x.r.OwnerId,
                        x.r.State,
                        x.Field,
                        x.Word,
                    })
                    .Take(most * 6)
                    .ToListAsync(ct)
            )
                .OrderBy(x =>
                    x.Field == "code" && x.Word == exact ? 0
                    : x.Field == "code" ? 1
                    : 2
                )
                .ThenBy(x => x.Kind)
                .ThenBy(x => x.Code, StringComparer.OrdinalIgnoreCase)
                .ToList();
            foreach (var x in some.DistinctBy(x => (x.Kind, x.Code)))
                if (found.All(f => f.Item1.Kind != x.Kind || f.Item1.Code != x.Code))
                    found.Add((new(x.Kind, x.Code, x.Name, "", x.State, x.Field, x.Word), x.OwnerId));
        }

        return await OwnedAsync([.. found.Take(most)], ct);
    }

    /// <summary>
    /// A text that asks about a prefix: the prefix alone (what contains it and what lies in it), or with words that say
    /// which of the two is meant: <c>what contains 10.4.7.9</c>, <c>everything inside 10.4.0.0/16</c>.
    /// </summary>
    internal static (Prefix Prefix, bool Containing, bool Inside)? Question(string text)
    {
        var words = text.Split([' ', ',', '?'], StringSplitOptions.RemoveEmptyEntries);
        if (words.Length is 0 or > 6 || Prefix.Parse(words[^1]) is not { Ok: true } prefix)
            return null;
        var (containing, inside) = (false, false);
        foreach (var word in words[..^1])
        {
            switch (word.ToLowerInvariant())
            {
                case "contains" or "contain" or "containing" or "holds" or "around":
                    containing = true;
                    break;
                case "inside" or "in" or "within" or "under":
                    inside = true;
                    break;
                case "what" or "which" or "everything" or "all" or "anything" or "is" or "lies" or "overlaps":
                    break;
                default:
                    return null;
            }
        }

        return (prefix.Value, containing || !inside, inside || !containing);
    }

    private async Task<IReadOnlyList<SearchFound>> OwnedAsync(
        IReadOnlyList<(SearchFound Found, string? OwnerId)> found,
        CancellationToken ct
    )
    {
        var ids = found.Select(f => f.OwnerId).OfType<string>().Distinct().ToArray();
        var owners = await context
            .Records.AsNoTracking()
            .Where(r => EF.Parameter(ids).Contains(r.Id))
            .Select(r => new { r.Id, r.Code })
            .ToDictionaryAsync(r => r.Id, r => r.Code, ct);
        return
        [
            .. found.Select(f => f.Found with { Owner = f.OwnerId is { } id ? owners.GetValueOrDefault(id, "") : "" }),
        ];
    }

    private static (string From, string To) Range(string beginning) =>
        (beginning.ToLowerInvariant(), beginning.ToLowerInvariant() + '\uffff');

    private IQueryable<WordRow> Found(string beginning)
    {
        var (from, to) = Range(beginning);
        return context.Words.Where(w => string.Compare(w.Word, from) >= 0 && string.Compare(w.Word, to) < 0);
    }

    /// <summary>
    /// Commits, newest first, with the versions in them that the asker may see; those that show nothing are left out.
    /// </summary>
    public async Task<(IReadOnlyList<CommitKept> Items, long? Cursor)> CommitsAsync(
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
            var dated = filter.Who is not null || filter.From is not null || filter.To is not null;
            var numbered = versions.Select(v => v.CommitNumber);
            if (before is { } below)
                numbered = numbered.Where(n => n < below);
            if (dated)
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
        var ids = inside.SelectMany(g => g).Select(v => v.RecordId).Distinct().ToArray();
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
        var (all, seen) = scope.All
            ? ([], [])
            : (
                await SizesAsync(context.Versions, numbers, ct),
                await SizesAsync(scope.Over(context, context.Versions.AsNoTracking()), numbers, ct)
            );
        return (
            [
                .. page.Take(most)
                    .Select(c => new CommitKept(
                        c,
                        [
                            .. inside[c.Number]
                                .OrderBy(v => v.Kind)
                                .ThenBy(v => v.CodeKey)
                                .Select(v => new CommitRecord(v.Kind, codes[v.RecordId], v.RecordId, v.Version)),
                        ],
                        sizes.GetValueOrDefault(c.Number),
                        all.GetValueOrDefault(c.Number) == seen.GetValueOrDefault(c.Number)
                    )),
            ],
            page.Count > most ? page[most - 1].Number : null
        );
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

    /// <summary>Records in use that refer to one, changes left out.</summary>
    public async Task<IReadOnlyList<(RecordKind Kind, string Code, string? Owner)>> UsersInUseAsync(
        string id,
        CancellationToken ct
    ) =>
        [
            .. (
                await (
                    from l in context.Links
                    join r in context.Records on l.FromId equals r.Id
                    where l.ToId == id && r.Kind != RecordKind.Change && r.State != "retired"
                    select new
                    {
                        r.Kind,
                        r.Code,
                        r.OwnerId,
                    }
                )
                    .Distinct()
                    .OrderBy(r => r.Code)
                    .Take(1000)
                    .ToListAsync(ct)
            ).Select(r => (r.Kind, r.Code, r.OwnerId)),
        ];

    /// <summary>Records of a kind by code, now or as they were.</summary>
    public async Task<IReadOnlyList<(string Code, string Name, string? State, int Version)>> RecordsAsync(
        Scope scope,
        RecordKind kind,
        string? ownerId,
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
        return
        [
            .. (
                await Page(rows, after, most)
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

    /// <summary>The one gateway that shows an outer address; null when none or several do.</summary>
    public async Task<string?> AtOuterAsync(Scope scope, Address address, CancellationToken ct)
    {
        var (at, family) = (AddressText.Of(address), (int)address.Family);
        var seen = scope.Over(context, context.Records.AsNoTracking());
        var ids = await context
            .Prefixes.Where(p =>
                p.Role == "outer"
                && p.Family == family
                && p.Low == at
                && p.High == at
                && seen.Any(r => r.Id == p.RecordId)
            )
            .Select(p => p.RecordId)
            .Distinct()
            .Take(2)
            .ToListAsync(ct);
        return ids.Count == 1 ? ids[0] : null;
    }

    private static string Day(DateOnly day) =>
        new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero).ToString(
            "O",
            CultureInfo.InvariantCulture
        );
}

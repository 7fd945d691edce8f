using System.Text.Json;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Storage.Reading;

/// <summary>Tunnels, with how each stands.</summary>
public sealed class TunnelList(KeepContext context)
{
    public async Task<(IReadOnlyList<TunnelListed> Items, string? Cursor)> TunnelsAsync(
        Scope scope,
        TunnelFilter filter,
        string? after,
        int most,
        CancellationToken ct
    )
    {
        var filtered = new TunnelFiltering(context, scope);
        await filtered.TakeAsync(filter, ct);
        var rows = filtered.Rows;
        if (after is not null)
            rows = rows.Where(r => string.Compare(r.CodeKey, after) > 0);
        if (filtered.ByIds)
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

    /// <summary>
    /// How many tunnels of a gateway, site, suite or customer its page names; the page says how many there are.
    /// </summary>
    public const int MostOnAPage = 2000;

    /// <summary>The tunnels that refer to some records in one of the roles, retired ones among them.</summary>
    private IQueryable<RecordRow> Of(Scope scope, IReadOnlyCollection<string> ids, string[] roles)
    {
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));
        if (roles is ["customer"])
            return rows.Where(r => EF.Parameter(ids).Contains(r.OwnerId!));
        var referring = context
            .Links.Where(l => EF.Parameter(ids).Contains(l.ToId) && roles.Contains(l.Role))
            .Select(l => l.FromId)
            .Distinct();
        return from i in referring join r in rows on i equals r.Id select r;
    }

    /// <summary>
    /// The first tunnels by code that refer to any of some records in one of the roles, and how many there are.
    /// </summary>
    public async Task<(IReadOnlyList<TunnelListed> Tunnels, int All)> TunnelsOfAsync(
        Scope scope,
        IReadOnlyCollection<string> ids,
        string[] roles,
        CancellationToken ct
    )
    {
        var rows = Of(scope, ids, roles);
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
            .Take(MostOnAPage)
            .ToListAsync(ct);
        return (
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
            ],
            found.Count < MostOnAPage ? found.Count : await rows.CountAsync(ct)
        );
    }

    /// <summary>
    /// How the tunnels stand that refer to any of some records in one of the roles, retired ones left out.
    /// </summary>
    public async Task<Standings> StandingAsync(
        Scope scope,
        IReadOnlyCollection<string> ids,
        string[] roles,
        CancellationToken ct
    )
    {
        var rows =
            from r in Of(scope, ids, roles)
            where r.State != "retired"
            join t in context.Tunnels on r.Id equals t.Id
            select new
            {
                r.Id,
                r.Code,
                r.CodeKey,
                r.OwnerId,
                t.Worst,
                t.Verdict,
            };
        var counts = await rows.GroupBy(t => t.Worst)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, ct);
        int At(Severity severity) => counts.GetValueOrDefault((int)severity);
        var blocked = rows.Where(t => t.Worst == (int)Severity.Blocks);
        var often = await (
            from f in context.Findings.AsNoTracking()
            where f.Severity == (int)Severity.Blocks
            join t in blocked on f.TunnelId equals t.Id
            group f.TunnelId by f.Code into g
            select new { Code = g.Key, Tunnels = g.Distinct().Count() }
        )
            .OrderByDescending(g => g.Tunnels)
            .ThenBy(g => g.Code)
            .FirstOrDefaultAsync(ct);
        var worst = await blocked.OrderBy(t => t.CodeKey).Take(2).ToListAsync(ct);
        return new()
        {
            Blocked = At(Severity.Blocks),
            Degraded = At(Severity.Degrades),
            AtRisk = At(Severity.Risk),
            Sound = counts.Values.Sum() - At(Severity.Blocks) - At(Severity.Degrades) - At(Severity.Risk),
            Often = often is null ? null : new(often.Code, often.Tunnels),
            Worst =
            [
                .. worst.Select(t => new BlockedTunnel(
                    t.Code,
                    t.OwnerId!,
                    JsonSerializer.Deserialize<ImmutableArray<VerdictPart>>(t.Verdict, RecordBody.Json)
                )),
            ],
        };
    }
}

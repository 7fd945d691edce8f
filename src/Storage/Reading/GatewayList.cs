namespace Vellumkeep.Storage.Reading;

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

/// <summary>Gateways, and what they hold.</summary>
public sealed class GatewayList(KeepContext context)
{
    /// <summary>The codes of the tunnels that use each shared entry of a gateway.</summary>
    public async Task<Dictionary<string, IReadOnlyList<string>>> HeldAsync(
        Scope scope,
        string gatewayId,
        CancellationToken ct
    )
    {
        var visible = scope.Over(context, context.Records.AsNoTracking());
        var rows = await (
            from h in context.Held
            join r in visible on h.TunnelId equals r.Id
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
        string? ownerId,
        string? text,
        string? after,
        int most,
        CancellationToken ct
    )
    {
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Gateway));
        if (ownerId is not null)
            rows = rows.Where(r => r.OwnerId == ownerId);

        rows = context.WithText(rows, text);
        var found = (await ListQueries.Page(rows, after, most).ToListAsync(ct))
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

    /// <summary>The one gateway that shows an outer address; null when none or several do.</summary>
    public async Task<string?> AtOuterAsync(Scope scope, Address address, CancellationToken ct)
    {
        var (at, family) = (AddressText.Of(address), (int)address.Family);
        var visible = scope.Over(context, context.Records.AsNoTracking());
        var ids = await context
            .Prefixes.Where(p =>
                p.Role == "outer"
                && p.Family == family
                && p.Low == at
                && p.High == at
                && visible.Any(r => r.Id == p.RecordId)
            )
            .Select(p => p.RecordId)
            .Distinct()
            .Take(2)
            .ToListAsync(ct);
        return ids.Count == 1 ? ids[0] : null;
    }
}

namespace Vellumkeep.Storage.Reading;

/// <summary>Sites of a customer.</summary>
public sealed class SiteList(KeepContext context)
{
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
            var there = context.Containing(prefix).Concat(context.Inside(prefix)).Select(p => p.RecordId);
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
}

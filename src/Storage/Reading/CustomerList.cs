namespace Vellumkeep.Storage.Reading;

/// <summary>Customers with their tunnels counted.</summary>
public sealed class CustomerList(KeepContext context)
{
    /// <summary>Customers by code, with how many tunnels each has and how many of those are blocked.</summary>
    public async Task<
        IReadOnlyList<(string Code, string Name, OwnerKind Owner, int Tunnels, int Blocked)>
    > CustomersAsync(Scope scope, string? text, string? after, int most, CancellationToken ct)
    {
        var rows = await ListQueries
            .Page(
                context.WithText(
                    scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Customer)),
                    text
                ),
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
}

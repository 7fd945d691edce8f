namespace Vellumkeep.Storage.Reading;

/// <summary>What refers to a record.</summary>
public sealed class ReferenceList(KeepContext context)
{
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
            var visible = scope.Over(context, context.Records.AsNoTracking());
            links = links.Where(l => visible.Any(r => r.Id == l.FromId));
        }

        return await links
            .GroupBy(l => l.ToId)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, ct);
    }

    /// <summary>How many records that refer to one a page names; the page says how many there are.</summary>
    public const int MostOnAPage = 500;

    /// <summary>The first codes of the records that refer to one in a role, and how many there are.</summary>
    public async Task<(IReadOnlyList<string> Codes, int All)> ReferringAsync(
        Scope scope,
        string id,
        string role,
        CancellationToken ct
    )
    {
        var codes =
            from l in context.Links
            where l.ToId == id && l.Role == role
            join r in scope.Over(context, context.Records.AsNoTracking()) on l.FromId equals r.Id
            orderby r.CodeKey
            select r.Code;
        var first = await codes.Take(MostOnAPage).ToListAsync(ct);
        return (first, first.Count < MostOnAPage ? first.Count : await codes.CountAsync(ct));
    }

    /// <summary>
    /// How many tunnels refer to a record in one of the roles, whoever may see them; retired ones left out.
    /// </summary>
    public Task<int> CountReferringAsync(string id, string[] roles, CancellationToken ct) =>
        (
            from l in context.Links
            join r in context.Records on l.FromId equals r.Id
            where l.ToId == id && roles.Contains(l.Role) && r.State != "retired"
            select l.FromId
        )
            .Distinct()
            .CountAsync(ct);

    /// <summary>
    /// Records in use that cannot be without one; changes are left out, and gateways that are only managed through it.
    /// </summary>
    public async Task<IReadOnlyList<(RecordKind Kind, string Code, string? Owner)>> UsersInUseAsync(
        string id,
        CancellationToken ct
    ) =>
        [
            .. (
                await (
                    from l in context.Links
                    join r in context.Records on l.FromId equals r.Id
                    where
                        l.ToId == id
                        && l.Role != RecordRows.ManagedThrough
                        && r.Kind != RecordKind.Change
                        && r.State != "retired"
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
}

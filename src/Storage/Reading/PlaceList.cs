namespace Vellumkeep.Storage.Reading;

/// <summary>Prefixes in use.</summary>
public sealed class PlaceList(KeepContext context)
{
    /// <summary>How many prefixes are told at once.</summary>
    public const int Most = 2000;

    /// <summary>
    /// Every prefix in use that overlaps one, with whose it is: networks of sites, what they are presented as, what
    /// tunnels claim at gateways, tunnel, outer and peer addresses, pools, and what open changes
    /// plan. Null when there are more than <see cref="Most"/>.
    /// </summary>
    public async Task<IReadOnlyList<(
        Prefix Prefix,
        string Role,
        string OwnerCode,
        string Code,
        string Name
    )>?> PlacesAsync(Scope scope, Prefix prefix, string? ownerId, CancellationToken ct)
    {
        var visible = scope.Over(context, context.Records.AsNoTracking());
        if (ownerId is not null)
            visible = visible.Where(r => r.OwnerId == ownerId);

        var rows = await (
            from p in context.Containing(prefix).Concat(context.Inside(prefix))
            join r in visible on p.RecordId equals r.Id
            join c in context.Records on r.OwnerId equals c.Id
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
            .Take(Most + 1)
            .ToListAsync(ct);
        if (rows.Count > Most)
            return null;
        return
        [
            .. rows.Select(r => (AddressText.Between(prefix.Family, r.Low, r.High), r.Role, r.Owner, r.Code, r.Name)),
        ];
    }
}

namespace Vellumkeep.Storage;

/// <summary>
/// What the asker may see: everything, or the records of some customers. A required argument of every query.
/// </summary>
public sealed record Scope
{
    private readonly ImmutableHashSet<string>? customers;

    private Scope(ImmutableHashSet<string>? customers) => this.customers = customers;

    public static readonly Scope Everything = new((ImmutableHashSet<string>?)null);

    public static Scope Of(IEnumerable<string> customerIds) => new(customerIds.ToImmutableHashSet());

    public bool All => customers is null;

    public bool Sees(string? ownerId) => customers is null || ownerId is null || customers.Contains(ownerId);

    /// <summary>What either sees.</summary>
    public Scope With(Scope other) =>
        customers is null || other.customers is null ? Everything : new(customers.Union(other.customers));

    internal IQueryable<FindingRow> Over(IQueryable<FindingRow> rows)
    {
        if (customers is null)
            return rows;
        var list = customers.ToArray();
        return rows.Where(f => list.Contains(f.OwnerId));
    }

    internal IQueryable<VersionRow> Over(KeepContext context, IQueryable<VersionRow> rows)
    {
        if (customers is null)
            return rows;
        var list = customers.ToArray();
        var used = Used(context, list);
        return rows.Where(r => list.Contains(r.OwnerId!) || (r.OwnerId == null && used.Contains(r.RecordId)));
    }

    internal IQueryable<RecordRow> Over(KeepContext context, IQueryable<RecordRow> rows)
    {
        if (customers is null)
            return rows;
        var list = customers.ToArray();
        var used = Used(context, list);
        return rows.Where(r => list.Contains(r.OwnerId!) || (r.OwnerId == null && used.Contains(r.Id)));
    }

    /// <summary>
    /// Of the house's suites and platform profiles, those that the customers' own tunnels use: the name of another may
    /// tell of another customer.
    /// </summary>
    private static IQueryable<string> Used(KeepContext context, string[] owners)
    {
        var mine =
            from l in context.Links
            join r in context.Records on l.FromId equals r.Id
            where owners.Contains(r.OwnerId!)
            select l;
        return mine.Where(l => l.Role == "suite" || l.Role == "platform")
            .Select(l => l.ToId)
            .Union(
                from m in mine
                join g in context.Links on m.ToId equals g.FromId
                where (m.Role == "a" || m.Role == "b") && g.Role == "platform"
                select g.ToId
            );
    }
}

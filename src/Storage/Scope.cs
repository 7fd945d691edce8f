namespace Vellumkeep.Storage;

/// <summary>What the asker may see: everything, or the records of some customers. A required argument of every query.</summary>
public sealed record Scope
{
    private readonly ImmutableHashSet<string>? customers;

    private Scope(ImmutableHashSet<string>? customers) => this.customers = customers;

    public static readonly Scope Everything = new((ImmutableHashSet<string>?)null);

    public static Scope Of(IEnumerable<string> customerIds) => new(customerIds.ToImmutableHashSet());

    public bool All => customers is null;

    public bool Sees(string? ownerId) => customers is null || ownerId is null || customers.Contains(ownerId);

    internal IQueryable<RecordRow> Over(IQueryable<RecordRow> rows)
    {
        if (customers is null)
            return rows;
        var list = customers.ToArray();
        return rows.Where(r => r.OwnerId == null || list.Contains(r.OwnerId));
    }
}

namespace Vellumkeep.Storage.Reading;

/// <summary>A day on which something of a record falls due, with the record.</summary>
public sealed record DueListed(string Kind, string On, string Path, RecordKind Of, string Code, string Name);

/// <summary>What falls due.</summary>
public sealed class DueList(KeepContext context)
{
    /// <summary>
    /// What falls due until a day, the earliest first; what is overdue is among it. Confirmations that grew old before
    /// <paramref name="from"/> are left out: they are no work of these days.
    /// </summary>
    public async Task<IReadOnlyList<DueListed>> DueAsync(
        Scope scope,
        DateOnly from,
        DateOnly until,
        int most,
        CancellationToken ct
    )
    {
        var (first, last) = (Scalars.Write(from), Scalars.Write(until));
        var confirmation = DueDates.Kinds.Of(DueKind.Confirmation);
        var visible = scope.Over(context, context.Records.AsNoTracking());
        return await (
            from d in context.Due.AsNoTracking()
            join r in visible on d.RecordId equals r.Id
            where string.Compare(d.On, last) <= 0 && (d.Kind != confirmation || string.Compare(d.On, first) >= 0)
            orderby d.On, r.CodeKey, d.Path
            select new DueListed(d.Kind, d.On, d.Path, r.Kind, r.Code, r.Name)
        )
            .Take(most)
            .ToListAsync(ct);
    }
}

namespace Vellumkeep.Service.Lookups;

/// <summary>Tunnels as lists show them.</summary>
public static class TunnelSummaries
{
    /// <summary>
    /// The first tunnels that refer to any of some records in one of the roles, and how many there are.
    /// </summary>
    public static async Task<(IReadOnlyList<TunnelSummary> Tunnels, int All)> ReferringAsync(
        KeepContext context,
        Scope scope,
        IReadOnlyCollection<string> ids,
        string[] roles,
        CancellationToken ct
    )
    {
        var (tunnels, all) = await new TunnelList(context).TunnelsOfAsync(scope, ids, roles, ct);
        return (await OfAsync(context, tunnels, scope, ct), all);
    }

    public static async Task<IReadOnlyList<TunnelSummary>> OfAsync(
        KeepContext context,
        IReadOnlyList<TunnelListed> items,
        Scope scope,
        CancellationToken ct
    )
    {
        var ids = items.Select(t => t.CustomerId).Distinct().ToArray();
        var customers = await context
            .Records.AsNoTracking()
            .Where(r => EF.Parameter(ids).Contains(r.Id))
            .Select(r => new
            {
                r.Id,
                r.Code,
                r.Name,
            })
            .ToDictionaryAsync(r => r.Id, ct);
        return
        [
            .. items.Select(t => new TunnelSummary
            {
                Code = t.Code,
                Name = t.Name,
                Customer = customers[t.CustomerId].Code,
                CustomerName = customers[t.CustomerId].Name,
                State = t.State,
                EndA = t.EndA,
                EndB = t.EndB,
                Worst = t.Worst > 3 ? "none" : Severities.Words.Of((Severity)t.Worst),
                Form = Form(t),
                Verdict = t.Verdict.Show(scope.Sees),
            }),
        ];
    }

    private static DrawnForm Form(TunnelListed t)
    {
        var (stroke, word) = Standing(t);
        return new(char.ToLowerInvariant(stroke.ToString()[0]) + stroke.ToString()[1..], word);
    }

    /// <summary>How a tunnel in a list is drawn, by its worst finding.</summary>
    public static (Stroke Stroke, string Word) Standing(TunnelListed t) =>
        t.Worst switch
        {
            0 => (Stroke.Gap, "blocks"),
            1 => (Stroke.Thin, "degrades"),
            2 => (Stroke.Flag, "risk"),
            3 => (Stroke.Dotted, "agrees, not confirmed"),
            _ => (Stroke.Whole, "agrees"),
        };
}

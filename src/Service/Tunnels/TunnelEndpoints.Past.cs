namespace Vellumkeep.Service.Tunnels;

/// <summary>Tunnels as they were recorded on a day.</summary>
public static partial class TunnelEndpoints
{
    /// <summary>A tunnel as it was recorded on a day, judged as it would have been that day.</summary>
    private static async Task<TunnelPage> PastPageAsync(
        string code,
        DateOnly day,
        Databases databases,
        Scope scope,
        CancellationToken ct
    )
    {
        await using var context = databases.Open();
        var past = await Past.OnAsync(context, day, ct);
        var kept = await past.ByCodeAsync<Tunnel>(scope, RecordKind.Tunnel, code, ct)
            ?? throw ProblemException.NotFound($"tunnel on {Scalars.Write(day)}", code);
        var view = new TunnelView(await past.AroundAsync([kept.Record], ct), kept.Record, day);
        var last = await context.Commits.AsNoTracking().FirstOrDefaultAsync(c => c.Number == kept.CommitNumber, ct);
        return TunnelPages.Make(
            view,
            new(
                kept.Version,
                [],
                _ => null,
                last is null
                    ? null
                    : new(last.Act, last.Who, DateTimeOffset.Parse(last.At, CultureInfo.InvariantCulture))
            ),
            scope.Sees
        ) with
        {
            AsOf = Scalars.Write(day),
        };
    }

    /// <summary>
    /// Tunnels as they were recorded on a day, a hundred at a time, each judged as it would have been that day.
    /// </summary>
    private static async Task<Page<TunnelSummary>> PastAsync(
        KeepContext context,
        Scope scope,
        DateOnly day,
        string? owner,
        string? state,
        string? other,
        string? cursor,
        CancellationToken ct
    )
    {
        if (other is not null)
            throw ProblemException.Field(
                "asOf",
                "a list as of a day can be filtered only by customer and state",
                "customer or state with asOf; leave out q, finding and severity"
            );
        const int most = 100;
        var past = await Past.OnAsync(context, day, ct);
        var kept = await past.ListAsync<Tunnel>(scope, RecordKind.Tunnel, owner, state, cursor, most + 1, ct);
        var tunnels = kept.Take(most).Select(k => k.Record).ToArray();
        var around = await past.AroundAsync(tunnels, ct);
        var listed = tunnels
            .Select(t =>
            {
                var about = new Checked(new TunnelView(around, t, day));
                var findings = Checks.Run(about);
                return new TunnelListed(
                    t.Id,
                    t.Code,
                    t.Name,
                    t.CustomerId,
                    WordsOf.States.Of(t.State),
                    about.View.A.Site.Name,
                    about.View.B.Site.Name,
                    findings
                        .Where(f => f.Accepted is null || f.Severity == Severity.Blocks)
                        .Select(f => (int)f.Severity)
                        .DefaultIfEmpty(4)
                        .Min(),
                    [.. Core.Verdicts.Verdict.Of(about, findings)]
                );
            })
            .ToArray();
        return new(
            await TunnelSummaries.OfAsync(context, listed, scope, ct),
            kept.Count > most ? tunnels[^1].Code.ToUpperInvariant() : null
        );
    }
}

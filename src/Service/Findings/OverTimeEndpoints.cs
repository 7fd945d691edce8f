using System.Collections.Concurrent;

namespace Vellumkeep.Service.Findings;

/// <summary>How many findings there were on each day.</summary>
public static class OverTimeEndpoints
{
    public static void MapFindingsOverTime(this RouteGroupBuilder api)
    {
        FindingsOverTime(api);
    }

    private const int Weeks = 12;

    /// <summary>
    /// Each is judged for every week; more would keep whoever asks waiting for longer than a page may take.
    /// </summary>
    private const int MostOverTime = 200;

    private const int MostJudged = 100_000;

    /// <summary>What was found in a tunnel on a day that is past does not differ any more.</summary>
    private static readonly ConcurrentDictionary<(string Tunnel, long Commit, DateOnly Day), FindingCounts> Judged =
        new();

    private static void FindingsOverTime(RouteGroupBuilder api) =>
        api.MapGet(
                "/findings/over-time",
                async (
                    string? customer,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var owner = await Find.OwnerAsync(new(context), scope, customer, ct);
                    var today = DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);
                    var points = new List<FindingsOn>();
                    for (var week = Weeks; week >= 0; week--)
                        if (await OnAsync(context, scope, owner, today.AddDays(-7 * week), ct) is { } point)
                            points.Add(point);
                    return new FindingsOverTimePage(points);
                }
            )
            .For(Role.Reader)
            .WithName("findingsOverTime")
            .WithSummary("Findings that nobody had accepted, week by week, for a customer or for all tunnels")
            .Refuses(404, 422);

    /// <summary>What stood at the end of a day; null where nothing had been recorded yet.</summary>
    private static async Task<FindingsOn?> OnAsync(
        KeepContext context,
        Scope scope,
        string? owner,
        DateOnly day,
        CancellationToken ct
    )
    {
        var past = await Past.OnAsync(context, day, ct);
        var lines = await past.LinesAsync(scope, RecordKind.Tunnel, owner, null, MostOverTime + 1, ct);
        if (lines.Count > MostOverTime)
            throw ProblemException.Field(
                "customer",
                $"there are more than {MostOverTime} tunnels",
                "one customer, whose tunnels are counted week by week"
            );
        if (lines.Count == 0)
            return null;
        var known = lines.Where(l => Judged.ContainsKey((l.RecordId, past.Commit, day))).ToArray();
        if (known.Length < lines.Count)
        {
            if (Judged.Count > MostJudged)
                Judged.Clear();
            var kept = await past.ListAsync<Tunnel>(scope, RecordKind.Tunnel, owner, null, null, MostOverTime, ct);
            foreach (var some in kept.Select(k => k.Record).Chunk(100))
            {
                var around = await past.AroundAsync(some, ct);
                foreach (var tunnel in some)
                    Judged[(tunnel.Id, past.Commit, day)] = Count(new(around, tunnel, day));
            }
        }

        var counts = lines.Select(l => Judged[(l.RecordId, past.Commit, day)]).ToArray();
        return new(
            Scalars.Write(day),
            lines.Count,
            counts.Sum(c => c.Blocks),
            counts.Sum(c => c.Degrades),
            counts.Sum(c => c.Risk)
        );
    }

    private static FindingCounts Count(TunnelView view)
    {
        var findings = Checks.Run(new Checked(view)).Where(f => f.Accepted is null).ToArray();
        int Of(Severity severity) => findings.Count(f => f.Severity == severity);
        return new(Of(Severity.Blocks), Of(Severity.Degrades), Of(Severity.Risk));
    }

    private readonly record struct FindingCounts(int Blocks, int Degrades, int Risk);
}

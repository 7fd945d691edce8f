using System.Text.Json;

namespace Vellumkeep.Service.Live;

/// <summary>What changes while a page is open, as server-sent events (HTML, section 9.2).</summary>
public static class EventEndpoints
{
    /// <summary>
    /// A line that nothing is said on for so long gets a comment, so that nobody on the way takes it for dead.
    /// </summary>
    private static readonly TimeSpan Heartbeat = TimeSpan.FromSeconds(15);

    /// <summary>Of more commits than this at once only the last are told one by one.</summary>
    private const int MostAtOnce = 200;

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    public static void MapEvents(this RouteGroupBuilder api) =>
        api.MapGet(
                "/events",
                async (
                    long? after,
                    Commits commits,
                    Databases databases,
                    IHostApplicationLifetime life,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    // A browser that lost the line says where it stood.
                    var seen = long.TryParse(
                        http.Request.Headers["Last-Event-ID"].ToString(),
                        NumberStyles.None,
                        CultureInfo.InvariantCulture,
                        out var last
                    )
                        ? last
                        : after;
                    // A service that stops lets its listeners go: they ask the next one.
                    using var until = CancellationTokenSource.CreateLinkedTokenSource(ct, life.ApplicationStopping);
                    http.Response.ContentType = "text/event-stream";
                    http.Response.Headers.CacheControl = "no-store";
                    try
                    {
                        await ListenAsync(seen, commits, databases, http, until.Token);
                    }
                    catch (OperationCanceledException)
                    {
                        // The listener has gone, or the service stops.
                    }
                }
            )
            .For(Role.Reader)
            .WithMetadata(new Streams())
            .WithName("events")
            .WithSummary(
                "One event for each commit that changed something that the caller may see: who, what, and the "
                    + "records; after: the last number that was seen. An event 'skipped' says that there were too "
                    + "many to tell: read again"
            )
            .Produces<ChangedNow>(200, contentType: "text/event-stream");

    private static async Task ListenAsync(
        long? seen,
        Commits commits,
        Databases databases,
        HttpContext http,
        CancellationToken ct
    )
    {
        var asker = http.Asker();
        long at;
        await using (var context = databases.Open())
            at = seen ?? await context.Commits.AsNoTracking().MaxAsync(c => (long?)c.Number, ct) ?? 0;
        // So that the asker knows that the line stands.
        await TellAsync(http, "changed", at, new(at, DateTimeOffset.UnixEpoch, "", "listening", []), ct);
        var access = http.RequestServices.GetRequiredService<Access>();
        var told = http.RequestServices.GetRequiredService<CallerLimits>().Told;
        using var numbers = commits.After(at);
        while (true)
        {
            var next = await numbers.NextAsync(Heartbeat, ct);
            List<(CommitRow Commit, CommitRecordLine[] Records)> news = [];
            // Open pages are told a few at a time: who works does not wait for those who watch.
            await told.WaitAsync(ct);
            try
            {
                // Whoever left, or whose session or token was ended, hears nothing more.
                if (await access.FindAsync(http.User, ct) is not { } now || Granted(now) != Granted(asker))
                    return;
                if (next is { } later)
                    news = await NewsAsync(databases, asker, at, later, ct);
            }
            finally
            {
                told.Release();
            }

            if (next is not { } number)
            {
                await http.Response.WriteAsync(": \n\n", ct);
                await http.Response.Body.FlushAsync(ct);
                continue;
            }

            await TellAsync(http, news, at, number, ct);
            at = number;
        }
    }

    /// <summary>What was written since, as far as the asker may see it.</summary>
    private static async Task<List<(CommitRow Commit, CommitRecordLine[] Records)>> NewsAsync(
        Databases databases,
        Asker asker,
        long at,
        long number,
        CancellationToken ct
    )
    {
        var since = Math.Max(at, number - MostAtOnce);
        await using var context = databases.Open();
        var rows = await (
            from c in context.Commits.AsNoTracking()
            where c.Number > since && c.Number <= number
            orderby c.Number
            select c
        ).ToListAsync(ct);
        var versions = await new HistoryList(context).WrittenAsync(asker.Scope, since, number, ct);
        return
        [
            .. rows.Select(c =>
                    (
                        c,
                        versions[c.Number].Select(v => new CommitRecordLine(v.Kind.Word(), v.Code, v.Version)).ToArray()
                    )
                )
                .Where(m => m.Item2.Length > 0),
        ];
    }

    private static async Task TellAsync(
        HttpContext http,
        List<(CommitRow Commit, CommitRecordLine[] Records)> news,
        long at,
        long number,
        CancellationToken ct
    )
    {
        var since = Math.Max(at, number - MostAtOnce);
        if (since > at)
            await TellAsync(http, "skipped", since, new(since, DateTimeOffset.UnixEpoch, "", "skipped", []), ct);
        foreach (var (commit, records) in news)
            await TellAsync(
                http,
                "changed",
                commit.Number,
                new(
                    commit.Number,
                    DateTimeOffset.Parse(commit.At, CultureInfo.InvariantCulture),
                    commit.Who,
                    commit.Act,
                    records
                ),
                ct
            );
    }

    private static async Task TellAsync(HttpContext http, string kind, long id, ChangedNow what, CancellationToken ct)
    {
        await http.Response.WriteAsync(
            $"event: {kind}\nid: {id.ToString(CultureInfo.InvariantCulture)}\ndata: {JsonSerializer.Serialize(what, Json)}\n\n",
            ct
        );
        await http.Response.Body.FlushAsync(ct);
    }

    private static string Granted(Asker asker) =>
        $"{asker.Most}: {string.Join(';', asker.Grants.Select(g => WrittenGrant.Write(g, IdNames.Instance)))}";
}

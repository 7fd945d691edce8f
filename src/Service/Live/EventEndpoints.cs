using System.Net.ServerSentEvents;

namespace Vellumkeep.Service.Live;

/// <summary>What moves while a page is open, as server-sent events (HTML, section 9.2).</summary>
public static class EventEndpoints
{
    public static void MapEvents(this RouteGroupBuilder api) =>
        api.MapGet("/events", (long? after, Commits commits, Databases databases, IHostApplicationLifetime life, HttpContext http, CancellationToken ct) =>
        {
            var asker = http.Asker();
            // A browser that lost the line says where it stood.
            var seen = long.TryParse(http.Request.Headers["Last-Event-ID"].ToString(), NumberStyles.None, CultureInfo.InvariantCulture, out var last) ? last : after;
            // A service that stops lets its listeners go: they ask the next one.
            var until = CancellationTokenSource.CreateLinkedTokenSource(ct, life.ApplicationStopping);
            http.Response.RegisterForDispose(until);
            return TypedResults.ServerSentEvents(EventsAsync(asker, seen, commits, databases, http, until.Token));
        }).For(Role.Reader).WithName("events").WithSummary("One event for each commit that touched something the asker may see: who, what, and the records; after: the last number that was seen")
            .Produces<MovedNow>(200, contentType: "text/event-stream");

    private static async IAsyncEnumerable<SseItem<MovedNow>> EventsAsync(Asker asker, long? seen, Commits commits, Databases databases, HttpContext http, [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken ct)
    {
        long at;
        await using (var context = databases.Open())
            at = seen ?? await context.Commits.AsNoTracking().MaxAsync(c => (long?)c.Number, ct) ?? 0;
        // So that the asker knows that the line stands.
        yield return new(new(at, DateTimeOffset.UnixEpoch, "", "listening", []), "moved") { EventId = at.ToString(CultureInfo.InvariantCulture) };
        var people = http.RequestServices.GetRequiredService<PeopleStore>();
        await foreach (var number in commits.AfterAsync(at, ct))
        {
            // Whoever left, or whose session was ended, hears nothing more.
            var now = await people.FindAsync(http.User, ct);
            if (now is null || Granted(now) != Granted(asker))
                yield break;
            List<(CommitRow Commit, CommitRecordLine[] Records)> moved = [];
            await using (var context = databases.Open())
            {
                var since = Math.Max(at, number - 200);
                var rows = await (from c in context.Commits.AsNoTracking() where c.Number > since && c.Number <= number orderby c.Number select c).ToListAsync(ct);
                var versions = await new Lists(context).WrittenAsync(asker.Scope, since, number, ct);
                moved = [.. rows.Select(c => (c, versions[c.Number].Select(v => new CommitRecordLine(v.Kind.Word(), v.Code, v.Version)).ToArray())).Where(m => m.Item2.Length > 0)];
            }

            at = number;
            foreach (var (commit, records) in moved)
                yield return new(new(commit.Number, DateTimeOffset.Parse(commit.At, CultureInfo.InvariantCulture), commit.Who, commit.Act, records), "moved") { EventId = commit.Number.ToString(CultureInfo.InvariantCulture) };
        }
    }

    private static string Granted(Asker asker) => string.Join(';', asker.Grants.Select(g => g.Write(IdNames.Instance)));
}

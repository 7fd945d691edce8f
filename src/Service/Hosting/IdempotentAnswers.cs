using System.Text;
using Vellumkeep.Service.Imports;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// A call that carries <c>Idempotency-Key</c> is carried out once, also when it comes twice at the same moment: the
/// same call again within a day does nothing and is told what the first one did; another call under the same key is
/// refused. What is kept is in the database, so that it does not matter which service is asked.
/// </summary>
public static class IdempotentAnswers
{
    private const string Header = "Idempotency-Key";
    private const int LongestKey = 100;

    /// <summary>A call that has not ended after this long was cut off before it wrote anything.</summary>
    private static readonly TimeSpan Abandoned = TimeSpan.FromMinutes(5);

    private static readonly TimeSpan Kept = TimeSpan.FromDays(1),
        WaitsFor = TimeSpan.FromSeconds(10);

    public static void UseIdempotencyKeys(this WebApplication app) =>
        app.Use(
            async (http, next) =>
            {
                var key = http.Request.Headers[Header].ToString();
                var secret = http.GetEndpoint()?.Metadata.GetMetadata<TellsSecret>() is not null;
                if (
                    secret
                    || key.Length == 0
                    || HttpMethods.IsGet(http.Request.Method)
                    || HttpMethods.IsHead(http.Request.Method)
                    || http.AskerOrNobody() is not { } asker
                )
                {
                    await next(http);
                    return;
                }

                if (key.Length > LongestKey || Characters.Unfit(key) is not null)
                    throw ProblemException.Field(
                        Header,
                        $"it is longer than {LongestKey} characters or cannot be read",
                        "a text that is different for each call, such as a UUID"
                    );
                var asked = await AskedAsync(http);
                // As a digest: what somebody puts there may be anything.
                key = http.RequestServices.GetRequiredService<AtRest>().Mac(Encoding.UTF8.GetBytes(key));
                var databases = http.RequestServices.GetRequiredService<Databases>();
                if (await TakenAsync(databases, asker.Name, key, asked, http) is { } first)
                {
                    await RepeatAsync(databases, asker, first, http);
                    return;
                }

                await OnceAsync(databases, asker.Name, key, http, next);
            }
        );

    /// <summary>What was asked, as a keyed digest: who has the database alone cannot try out what it was.</summary>
    private static async Task<string> AskedAsync(HttpContext http)
    {
        using var body = new MemoryStream();
        await http.Request.Body.CopyToAsync(body, http.RequestAborted);
        // A call without a body has none that came in before.
        if (http.Request.Body.CanSeek)
            http.Request.Body.Position = 0;
        return http
            .RequestServices.GetRequiredService<AtRest>()
            .Mac([
                .. Encoding.UTF8.GetBytes(
                    http.Request.Method + " " + http.Request.Path + http.Request.QueryString + "\n"
                ),
                .. body.ToArray(),
            ]);
    }

    /// <summary>
    /// Takes the key for this call, and gives null; or gives the call that has it, when that one has ended.
    /// </summary>
    private static async Task<AnsweredRow?> TakenAsync(
        Databases databases,
        string person,
        string key,
        string asked,
        HttpContext http
    )
    {
        var clock = http.RequestServices.GetRequiredService<TimeProvider>();
        var ct = http.RequestAborted;
        for (var waited = TimeSpan.Zero; ; waited += TimeSpan.FromMilliseconds(100))
        {
            var now = clock.GetUtcNow();
            await using var context = databases.Open();
            // What was kept by a clock that ran ahead would never grow old.
            var (old, cut, ahead) = (Text(now - Kept), Text(now - Abandoned), Text(now + Abandoned));
            await context
                .Answered.Where(a =>
                    a.Person == person
                    && (
                        string.Compare(a.At, old) < 0
                        || string.Compare(a.At, ahead) > 0
                        || (a.Status == 0 && string.Compare(a.At, cut) < 0)
                    )
                )
                .ExecuteDeleteAsync(ct);
            if (
                await context.Database.ExecuteSqlAsync(
                    $"""
                    insert into answered (person, key, asked, at, status)
                    values ({person}, {key}, {asked}, {Text(now)}, 0) on conflict (person, key) do nothing
                    """,
                    ct
                ) == 1
            )
                return null;
            var row = await context
                .Answered.AsNoTracking()
                .FirstOrDefaultAsync(a => a.Person == person && a.Key == key, ct);
            if (row is not null && row.Asked != asked)
                throw ProblemException.Field(Header, "another call was made with it", "a new one for each call");
            if (row is { Status: > 0 })
                return row;
            if (waited > WaitsFor)
                throw new ProblemException(
                    409,
                    "under-way",
                    "Under way",
                    "The same call is being carried out. Ask again in a moment."
                ).After(TimeSpan.FromSeconds(2));
            await Task.Delay(TimeSpan.FromMilliseconds(100), ct);
        }
    }

    private static async Task OnceAsync(
        Databases databases,
        string person,
        string key,
        HttpContext http,
        RequestDelegate next
    )
    {
        IdempotentCall.Current = new(person, key, StatusCodes.Status200OK);
        var ended = false;
        try
        {
            await next(http);
            ended = http.Response.StatusCode is >= 200 and < 300 && !http.Items.ContainsKey(ProgressLines.Failed);
        }
        finally
        {
            // Whether the client is still there or not, the next call under the key has to know.
            await using var context = databases.Open();
            var mine = context.Answered.Where(a => a.Person == person && a.Key == key);
            if (ended)
                await mine.ExecuteUpdateAsync(
                    u => u.SetProperty(a => a.Status, http.Response.StatusCode),
                    CancellationToken.None
                );
            else
                await mine.Where(a => a.CommitNumber == null).ExecuteDeleteAsync(CancellationToken.None);
        }
    }

    /// <summary>Tells what the first call did, as far as the asker may see it now.</summary>
    private static async Task RepeatAsync(Databases databases, Asker asker, AnsweredRow row, HttpContext http)
    {
        await using var context = databases.Open();
        var records = row.CommitNumber is { } number
            ? (await new HistoryList(context).WrittenAsync(asker.Scope, number - 1, number, http.RequestAborted))[
                number
            ]
                .Select(v => new CommitRecordLine(v.Kind.Word(), v.Code, v.Version))
                .ToArray()
            : [];
        http.Response.StatusCode = row.Status;
        http.Response.Headers["Idempotency-Replayed"] = "true";
        http.Response.Headers.CacheControl = "no-store";
        await http.Response.WriteAsJsonAsync(
            new Repeated(DateTimeOffset.Parse(row.At, CultureInfo.InvariantCulture), row.CommitNumber, records),
            http.RequestAborted
        );
    }

    private static string Text(DateTimeOffset at) => at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);
}

using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;

namespace Vellumkeep.Service.Hosting;

/// <summary>That an endpoint answers with a secret: a key, a token, a password.</summary>
public sealed record TellsSecret;

/// <summary>
/// A creating call that carries <c>Idempotency-Key</c> is carried out once: the same call again within a day gives the same answer, another call under the
/// same key is refused. Answers are kept in the database, so that it does not matter which service is asked.
/// </summary>
public static class Answered
{
    private const string Header = "Idempotency-Key";

    public static void UseIdempotencyKeys(this WebApplication app) => app.Use(async (http, next) =>
    {
        var key = http.Request.Headers[Header].ToString();
        // A secret is told once and kept by nothing on the way, this included.
        var secret = http.GetEndpoint()?.Metadata.GetMetadata<TellsSecret>() is not null;
        if (secret)
            http.Response.Headers.CacheControl = "no-store";
        if (secret || key.Length == 0 || !HttpMethods.IsPost(http.Request.Method) || http.User.FindFirstValue(ClaimTypes.Name) is not { } person)
        {
            await next(http);
            return;
        }

        if (key.Length > 100)
            throw ProblemException.Field(Header, "it is longer than 100 characters", "a text that is another for each call, such as a UUID");
        var ct = http.RequestAborted;
        http.Request.EnableBuffering();
        using var body = new MemoryStream();
        await http.Request.Body.CopyToAsync(body, ct);
        http.Request.Body.Position = 0;
        var asked = Convert.ToHexStringLower(SHA256.HashData([.. Encoding.UTF8.GetBytes(http.Request.Path + http.Request.QueryString), .. body.ToArray()]));
        var databases = http.RequestServices.GetRequiredService<Databases>();
        var now = http.RequestServices.GetRequiredService<TimeProvider>().GetUtcNow();
        await using (var context = databases.Open())
        {
            var old = now.AddDays(-1).ToString("O", CultureInfo.InvariantCulture);
            await context.Answered.Where(a => a.Person == person && string.Compare(a.At, old) < 0).ExecuteDeleteAsync(ct);
            if (await context.Answered.AsNoTracking().FirstOrDefaultAsync(a => a.Person == person && a.Key == key, ct) is { } row)
            {
                if (row.Asked != asked)
                    throw ProblemException.Field(Header, "another call was made with it", "a new one for each call");
                http.Response.StatusCode = row.Status;
                http.Response.ContentType = "application/json; charset=utf-8";
                http.Response.Headers["Idempotency-Replayed"] = "true";
                await http.Response.Body.WriteAsync(row.Body, ct);
                return;
            }
        }

        var answer = http.Response.Body;
        using var kept = new MemoryStream();
        http.Response.Body = kept;
        try
        {
            await next(http);
        }
        finally
        {
            http.Response.Body = answer;
        }

        if (http.Response.StatusCode is >= 200 and < 300)
        {
            await using var context = databases.Open();
            context.Answered.Add(new() { Person = person, Key = key, Asked = asked, At = now.ToString("O", CultureInfo.InvariantCulture), Status = http.Response.StatusCode, Body = kept.ToArray() });
            await context.SaveChangesAsync(ct);
        }

        kept.Position = 0;
        await kept.CopyToAsync(answer, ct);
    });
}

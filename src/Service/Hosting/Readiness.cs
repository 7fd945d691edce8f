namespace Vellumkeep.Service.Hosting;

/// <summary>Whether the service is alive, and whether it can do what it is there for.</summary>
public static class Readiness
{
    private static readonly TimeSpan Holds = TimeSpan.FromSeconds(1);

    public static void MapReadiness(this WebApplication app)
    {
        app.MapGet("/health", () => "alive").WithMetadata(new Alive()).ExcludeFromDescription();
        // What the measurements of docs/performance.md hold every page against.
        app.MapGet("/empty", () => new { }).WithMetadata(new Alive()).ExcludeFromDescription();
        var asked = new SemaphoreSlim(1);
        var (last, trouble) = (DateTimeOffset.MinValue, (string?)null);
        app.MapGet("/ready", async (Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            {
                await asked.WaitAsync(ct);
                try
                {
                    // However often it is asked, the database is asked once a second.
                    if (TimeProvider.System.GetUtcNow() - last > Holds)
                        (trouble, last) = (await TroubleAsync(databases, clock, ct), TimeProvider.System.GetUtcNow());
                }
                finally
                {
                    asked.Release();
                }

                if (trouble is null)
                    return Results.Text("ready");
                http.Response.Headers.RetryAfter = "5";
                return Results.Text($"not ready: {trouble}", statusCode: 503);
            })
            .WithMetadata(new Alive())
            .ExcludeFromDescription();
    }

    /// <summary>What keeps the database from taking a write; null when nothing does.</summary>
    private static async Task<string?> TroubleAsync(Databases databases, TimeProvider clock, CancellationToken ct)
    {
        try
        {
            await using var context = databases.Open();
            var now = clock.GetUtcNow().ToString("O", CultureInfo.InvariantCulture);
            await context.Database.ExecuteSqlAsync(
                $"""
                insert into sign_in_tries (key, count, since)
                values ('ready', 0, {now}) on conflict (key) do update set since = {now}
                """,
                ct
            );
            return null;
        }
        catch (Exception e) when (TransientFaults.Of(e) is { } trouble)
        {
            return trouble;
        }
    }
}

using System.Text.Json;
using System.Threading.RateLimiting;

namespace Vellumkeep.Service.People;

/// <summary>
/// Before a password is tried: who says to ask, and whether they are known where they ask from. Who is known there
/// waits for no stranger, and for other tries at the same name only after many wrong ones.
/// </summary>
public static class SignInLanes
{
    /// <summary>How often a name is tried after many wrong tries, where that person has signed in before.</summary>
    private static readonly TimeSpan Slowly = TimeSpan.FromSeconds(2);

    private const int MostSlow = 200;

    private const string Key = "standing";

    private static readonly PartitionedRateLimiter<string> Doubted = PartitionedRateLimiter.Create<string, string>(
        name => RateLimitPartition.GetTokenBucketLimiter(name, _ => new()
                {
                    TokenLimit = 1,
                    TokensPerPeriod = 1,
                    ReplenishmentPeriod = Slowly,
                    QueueLimit = MostSlow,
                    QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
                })
    );

    /// <summary>Whether whoever tries a password is known under that name where they ask from.</summary>
    public static bool IsKnownHere(this HttpContext http) =>
        http.Items[Key] is SignInTreatment and not SignInTreatment.Stranger;

    public static void UseDoorway(this WebApplication app) =>
        app.Use(
            async (http, next) =>
            {
                if (http.GetEndpoint()?.Metadata.GetMetadata<TriesPassword>() is not null)
                    await StandAsync(http);
                await next(http);
            }
        );

    private static async Task StandAsync(HttpContext http)
    {
        var (services, ct) = (http.RequestServices, http.RequestAborted);
        var name = SignIns.Fold(http.AskerOrNobody()?.Name ?? NameIn(http.Request.Body));
        SignInTreatment standing;
        using (await services.GetRequiredService<CallerLimits>().AskerAsync(AccessControl.Credential(http), ct))
            standing = await services.GetRequiredService<SignIns>().StandingAsync(name, http.Address(), ct);
        http.Items[Key] = standing;
        if (standing == SignInTreatment.KnownAndDoubted)
            (await CallerLimits.HeldAsync(Doubted.AcquireAsync($"{name} from {http.Address()}", 1, ct))).Dispose();
    }

    /// <summary>The name in a body that has come in whole; nothing where the body says none.</summary>
    private static string NameIn(Stream body)
    {
        try
        {
            using var json = JsonDocument.Parse(body);
            return json.RootElement.ValueKind != JsonValueKind.Object
                ? ""
                : json
                    .RootElement.EnumerateObject()
                    .LastOrDefault(p =>
                        p.Name.Equals("name", StringComparison.OrdinalIgnoreCase)
                        && p.Value.ValueKind == JsonValueKind.String
                    )
                    .Value.ToString();
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            // What cannot be read is refused by the call itself.
            return "";
        }
        finally
        {
            body.Position = 0;
        }
    }
}

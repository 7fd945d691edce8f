using System.Threading.RateLimiting;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// How many calls are worked on at once, of one person and of all, and how often somebody may try to sign in. More than
/// that waits in line; when the line is full, the answer is 503 with <c>Retry-After</c>.
/// </summary>
public static class RateLimits
{
    /// <summary>
    /// Tries to sign in from one address in a minute, right ones among them; wrong ones are bounded more tightly by
    /// <see cref="SignIns"/>.
    /// </summary>
    private const int SignInsPerMinute = 240;

    /// <summary>Open pages of one person, and from one address.</summary>
    private const int StreamsOfOne = 20,
        StreamsPerAddress = 100;

    public static void AddRateLimits(this IServiceCollection services, Databases databases)
    {
        var shares = new CallerLimits(databases);
        services.AddSingleton(shares);
        services.AddRateLimiter(limits =>
        {
            // One after the other: what a caller waits for in their own line takes no place in the next.
            limits.GlobalLimiter = PartitionedRateLimiter.CreateChained(
                PartitionedRateLimiter.Create<HttpContext, string>(http => Heavy(http, shares)),
                PartitionedRateLimiter.Create<HttpContext, string>(http => OfOne(http, shares)),
                PartitionedRateLimiter.Create<HttpContext, string>(http => OfAll(http, shares))
            );
            limits.AddPolicy(Limits.SignIn, http =>
                http.IsKnownHere() ? Free : RateLimitPartition.GetSlidingWindowLimiter(CallOrigin.Of(http), _ => new()
                        {
                            PermitLimit = SignInsPerMinute,
                            Window = TimeSpan.FromMinutes(1),
                            SegmentsPerWindow = 6,
                            QueueLimit = 0,
                        })
            );
            limits.OnRejected = (rejected, ct) => RejectAsync(rejected.HttpContext, ct);
        });
    }

    private static RateLimitPartition<string> Free => RateLimitPartition.GetNoLimiter("free");

    private static bool IsFree(EndpointMetadataCollection? metadata) =>
        metadata is null || metadata.GetMetadata<Alive>() is not null;

    /// <summary>Of what takes a core for seconds, one for each person.</summary>
    private static RateLimitPartition<string> Heavy(HttpContext http, CallerLimits shares) =>
        http.GetEndpoint()?.Metadata.GetMetadata<Heavy>() is not null || http.Request.Query.ContainsKey("as")
            ? CallerLimits.Together(http.Caller(), Math.Max(1, shares.OfOne / 2))
            : Free;

    private static RateLimitPartition<string> OfOne(HttpContext http, CallerLimits shares)
    {
        var metadata = http.GetEndpoint()?.Metadata;
        if (IsFree(metadata))
            return Free;
        return metadata!.GetMetadata<Streams>() is not null
            ? CallerLimits.Together($"streams of {http.Caller()}", StreamsOfOne, line: 0)
            : CallerLimits.Together($"{http.Caller()}{(http.IsKnownHere() ? ", known" : "")}", shares.OfOne);
    }

    private static RateLimitPartition<string> OfAll(HttpContext http, CallerLimits shares)
    {
        var metadata = http.GetEndpoint()?.Metadata;
        if (IsFree(metadata))
            return Free;
        if (metadata!.GetMetadata<Streams>() is not null)
            return CallerLimits.Together($"streams from {CallOrigin.Of(http)}", StreamsPerAddress, line: 0);
        // Strangers at the door keep nobody waiting who is in.
        return metadata.GetMetadata<SignedIn>() is null
            ? CallerLimits.Together(http.IsKnownHere() ? "door of the known" : "door", shares.SignIns)
            : CallerLimits.Together("work", shares.Work);
    }

    private static async ValueTask RejectAsync(HttpContext http, CancellationToken ct)
    {
        var metadata = http.GetEndpoint()?.Metadata;
        var problem =
            metadata?.GetMetadata<TriesPassword>() is not null || metadata?.GetMetadata<Streams>() is not null
                ? new ProblemException(
                    429,
                    "too-many-tries",
                    "Too many calls",
                    "Too many calls of this kind came from you or your address. Try again in a minute."
                ).After(TimeSpan.FromSeconds(60))
                : ProblemException.Busy();
        await ProblemHandler.WriteAsync(http, problem, ct);
    }
}

/// <summary>That an endpoint only says that the service is alive, and so waits for nobody.</summary>
public sealed record Alive;

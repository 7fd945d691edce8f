using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Threading.RateLimiting;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// How many calls are worked on at once, and how often somebody may try to sign in. More than that waits in line; when
/// the line is full, the answer is 503 with <c>Retry-After</c>.
/// </summary>
public static class RateLimits
{
    /// <summary>
    /// Tries to sign in from one address in a minute, right ones among them; wrong ones are bounded more tightly by
    /// <see cref="SignIns"/>.
    /// </summary>
    private const int SignInsPerMinute = 240;

    private const int StreamsPerAddress = 100;

    private const int Line = 2000;

    public static void AddRateLimits(this IServiceCollection services, Databases databases) =>
        services.AddRateLimiter(limits =>
        {
            // A call opens at most three connections, so that a pool is never waited for by those who hold the rest of
            // it.
            var work = databases.PoolSize is { } pool ? Math.Max(2, pool / 3) : 32;
            limits.GlobalLimiter = PartitionedRateLimiter.Create<HttpContext, string>(http => PartitionOf(http, work));
            limits.AddPolicy(Limits.SignIn, http => RateLimitPartition.GetSlidingWindowLimiter(Origin(http), _ => new()
                    {
                        PermitLimit = SignInsPerMinute,
                        Window = TimeSpan.FromMinutes(1),
                        SegmentsPerWindow = 6,
                        QueueLimit = 0,
                    }));
            limits.OnRejected = (rejected, ct) => RejectAsync(rejected.HttpContext, rejected.Lease, ct);
        });

    private static RateLimitPartition<string> PartitionOf(HttpContext http, int work)
    {
        var metadata = http.GetEndpoint()?.Metadata;
        if (metadata is null || metadata.GetMetadata<Alive>() is not null)
            return RateLimitPartition.GetNoLimiter("alive");
        if (metadata.GetMetadata<Streams>() is not null)
            return RateLimitPartition.GetConcurrencyLimiter("stream " + Origin(http), _ =>
                new() { PermitLimit = StreamsPerAddress, QueueLimit = 0 }
            );
        // Strangers at the door keep nobody waiting who is in.
        return metadata.GetMetadata<SignedIn>() is null ? RateLimitPartition.GetConcurrencyLimiter("door", _ => new()
                {
                    PermitLimit = 8,
                    QueueLimit = Line,
                    QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
                }) : RateLimitPartition.GetConcurrencyLimiter("work", _ => new()
                {
                    PermitLimit = work,
                    QueueLimit = Line,
                    QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
                });
    }

    /// <summary>
    /// Who counts as one: an IPv4 address, or the /64 that one IPv6 host can choose its addresses from (RFC 4291,
    /// section 2.5.4).
    /// </summary>
    private static string Origin(HttpContext http)
    {
        if (http.Connection.RemoteIpAddress is not { } address)
            return "unknown";
        if (address.IsIPv4MappedToIPv6)
            return address.MapToIPv4().ToString();
        return address.AddressFamily == AddressFamily.InterNetworkV6
            ? new IPAddress([.. address.GetAddressBytes().Take(8), .. new byte[8]]).ToString()
            : address.ToString();
    }

    private static async ValueTask RejectAsync(HttpContext http, RateLimitLease lease, CancellationToken ct)
    {
        var atDoor = lease.TryGetMetadata(MetadataName.RetryAfter, out var wait);
        var problem =
            atDoor || http.GetEndpoint()?.Metadata.GetMetadata<Streams>() is not null
                ? new ProblemException(
                    429,
                    "too-many-tries",
                    "Too many calls",
                    "Too many calls of this kind came from your address. Try again in a minute."
                ).After(wait > TimeSpan.Zero ? wait : TimeSpan.FromSeconds(60))
                : new ProblemException(
                    503,
                    "busy",
                    "Busy",
                    "Too many calls at once. Try again in a few seconds. Nothing was changed."
                ).After(TimeSpan.FromSeconds(5));
        await ProblemHandler.WriteAsync(http, problem, ct);
    }
}

/// <summary>That an endpoint only says that the service is alive, and so waits for nobody.</summary>
public sealed record Alive;

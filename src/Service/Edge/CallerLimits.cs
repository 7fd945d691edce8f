using System.Threading.RateLimiting;

namespace Vellumkeep.Service.Edge;

/// <summary>
/// How much of the service one caller may hold: a person, or an address as long as nobody knows who asks. What is full
/// is waited for in line; whoever has filled it waits for themselves alone.
/// </summary>
public sealed class CallerLimits : IDisposable
{
    /// <summary>
    /// Connections that one call opens at most, so that a pool is never waited for by those who hold the rest.
    /// </summary>
    private const int ConnectionsPerCall = 3,
        ConnectionsPerSignIn = 2;

    /// <summary>
    /// Calls of one person, and of strangers from one address, that arrive, wait, are worked on or are sent at once. A
    /// stranger's body is small, and nobody behind the same address waits for one that does not come.
    /// </summary>
    private const int CallsOfPerson = 120,
        CallsOfAddress = 2000;

    /// <summary>KiB of bodies that one caller has in memory at once: two of the largest.</summary>
    private const int BodiesAtOnce = (int)(2 * Bounds.Import / 1024);

    /// <summary>Calls that wait in a line, and KiB of bodies that do: nothing of those is in memory.</summary>
    private const int Line = 2000,
        KibInLine = 100 * BodiesAtOnce;

    private readonly PartitionedRateLimiter<string> askers;
    private readonly PartitionedRateLimiter<(string Caller, bool Known)> calls;
    private readonly PartitionedRateLimiter<string> bodies;

    public CallerLimits(Databases databases)
    {
        var cores = Math.Clamp(Environment.ProcessorCount, 2, 8);
        SignIns = Math.Min(cores, databases.PoolSize is { } few ? Math.Max(1, few / 12) : cores);
        Asking = databases.PoolSize is { } some ? Math.Max(1, some / 10) : 8;
        Telling = 2;
        Work = databases.PoolSize is { } pool
            ? Math.Max(2, (pool - 2 * SignIns * ConnectionsPerSignIn - Asking - Telling) / ConnectionsPerCall)
            : 32;
        OfOne = Math.Max(1, Math.Min(cores, Work / 2));
        Told = new SemaphoreSlim(Telling);
        askers = PartitionedRateLimiter.CreateChained(
            PartitionedRateLimiter.Create<string, string>(credential => Together(credential, OfOne)),
            PartitionedRateLimiter.Create<string, string>(_ => Together("asking", Asking))
        );
        calls = PartitionedRateLimiter.Create<(string Caller, bool Known), string>(c =>
            Together(c.Caller, c.Known ? CallsOfPerson : CallsOfAddress)
        );
        bodies = PartitionedRateLimiter.Create<string, string>(caller => Together(caller, BodiesAtOnce, KibInLine));
    }

    /// <summary>Calls that the service works on at once.</summary>
    public int Work { get; }

    /// <summary>Those of one person among them: as many as there are cores to work on them, and never all.</summary>
    public int OfOne { get; }

    /// <summary>
    /// Passwords that are tried at once: by strangers, and as many by those who are known where they ask.
    /// </summary>
    public int SignIns { get; }

    /// <summary>Cookies and tokens that are looked up at once.</summary>
    private int Asking { get; }

    /// <summary>Open pages that are told of a commit at once.</summary>
    private int Telling { get; }

    /// <summary>Held by an open page while it is told something.</summary>
    public SemaphoreSlim Told { get; }

    /// <summary>Held while it is found out who asks by a cookie or token.</summary>
    public Task<RateLimitLease> AskerAsync(string credential, CancellationToken ct) =>
        HeldAsync(askers.AcquireAsync(credential, 1, ct));

    /// <summary>Held from when it is known who calls until the answer is sent.</summary>
    /// <param name="known">Whether the caller is a person, and not only an address.</param>
    public Task<RateLimitLease> CallAsync(string caller, bool known, CancellationToken ct) =>
        HeldAsync(calls.AcquireAsync((caller, known), 1, ct));

    /// <summary>Held as long as a body is in memory.</summary>
    /// <param name="octets">How long it is, or can be.</param>
    public Task<RateLimitLease> BodyAsync(string caller, long octets, CancellationToken ct) =>
        HeldAsync(bodies.AcquireAsync(caller, (int)Math.Clamp((octets + 1023) / 1024, 1, BodiesAtOnce), ct));

    /// <summary>What was asked for; or the refusal of a line that is full.</summary>
    public static async Task<RateLimitLease> HeldAsync(ValueTask<RateLimitLease> asked)
    {
        var lease = await asked;
        if (lease.IsAcquired)
            return lease;
        lease.Dispose();
        throw ProblemException.Busy();
    }

    /// <summary>So many at once under a name, and a line of those who wait.</summary>
    internal static RateLimitPartition<string> Together(string name, int most, int line = Line) =>
        RateLimitPartition.GetConcurrencyLimiter(name, _ => new()
            {
                PermitLimit = most,
                QueueLimit = line,
                QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
            });

    public void Dispose()
    {
        askers.Dispose();
        calls.Dispose();
        bodies.Dispose();
        Told.Dispose();
    }
}

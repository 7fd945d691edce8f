using System.Collections.Concurrent;

namespace Vellumkeep.Service.People;

/// <summary>
/// When sessions and tokens were last used. It is written now and then and not with a call, so that nobody who only
/// reads waits for who writes.
/// </summary>
public sealed class LastActive(Databases databases, TimeProvider clock, ILogger<LastActive> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(20);

    private readonly ConcurrentDictionary<string, DateTimeOffset> sessions = [];
    private readonly ConcurrentDictionary<string, DateTimeOffset> tokens = [];

    public void Session(string id) => sessions[id] = clock.GetUtcNow();

    public void Token(string id) => tokens[id] = clock.GetUtcNow();

    /// <summary>When a session was seen, where that is later than what is written.</summary>
    public DateTimeOffset OfSession(SessionRow row) =>
        sessions.TryGetValue(row.Id, out var at)
            ? at
            : DateTimeOffset.Parse(row.ActiveAt, CultureInfo.InvariantCulture);

    /// <summary>When a token was used; null when it never was.</summary>
    public DateTimeOffset? OfToken(TokenRow row) =>
        tokens.TryGetValue(row.Id, out var at) ? at
        : row.UsedAt is { } used ? DateTimeOffset.Parse(used, CultureInfo.InvariantCulture)
        : null;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            while (true)
            {
                await Task.Delay(Every, stoppingToken);
                await WriteAsync(stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            await WriteAsync(CancellationToken.None);
        }
    }

    private async Task WriteAsync(CancellationToken ct)
    {
        try
        {
            await using var context = databases.Open();
            foreach (var (id, at) in Taken(sessions))
                await context
                    .Sessions.Where(s => s.Id == id)
                    .ExecuteUpdateAsync(u => u.SetProperty(s => s.ActiveAt, at), ct);
            foreach (var (id, at) in Taken(tokens))
                await context
                    .Tokens.Where(t => t.Id == id)
                    .ExecuteUpdateAsync(u => u.SetProperty(t => t.UsedAt, at), ct);
        }
        catch (Exception e) when (TransientFaults.Of(e) is { } trouble)
        {
            log.LogInformation("Times of last use were not written: {TransientFaults}", trouble);
        }
    }

    private static (string Id, string At)[] Taken(ConcurrentDictionary<string, DateTimeOffset> seen)
    {
        var taken = new List<(string, string)>();
        foreach (var id in seen.Keys)
            if (seen.TryRemove(id, out var at))
                taken.Add((id, at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture)));
        return [.. taken];
    }
}

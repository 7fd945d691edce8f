using System.Threading.Channels;

namespace Vellumkeep.Service.Live;

/// <summary>
/// Knows the number of the last commit, whoever wrote it: it is asked of the database, so that a second service on it
/// is seen as well.
/// </summary>
public sealed class Commits(Databases databases, TimeProvider clock, ILogger<Commits> log) : BackgroundService
{
    private readonly Lock door = new();
    private readonly List<Channel<long>> waiting = [];
    private long last;

    /// <summary>The numbers of later commits, as they come; only the newest when several came at once.</summary>
    public Listening After(long seen)
    {
        var channel = Channel.CreateBounded<long>(
            new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropOldest }
        );
        lock (door)
        {
            waiting.Add(channel);
            if (last > seen)
                channel.Writer.TryWrite(last);
        }

        return new(channel.Reader, () =>
        {
            lock (door)
                waiting.Remove(channel);
        });
    }

    /// <summary>Somebody who waits for commits, until they are disposed of.</summary>
    public sealed class Listening(ChannelReader<long> numbers, Action leave) : IDisposable
    {
        /// <summary>The next number; null when none came for so long.</summary>
        public async Task<long?> NextAsync(TimeSpan within, CancellationToken ct)
        {
            using var until = CancellationTokenSource.CreateLinkedTokenSource(ct);
            until.CancelAfter(within);
            try
            {
                return await numbers.ReadAsync(until.Token);
            }
            catch (OperationCanceledException) when (!ct.IsCancellationRequested)
            {
                return null;
            }
        }

        public void Dispose() => leave();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await using (var context = databases.Open())
                {
                    var number = await context.Commits.AsNoTracking().MaxAsync(c => (long?)c.Number, stoppingToken)
                        ?? 0;
                    lock (door)
                        if (number > last)
                        {
                            last = number;
                            foreach (var one in waiting)
                                one.Writer.TryWrite(number);
                        }
                }

                await Task.Delay(TimeSpan.FromMilliseconds(400), stoppingToken);
            }
            catch (OperationCanceledException)
            {
                return;
            }
            catch (Exception e)
            {
                if (TransientFaults.Of(e) is { } trouble)
                    log.LogWarning("The last commit could not be read and is read again: {TransientFaults}", trouble);
                else
                    log.LogError(e, "The last commit could not be read and is read again");
                await Task.Delay(TimeSpan.FromSeconds(5), clock, stoppingToken);
            }
        }
    }
}

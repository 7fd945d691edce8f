namespace Vellumkeep.Service.Hosting;

/// <summary>
/// Checks again, when the service starts and after every midnight, what the calendar alone can have changed: deadlines,
/// certificates, acceptances. After a release with other checks that is every tunnel.
/// </summary>
public sealed class DailyCheck(Keeper keeper, TimeProvider clock, ILogger<DailyCheck> log) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                var due = await keeper.RecheckDueAsync(clock.GetUtcNow(), stoppingToken);
                log.LogInformation("Checked {Tunnels} tunnels again for the day", due);
                var now = clock.GetUtcNow();
                await Task.Delay(now.UtcDateTime.Date.AddDays(1).AddMinutes(1) - now.UtcDateTime, clock, stoppingToken);
            }
            catch (OperationCanceledException)
            {
                return;
            }
            catch (Exception e)
            {
                if (TransientFaults.Of(e) is { } trouble)
                    log.LogWarning("The daily check is tried again in a minute: {TransientFaults}", trouble);
                else
                    log.LogError(e, "The daily check failed and is tried again in a minute");
                await Task.Delay(TimeSpan.FromMinutes(1), clock, stoppingToken);
            }
        }
    }
}

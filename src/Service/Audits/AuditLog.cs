using System.Threading.Channels;

namespace Vellumkeep.Service.Audits;

/// <summary>
/// The list of what happened at the door and around secrets. What lets a secret out is written before it goes; refusals
/// are written a moment later, so that nobody waits for the list.
/// </summary>
public sealed class AuditLog(Databases databases, TimeProvider clock, ILogger<AuditLog> log) : BackgroundService
{
    public const string Done = "done";
    public const string Refused = "refused";

    public const string SignIn = "sign in";
    public const string Call = "call";
    public const string Export = "export";
    public const string ShowKey = "show key";
    public const string Backup = "backup";
    public const string Unlock = "unlock";
    public const string GiveUp = "give up keys";

    /// <summary>Every act that the list holds.</summary>
    public static readonly IReadOnlyList<string> Acts = [SignIn, Call, Export, ShowKey, Backup, Unlock];

    /// <summary>
    /// How many entries wait for the database at most; beyond it the log of the service says that some were not kept.
    /// </summary>
    private const int MostWaiting = 10_000;

    private readonly Channel<AuditRow> waiting = Channel.CreateBounded<AuditRow>(MostWaiting);

    /// <summary>Writes an entry, and comes back when it is on the disk.</summary>
    public async Task WriteAsync(
        string who,
        string what,
        string about,
        string outcome,
        string from,
        CancellationToken ct
    )
    {
        await using var context = databases.Open();
        context.Audit.Add(Row(who, what, about, outcome, from));
        await context.SaveChangesAsync(ct);
    }

    /// <summary>Has an entry written soon.</summary>
    public void Later(string who, string what, string about, string outcome, string from)
    {
        if (!waiting.Writer.TryWrite(Row(who, what, about, outcome, from)))
            log.LogWarning("Too many refusals at once: one of {What} by {Who} is not in the audit list", what, who);
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            while (await waiting.Reader.WaitToReadAsync(stoppingToken))
            {
                // What comes in the same moment goes in one write.
                await Task.Delay(TimeSpan.FromMilliseconds(200), stoppingToken);
                await WriteWaitingAsync(stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            await WriteWaitingAsync(CancellationToken.None);
        }
    }

    private async Task WriteWaitingAsync(CancellationToken ct)
    {
        var rows = new List<AuditRow>();
        while (rows.Count < 1000 && waiting.Reader.TryRead(out var row))
            rows.Add(row);
        if (rows.Count == 0)
            return;
        try
        {
            await using var context = databases.Open();
            context.Audit.AddRange(rows);
            await context.SaveChangesAsync(ct);
        }
        catch (Exception e) when (TransientFaults.Of(e) is { } trouble)
        {
            log.LogWarning(
                "{Count} entries of the audit list could not be written: {TransientFaults}",
                rows.Count,
                trouble
            );
        }
    }

    private AuditRow Row(string who, string what, string about, string outcome, string from) =>
        new()
        {
            At = clock.GetUtcNow().ToUniversalTime().ToString("O", CultureInfo.InvariantCulture),
            Who = who,
            What = what,
            About = about.Length > 200 ? about[..200] : about,
            Outcome = outcome,
            From = from.Length > 100 ? from[..100] : from,
        };
}

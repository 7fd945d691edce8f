using Vellumkeep.Running;

namespace Vellumkeep.Storage.Tests;

/// <summary>
/// The demo's records in a database of its own, written by the keeper itself, with a change on each tunnel.
/// </summary>
public abstract class KeptDemo : IAsyncLifetime
{
    public static readonly DateTimeOffset Noon = new(DemoInventory.Today.ToDateTime(new(12, 0)), TimeSpan.Zero);

    public Databases Databases { get; private set; } = null!;

    public Keeper Keeper { get; private set; } = null!;

    /// <summary>The changes, in the order in which they were written.</summary>
    public IReadOnlyList<Change> Changes { get; private set; } = [];

    protected abstract Task<Databases> OpenAsync();

    protected abstract ValueTask EndAsync();

    public async ValueTask InitializeAsync()
    {
        Databases = await OpenAsync();
        Keeper = new(Databases);
        await Databases.MigrateAsync(default);
        await WriteAsync([.. DemoInventory.All.All]);
        // Two to a commit, so that pages have to part what one commit wrote.
        var changes = DemoInventory.All.Tunnels.Where(t => t.State == TunnelState.InService).Select(Planned).ToArray();
        Changes = changes;
        foreach (var two in changes.Chunk(2))
            await WriteAsync(two);
    }

    public ValueTask DisposeAsync() => EndAsync();

    public Task WriteAsync(params IRecord[] records) =>
        Keeper.WriteAsync(
            new("ines", Noon, "import"),
            (writing, _) =>
            {
                foreach (var record in records)
                    writing.Put(record, 0);
                return Task.FromResult(true);
            },
            default
        );

    private static Change Planned(Tunnel tunnel, int index) =>
        new()
        {
            Id = $"change:{tunnel.Id}",
            Code = $"X-{index:0000}",
            Title = $"New key for {tunnel.Code}",
            Reason = "w",
            CustomerId = tunnel.CustomerId,
            Request = new RekeyRequest([tunnel.Id]),
            Plan = new(),
            State = (ChangeState)(index % 4),
            Author = "ines",
            StatusHistory = [new(ChangeState.Draft, "ines", Noon, null)],
        };
}

public sealed class DemoOnSqlite : KeptDemo
{
    private readonly string folder = Directory.CreateTempSubdirectory("vellumkeep-storage-").FullName;

    protected override Task<Databases> OpenAsync() =>
        Task.FromResult(Databases.Sqlite(Path.Combine(folder, "vellumkeep.db")));

    protected override ValueTask EndAsync()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
        return default;
    }
}

public sealed class DemoOnPostgres : KeptDemo
{
    private ShortPostgres? postgres;

    protected override async Task<Databases> OpenAsync() =>
        Databases.Postgres((postgres = await ShortPostgres.StartAsync()).Connection);

    protected override ValueTask EndAsync() => postgres!.DisposeAsync();
}

using System.Diagnostics;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Running;
using Vellumkeep.Storage;
using Vellumkeep.Storage.Writing;
using Xunit;

namespace Vellumkeep.EndToEnd;

public class StorageTests
{
    [Fact]
    public async Task A_kill_during_a_close_leaves_all_of_it_or_nothing_and_a_whole_chain()
    {
        await using var service = await RunningService.StartAsync();
        string[] tunnels = ["SAL-SPIT", "SAL-DUNLIN", "SAL-WHIMBREL", "BRI-NETTLE"];
        string[] adds = ["10.70.9.0/24", "10.70.9.0/24", "10.99.0.0/24", "10.61.40.0/24"];
        foreach (var ((tunnel, add), wait) in tunnels.Zip(adds).Zip([0, 8, 20, 45]))
        {
            string change;
            using (var ines = await service.ClientAsync("ines"))
            {
                change = await HttpTests.Worked(ines, tunnel, add);
                // The kill falls somewhere into the close: before, within or after its transaction.
                var closing = ines.ActAsync(change, "close", new(null, null), null, Ct);
                await Task.WhenAny(closing, Spin(wait));
                service.Kill();
                await Should.NotThrowAsync(async () =>
                {
                    try
                    {
                        await closing;
                    }
                    catch (Exception e) when (e is HttpRequestException or IOException or TaskCanceledException)
                    {
                        // The answer went with the service; what it did is asked of the next one.
                    }
                });
                var acknowledged = closing.IsCompletedSuccessfully;
                await service.StartAgainAsync();
                using var again = await service.ClientAsync("ines");
                var state = (await again.ChangeAsync(change, Ct)).State;
                var written = (await again.HistoryAsync(tunnel, Ct)).Any(h => h.Change == change);
                (state == "done").ShouldBe(written);
                (acknowledged && !written).ShouldBeFalse();
                state.ShouldBeOneOf("done", "under way");
            }
        }

        service.Kill();
        var (commits, broken) = await new Keeper(Databases.Sqlite(Path.Combine(service.Data, "vellumkeep.db"))).VerifyAsync(Ct);
        broken.ShouldBeNull();
        commits.ShouldBeGreaterThan(100);
    }

    [Fact]
    public async Task The_same_demo_runs_on_PostgreSQL()
    {
        await using var postgres = await ShortPostgres.StartAsync();
        await using var service = await RunningService.StartAsync(true, "--postgres", postgres.Connection);
        using var ines = await service.ClientAsync("ines");
        (await ines.TunnelsAsync(null, null, null, null, "10.61.8.20", null, Ct)).Items.Select(t => t.Code).ShouldBe(["BRI-ASHLOW", "BRI-PETHER"]);
        var change = await HttpTests.Worked(ines, "SAL-SPIT", "10.70.9.0/24");
        (await ines.ActAsync(change, "close", new(null, null), null, Ct)).State.ShouldBe("done");
        (await ines.HistoryAsync("SAL-SPIT", Ct))[0].Change.ShouldBe(change);
        (await new Keeper(Databases.Postgres(postgres.Connection)).VerifyAsync(Ct)).Broken.ShouldBeNull();
    }

    private static async Task Spin(int milliseconds)
    {
        var clock = Stopwatch.StartNew();
        while (clock.ElapsedMilliseconds < milliseconds)
            await Task.Yield();
    }
}

/// <summary>A PostgreSQL of its own on a socket of loopback, gone with the test. Started as the user postgres when the test runs as root, which PostgreSQL refuses.</summary>
internal sealed class ShortPostgres : IAsyncDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("vellumkeep-pg-").FullName;
    private string bin = "";

    public string Connection => $"Host={folder};Port=54329;Username=postgres;Database=postgres";

    public static async Task<ShortPostgres> StartAsync()
    {
        var server = new ShortPostgres();
        string[] places = [.. Directory.Exists("/usr/lib/postgresql") ? Directory.GetDirectories("/usr/lib/postgresql").OrderDescending().Select(d => d + "/bin") : [], "/usr/local/bin", "/usr/bin"];
        server.bin = places.FirstOrDefault(p => File.Exists(p + "/initdb") && File.Exists(p + "/pg_ctl")) ?? throw new InvalidOperationException("PostgreSQL is not installed: make test installs it.");
        if (Environment.UserName == "root")
        {
            await Run("chown", "postgres", server.folder);
            await Run("chmod", "755", server.folder);
        }

        await server.AsPostgres($"{server.bin}/initdb -D {server.folder}/data -U postgres -A trust --no-sync");
        await server.AsPostgres($"{server.bin}/pg_ctl -D {server.folder}/data -w -l {server.folder}/log -o \"-k {server.folder} -p 54329 -c listen_addresses=''\" start");
        return server;
    }

    public async ValueTask DisposeAsync()
    {
        await AsPostgres($"{bin}/pg_ctl -D {folder}/data -m immediate stop");
        Directory.Delete(folder, true);
    }

    private Task AsPostgres(string line)
    {
        // The server would keep an inherited stream open for as long as it runs.
        var quiet = $"cd {folder} && {line} > {folder}/out 2>&1 < /dev/null";
        return Environment.UserName == "root" ? Run("runuser", "-u", "postgres", "--", "bash", "-c", quiet) : Run("bash", "-c", quiet);
    }

    private static async Task Run(string command, params string[] args)
    {
        using var process = Process.Start(new ProcessStartInfo(command, args))!;
        await process.WaitForExitAsync(Ct);
        if (process.ExitCode != 0)
            throw new InvalidOperationException($"{command} {string.Join(' ', args)} ended with {process.ExitCode}");
    }
}

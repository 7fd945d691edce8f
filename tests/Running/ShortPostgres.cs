using System.Diagnostics;

namespace Vellumkeep.Running;

/// <summary>
/// A PostgreSQL of its own on a socket of loopback, gone with the test. Started as the user postgres when the test runs
/// as root, which PostgreSQL refuses.
/// </summary>
public sealed class ShortPostgres : IAsyncDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("vellumkeep-pg-").FullName;
    private string bin = "";

    public string Connection => $"Host={folder};Port=54329;Username=postgres;Database=postgres";

    public static async Task<ShortPostgres> StartAsync()
    {
        var server = new ShortPostgres();
        string[] places =
        [
            .. Directory.Exists("/usr/lib/postgresql")
                ? Directory.GetDirectories("/usr/lib/postgresql").OrderDescending().Select(d => d + "/bin")
                : [],
            "/usr/local/bin",
            "/usr/bin",
        ];
        server.bin = places.FirstOrDefault(p => File.Exists(p + "/initdb") && File.Exists(p + "/pg_ctl"))
            ?? throw new InvalidOperationException("PostgreSQL is not installed: make test installs it.");
        if (Environment.UserName == "root")
        {
            await Run("chown", "postgres", server.folder);
            await Run("chmod", "755", server.folder);
        }

        await server.AsPostgres($"{server.bin}/initdb -D {server.folder}/data -U postgres -A trust --no-sync");
        await server.AsPostgres(server.StartLine);
        return server;
    }

    /// <summary>Another server with what this one holds, which has to be stopped.</summary>
    public async Task<ShortPostgres> CopyAsync()
    {
        var copy = new ShortPostgres { bin = bin };
        if (Environment.UserName == "root")
        {
            await Run("chown", "postgres", copy.folder);
            await Run("chmod", "755", copy.folder);
        }

        await AsPostgres($"cp -a {folder}/data {copy.folder}/data");
        await copy.AsPostgres(copy.StartLine);
        return copy;
    }

    /// <summary>Stops the server as a machine that goes away; what it acknowledged stays.</summary>
    public Task StopAsync() => AsPostgres($"{bin}/pg_ctl -D {folder}/data -m fast stop");

    public Task StartAgainAsync() => AsPostgres(StartLine);

    private string StartLine =>
        $"{bin}/pg_ctl -D {folder}/data -w -l {folder}/log -o \"-k {folder} -p 54329 -c listen_addresses=''\" start";

    public async ValueTask DisposeAsync()
    {
        if (File.Exists($"{folder}/data/postmaster.pid"))
            await AsPostgres($"{bin}/pg_ctl -D {folder}/data -m immediate stop");
        Directory.Delete(folder, true);
    }

    private Task AsPostgres(string line)
    {
        // The server would keep an inherited stream open for as long as it runs.
        var quiet = $"cd {folder} && {line} > {folder}/out 2>&1 < /dev/null";
        return Environment.UserName == "root"
            ? Run("runuser", "-u", "postgres", "--", "bash", "-c", quiet)
            : Run("bash", "-c", quiet);
    }

    private static async Task Run(string command, params string[] args)
    {
        using var process = Process.Start(new ProcessStartInfo(command, args))!;
        await process.WaitForExitAsync();
        if (process.ExitCode != 0)
            throw new InvalidOperationException($"{command} {string.Join(' ', args)} ended with {process.ExitCode}");
    }
}

using System.Diagnostics;

namespace Vellumkeep.Running;

/// <summary>
/// The demo, loaded once for all tests of a run and copied for each of them: living through it takes ten times as long.
/// </summary>
internal static class LoadedDemo
{
    private static readonly Lazy<Task<string>> OnSqlite = new(LoadAsync);
    private static readonly Lazy<Task<Loaded>> OnPostgres = new(LoadOnPostgresAsync);

    private sealed record Loaded(ShortPostgres Server, string Data);

    /// <summary>Copies the data and the keys of a service that has loaded the demo.</summary>
    public static async Task CopyAsync(string data) => await CopyServiceAsync(await OnSqlite.Value, data);

    /// <summary>A server with the demo in it, and the keys that open it.</summary>
    public static async Task<ShortPostgres> CopyOnPostgresAsync(string data)
    {
        var loaded = await OnPostgres.Value;
        await CopyServiceAsync(loaded.Data, data);
        return await loaded.Server.CopyAsync();
    }

    private static async Task<string> LoadAsync()
    {
        var service = await RunningService.LoadAsync();
        await service.StopAsync();
        AtTheEnd(service.DisposeAsync);
        return service.Data;
    }

    private static async Task<Loaded> LoadOnPostgresAsync()
    {
        var server = await ShortPostgres.StartAsync();
        var service = await RunningService.LoadAsync("--postgres", server.Connection);
        await service.StopAsync();
        await server.StopAsync();
        AtTheEnd(service.DisposeAsync);
        AtTheEnd(server.DisposeAsync);
        return new(server, service.Data);
    }

    private static async Task CopyServiceAsync(string from, string to)
    {
        await CopyAsync($"{from}/.", to);
        await CopyAsync($"{from}-keys", $"{to}-keys");
    }

    private static async Task CopyAsync(string from, string to)
    {
        using var copy = Process.Start("cp", ["-a", from, to]);
        await copy.WaitForExitAsync();
        if (copy.ExitCode != 0)
            throw new IOException($"{from} could not be copied to {to}.");
    }

    private static void AtTheEnd(Func<ValueTask> dispose) =>
        AppDomain.CurrentDomain.ProcessExit += (_, _) => dispose().AsTask().Wait(TimeSpan.FromSeconds(10));
}

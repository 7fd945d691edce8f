using Microsoft.AspNetCore.Builder;
using Serilog.Core;
using Serilog.Events;
using Serilog.Formatting.Compact;
using Vellumkeep.Service;
using Vellumkeep.Service.Hosting;

namespace Vellumkeep.Running;

/// <summary>The service within this process, on a real port, with its log in hand.</summary>
internal sealed class HostHere : IAsyncDisposable
{
    private readonly WebApplication app;

    private HostHere(WebApplication app) => this.app = app;

    /// <summary>Where the service was built, with the console beside it.</summary>
    public static string Home { get; } = Path.Combine(RunningService.Root, "src/Service/bin/Release/net10.0");

    public static async Task<(HostHere Host, Uri Url)> StartAsync(string[] args, Action<string> log)
    {
        var (started, _) = ServiceCommand.Read(args);
        var (host, wrong) = ServiceHost.Make(started!.Settings, Home, l => l.WriteTo.Sink(new Kept(log)));
        if (host is null)
            throw new InvalidOperationException(wrong);
        await host.PrepareAsync(default);
        await host.App.StartAsync();
        return (new(host.App), new(host.App.Urls.First()));
    }

    public async ValueTask DisposeAsync()
    {
        using var soon = new CancellationTokenSource(TimeSpan.FromSeconds(2));
        await app.StopAsync(soon.Token);
        await app.DisposeAsync();
    }

    private sealed class Kept(Action<string> log) : ILogEventSink
    {
        private readonly Lock one = new();

        public void Emit(LogEvent logEvent)
        {
            using var line = new StringWriter();
            new RenderedCompactJsonFormatter().Format(logEvent, line);
            lock (one)
                log(line.ToString());
        }
    }
}

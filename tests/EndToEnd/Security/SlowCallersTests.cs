using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>Slow callers on SQLite.</summary>
[Collection(Alone.Name)]
public class SlowCallersOnSqlite : SlowCallersTests
{
    protected override Task<RunningService> StartAsync() => RunningService.StartAsync();
}

/// <summary>The same on PostgreSQL, which has fewer places.</summary>
[Collection(Alone.Name)]
public class SlowCallersOnPostgres : SlowCallersTests
{
    protected override Task<RunningService> StartAsync() => RunningService.StartOnPostgresAsync();
}

/// <summary>
/// Whoever sends slowly, reads slowly or asks for much keeps nobody else waiting: number 1 of the doors. Another
/// person's page and sign-in are held against what they take alone, in the same run.
/// </summary>
public abstract class SlowCallersTests : IAsyncLifetime
{
    private const int Callers = 64;

    /// <summary>What is promised is 3; the callers themselves run on the same two cores here.</summary>
    private const double Bound = 6;

    private static readonly string[] Kinds =
    [
        "bodies that do not come",
        "sign-ins that do not come",
        "drawings in a row that nobody reads",
        "open pages",
        "a backup that nobody reads",
    ];

    private readonly List<Socket> open = [];
    private RunningService service = null!;
    private string bram = "",
        odile = "";

    protected abstract Task<RunningService> StartAsync();

    public async ValueTask InitializeAsync()
    {
        service = await StartAsync();
        bram = await service.ClientTokenAsync("bram");
        odile = await service.ClientTokenAsync("odile");
    }

    public async ValueTask DisposeAsync()
    {
        HangUp();
        await service.DisposeAsync();
        GC.SuppressFinalize(this);
    }

    [Fact]
    public async Task One_persons_slow_calls_keep_nobody_else_waiting()
    {
        using var ines = Asking.By(service, await service.ClientTokenAsync("ines"));
        using var door = Asking.From(service, "127.0.0.1");
        await TakeAsync(ines, door);
        var alone = await TakeAsync(ines, door);
        foreach (var kind in Kinds)
        {
            for (var i = 0; i < Callers; i++)
                await CallAsync(kind, i);
            var beside = await TakeAsync(ines, door);
            TestContext.Current.SendDiagnosticMessage($"{GetType().Name}: alone {alone}; beside {kind} {beside}");
            (beside.Page / alone.Page).ShouldBeLessThan(Bound, $"tunnel page beside {kind}");
            (beside.SignIn / alone.SignIn).ShouldBeLessThan(Bound, $"sign-in beside {kind}");
            (beside.Write / alone.Write).ShouldBeLessThan(Bound, $"write beside {kind}");
            HangUp();
        }
    }

    private void HangUp()
    {
        open.ForEach(o => o.Dispose());
        open.Clear();
    }

    [Fact]
    public async Task A_body_that_does_not_come_is_told_so_and_holds_nothing()
    {
        using var line = await SendAsync(Head("POST", "session", null, "Content-Length: 60"));
        var clock = Stopwatch.StartNew();
        (await ReadAsync(line)).ShouldStartWith("HTTP/1.1 408");
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(30));
    }

    private async Task CallAsync(string kind, int number)
    {
        var from = $"127.0.0.{100 + number % 8}";
        open.Add(
            kind switch
            {
                "bodies that do not come" => await SendAsync(
                    Head("POST", "tunnels/BRI-ASHLOW/rehearsal", bram, "Content-Length: 5000"),
                    from
                ),
                "sign-ins that do not come" => await SendAsync(Head("POST", "session", null, "Content-Length: 60")),
                "drawings in a row that nobody reads" => await SendAsync(
                    string.Concat(Enumerable.Repeat(Head("GET", "customers/BRI/drawing", bram), 40)),
                    from
                ),
                "open pages" => await SendAsync(Head("GET", "events", bram), from),
                _ => await SendAsync(Head("GET", "backup", odile), from),
            }
        );
    }

    /// <summary>Milliseconds of a tunnel's page, a sign-in and a write.</summary>
    private sealed record Taken(double Page, double SignIn, double Write);

    /// <summary>What each of them takes: the middle of several.</summary>
    private static async Task<Taken> TakeAsync(HttpClient ines, HttpClient door)
    {
        var (pages, signIns, writes) = (new List<double>(), new List<double>(), new List<double>());
        async Task ClockAsync(List<double> times, Func<Task<HttpStatusCode>> call)
        {
            var clock = Stopwatch.StartNew();
            (await call()).ShouldBe(HttpStatusCode.OK);
            times.Add(clock.Elapsed.TotalMilliseconds);
        }

        for (var i = 0; i < 7; i++)
        {
            await ClockAsync(pages, async () => (await ines.GetAsync("tunnels/BRI-ASHLOW", Ct)).StatusCode);
            await ClockAsync(signIns, async () => (await Asking.SignInAsync(door, "ines", "cold-store-1", Ct)).Status);
            var version = (await ines.GetAsync("sites/BRI-CHURN/form", Ct)).Headers.ETag!.Tag;
            await ClockAsync(writes, () => WriteAsync(ines, version, $"written beside others {Guid.NewGuid()}"));
        }

        return new(pages.Order().ElementAt(3), signIns.Order().ElementAt(3), writes.Order().ElementAt(3));
    }

    private static async Task<HttpStatusCode> WriteAsync(HttpClient ines, string version, string notes)
    {
        using var request = new HttpRequestMessage(HttpMethod.Put, "sites/BRI-CHURN")
        {
            Content = JsonContent.Create(new { set = new[] { new { path = "notes", value = notes } } }),
        };
        request.Headers.IfMatch.Add(new(version));
        return (await ines.SendAsync(request, Ct)).StatusCode;
    }

    private static string Head(string method, string path, string? token, string more = "X-None: x") =>
        $"{method} /api/v1/{path} HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\n{more}\r\n"
        + $"{(token is null ? "" : $"Authorization: Bearer {token}\r\n")}\r\n";

    private async Task<Socket> SendAsync(string text, string from = "127.0.0.1")
    {
        // What is not read stays with the sender.
        var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { ReceiveBufferSize = 4096, NoDelay = true };
        socket.Bind(new IPEndPoint(IPAddress.Parse(from), 0));
        await socket.ConnectAsync(IPAddress.Loopback, service.Url.Port, Ct);
        await socket.SendAsync(Encoding.ASCII.GetBytes(text), SocketFlags.None, Ct);
        return socket;
    }

    private static async Task<string> ReadAsync(Socket line)
    {
        var buffer = new byte[1000];
        return Encoding.ASCII.GetString(buffer, 0, await line.ReceiveAsync(buffer, SocketFlags.None, Ct));
    }
}

using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json;
using Vellumkeep.Contract;
using Vellumkeep.Running;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>Bare calls, as somebody would make them who does not use our client.</summary>
internal static class Asking
{
    /// <summary>A client whose calls come from an address of loopback, such as 127.0.0.9.</summary>
    public static HttpClient From(RunningService service, string address) =>
        new(
            new SocketsHttpHandler
            {
                UseCookies = true,
                ConnectCallback = async (context, ct) =>
                {
                    var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
                    socket.Bind(new IPEndPoint(IPAddress.Parse(address), 0));
                    await socket.ConnectAsync(IPAddress.Loopback, context.DnsEndPoint.Port, ct);
                    return new NetworkStream(socket, ownsSocket: true);
                },
            }
        )
        {
            BaseAddress = new(service.Url, "/api/v1/"),
        };

    public static HttpClient By(RunningService service, string token)
    {
        var http = new HttpClient { BaseAddress = new(service.Url, "/api/v1/") };
        http.DefaultRequestHeaders.Authorization = new("Bearer", token);
        return http;
    }

    public static async Task<(HttpStatusCode Status, string Text, TimeSpan? RetryAfter)> SignInAsync(
        HttpClient http,
        string name,
        string password,
        CancellationToken ct
    )
    {
        using var answer = await http.PostAsJsonAsync("session", new SignIn(name, password), ct);
        return (answer.StatusCode, await answer.Content.ReadAsStringAsync(ct), answer.Headers.RetryAfter?.Delta);
    }

    public static async Task<(HttpStatusCode Status, string Text)> PostAsync(
        HttpClient http,
        string path,
        string json,
        CancellationToken ct
    )
    {
        using var answer = await http.PostAsync(path, new StringContent(json, null, "application/json"), ct);
        return (answer.StatusCode, await answer.Content.ReadAsStringAsync(ct));
    }

    /// <summary>A call octet for octet, and what came back.</summary>
    public static async Task<string> BareAsync(
        RunningService service,
        string call,
        CancellationToken ct,
        string from = "127.0.0.90"
    )
    {
        using var line = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        line.Bind(new IPEndPoint(IPAddress.Parse(from), 0));
        await line.ConnectAsync(IPAddress.Loopback, service.Url.Port, ct);
        await line.SendAsync(System.Text.Encoding.Latin1.GetBytes(call), SocketFlags.None, ct);
        var (answer, buffer) = (new System.Text.StringBuilder(), new byte[4096]);
        // The head says what became of it.
        while (
            !answer.ToString().Contains("\r\n\r\n", StringComparison.Ordinal)
            && await line.ReceiveAsync(buffer, SocketFlags.None, ct) is > 0 and var read
        )
            answer.Append(System.Text.Encoding.Latin1.GetString(buffer, 0, read));
        return answer.ToString();
    }

    public static string Detail(string problem) =>
        JsonDocument.Parse(problem).RootElement.GetProperty("detail").GetString()!;

    /// <summary>Octets of memory that the service holds.</summary>
    public static long Memory(RunningService service) =>
        System.Diagnostics.Process.GetProcessById(service.ProcessId).WorkingSet64;
}

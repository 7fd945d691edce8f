using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>
/// One service with the demo on a port of its own, within this process, shared by the tests that leave each other's
/// tunnels alone.
/// </summary>
public class DemoService : IAsyncLifetime
{
    private readonly Dictionary<string, string> tokens = [];

    public RunningService Service { get; private set; } = null!;

    public virtual async ValueTask InitializeAsync()
    {
        Service = await StartAsync();
        foreach (var name in new[] { "ines", "tomas", "odile", "bram", "maud-audit" })
            tokens[name] = await Service.ClientTokenAsync(name);
    }

    protected virtual Task<RunningService> StartAsync() => RunningService.HereAsync();

    public virtual async ValueTask DisposeAsync()
    {
        await Service.DisposeAsync();
        GC.SuppressFinalize(this);
    }

    /// <summary>A call as somebody who is not one of the demo's people.</summary>
    public void Knows(string name, string token) => tokens[name] = token;

    public string Token(string name) => tokens[name];

    public virtual Task<(int Status, string Out, string Error)> Command(
        string who,
        string line,
        string? input = null
    ) => Service.CommandHereAsync(line, input, Token(who));

    /// <summary>A bare call, for what the client would not let through.</summary>
    public async Task<(HttpStatusCode Status, JsonElement Body)> Call(
        string? who,
        HttpMethod method,
        string path,
        object? body = null,
        string? ifMatch = null
    )
    {
        using var http = new HttpClient { BaseAddress = new(Service.Url, "/api/v1/") };
        using var request = new HttpRequestMessage(method, path);
        if (who is not null)
            request.Headers.Authorization = new("Bearer", Token(who));
        if (ifMatch is not null)
            request.Headers.IfMatch.Add(new EntityTagHeaderValue(ifMatch));
        if (body is string text)
            request.Content = new StringContent(text, null, "application/yaml");
        else if (body is not null)
            request.Content = JsonContent.Create(body);
        using var answer = await http.SendAsync(request);
        var read = await answer.Content.ReadAsStringAsync();
        return (
            answer.StatusCode,
            read.StartsWith('{') || read.StartsWith('[') ? JsonDocument.Parse(read).RootElement : default
        );
    }
}

/// <summary>The same service with the same demo, kept in PostgreSQL.</summary>
public sealed class PostgresDemoService : DemoService
{
    protected override Task<RunningService> StartAsync() => RunningService.HereOnPostgresAsync();
}

/// <summary>
/// The service as a program of its local: where somebody else reads its files. Whoever closes a file of a database
/// drops every lock that SQLite has on it in the same process.
/// </summary>
public class DemoBeside : DemoService
{
    protected override Task<RunningService> StartAsync() => RunningService.StartAsync();
}

/// <summary>
/// The service and the command as programs: where how they start, what they take and how they end matters.
/// </summary>
public sealed class DemoProcess : DemoBeside
{
    public override Task<(int Status, string Out, string Error)> Command(
        string who,
        string line,
        string? input = null
    ) => Service.CommandAsync(line, input, Token(who));
}

/// <summary>The same, kept in PostgreSQL.</summary>
public sealed class PostgresDemoProcess : DemoService
{
    protected override Task<RunningService> StartAsync() => RunningService.StartOnPostgresAsync();
}

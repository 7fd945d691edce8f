using System.Net;
using System.Text.Json;
using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>What the service refused: the problem detail (RFC 9457), with the fields it names.</summary>
public sealed class ServiceProblem(HttpStatusCode status, string type, string detail, JsonElement? body)
    : Exception(detail)
{
    public HttpStatusCode Status { get; } = status;

    public string Type { get; } = type;

    /// <summary>The whole problem detail; null when the answer was none.</summary>
    public JsonElement? Body { get; } = body;
}

/// <summary>
/// The HTTP interface, typed. Every call throws <see cref="ServiceProblem"/> when refused and
/// <see cref="HttpRequestException"/> when the service is not reachable.
/// </summary>
public sealed partial class KeepClient(Uri service, string? token) : IDisposable
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);
    private readonly HttpClient http = Make(service, token);

    /// <summary>Where the service is.</summary>
    public Uri Service { get; } = service;

    public Task<Me> WhoAsync(CancellationToken ct) => GetAsync<Me>("session", ct);

    public Task<MadeToken> TokenByPasswordAsync(TokenByPassword given, CancellationToken ct) =>
        SendAsync<MadeToken>(HttpMethod.Post, "tokens/by-password", given, null, ct);

    public void Dispose() => http.Dispose();
}

using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
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

    public Task<TodayPage> TodayAsync(CancellationToken ct) => GetAsync<TodayPage>("today", ct);

    /// <summary>What falls due in so many days from today, 1 to 366.</summary>
    public Task<DuePage> DueAsync(int days, CancellationToken ct) => GetAsync<DuePage>($"due?days={days}", ct);

    /// <summary>The versions of keys of all tunnels, or those that somebody has viewed.</summary>
    public Task<KeyListPage> AllKeysAsync(string? viewedBy, CancellationToken ct) =>
        GetAsync<KeyListPage>(viewedBy is null ? "keys" : $"keys?viewedBy={Uri.EscapeDataString(viewedBy)}", ct);

    /// <summary>Findings that nobody had accepted, week by week.</summary>
    public Task<FindingsOverTimePage> FindingsOverTimeAsync(string? customer, CancellationToken ct) =>
        GetAsync<FindingsOverTimePage>(
            customer is null ? "findings/over-time" : $"findings/over-time?customer={Uri.EscapeDataString(customer)}",
            ct
        );

    public Task<Page<TunnelSummary>> TunnelsAsync(
        string? customer,
        string? state,
        string? finding,
        string? severity,
        string? text,
        string? cursor,
        CancellationToken ct,
        string? asOf = null
    ) =>
        GetAsync<Page<TunnelSummary>>(
            "tunnels"
                + Query(
                    ("customer", customer),
                    ("state", state),
                    ("finding", finding),
                    ("severity", severity),
                    ("q", text),
                    ("asOf", asOf),
                    ("cursor", cursor)
                ),
            ct
        );

    public Task<TunnelPage> TunnelAsync(string code, CancellationToken ct, string? asOf = null) =>
        GetAsync<TunnelPage>($"tunnels/{Uri.EscapeDataString(code)}" + Query(("asOf", asOf)), ct);

    public Task<TunnelPage> ConfirmAsync(string code, int version, ConfirmValue given, CancellationToken ct) =>
        SendAsync<TunnelPage>(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(code)}/confirm", given, version, ct);

    public Task<TunnelPage> CorrectAsync(string code, int version, CorrectValue given, CancellationToken ct) =>
        SendAsync<TunnelPage>(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(code)}/correct", given, version, ct);

    public Task<IReadOnlyList<FindingPage>> FindingsAsync(
        string? tunnel,
        string? customer,
        string? code,
        string? severity,
        CancellationToken ct,
        string? gateway = null
    ) =>
        AllAsync<FindingPage>(
            "findings",
            ct,
            ("tunnel", tunnel),
            ("gateway", gateway),
            ("customer", customer),
            ("code", code),
            ("severity", severity),
            ("most", "2000")
        );

    public Task<RehearsalPage> RehearsalAsync(string code, CancellationToken ct) =>
        GetAsync<RehearsalPage>($"tunnels/{Uri.EscapeDataString(code)}/rehearsal", ct);

    public Task<RehearsalPage> RehearseAsync(HypotheticalTunnel given, CancellationToken ct) =>
        SendAsync<RehearsalPage>(HttpMethod.Post, "rehearsals", given, null, ct);

    public Task AcceptAsync(string tunnel, int version, AcceptFinding given, CancellationToken ct) =>
        SendAsync(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(tunnel)}/accept", given, version, ct);

    public Task WithdrawAsync(string tunnel, int version, WithdrawAcceptance given, CancellationToken ct) =>
        SendAsync(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(tunnel)}/withdraw-acceptance", given, version, ct);

    public Task<CommonResult> CommonAsync(string a, string b, string? version, CancellationToken ct) =>
        GetAsync<CommonResult>("calc/common" + Query(("a", a), ("b", b), ("version", version)), ct);

    public void Dispose() => http.Dispose();
}

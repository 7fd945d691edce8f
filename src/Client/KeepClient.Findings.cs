using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Findings, and what is accepted of them.</summary>
public sealed partial class KeepClient
{
    /// <summary>Findings that nobody had accepted, week by week.</summary>
    public Task<FindingsOverTimePage> FindingsOverTimeAsync(string? customer, CancellationToken ct) =>
        GetAsync<FindingsOverTimePage>(
            customer is null ? "findings/over-time" : $"findings/over-time?customer={Uri.EscapeDataString(customer)}",
            ct
        );

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

    public Task AcceptAsync(string tunnel, int version, AcceptFinding given, CancellationToken ct) =>
        SendAsync(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(tunnel)}/accept", given, version, ct);

    public Task WithdrawAsync(string tunnel, int version, WithdrawAcceptance given, CancellationToken ct) =>
        SendAsync(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(tunnel)}/withdraw-acceptance", given, version, ct);
}

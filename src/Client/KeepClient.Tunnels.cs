using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Tunnels, as they are and as somebody corrects them.</summary>
public sealed partial class KeepClient
{
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

    public Task<TunnelPage> DescribeAsync(string code, int version, EditTunnel given, CancellationToken ct) =>
        SendAsync<TunnelPage>(HttpMethod.Patch, $"tunnels/{Uri.EscapeDataString(code)}", given, version, ct);

    public Task<IReadOnlyList<HistoryEntry>> HistoryAsync(string code, CancellationToken ct) =>
        GetAsync<IReadOnlyList<HistoryEntry>>($"tunnels/{Uri.EscapeDataString(code)}/history", ct);

    public Task<RecordForm> CopyAsync(string code, string newCode, CancellationToken ct) =>
        GetAsync<RecordForm>($"tunnels/{Uri.EscapeDataString(code)}/copy" + Query(("newCode", newCode)), ct);

    public Task<IReadOnlyList<HistoryEntry>> HistoryAsync(string plural, string code, CancellationToken ct) =>
        GetAsync<IReadOnlyList<HistoryEntry>>($"{plural}/{Uri.EscapeDataString(code)}/history", ct);
}

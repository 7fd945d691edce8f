using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Gateways.</summary>
public sealed partial class KeepClient
{
    public Task<IReadOnlyList<GatewaySummary>> GatewaysAsync(string? customer, CancellationToken ct) =>
        AllAsync<GatewaySummary>("gateways", ct, ("customer", customer), ("most", "1000"));

    public Task<GatewayPage> GatewayAsync(string code, CancellationToken ct) =>
        GetAsync<GatewayPage>($"gateways/{Uri.EscapeDataString(code)}", ct);
}

using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Customers and their address plans and drawings.</summary>
public sealed partial class KeepClient
{
    public Task<IReadOnlyList<CustomerSummary>> CustomersAsync(CancellationToken ct) =>
        AllAsync<CustomerSummary>("customers", ct, ("most", "1000"));

    public Task<CustomerPage> CustomerAsync(string code, CancellationToken ct) =>
        GetAsync<CustomerPage>($"customers/{Uri.EscapeDataString(code)}", ct);

    public Task<AddressPlanPage> AddressPlanAsync(string customer, string? within, CancellationToken ct) =>
        GetAsync<AddressPlanPage>(
            $"customers/{Uri.EscapeDataString(customer)}/addresses" + Query(("within", within)),
            ct
        );

    /// <summary>A drawing of a customer as SVG: its sites and tunnels, or its addresses to scale.</summary>
    public async Task<string> DrawingAsync(string customer, bool addresses, CancellationToken ct, string? within = null)
    {
        using var answer = await http.GetAsync(
            $"customers/{Uri.EscapeDataString(customer)}/{(addresses ? "addresses/" : "")}drawing"
                + Query(("within", within)),
            ct
        );
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsStringAsync(ct);
    }
}

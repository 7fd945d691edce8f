using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Customers, sites, gateways, platforms and suites; drawings and files.</summary>
public sealed partial class KeepClient
{
    public Task<IReadOnlyList<GatewaySummary>> GatewaysAsync(string? customer, CancellationToken ct) =>
        AllAsync<GatewaySummary>("gateways", ct, ("customer", customer), ("most", "1000"));

    public Task<GatewayPage> GatewayAsync(string code, CancellationToken ct) =>
        GetAsync<GatewayPage>($"gateways/{Uri.EscapeDataString(code)}", ct);

    public Task<IReadOnlyList<CustomerSummary>> CustomersAsync(CancellationToken ct) =>
        AllAsync<CustomerSummary>("customers", ct, ("most", "1000"));

    public Task<CustomerPage> CustomerAsync(string code, CancellationToken ct) =>
        GetAsync<CustomerPage>($"customers/{Uri.EscapeDataString(code)}", ct);

    public Task<IReadOnlyList<PlatformSummary>> PlatformsAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<PlatformSummary>>("platforms", ct);

    public Task<PlatformPage> PlatformAsync(string code, CancellationToken ct) =>
        GetAsync<PlatformPage>($"platforms/{Uri.EscapeDataString(code)}", ct);

    public Task<IReadOnlyList<SuiteSummary>> SuitesAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<SuiteSummary>>("suites", ct);

    public Task<SuitePage> SuiteAsync(string code, CancellationToken ct) =>
        GetAsync<SuitePage>($"suites/{Uri.EscapeDataString(code)}", ct);

    /// <summary>
    /// What contains or overlaps <paramref name="asked"/>; or, with <paramref name="free"/>, what of
    /// <paramref name="length"/> is free within it.
    /// </summary>
    public Task<AddressResult> AddressesAsync(
        string? asked,
        string? free,
        int? length,
        string? customer,
        CancellationToken ct
    ) =>
        GetAsync<AddressResult>(
            "addresses"
                + Query(
                    ("q", asked),
                    ("free", free),
                    ("length", length?.ToString(System.Globalization.CultureInfo.InvariantCulture)),
                    ("customer", customer)
                ),
            ct
        );

    /// <summary>
    /// Imports a keepfile. <paramref name="progress"/>: is told what is being done and how many of how many are.
    /// </summary>
    public Task<ImportOutcome> ImportAsync(
        string text,
        bool dryRun,
        string? reason,
        CancellationToken ct,
        Action<string, int, int>? progress = null
    ) =>
        WatchedAsync<ImportOutcome>(
            "import"
                + Query(
                    ("dryRun", dryRun ? "true" : "false"),
                    ("reason", reason),
                    ("progress", progress is null ? null : "true")
                ),
            new StringContent(text, null, "application/yaml"),
            progress,
            ct
        );

    /// <summary>
    /// A sheet as it is in its file. <paramref name="columns"/>: <c>heading=field</c> where the guess has to be
    /// corrected.
    /// </summary>
    public Task<SheetOutcome> ImportSheetAsync(
        string name,
        byte[] content,
        IEnumerable<string> columns,
        string? customer,
        bool leaveOut,
        bool dryRun,
        CancellationToken ct,
        Action<string, int, int>? progress = null
    ) =>
        WatchedAsync<SheetOutcome>(
            "import/sheet"
                + Query([
                    ("progress", progress is null ? null : "true"),
                    ("name", name),
                    ("customer", customer),
                    ("leaveOut", leaveOut ? "true" : null),
                    ("dryRun", dryRun ? "true" : null),
                    .. columns.Select(c => ("column", (string?)c)),
                ]),
            new ByteArrayContent(content) { Headers = { ContentType = new("application/octet-stream") } },
            progress,
            ct
        );

    /// <summary>A list as a sheet. <paramref name="form"/>: csv or xlsx.</summary>
    public async Task<byte[]> ListAsync(
        string list,
        string form,
        IEnumerable<(string Key, string? Value)> narrowed,
        CancellationToken ct
    )
    {
        using var answer = await http.GetAsync(list + Query([.. narrowed, ("as", form)]), ct);
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsByteArrayAsync(ct);
    }

    public Task<SitePage> SiteAsync(string code, CancellationToken ct) =>
        GetAsync<SitePage>($"sites/{Uri.EscapeDataString(code)}", ct);

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

    public async Task<string> ExportAsync(string? customer, CancellationToken ct)
    {
        using var answer = await http.GetAsync("export" + Query(("customer", customer)), ct);
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsStringAsync(ct);
    }

    /// <summary>What a path answers, as text.</summary>
    public async Task<string> TextAsync(string path, CancellationToken ct)
    {
        using var answer = await http.GetAsync(path, ct);
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsStringAsync(ct);
    }
}

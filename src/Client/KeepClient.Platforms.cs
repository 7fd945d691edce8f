using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Platform profiles and suites.</summary>
public sealed partial class KeepClient
{
    public Task<IReadOnlyList<PlatformSummary>> PlatformsAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<PlatformSummary>>("platforms", ct);

    public Task<PlatformPage> PlatformAsync(string code, CancellationToken ct) =>
        GetAsync<PlatformPage>($"platforms/{Uri.EscapeDataString(code)}", ct);

    public Task<IReadOnlyList<SuiteSummary>> SuitesAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<SuiteSummary>>("suites", ct);

    public Task<SuitePage> SuiteAsync(string code, CancellationToken ct) =>
        GetAsync<SuitePage>($"suites/{Uri.EscapeDataString(code)}", ct);
}

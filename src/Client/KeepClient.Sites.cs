using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Sites.</summary>
public sealed partial class KeepClient
{
    public Task<SitePage> SiteAsync(string code, CancellationToken ct) =>
        GetAsync<SitePage>($"sites/{Uri.EscapeDataString(code)}", ct);
}

using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Sites.</summary>
public sealed partial class KeepClient
{
    public Task<SitePage> SiteAsync(string code, CancellationToken ct) =>
        GetAsync<SitePage>($"sites/{Uri.EscapeDataString(code)}", ct);
}

using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Pre-shared keys.</summary>
public sealed partial class KeepClient
{
    /// <summary>The versions of keys of all tunnels, or those that somebody has viewed.</summary>
    public Task<KeyListPage> AllKeysAsync(string? viewedBy, CancellationToken ct) =>
        GetAsync<KeyListPage>(viewedBy is null ? "keys" : $"keys?viewedBy={Uri.EscapeDataString(viewedBy)}", ct);

    public Task<KeysPage> KeysAsync(string tunnel, CancellationToken ct) =>
        GetAsync<KeysPage>($"tunnels/{Uri.EscapeDataString(tunnel)}/keys", ct);

    public Task<KeysPage> MakeKeyAsync(string tunnel, MakeKeyGiven given, CancellationToken ct) =>
        SendAsync<KeysPage>(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(tunnel)}/keys", given, null, ct);

    public Task<KeyShown> ShowKeyAsync(string tunnel, int version, ShowKeyGiven given, CancellationToken ct) =>
        SendAsync<KeyShown>(
            HttpMethod.Post,
            $"tunnels/{Uri.EscapeDataString(tunnel)}/keys/{version}/show",
            given,
            null,
            ct
        );
}

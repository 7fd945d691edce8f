using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Changes and keys.</summary>
public sealed partial class KeepClient
{
    public Task<IReadOnlyList<ChangeSummary>> ChangesAsync(string? state, string? tunnel, CancellationToken ct) =>
        AllAsync<ChangeSummary>("changes", ct, ("state", state), ("tunnel", tunnel), ("most", "2000"));

    public Task<ChangePage> ChangeAsync(string code, CancellationToken ct) =>
        GetAsync<ChangePage>($"changes/{Uri.EscapeDataString(code)}", ct);

    public Task<ChangePage> DraftAsync(DraftChange given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, "changes", given, null, ct);

    /// <summary>What a draft would be; nothing is kept.</summary>
    public Task<ChangePage> LookAsync(DraftChange given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, "changes?dryRun=true", given, null, ct);

    /// <summary>submit, approve, return, begin, confirm-urgent, recompute, close, back-out or drop.</summary>
    /// <param name="version">The version that was read; needed to approve.</param>
    public Task<ChangePage> ActAsync(string code, string act, ActRemark remark, int? version, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/{act}", remark, version, ct);

    public Task<ChangePage> WindowAsync(string code, WindowGiven given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/window", given, null, ct);

    public Task<ChangePage> FillAsync(string code, FillGiven given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/fill", given, null, ct);

    public Task<ChangePage> UrgentAsync(string code, UrgentGiven given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/urgent", given, null, ct);

    public Task<ChangePage> TakeBackAsync(string code, int step, CancellationToken ct) =>
        SendAsync<ChangePage>(
            HttpMethod.Post,
            $"changes/{Uri.EscapeDataString(code)}/steps/{step}/take-back",
            new { },
            null,
            ct
        );

    public Task<ChangePage> AttemptAsync(string code, int step, AttemptStep given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/steps/{step}", given, null, ct);
}

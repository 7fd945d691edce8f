using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Rehearsals and what two platforms have in common.</summary>
public sealed partial class KeepClient
{
    public Task<RehearsalPage> RehearsalAsync(string code, CancellationToken ct) =>
        GetAsync<RehearsalPage>($"tunnels/{Uri.EscapeDataString(code)}/rehearsal", ct);

    public Task<RehearsalPage> RehearseAsync(HypotheticalTunnel given, CancellationToken ct) =>
        SendAsync<RehearsalPage>(HttpMethod.Post, "rehearsals", given, null, ct);

    public Task<CommonResult> CommonAsync(string a, string b, string? version, CancellationToken ct) =>
        GetAsync<CommonResult>("calc/common" + Query(("a", a), ("b", b), ("version", version)), ct);
}

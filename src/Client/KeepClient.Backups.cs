namespace Vellumkeep.Client;

/// <summary>The whole as one file.</summary>
public sealed partial class KeepClient
{
    /// <summary>The whole database as one file.</summary>
    public async Task BackupAsync(Stream to, CancellationToken ct)
    {
        using var answer = await http.GetAsync("backup", HttpCompletionOption.ResponseHeadersRead, ct);
        await RefusedAsync(answer, ct);
        await answer.Content.CopyToAsync(to, ct);
    }
}

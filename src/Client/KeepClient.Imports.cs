using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Keepfiles and sheets, in and out.</summary>
public sealed partial class KeepClient
{
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

    public async Task<string> ExportAsync(string? customer, CancellationToken ct)
    {
        using var answer = await http.GetAsync("export" + Query(("customer", customer)), ct);
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsStringAsync(ct);
    }
}

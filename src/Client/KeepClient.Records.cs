using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Records of every kind, as they are and as they were.</summary>
public sealed partial class KeepClient
{
    public Task<TunnelPage> DescribeAsync(string code, int version, EditTunnel given, CancellationToken ct) =>
        SendAsync<TunnelPage>(HttpMethod.Patch, $"tunnels/{Uri.EscapeDataString(code)}", given, version, ct);

    public Task<IReadOnlyList<HistoryEntry>> HistoryAsync(string code, CancellationToken ct) =>
        GetAsync<IReadOnlyList<HistoryEntry>>($"tunnels/{Uri.EscapeDataString(code)}/history", ct);

    /// <summary>
    /// The written form of a record of the kind that <paramref name="plural"/> names; on a day, as it was.
    /// </summary>
    public Task<RecordForm> FormAsync(string plural, string code, string? asOf, CancellationToken ct) =>
        GetAsync<RecordForm>($"{plural}/{Uri.EscapeDataString(code)}/form" + Query(("asOf", asOf)), ct);

    public Task<RecordForm> CopyAsync(string code, string newCode, CancellationToken ct) =>
        GetAsync<RecordForm>($"tunnels/{Uri.EscapeDataString(code)}/copy" + Query(("newCode", newCode)), ct);

    public Task<RecordWritten> AddAsync(string plural, WriteRecord given, bool dryRun, CancellationToken ct) =>
        SendAsync<RecordWritten>(HttpMethod.Post, plural + Query(("dryRun", dryRun ? "true" : null)), given, null, ct);

    public Task<RecordWritten> WriteAsync(
        string plural,
        string code,
        int version,
        WriteRecord given,
        bool dryRun,
        CancellationToken ct
    ) =>
        SendAsync<RecordWritten>(
            HttpMethod.Put,
            $"{plural}/{Uri.EscapeDataString(code)}" + Query(("dryRun", dryRun ? "true" : null)),
            given,
            version,
            ct
        );

    public Task<RecordWritten> RetireAsync(
        string plural,
        string code,
        int version,
        string reason,
        bool dryRun,
        CancellationToken ct
    ) =>
        SendAsync<RecordWritten>(
            HttpMethod.Post,
            $"{plural}/{Uri.EscapeDataString(code)}/retire" + Query(("dryRun", dryRun ? "true" : null)),
            new RetireRecord(reason),
            version,
            ct
        );

    public Task<IReadOnlyList<HistoryEntry>> HistoryAsync(string plural, string code, CancellationToken ct) =>
        GetAsync<IReadOnlyList<HistoryEntry>>($"{plural}/{Uri.EscapeDataString(code)}/history", ct);

    public Task<VersionsCompared> VersionsAsync(string plural, string code, int from, int to, CancellationToken ct) =>
        GetAsync<VersionsCompared>(
            $"{plural}/{Uri.EscapeDataString(code)}/versions" + Query(("from", Text(from)), ("to", Text(to))),
            ct
        );

    public Task<IReadOnlyList<RecordLine>> RecordsAsync(
        string plural,
        string? customer,
        string? asOf,
        CancellationToken ct
    ) => AllAsync<RecordLine>($"records/{plural}", ct, ("customer", customer), ("asOf", asOf), ("most", "2000"));

    public Task<SearchResult> SearchAsync(string text, CancellationToken ct) =>
        GetAsync<SearchResult>("search" + Query(("q", text), ("most", "200")), ct);

    public Task<IReadOnlyList<SavedFilterLine>> SavedFiltersAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<SavedFilterLine>>("saved-filters", ct);

    public Task<SavedFilterLine> SaveFilterAsync(SaveFilter given, CancellationToken ct) =>
        SendAsync<SavedFilterLine>(HttpMethod.Post, "saved-filters", given, null, ct);

    public Task RemoveFilterAsync(string id, CancellationToken ct) =>
        SendAsync(HttpMethod.Delete, $"saved-filters/{Uri.EscapeDataString(id)}", new { }, null, ct);

    public Task<Page<CommitLine>> CommitsAsync(
        string? who,
        string? customer,
        string? kind,
        string? from,
        string? to,
        string? before,
        int? most,
        CancellationToken ct
    ) =>
        GetAsync<Page<CommitLine>>(
            "history"
                + Query(
                    ("who", who),
                    ("customer", customer),
                    ("kind", kind),
                    ("from", from),
                    ("to", to),
                    ("before", before),
                    ("most", most is { } m ? Text(m) : null)
                ),
            ct
        );

    /// <summary>Who came in, was refused, or took something out; newest first.</summary>
    public Task<Page<AuditLine>> AuditAsync(
        string? who,
        string? what,
        string? outcome,
        string? from,
        string? to,
        string? before,
        int? most,
        CancellationToken ct
    ) =>
        GetAsync<Page<AuditLine>>(
            "audit"
                + Query(
                    ("who", who),
                    ("what", what),
                    ("outcome", outcome),
                    ("from", from),
                    ("to", to),
                    ("before", before),
                    ("most", most is { } m ? Text(m) : null)
                ),
            ct
        );

    public Task<Verified> VerifyAsync(CancellationToken ct) => GetAsync<Verified>("history/verified", ct);

    /// <summary>The whole database as one file.</summary>
    public async Task BackupAsync(Stream to, CancellationToken ct)
    {
        using var answer = await http.GetAsync("backup", HttpCompletionOption.ResponseHeadersRead, ct);
        await RefusedAsync(answer, ct);
        await answer.Content.CopyToAsync(to, ct);
    }
}

using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Records of every kind, as they are and as they were.</summary>
public sealed partial class KeepClient
{
    /// <summary>
    /// The written form of a record of the kind that <paramref name="plural"/> names; on a day, as it was.
    /// </summary>
    public Task<RecordForm> FormAsync(string plural, string code, string? asOf, CancellationToken ct) =>
        GetAsync<RecordForm>($"{plural}/{Uri.EscapeDataString(code)}/form" + Query(("asOf", asOf)), ct);

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
}

using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>The history and the audit list.</summary>
public sealed partial class KeepClient
{
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
}

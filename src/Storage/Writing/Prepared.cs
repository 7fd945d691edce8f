namespace Vellumkeep.Storage.Writing;

/// <summary>A record that differs: its new body, and the version it follows (0 when it is new).</summary>
internal sealed record PreparedRecord(IRecord Record, byte[] Body, int Before, string? OwnerId)
{
    public bool IsNew => Before == 0;

    public byte[] BodyDigest { get; } = System.Security.Cryptography.SHA256.HashData(Body);

    public IReadOnlyList<LinkRow> Links { get; } = [.. RecordRows.Links(Record)];

    public IReadOnlyList<WordRow> Words { get; } = [.. SearchWords.Of(Record)];
}

/// <summary>
/// What will stand of a tunnel beside its record: its findings, what a list shows of it, the words of what it refers
/// to; null what stands already. A customer's note touches all its tunnels and alters nothing of them.
/// </summary>
internal sealed record PreparedTunnel(
    string Id,
    TunnelRow? Row,
    IReadOnlyList<FindingRow>? Findings,
    IReadOnlyList<WordRow>? Words
);

/// <summary>
/// Everything that one write will write, worked out before anybody is kept waiting, and what it rests on.
/// </summary>
internal sealed class Prepared
{
    /// <summary>The last commit when it was worked out.</summary>
    public required long Head { get; init; }

    public required Writing Writing { get; init; }

    public required IReadOnlyList<PreparedRecord> Records { get; init; }

    public required Overlay Overlay { get; init; }

    public required IReadOnlyList<PreparedTunnel> Tunnels { get; init; }

    /// <summary>
    /// All words, in the order of their index: an index that is written in its order takes far less time.
    /// </summary>
    public IReadOnlyList<WordRow> Words { get; private set; } = [];

    public void Sort() =>
        Words = [
            .. Records
                .SelectMany(r => r.Words)
                .Concat(Tunnels.SelectMany(t => t.Words ?? []))
                .OrderBy(w => w.Word, StringComparer.Ordinal)
                .ThenBy(w => w.RecordId, StringComparer.Ordinal),
        ];

    public required IReadOnlyList<FindingChange> FindingChanges { get; init; }

    /// <summary>The ids of all records that were read for it.</summary>
    public required IReadOnlySet<string> RestsOn { get; init; }
}

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

    public required PendingWrites Pending { get; init; }

    public required IReadOnlyList<PreparedTunnel> Tunnels { get; init; }

    /// <summary>
    /// All words, in the order of their index: an index that is written in its order takes far less time.
    /// </summary>
    public IReadOnlyList<WordRow> Words { get; private set; } = [];

    public void Sort()
    {
        WordRow[] all = [.. Records.SelectMany(r => r.Words), .. Tunnels.SelectMany(t => t.Words ?? [])];
        // A word stands in many records, and is held once.
        var once = new Dictionary<string, string>();
        foreach (var row in all)
            row.Word = once.TryGetValue(row.Word, out var word) ? word : once[row.Word] = row.Word;
        Words = InParallel.Sorted(all, ByIndex);
    }

    private static int ByIndex(WordRow a, WordRow b) =>
        string.CompareOrdinal(a.Word, b.Word) is not 0 and var word
            ? word
            : string.CompareOrdinal(a.RecordId, b.RecordId);

    public required IReadOnlyList<FindingChange> FindingChanges { get; init; }

    /// <summary>The ids of all records that were read for it.</summary>
    public required IReadOnlySet<string> RestsOn { get; init; }
}

namespace Vellumkeep.Storage.Reading;

/// <summary>
/// Records that are about to be written, with what will be projected of them: a reader that has it answers as though
/// they were written already.
/// </summary>
internal sealed class Overlay
{
    private readonly Dictionary<string, IRecord> records = [];

    public IReadOnlyDictionary<string, IRecord> Records => records;

    /// <summary>Prefixes of the records, by record.</summary>
    public Dictionary<string, PrefixRow[]> Prefixes { get; } = [];

    /// <summary>Shared entries that tunnels use, by tunnel.</summary>
    public Dictionary<string, SharedEntryRow[]> Held { get; } = [];

    /// <summary>
    /// Keys by which gateways find tunnels, by tunnel: of the tunnels among the records, and of those on a gateway
    /// among them.
    /// </summary>
    public Dictionary<string, LookupRow[]> Lookups { get; } = [];

    public void Add(IRecord record)
    {
        records[record.Id] = record;
        Prefixes[record.Id] = [.. RecordRows.Prefixes(record)];
        if (record is Tunnel)
            Held[record.Id] = [.. RecordRows.Held(record)];
    }
}

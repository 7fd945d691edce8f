namespace Vellumkeep.Storage.Reading;

/// <summary>
/// Records that are about to be written, with what will be projected of them: a reader that has it answers as though
/// they were written already. What is looked up in it is put in order once, however often it is asked: an import lays
/// hundreds of thousands of rows over what is kept.
/// </summary>
internal sealed class PendingWrites
{
    private readonly Dictionary<string, IRecord> records = [];
    private readonly Dictionary<string, PrefixRow[]> prefixes = [];
    private readonly Dictionary<string, SharedEntryRow[]> held = [];
    private readonly Dictionary<string, LookupRow[]> lookups = [];
    private readonly HashSet<string> fresh = [];
    private ILookup<string, PrefixRow>? prefixesOn;
    private ILookup<(int Family, string Low), PrefixRow>? outer;
    private ILookup<(string Gateway, string Part), string>? holding;
    private ILookup<(string Gateway, string Key), LookupRow>? under;
    private ILookup<string, string>? tunnelsOn;

    public IReadOnlyDictionary<string, IRecord> Records => records;

    /// <summary>Prefixes of the records, by record.</summary>
    public IReadOnlyDictionary<string, PrefixRow[]> Prefixes => prefixes;

    /// <summary>Shared entries that tunnels use, by tunnel.</summary>
    public IReadOnlyDictionary<string, SharedEntryRow[]> Held => held;

    /// <summary>
    /// Keys by which gateways find tunnels, by tunnel: of the tunnels among the records, and of those on a gateway
    /// among them.
    /// </summary>
    public IReadOnlyDictionary<string, LookupRow[]> Lookups => lookups;

    /// <summary>Whether nothing is kept of a record yet, so that nothing kept refers to it either.</summary>
    public bool IsNew(string id) => fresh.Contains(id);

    /// <param name="isNew">Whether nothing is kept of it yet.</param>
    public void Add(IRecord record, bool isNew)
    {
        records[record.Id] = record;
        prefixes[record.Id] = [.. RecordRows.Prefixes(record)];
        if (record is Tunnel)
            held[record.Id] = [.. RecordRows.Held(record)];
        if (isNew)
            fresh.Add(record.Id);
        (prefixesOn, outer, holding, tunnelsOn) = (null, null, null, null);
    }

    /// <summary>Lays the keys by which gateways will find a tunnel.</summary>
    public void AddLookups(string tunnelId, LookupRow[] rows)
    {
        lookups[tunnelId] = rows;
        under = null;
    }

    /// <summary>The prefixes that lie on a gateway.</summary>
    public ILookup<string, PrefixRow> PrefixesOn =>
        prefixesOn ??= prefixes
            .Values.SelectMany(p => p)
            .Where(p => p.GatewayId is not null)
            .ToLookup(p => p.GatewayId!);

    /// <summary>The outer addresses of gateways.</summary>
    public ILookup<(int Family, string Low), PrefixRow> Outer =>
        outer ??= prefixes.Values.SelectMany(p => p).Where(p => p.Role == "outer").ToLookup(p => (p.Family, p.Low));

    /// <summary>The tunnels that use a shared entry.</summary>
    public ILookup<(string Gateway, string Part), string> Holding =>
        holding ??= held.Values.SelectMany(h => h).ToLookup(h => (h.GatewayId, h.Part), h => h.TunnelId);

    /// <summary>The tunnels that a gateway finds under a key.</summary>
    public ILookup<(string Gateway, string Key), LookupRow> Under =>
        under ??= lookups.Values.SelectMany(l => l).ToLookup(l => (l.GatewayId, l.Key));

    /// <summary>The tunnels that end on a gateway, retired ones left out.</summary>
    public ILookup<string, string> TunnelsOn =>
        tunnelsOn ??= records
            .Values.OfType<Tunnel>()
            .Where(t => t.State != TunnelState.Retired)
            .SelectMany(t => new[] { (Gateway: t.A.GatewayId, t.Id), (Gateway: t.B.GatewayId, t.Id) })
            .ToLookup(t => t.Gateway, t => t.Id);
}

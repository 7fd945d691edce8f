namespace Vellumkeep.Storage.Reading;

/// <summary>
/// Which tunnels and gateways have to do with which: by prefixes that meet on a gateway, by keys under which a gateway
/// would find both, by shared entries, by one outer address. Answered from indexes, in the size of what is asked about
/// and not of the gateway; and with what is about to be written laid over what is kept.
/// </summary>
internal sealed class Neighbours(KeepContext context, PendingWrites? pending)
{
    /// <summary>So many rows of one gateway are asked for one by one; of more, the gateway is read whole.</summary>
    private const int Few = 40;

    private static readonly PendingWrites Nothing = new();

    private readonly PendingWrites over = pending ?? Nothing;

    /// <summary>
    /// Tunnels with a remote prefix that overlaps one of these tunnels' on the same gateway; themselves among them.
    /// </summary>
    public async Task<HashSet<string>> MeetingAsync(IReadOnlyCollection<string> ids, CancellationToken ct)
    {
        var found = new HashSet<string>();
        var (mine, laid) = Parted(ids, over.Prefixes.ContainsKey);
        foreach (var some in mine.Chunk(500))
            found.UnionWith(await Kept(Overlapping(some), ct));
        var overlaid = over.PrefixesOn;
        if (overlaid.Count == 0)
            return found;
        // Kept ones against those laid over.
        foreach (var some in mine.Chunk(500))
        {
            var gateways = overlaid.Select(g => g.Key).ToArray();
            foreach (
                var row in await context
                    .Prefixes.AsNoTracking()
                    .Where(p =>
                        some.Contains(p.RecordId) && p.GatewayId != null && EF.Parameter(gateways).Contains(p.GatewayId)
                    )
                    .ToListAsync(ct)
            )
                found.UnionWith(overlaid[row.GatewayId!].Where(o => Overlap(o, row)).Select(o => o.RecordId));
        }

        // Those laid over against kept ones and against each other.
        foreach (
            var gateway in laid.SelectMany(id => over.Prefixes[id])
                .Where(p => p.GatewayId is not null)
                .GroupBy(p => p.GatewayId!)
        )
        {
            var rows = gateway.ToArray();
            found.UnionWith(Overlapping(rows, [.. overlaid[gateway.Key]]));
            found.UnionWith(await KeptOverlappingAsync(gateway.Key, rows, ct));
        }

        return found;
    }

    /// <summary>Tunnels on the same gateways whose entries would be found by the same key.</summary>
    public async Task<HashSet<string>> SharingAsync(IReadOnlyCollection<string> ids, CancellationToken ct)
    {
        var found = new HashSet<string>();
        var (mine, laid) = Parted(ids, over.Lookups.ContainsKey);
        foreach (var some in mine.Chunk(500))
            found.UnionWith(
                await KeptLookups(
                    from m in context.Lookups
                    from t in context.Lookups
                    where
                        some.Contains(m.TunnelId) && t.GatewayId == m.GatewayId && t.Key == m.Key && (t.Held || m.Held)
                    select t.TunnelId,
                    ct
                )
            );
        var overlaid = over.Under;
        if (overlaid.Count == 0)
            return found;
        foreach (var some in mine.Chunk(500))
        foreach (var row in await context.Lookups.AsNoTracking().Where(l => some.Contains(l.TunnelId)).ToListAsync(ct))
            found.UnionWith(overlaid[(row.GatewayId, row.Key)].Where(o => o.Held || row.Held).Select(o => o.TunnelId));
        var asked = laid.SelectMany(id => over.Lookups[id]).ToLookup(l => (l.GatewayId, l.Key));
        foreach (var of in asked)
            found.UnionWith(overlaid[of.Key].Where(o => o.Held || of.Any(l => l.Held)).Select(o => o.TunnelId));
        foreach (var gateway in asked.GroupBy(a => a.Key.GatewayId).Where(g => !over.IsNew(g.Key)))
        foreach (var keys in gateway.Select(a => a.Key.Key).Chunk(500))
        foreach (
            var row in await context
                .Lookups.AsNoTracking()
                .Where(l => l.GatewayId == gateway.Key && keys.Contains(l.Key))
                .ToListAsync(ct)
        )
            if (!over.Lookups.ContainsKey(row.TunnelId) && asked[(row.GatewayId, row.Key)].Any(l => l.Held || row.Held))
                found.Add(row.TunnelId);
        return found;
    }

    /// <summary>Tunnels that use a shared entry which one of these uses.</summary>
    public async Task<HashSet<string>> HoldingAsync(IReadOnlyCollection<string> ids, CancellationToken ct)
    {
        var found = new HashSet<string>();
        var (mine, laid) = Parted(ids, over.Held.ContainsKey);
        var parts = laid.SelectMany(id => over.Held[id]).Select(h => (h.GatewayId, h.Part)).ToHashSet();
        foreach (var some in mine.Chunk(500))
            parts.UnionWith(
                (
                    await context
                        .Held.AsNoTracking()
                        .Where(h => some.Contains(h.TunnelId))
                        .Select(h => new { h.GatewayId, h.Part })
                        .ToListAsync(ct)
                ).Select(h => (h.GatewayId, h.Part))
            );
        foreach (var part in parts)
            found.UnionWith(over.Holding[part]);
        foreach (var gateway in parts.GroupBy(p => p.GatewayId).Where(g => !over.IsNew(g.Key)))
        {
            string[] names = [.. gateway.Select(p => p.Part)];
            found.UnionWith(
                (
                    await context
                        .Held.Where(h => h.GatewayId == gateway.Key && names.Contains(h.Part))
                        .Select(h => h.TunnelId)
                        .Distinct()
                        .ToListAsync(ct)
                ).Where(id => !over.Held.ContainsKey(id))
            );
        }

        return found;
    }

    /// <summary>
    /// Up to <paramref name="most"/> tunnels of each of these gateways that are not retired; all of those that are
    /// about to be written.
    /// </summary>
    public async Task<HashSet<string>> SomeOnAsync(IReadOnlyCollection<string> gateways, int most, CancellationToken ct)
    {
        var found = new HashSet<string>();
        var retired = WordsOf.States.Of(TunnelState.Retired);
        // Of those that are kept some may be laid over, and then do not count.
        var enough = most + over.Held.Count;
        foreach (var gateway in gateways.Distinct())
        {
            found.UnionWith(over.TunnelsOn[gateway]);
            if (over.IsNew(gateway))
                continue;
            var kept = await (
                from l in context.Links
                where l.ToId == gateway && (l.Role == "a" || l.Role == "b")
                join r in context.Records on l.FromId equals r.Id
                where r.State != retired
                select l.FromId
            )
                .Distinct()
                .OrderBy(id => id)
                .Take(enough)
                .ToListAsync(ct);
            found.UnionWith(kept.Where(id => !over.Held.ContainsKey(id)).Take(most));
        }

        return found;
    }

    /// <summary>Gateways that show the same outer address as one of these; themselves not among them.</summary>
    public async Task<HashSet<string>> SameOuterAsync(IReadOnlyCollection<string> gateways, CancellationToken ct)
    {
        var found = new HashSet<string>();
        var (mine, laid) = Parted(gateways, over.Prefixes.ContainsKey);
        var outer = laid.SelectMany(id => over.Prefixes[id])
            .Where(p => p.Role == "outer")
            .Select(p => (p.Family, p.Low, p.RecordId))
            .ToHashSet();
        foreach (var some in mine.Chunk(500))
            outer.UnionWith(
                (
                    await context
                        .Prefixes.AsNoTracking()
                        .Where(p => some.Contains(p.RecordId) && p.Role == "outer")
                        .Select(p => new
                        {
                            p.Family,
                            p.Low,
                            p.RecordId,
                        })
                        .ToListAsync(ct)
                ).Select(p => (p.Family, p.Low, p.RecordId))
            );
        var alike = outer.ToLookup(o => (o.Family, o.Low), o => o.RecordId);
        foreach (var address in alike)
            found.UnionWith(
                over.Outer[address.Key].Select(p => p.RecordId).Where(id => address.Any(other => other != id))
            );
        foreach (var family in outer.GroupBy(o => o.Family))
        foreach (var lows in family.Select(o => o.Low).Distinct().Chunk(500))
        foreach (
            var row in await context
                .Prefixes.AsNoTracking()
                .Where(p => p.Family == family.Key && lows.Contains(p.Low) && p.Role == "outer")
                .Select(p => new
                {
                    p.Family,
                    p.Low,
                    p.RecordId,
                })
                .ToListAsync(ct)
        )
            if (!over.Prefixes.ContainsKey(row.RecordId) && alike[(row.Family, row.Low)].Any(id => id != row.RecordId))
                found.Add(row.RecordId);
        return found;
    }

    private static (string[] Kept, string[] Laid) Parted(IReadOnlyCollection<string> ids, Func<string, bool> laid) =>
        ([.. ids.Where(id => !laid(id))], [.. ids.Where(laid)]);

    private async Task<IEnumerable<string>> Kept(IQueryable<string> ids, CancellationToken ct) =>
        (await ids.Distinct().ToListAsync(ct)).Where(id => !over.Prefixes.ContainsKey(id));

    private async Task<IEnumerable<string>> KeptLookups(IQueryable<string> ids, CancellationToken ct) =>
        (await ids.Distinct().ToListAsync(ct)).Where(id => !over.Lookups.ContainsKey(id));

    private IQueryable<string> Overlapping(string[] ids) =>
        from mine in context.Prefixes
        from theirs in context.Prefixes
        where
            ids.Contains(mine.RecordId)
            && mine.GatewayId != null
            && theirs.GatewayId == mine.GatewayId
            && theirs.Family == mine.Family
            && string.Compare(theirs.Low, mine.High) <= 0
            && string.Compare(theirs.High, mine.Low) >= 0
        select theirs.RecordId;

    private async Task<IEnumerable<string>> KeptOverlappingAsync(string gateway, PrefixRow[] rows, CancellationToken ct)
    {
        // Nothing that is kept stands on a gateway that is only just made.
        if (over.IsNew(gateway))
            return [];
        if (rows.Length > Few)
            return Overlapping(
                    rows,
                    await context.Prefixes.AsNoTracking().Where(p => p.GatewayId == gateway).ToListAsync(ct)
                )
                .Where(id => !over.Prefixes.ContainsKey(id));
        var found = new HashSet<string>();
        foreach (var row in rows)
            found.UnionWith(
                (
                    await context
                        .Prefixes.Where(p =>
                            p.GatewayId == gateway
                            && p.Family == row.Family
                            && string.Compare(p.Low, row.High) <= 0
                            && string.Compare(p.High, row.Low) >= 0
                        )
                        .Select(p => p.RecordId)
                        .Distinct()
                        .ToListAsync(ct)
                ).Where(id => !over.Prefixes.ContainsKey(id))
            );
        return found;
    }

    /// <summary>
    /// The records of <paramref name="theirs"/> of which a prefix overlaps one of <paramref name="mine"/>: prefixes
    /// contain one another or are apart.
    /// </summary>
    private static HashSet<string> Overlapping(
        IReadOnlyCollection<PrefixRow> mine,
        IReadOnlyCollection<PrefixRow> theirs
    )
    {
        var found = new HashSet<string>();
        foreach (var family in mine.GroupBy(p => p.Family))
        {
            var index = new PrefixIndex<string>(
                theirs
                    .Where(t => t.Family == family.Key)
                    .Select(t => (AddressText.Between((Family)t.Family, t.Low, t.High), t.RecordId))
            );
            foreach (var row in family)
                found.UnionWith(
                    index.Overlapping(AddressText.Between((Family)row.Family, row.Low, row.High)).Select(o => o.Value)
                );
        }

        return found;
    }

    private static bool Overlap(PrefixRow a, PrefixRow b) =>
        a.Family == b.Family && string.CompareOrdinal(a.Low, b.High) <= 0 && string.CompareOrdinal(a.High, b.Low) >= 0;
}

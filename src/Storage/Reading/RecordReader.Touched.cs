namespace Vellumkeep.Storage.Reading;

/// <summary>Which tunnels a write touches, so that they are checked again.</summary>
public sealed partial class RecordReader
{
    /// <summary>The tunnels that have to be checked again when these records were written.</summary>
    internal async Task<IReadOnlyCollection<string>> TouchedAsync(
        IReadOnlyList<(string Id, RecordKind Kind, bool New)> written,
        CancellationToken ct
    )
    {
        var found = written.Where(w => w.Kind == RecordKind.Tunnel).Select(w => w.Id).ToHashSet();
        var looked = await RelookedAsync(written.Select(w => (w.Id, w.Kind)), ct);
        found.UnionWith(looked);
        found.UnionWith(await MeetingAsync(looked, ct));
        // A site touches the tunnels of its gateways; gateways, suites and customers those that refer to them; a
        // platform those of its gateways. What is new is referred to by nothing but what was written with it.
        var towards = written.Where(w => w.Kind != RecordKind.Tunnel && !w.New).Select(w => w.Id).ToHashSet();
        for (var step = 0; step < 3 && towards.Count > 0; step++)
        {
            var next = new HashSet<string>();
            foreach (var chunk in towards.Chunk(500))
            {
                // In two steps: joined, a planner without fresh statistics goes through every record.
                var from = await context
                    .Links.Where(l => chunk.Contains(l.ToId))
                    .Select(l => l.FromId)
                    .Distinct()
                    .ToListAsync(ct);
                foreach (var some in from.Chunk(500))
                foreach (
                    var r in await context
                        .Records.Where(r => some.Contains(r.Id))
                        .Select(r => new { r.Id, r.Kind })
                        .ToListAsync(ct)
                )
                    _ =
                        r.Kind == RecordKind.Tunnel
                            ? found.Add(r.Id)
                            : r.Kind is RecordKind.Site or RecordKind.Gateway && next.Add(r.Id);
            }

            towards = next;
        }

        return found;
    }

    /// <summary>
    /// The tunnels whose look-up keys may move with these records: tunnels themselves, and those that end on a gateway
    /// or on another that shows the same outer address.
    /// </summary>
    internal async Task<IReadOnlyCollection<string>> RelookedAsync(
        IEnumerable<(string Id, RecordKind Kind)> written,
        CancellationToken ct
    )
    {
        var all = written.ToArray();
        var found = all.Where(w => w.Kind == RecordKind.Tunnel).Select(w => w.Id).ToHashSet();
        foreach (var chunk in all.Where(w => w.Kind == RecordKind.Gateway).Select(w => w.Id).Chunk(500))
        {
            found.UnionWith(
                await context
                    .Links.Where(l => chunk.Contains(l.ToId) && (l.Role == "a" || l.Role == "b"))
                    .Select(l => l.FromId)
                    .ToListAsync(ct)
            );
            foreach (var alike in (await neighbours.SameOuterAsync(chunk, ct)).Chunk(500))
                found.UnionWith(
                    await context
                        .Links.Where(l => alike.Contains(l.ToId) && (l.Role == "a" || l.Role == "b"))
                        .Select(l => l.FromId)
                        .ToListAsync(ct)
                );
        }

        return found;
    }

    /// <summary>
    /// The tunnels whose remote prefixes or look-up keys meet those of the given tunnels as they are kept now, those
    /// themselves left out.
    /// </summary>
    internal async Task<IReadOnlyCollection<string>> MeetingAsync(IReadOnlyCollection<string> ids, CancellationToken ct)
    {
        var found = await neighbours.MeetingAsync(ids, ct);
        found.UnionWith(await neighbours.SharingAsync(ids, ct));
        found.ExceptWith(ids);
        return found;
    }
}

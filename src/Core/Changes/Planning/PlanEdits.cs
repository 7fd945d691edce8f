namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// The differ: edits of what stands otherwise in the records after than before, and which step carries each. Nothing
/// else makes edits.
/// </summary>
internal sealed class PlanEdits
{
    private readonly Carriers carriers;
    private readonly List<Edit> edits = [];
    private readonly Dictionary<string, List<int>> carried = [];

    private PlanEdits(Carriers carriers) => this.carriers = carriers;

    /// <summary>The edits, in the order in which they are carried out.</summary>
    public ImmutableArray<Edit> All => [.. edits];

    /// <summary>The places in <see cref="All"/> of the edits that a step carries.</summary>
    public IEnumerable<int> Of(string stepKey) => carried.GetValueOrDefault(stepKey, []);

    /// <param name="before">The records as they are.</param>
    /// <param name="tunnels">The tunnels that it is about.</param>
    /// <param name="ct">Called off when nobody waits any more.</param>
    /// <param name="after">The records as the plan would leave them.</param>
    /// <param name="carriers">Which step carries what.</param>
    /// <exception cref="InvalidOperationException">A record would not be readable: a planner made nonsense.</exception>
    /// <exception cref="OperationCanceledException">Nobody waits for the plan any more.</exception>
    public static PlanEdits Between(
        Inventory before,
        Inventory after,
        IReadOnlyList<TunnelStages> tunnels,
        Carriers carriers,
        CancellationToken ct
    )
    {
        var made = new PlanEdits(carriers);
        foreach (var gateway in GatewaysOf(tunnels, before))
            made.Gateway(gateway, after.Get<Gateway>(gateway.Id));
        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            var then = Written((t.Mid ?? t.Then).Tunnel);
            made.Tunnel(t.Was.Tunnel, t.WasForm, then, later: false);
            if (t.Mid is not null)
                made.Tunnel(t.Was.Tunnel, then, Written(t.Then.Tunnel), later: true);
        }

        return made;
    }

    /// <summary>The gateways of the tunnels, before and after, that were there before.</summary>
    public static IEnumerable<Gateway> GatewaysOf(IEnumerable<TunnelStages> tunnels, Inventory before) =>
        tunnels
            .SelectMany(t => t.Was.Ends.Concat(t.Then.Ends))
            .Select(e => e.Gateway.Id)
            .Distinct()
            .Select(before.Find<Gateway>)
            .OfType<Gateway>();

    private void Gateway(Gateway was, Gateway then)
    {
        if (ReferenceEquals(was, then))
            return;
        var (x, y) = (
            WrittenGateway.Form.Write(was, IdNames.Instance),
            WrittenGateway.Form.Write(then, IdNames.Instance)
        );
        Readable(then, WrittenGateway.Form.Read, y);
        foreach (var changed in Edits.Between(x, y, intoItems: true))
            Add(Place.On(was, changed.Path), changed.Before, changed.After, later: false);
    }

    private void Tunnel(Tunnel tunnel, MapNode was, MapNode then, bool later)
    {
        Readable(tunnel, WrittenTunnel.Form.Read, then);
        foreach (
            var path in Edits.Between(was, then, intoItems: true).SelectMany(m => Values(m.Path, was, then)).Distinct()
        )
            Add(Place.On(tunnel, path), Edits.Find(was, path), Edits.Find(then, path), later);
    }

    private void Add(Place at, Node? before, Node? after, bool later)
    {
        edits.Add(new(at, before, after));
        if (carriers.Of(at, later) is not { } key)
            return;
        if (!carried.TryGetValue(key, out var list))
            carried[key] = list = [];
        list.Add(edits.Count - 1);
    }

    private static MapNode Written(Tunnel tunnel) => WrittenTunnel.Form.Write(tunnel, IdNames.Instance);

    private static void Readable<T>(T record, Func<string, Fields, T?> read, MapNode form)
        where T : class, IRecord
    {
        var reading = new Reading(IdNames.Instance);
        if (read(record.Id, new Fields(form, "", reading)) is null)
            throw new InvalidOperationException(
                $"The plan would make {record.Code} an invalid record: {reading.Problems[0].Field}: {reading.Problems[0].Wrong}"
            );
    }

    /// <summary>
    /// A difference as the values that it is of: what is recorded of a value (how it was confirmed, whether it is
    /// temporary) moves with the value, and each setting and each item of a list for itself, so that a step carries its
    /// own and a deviation alters no other.
    /// </summary>
    private static IEnumerable<FieldPath> Values(FieldPath path, MapNode was, MapNode then)
    {
        if (TunnelPaths.EndOf(path) is not { } end || path.Steps.Length < 2)
            return [path];
        var field = path.First(2);
        IEnumerable<FieldPath> Parts() =>
            new[] { was, then }
                .SelectMany(f => (Edits.Find(f, field) as MapNode)?.Entries.Select(e => field.Key(e.Key)) ?? [])
                .Distinct();
        return WrittenTunnel.OfEnd.GrainOf(field.Steps[1].Name) switch
        {
            Grain.Whole => [field],
            Grain.Parts => path.Equals(field) ? Parts() : [path],
            Grain.WholeParts => path.Equals(field) ? Parts() : [path.First(3)],
            Grain.Items => Items(path, field, was, then),
            _ => [path],
        };
    }

    /// <summary>
    /// Each item of a list for itself, also where there was no list, and where the list was confirmed.
    /// </summary>
    private static IEnumerable<FieldPath> Items(FieldPath path, FieldPath list, MapNode was, MapNode then)
    {
        if (path.Below(list).Steps.FirstOrDefault(s => s.IsItem) is { IsItem: true } item)
            return [list.Item(item.Name)];
        return Edits.Find(was, list) is null && Edits.Find(then, list) is { } made && Edits.ItemsOf(made) is { } items
            ? items.Select(i => list.Item(Edits.KeyOf(i)))
            : [list];
    }
}

namespace Vellumkeep.Core.Resolution;

/// <summary>A tunnel with both ends resolved among the records around it, as it stands on a day.</summary>
public sealed class TunnelView
{
    /// <param name="inventory">The records to look among.</param>
    /// <param name="tunnel">The tunnel that it is about.</param>
    /// <param name="today">The day on which it is looked at.</param>
    public TunnelView(Inventory inventory, Tunnel tunnel, DateOnly today)
    {
        Inventory = inventory;
        Tunnel = tunnel;
        Today = today;
        Customer = inventory.Get<Customer>(tunnel.CustomerId);
        Suite = inventory.Find<Suite>(tunnel.Agreed.SuiteId);
        A = new(this, EndName.A, inventory);
        B = new(this, EndName.B, inventory);
    }

    /// <summary>The same with every temporary value replaced by its final one.</summary>
    public TunnelView WithFinalValues() => new(Inventory, Tunnel, Today) { IsFinal = (_, _) => true };

    /// <summary>The same with one temporary value replaced by its final one.</summary>
    public TunnelView WithFinalValue(EndName end, RowKey row) =>
        new(Inventory, Tunnel, Today) { IsFinal = (e, r) => e == end && r == row };

    /// <summary>Whether the temporary value of a row at an end counts as its final one.</summary>
    internal Func<EndName, RowKey, bool> IsFinal { get; private init; } = (_, _) => false;

    /// <summary>The records that it stands among.</summary>
    public Inventory Inventory { get; }

    /// <summary>The record.</summary>
    public Tunnel Tunnel { get; }

    /// <summary>The day on which it is looked at.</summary>
    public DateOnly Today { get; }

    /// <summary>The customer it belongs to.</summary>
    public Customer Customer { get; }

    /// <summary>The suite that was agreed; null when none was.</summary>
    public Suite? Suite { get; }

    /// <summary>End A.</summary>
    public EndView A { get; }

    /// <summary>End B.</summary>
    public EndView B { get; }

    /// <summary>One of its ends.</summary>
    public EndView End(EndName name) => name == EndName.A ? A : B;

    /// <summary>A, then B.</summary>
    public IEnumerable<EndView> Ends => [A, B];

    /// <summary>
    /// The key exchange version both would use: the newest they have in common; null when there is none, or one end's
    /// is not known.
    /// </summary>
    public IkeVersion? Version => version ??= Common();

    private IkeVersion? version;

    private IkeVersion? Common() =>
        A.Get(Settings.IkeVersions).Value is { } a && B.Get(Settings.IkeVersions).Value is { } b
            ? a.Items.Intersect(b.Items).Select(v => (IkeVersion?)v).Max()
            : null;

    /// <summary>What a prefix is called at an end's site, or the prefix itself.</summary>
    public string NameOf(EndName end, Prefix prefix) => End(end).Site.NameOf(prefix) ?? prefix.ToString();

    /// <summary>
    /// The wanted pairs by the PFS of the child SAs that carry them; one group where no selector has a PFS of its own.
    /// </summary>
    public IEnumerable<PfsOfPairs> PfsGroups(IEnumerable<SubnetPair> pairs) =>
        pairs.GroupBy(p => (A: A.PfsOf(p), B: B.PfsOf(p))).Select(g => new PfsOfPairs(g.Key.A, g.Key.B, [.. g]));

    /// <summary>A pair by the names of its networks: <c>plant to creamery</c>.</summary>
    public string NameOf(SubnetPair pair) =>
        $"{NameOf(EndName.A, pair.A)} to {NameOf(EndName.B, pair.B)}"
        + (pair.Only is { } only ? $", {only.OfPair}" : "");
}

/// <summary>Pairs whose child SAs have the same PFS.</summary>
/// <param name="A">What A has; null when not known.</param>
/// <param name="B">What B has; null when not known.</param>
/// <param name="Pairs">The pairs.</param>
public sealed record PfsOfPairs(Pfs? A, Pfs? B, ImmutableArray<SubnetPair> Pairs)
{
    /// <summary>What an end has.</summary>
    public Pfs? At(EndName end) => end == EndName.A ? A : B;
}

namespace Vellumkeep.Core.Resolution;

/// <summary>A tunnel with both ends resolved among the records around it, as it stands on a day.</summary>
public sealed class TunnelView
{
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

    public Inventory Inventory { get; }

    public Tunnel Tunnel { get; }

    public DateOnly Today { get; }

    public Customer Customer { get; }

    public Suite? Suite { get; }

    public EndView A { get; }

    public EndView B { get; }

    public EndView End(EndName name) => name == EndName.A ? A : B;

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

    /// <summary>A pair by the names of its networks: <c>plant to creamery</c>.</summary>
    public string NameOf(SubnetPair pair) => $"{NameOf(EndName.A, pair.A)} to {NameOf(EndName.B, pair.B)}";
}

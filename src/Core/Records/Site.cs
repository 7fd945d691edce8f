namespace Vellumkeep.Core.Records;

/// <summary>A host inside a network that proof is taken from or to.</summary>
/// <param name="Address">Of the host, as it is at the site.</param>
/// <param name="Service">What answers there, such as ping; null when nobody said.</param>
/// <param name="ConfirmedBy">Who saw it answer; null when nobody has.</param>
public sealed record TestPoint(Address Address, string? Service, string? ConfirmedBy);

/// <summary>
/// A network of a site. <see cref="PresentedAs"/> is the prefix it shows inside tunnels when it has to be
/// presented as another.
/// </summary>
/// <param name="Prefix">As it is at the site.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Purpose">What it is for; null when nobody said.</param>
/// <param name="PresentedAs">As it is seen inside tunnels; null when as it is.</param>
/// <param name="TestPoints">Hosts in it that proof is taken from or to.</param>
public sealed record Network(
    Prefix Prefix,
    string Name,
    string? Purpose,
    Prefix? PresentedAs,
    ImmutableArray<TestPoint> TestPoints
)
{
    /// <summary>The prefix as it is seen inside a tunnel.</summary>
    public Prefix AsPresented => PresentedAs ?? Prefix;
}

/// <summary>A place of a customer, with its networks.</summary>
public sealed record Site : IRecord
{
    /// <summary>What identifies it; never shown.</summary>
    public string Id { get; init; } = "";

    /// <inheritdoc/>
    public string Code { get; init; } = "";

    /// <summary>Whose site it is.</summary>
    public string CustomerId { get; init; } = "";

    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";

    /// <summary>Its time zone, such as <c>Europe/London</c> (IANA time zone database).</summary>
    public string TimeZone { get; init; } = "Etc/UTC";

    /// <summary>Whether its hosts send everything to the gateway; null when nobody said.</summary>
    public bool? GatewayIsDefaultRouter { get; init; }

    /// <summary>The networks that live there.</summary>
    public ImmutableArray<Network> Networks { get; init; } = [];

    /// <summary>Anything else.</summary>
    public string? Notes { get; init; }

    /// <summary>
    /// Whether an inner router has a route back to the VPN gateway, where the gateway is not the default router; null
    /// when nobody recorded it.
    /// </summary>
    public bool? ReturnRoute { get; init; }

    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Site;

    /// <inheritdoc/>
    public DateOnly? Retired { get; init; }

    /// <summary>
    /// The name of the network that is seen as <paramref name="prefix"/>, or of the one that contains it.
    /// </summary>
    public string? NameOf(Prefix prefix) =>
        (
            Networks.FirstOrDefault(n => n.AsPresented == prefix)
            ?? Networks.FirstOrDefault(n => n.AsPresented.Contains(prefix))
        )?.Name;
}

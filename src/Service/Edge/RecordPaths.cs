namespace Vellumkeep.Service.Edge;

/// <summary>The kinds of record by the word that their paths begin with.</summary>
public static class RecordPaths
{
    public static readonly ImmutableArray<(string Plural, RecordKind Kind)> Kinds =
    [
        ("customers", RecordKind.Customer),
        ("sites", RecordKind.Site),
        ("gateways", RecordKind.Gateway),
        ("platforms", RecordKind.Platform),
        ("suites", RecordKind.Suite),
        ("offers", RecordKind.Offer),
        ("tunnels", RecordKind.Tunnel),
        ("people", RecordKind.Person),
    ];
}

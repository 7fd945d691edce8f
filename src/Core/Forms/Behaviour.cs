namespace Vellumkeep.Core.Forms;

/// <summary>
/// What of a record only describes it, and what alters how tunnels behave. The first is edited directly; the second
/// goes through a change, or is a correction with a reason.
/// </summary>
public static class Behaviour
{
    private static readonly Dictionary<RecordKind, string[]> Descriptive = new()
    {
        [RecordKind.Customer] = ["code", "name", "timeZone", "namingPattern", "contacts", "notes"],
        [RecordKind.Platform] = ["code", "name", "family", "notes"],
        [RecordKind.Suite] = ["code", "about"],
        [RecordKind.Offer] = ["code", "name", "notes"],
        [RecordKind.Site] = ["code", "name", "timeZone", "notes"],
        [RecordKind.Gateway] = ["code", "managementAccess", "notes"],
        [RecordKind.Tunnel] =
        [
            "code",
            "name",
            "purpose",
            "tags",
            "contacts",
            "notes",
            "since",
            "importance",
            "throughput",
            "accepted",
        ],
        [RecordKind.Person] = ["code", "name", "reach", "notes"],
    };

    /// <summary>The fields of a site's network that only describe it.</summary>
    private static readonly string[] OfNetworks = ["name", "purpose", "testPoints"];

    /// <summary>Whether a field, by its key at the top of the form, only describes the record.</summary>
    public static bool Describes(RecordKind kind, string key) => Descriptive[kind].Contains(key);

    /// <summary>
    /// The paths at which two forms of a record differ in a way that alters how tunnels behave. A tunnel that was not
    /// in service before is only written down, so that nothing of it counts; retiring counts for every kind.
    /// </summary>
    public static ImmutableArray<Changed> Altered(RecordKind kind, MapNode before, MapNode after) =>
        kind == RecordKind.Tunnel
        && before.Text("state") is "planned" or "building"
        && after.Text("state") is "planned" or "building"
            ? []
            : Edits.Between(Bare(kind, before), Bare(kind, after));

    private static MapNode Bare(RecordKind kind, MapNode form) =>
        new([
            .. form
                .Entries.Where(e => !Describes(kind, e.Key))
                .Select(e =>
                    kind == RecordKind.Site && e.Key == "networks" && e.Value is ListNode networks
                        ? KeyValuePair.Create(
                            e.Key,
                            (Node)
                                ListNode.Of(
                                    networks.Items.Select(n =>
                                        n is MapNode m
                                            ? new MapNode([.. m.Entries.Where(x => !OfNetworks.Contains(x.Key))])
                                            : n
                                    )
                                )
                        )
                        : e
                ),
        ]);
}

/// <summary>Starting the next record from one that is there.</summary>
public static class Copying
{
    private static readonly string[] NotOfATunnel = ["since", "purpose", "accepted", "fallback", "notes"];

    private static readonly string[] NotOfAnEnd =
    [
        "subnets",
        "keyHeld",
        "progress",
        "rules",
        "noNat",
        "routes",
        "tunnelAddress",
        "identitySent",
        "identityExpected",
        "peerAddress",
        "furtherPeers",
        "prefixNames",
        "certificate",
    ];

    /// <summary>
    /// The form of a tunnel as the start of the next one: what was agreed about the exchange and end A's gateway stay,
    /// what belongs to the one tunnel (pairs, identities, keys, what was entered and confirmed, end B's gateway) goes.
    /// Planned, and with the new code.
    /// </summary>
    public static MapNode Tunnel(MapNode form, string code)
    {
        var made = new MapNode([.. form.Entries.Where(e => !NotOfATunnel.Contains(e.Key))])
            .With("code", code)
            .With("state", "planned");
        if (made.Find("agreed") is MapNode agreed)
            made = made.With("agreed", agreed.With("pairs", null).With("identities", null));
        if (made.Find("a") is MapNode a)
            made = made.With("a", Unconfirmed(new MapNode([.. a.Entries.Where(e => !NotOfAnEnd.Contains(e.Key))])));
        return made.With("b", MapNode.Empty);
    }

    private static MapNode Unconfirmed(MapNode map) =>
        new([.. map.Entries.Where(e => e.Key != "confirmed").Select(e => KeyValuePair.Create(e.Key, Bare(e.Value)))]);

    private static Node Bare(Node node) =>
        node switch
        {
            MapNode m when m.Find("is") is { } value => value,
            MapNode m => Unconfirmed(m),
            _ => node,
        };
}

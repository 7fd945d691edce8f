namespace Vellumkeep.Core.Forms;

/// <summary>
/// What of a record only describes it, and what alters how tunnels behave. The first is edited directly; the second
/// goes through a change, or is a correction with a reason.
/// </summary>
public static class Behaviour
{
    /// <summary>Whether a field, by its key at the top of the form, only describes the record.</summary>
    public static bool Describes(RecordKind kind, string key) =>
        kind switch
        {
            RecordKind.Customer => WrittenCustomer.Form.Describes(key),
            RecordKind.Platform => WrittenPlatform.Form.Describes(key),
            RecordKind.Suite => WrittenSuite.Form.Describes(key),
            RecordKind.Offer => WrittenOffer.Form.Describes(key),
            RecordKind.Site => WrittenSite.Form.Describes(key),
            RecordKind.Gateway => WrittenGateway.Form.Describes(key),
            RecordKind.Tunnel => WrittenTunnel.Form.Describes(key),
            RecordKind.Person => WrittenPerson.Form.Describes(key),
            _ => throw new ArgumentException($"A {kind.Word()} has no written form.", nameof(kind)),
        };

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
                                            ? new MapNode([
                                                .. m.Entries.Where(x => !WrittenSite.OfNetwork.Describes(x.Key)),
                                            ])
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
    /// <summary>
    /// The form of a tunnel as the start of the next one: what was agreed about the exchange and end A's gateway stay,
    /// what belongs to the one tunnel (pairs, identities, keys, what was entered and confirmed, end B's gateway) goes.
    /// Planned, and with the new code.
    /// </summary>
    public static MapNode Tunnel(MapNode form, string code)
    {
        var made = new MapNode([.. form.Entries.Where(e => !WrittenTunnel.Form.IsNotCopied(e.Key))])
            .With("code", code)
            .With("state", "planned");
        if (made.Find("agreed") is MapNode agreed)
            made = made.With("agreed", agreed.With("pairs", null).With("identities", null));
        if (made.Find("a") is MapNode a)
            made = made.With(
                "a",
                Unconfirmed(new MapNode([.. a.Entries.Where(e => !WrittenTunnel.OfEnd.IsNotCopied(e.Key))]))
            );
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

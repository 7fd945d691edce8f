namespace Vellumkeep.Core.Resolution;

/// <summary>
/// Writing down what somebody saw on an end. Confirming writes the resolved value as set, with how, when and who;
/// correcting writes another value. Both give the tunnel's written form with the one value changed, or say why not.
/// </summary>
public static class ConfirmingValues
{
    /// <summary>Whether there is a value at an end that somebody can have seen on its device.</summary>
    public static bool CanConfirm(TunnelView view, EndName end, RowKey row)
    {
        var e = view.End(end);
        return Where(view, end, row).Ok
            && row.Subject switch
            {
                RowSubject.Subnets => e.LocalSubnets.Known && e.RemoteSubnets.Known,
                RowSubject.Rules => e.End.Rules is not null,
                RowSubject.NoNat => e.End.NoNat is not null,
                RowSubject.Routes => e.End.Routes is not null,
                RowSubject.Identity => IdentityOf(e, row).Value is not null,
                RowSubject.Address => (e.End.PeerAddress?.Value ?? e.PeerAddress.Value) is not null,
                _ => row.Setting!.On(e).Any is not null,
            };
    }

    /// <summary>Whether the value of a row is entered at this end, one value at a time.</summary>
    public static bool CanCorrect(TunnelView view, EndName end, RowKey row) =>
        row.Subject is RowSubject.KeyHeld or RowSubject.KeyFor || (!IsListOfItems(row) && Where(view, end, row).Ok);

    private static bool IsListOfItems(RowKey row) =>
        row.Subject is RowSubject.Rules or RowSubject.NoNat or RowSubject.Routes;

    /// <summary>Confirms the value of a row at an end.</summary>
    public static Parsed<Tunnel> Confirm(TunnelView view, EndName end, RowKey row, Confirmation confirmation)
    {
        var e = view.End(end);
        var form = WrittenTunnel.Form.Write(view.Tunnel, IdNames.Instance);
        var at = TunnelPaths.Of(end);
        if (Where(view, end, row) is not { Ok: true } place)
            return Parsed<Tunnel>.Fail(Where(view, end, row).Wrong!, Where(view, end, row).Right!);
        var text = confirmation.ToString();
        Node Is(Node value) => WrittenRecorded.Again(Edits.Find(form, place.Value), value, text);
        Parsed<Tunnel> Unknown() =>
            Parsed<Tunnel>.Fail(
                $"{view.Tunnel.Code} {end}: there is no value to confirm",
                "add the value that the device has"
            );
        switch (row.Subject)
        {
            case RowSubject.Subnets:
                if (!e.LocalSubnets.Known || !e.RemoteSubnets.Known)
                    return Unknown();
                var subnets = e.End.Subnets is { } said
                    ? said with
                    {
                        Local = said.Local
                            ?? (said.LocalFrom is null && said.Pairs is null ? [.. e.LocalSubnets.Value!.Items] : null),
                        Remote = said.Remote
                            ?? (
                                said.RemoteFrom is null && said.Pairs is null ? [.. e.RemoteSubnets.Value!.Items] : null
                            ),
                        Confirmed = confirmation,
                    }
                    : new EnteredSubnets(
                        e.LocalSubnets.Value!.Items,
                        null,
                        e.RemoteSubnets.Value!.Items,
                        null,
                        null,
                        confirmation
                    );
                return Read(view, Edits.Put(form, at.Subnets, WrittenTunnel.WriteSubnets(subnets)));
            case RowSubject.Rules or RowSubject.NoNat or RowSubject.Routes:
                return Edits.Find(form, place.Value) is { } list
                    ? Read(view, Edits.Put(form, place.Value, Is(WrittenRecorded.Bare(list))))
                    : Parsed<Tunnel>.Fail(
                        $"{view.Tunnel.Code} {end}: not recorded, so there is nothing to confirm",
                        "first import them with the tunnel"
                    );
            case RowSubject.Identity:
                return IdentityOf(e, row).Value is { } id
                    ? Read(view, Edits.Put(form, place.Value, Is(new TextNode(id.ToString()))))
                    : Unknown();
            case RowSubject.Address:
                return (e.End.PeerAddress?.Value ?? e.PeerAddress.Value) is { } remote
                    ? Read(view, Edits.Put(form, place.Value, Is(new TextNode(remote.ToString()))))
                    : Unknown();
            default:
                var setting = row.Setting!;
                return Node(e, setting, confirmation) is { } node
                    ? Read(view, Edits.Put(form, place.Value, Is(WrittenRecorded.Bare(node))))
                    : Unknown();
        }
    }

    /// <summary>
    /// Corrects the value of a row at an end to <paramref name="value"/>, read by the row's own rule; several values
    /// are parted by semicolons, prefixes by commas or blanks.
    /// </summary>
    public static Parsed<Tunnel> Correct(
        TunnelView view,
        EndName end,
        RowKey row,
        string value,
        Confirmation? confirmation
    )
    {
        var form = WrittenTunnel.Form.Write(view.Tunnel, IdNames.Instance);
        if (row == RowKey.KeyHeld)
            return Scalars
                .KeyVersions(value)
                .Then(v =>
                    Read(
                        view,
                        Edits.Put(
                            form,
                            TunnelPaths.Of(end).KeyHeld,
                            new MapWriter().Always("both", ListNode.OfTexts(v)).Done()
                        )
                    )
                );
        if (row == RowKey.KeyFor)
            return Read(view, Edits.Put(form, TunnelPaths.Of(end).KeyFor, value.Trim()));
        var place = Where(view, end, row);
        if (!place.Ok)
            return Parsed<Tunnel>.Fail(place.Wrong!, place.Right!);
        if (IsListOfItems(row))
            return Parsed<Tunnel>.Fail(
                $"{row} cannot be corrected value by value",
                "import the tunnel with the whole list"
            );
        if (row.Subject == RowSubject.Subnets)
        {
            var local = row.Owner == end;
            var list = ListNode.OfTexts(
                value.Split(
                    [',', ' ', ';', '\n'],
                    StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries
                )
            );
            // A list of its own takes the place of a shared entry that it no longer equals.
            form = Edits.Put(form, TunnelPaths.Of(end).SubnetsFrom(local), null);
            form = Edits.Put(form, TunnelPaths.Of(end).SubnetPairs, null);
            form = Edits.Put(form, place.Value, list);
            return Read(
                view,
                confirmation is null
                    ? form
                    : Edits.Put(form, TunnelPaths.Of(end).SubnetsConfirmed, confirmation.ToString())
            );
        }

        var parts = value.Split([';', '\n'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        Node node = parts.Length > 1 ? ListNode.OfTexts(parts) : new TextNode(value.Trim());
        return CorrectTo(view, place.Value, node, confirmation);
    }

    /// <summary>Corrects a setting that has parts, such as a lifetime with its margin, to its written form.</summary>
    public static Parsed<Tunnel> CorrectParts(
        TunnelView view,
        EndName end,
        Setting setting,
        MapNode parts,
        Confirmation? confirmation
    ) => CorrectTo(view, TunnelPaths.Of(end).Setting(setting), parts, confirmation);

    private static Parsed<Tunnel> CorrectTo(TunnelView view, FieldPath at, Node value, Confirmation? confirmation)
    {
        var form = WrittenTunnel.Form.Write(view.Tunnel, IdNames.Instance);
        return Read(
            view,
            Edits.Put(form, at, WrittenRecorded.Again(Edits.Find(form, at), value, confirmation?.ToString()))
        );
    }

    private static Resolved<Identity> IdentityOf(EndView e, RowKey row) =>
        row.Owner == e.Name ? e.IdentitySent : e.IdentityExpected;

    /// <summary>The row that somebody typed; refused with those that there are.</summary>
    public static Parsed<RowKey> RowOf(string? text) =>
        RowKey.Find(text) is { } row
            ? Parsed<RowKey>.Of(row)
            : Parsed<RowKey>.Fail($"'{Typed.Short(text ?? "")}' is not a row of the comparison", Named);

    private static string Named => string.Join(", ", RowKey.Confirmable);

    /// <summary>The path at which the value of a row stands on an end.</summary>
    public static Parsed<FieldPath> Where(TunnelView view, EndName end, RowKey row)
    {
        var at = TunnelPaths.Of(end);
        return row.Subject switch
        {
            RowSubject.KeyHeld => Parsed<FieldPath>.Fail(
                "a key cannot be confirmed by reading it",
                "compare check codes with the other end"
            ),
            RowSubject.Address when row.Owner == end => Parsed<FieldPath>.Fail(
                $"{end}'s own address is recorded on its gateway {view.End(end).Gateway.Code}",
                $"name end {end.Other()}, where it is the peer address"
            ),
            RowSubject.Address => Parsed<FieldPath>.Of(at.PeerAddress),
            RowSubject.Identity => Parsed<FieldPath>.Of(row.Owner == end ? at.IdentitySent : at.IdentityExpected),
            RowSubject.Subnets => Parsed<FieldPath>.Of(row.Owner == end ? at.LocalSubnets : at.RemoteSubnets),
            RowSubject.Rules => Parsed<FieldPath>.Of(at.Rules),
            RowSubject.NoNat => Parsed<FieldPath>.Of(at.NoNat),
            RowSubject.Routes => Parsed<FieldPath>.Of(at.Routes),
            _ when row.Setting is { } setting => Parsed<FieldPath>.Of(at.Setting(setting)),
            _ => Parsed<FieldPath>.Fail($"'{row}' is not a row of the comparison", Named),
        };
    }

    private static Node? Node(EndView e, Setting setting, Confirmation confirmation)
    {
        var value = setting.On(e).Any;
        return value is null ? null : WrittenSettings.Write(setting, value, confirmation);
    }

    private static Parsed<Tunnel> Read(TunnelView view, MapNode form)
    {
        var reading = new Reading(IdNames.Instance);
        var tunnel = WrittenTunnel.Form.Read(view.Tunnel.Id, new Fields(form, "", reading));
        return tunnel is not null
            ? Parsed<Tunnel>.Of(tunnel)
            : Parsed<Tunnel>.Fail(reading.Problems[0].Wrong, reading.Problems[0].Right);
    }
}

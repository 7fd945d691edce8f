using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Tunnels;

/// <summary>
/// What is done to tunnels outside a change: confirmed, corrected, described. Callable with any clock, so that the demo
/// can live through its past.
/// </summary>
public sealed partial class TunnelWork(Databases databases, Keeper keeper)
{
    public async Task<(Kept<Tunnel> Kept, Inventory Around)> LoadAsync(Scope scope, string code, CancellationToken ct)
    {
        await using var context = databases.Open();
        var reader = new RecordReader(context);
        var kept = await Find.TunnelAsync(reader, scope, code, ct);
        return (kept, await reader.AroundAsync([kept.Record.Id], false, ct));
    }

    public Task ConfirmAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        ConfirmValue given,
        CancellationToken ct
    ) =>
        WriteAsync(
            asker,
            new(asker.Name, now, "confirm"),
            code,
            version,
            view =>
            {
                var end = Find.EndOf(given.End);
                var confirmation = ConfirmationOf(given.How, given.Date, asker, now);
                if (given.Rows is null or { Count: 0 })
                    throw ProblemException.Field(
                        "rows",
                        "no row is given",
                        "the key of a row, such as pfs or espLifetime"
                    );
                if (given.Value is not null && given.Rows.Count > 1)
                    throw ProblemException.Field(
                        "value",
                        "one value cannot be for several rows",
                        "one row with its value"
                    );
                var tunnel = view.Tunnel;
                foreach (var row in given.Rows)
                {
                    var now2 = new TunnelView(view.Inventory, tunnel, view.Today);
                    var made = ConfirmingValues
                        .RowOf(row)
                        .Then(key =>
                            given.Value is null
                                ? ConfirmingValues.Confirm(now2, end, key, confirmation)
                                : Same(now2, end, key, given.Value, confirmation)
                        );
                    tunnel = made.Ok ? made.Value : throw NotSo(row, made);
                }

                return tunnel;
            },
            ct
        );

    public Task CorrectAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        CorrectValue given,
        CancellationToken ct
    )
    {
        if (string.IsNullOrWhiteSpace(given.Reason))
            throw ProblemException.Field(
                "reason",
                "a correction needs a reason",
                "why the record was wrong, such as: the device has always had this"
            );
        return WriteAsync(
            asker,
            new(asker.Name, now, "correct", given.Reason.Trim()),
            code,
            version,
            view =>
            {
                var made = Corrected(view, given, ConfirmationOf(given.How ?? "typed", given.Date, asker, now));
                return made.Ok ? made.Value : throw NotSo(given.Row, made);
            },
            ct
        );
    }

    /// <summary>The refusal of a value, under the row that it is of.</summary>
    private static ProblemException NotSo(string? row, Parsed<Tunnel> made) =>
        ProblemException.Field(RowKey.Find(row)?.Text ?? "row", made.Wrong!, made.Right!);

    /// <summary>A value in braces has parts, as a keepfile writes it; every other is read by its row.</summary>
    private static Parsed<Tunnel> Corrected(TunnelView view, CorrectValue given, Confirmation confirmation)
    {
        var end = Find.EndOf(given.End);
        var value = (given.Value ?? "").Trim();
        var row = ConfirmingValues.RowOf(given.Row);
        if (!row.Ok || row.Value.Setting is not { } setting || !value.StartsWith('{'))
            return row.Then(key => ConfirmingValues.Correct(view, end, key, value, confirmation));
        return YamlText.ReadPart(value).Root is MapNode parts
            ? ConfirmingValues.CorrectParts(view, end, setting, parts, confirmation)
            : Parsed<Tunnel>.Fail($"'{Typed.Short(value)}' cannot be read", "such as {time: 3600 s, margin: 20 %}");
    }

    public Task EditAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        EditTunnel given,
        CancellationToken ct
    ) =>
        WriteAsync(
            asker,
            new(asker.Name, now, "describe"),
            code,
            version,
            view =>
            {
                var form = WrittenTunnel.Form.Write(view.Tunnel, IdNames.Instance);
                foreach (
                    var (key, value) in new[]
                    {
                        ("name", given.Name),
                        ("purpose", given.Purpose),
                        ("notes", given.Notes),
                    }
                )
                    if (value is not null)
                        form = Edits.Put(form, FieldPath.Of(key), value.Length == 0 ? null : new TextNode(value));
                if (given.Tags is not null)
                    form = Edits.Put(
                        form,
                        FieldPath.Of("tags"),
                        given.Tags.Count == 0 ? null : ListNode.OfTexts(given.Tags)
                    );
                var (record, problems) = RecordBody.Read(RecordKind.Tunnel, view.Tunnel.Id, form);
                return record as Tunnel
                    ?? throw ProblemException.Field(problems[0].Field, problems[0].Wrong, problems[0].Right);
            },
            ct
        );

    private async Task WriteAsync(
        Asker asker,
        Act act,
        string code,
        int version,
        Func<TunnelView, Tunnel> make,
        CancellationToken ct
    )
    {
        await keeper.WriteAsync(
            act,
            async (writing, reader) =>
            {
                var kept = await Find.TunnelAsync(reader, asker.Scope, code, ct);
                asker.Need(Role.Engineer, kept.Record.CustomerId, kept.Record.Code);
                if (kept.Version != version)
                    throw new ConflictException(kept.Record.Id, version, kept.Version);
                var around = await reader.AroundAsync([kept.Record.Id], false, ct);
                writing.Put(make(new(around, kept.Record, DateOnly.FromDateTime(act.At.UtcDateTime))), version);
                return true;
            },
            ct
        );
    }

    /// <summary>
    /// Confirming with a value says what was read; when the record says otherwise, that is a correction and needs a
    /// reason.
    /// </summary>
    private static Parsed<Tunnel> Same(
        TunnelView view,
        EndName end,
        RowKey row,
        string value,
        Confirmation confirmation
    )
    {
        var made = ConfirmingValues.Correct(view, end, row, value, confirmation);
        if (!made.Ok)
            return made;
        string? Text(Tunnel t) =>
            Compare.Rows(new(view.Inventory, t, view.Today)).FirstOrDefault(r => r.Key == row)?.Cell(end).Text;
        var had = Compare.Rows(view).FirstOrDefault(r => r.Key == row)?.Cell(end);
        return had?.Text is null || had.Text == Text(made.Value)
            ? made
            : Parsed<Tunnel>.Fail(
                $"{view.Tunnel.Code} {end} is recorded with {had.Text} ({Checked.From(had)}), not {value}",
                "correct it with a reason, or confirm what is recorded"
            );
    }

    private static Confirmation ConfirmationOf(string? how, string? on, Asker asker, DateTimeOffset now)
    {
        var read = Confirmation.Hows.Parse(how ?? "");
        if (!read.Ok)
            throw ProblemException.Field("how", read.Wrong!, read.Right!);
        var today = DateOnly.FromDateTime(now.UtcDateTime);
        var day = on is null ? Parsed<DateOnly>.Of(today) : Scalars.Date(on);
        if (!day.Ok)
            throw ProblemException.Field("date", day.Wrong!, day.Right!);
        return day.Value > today
            ? throw ProblemException.Field("date", $"{on} is still to come", $"{Scalars.Write(today)} or earlier")
            : new(read.Value, day.Value, asker.Name);
    }
}

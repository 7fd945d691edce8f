using Vellumkeep.Exchange.Sheets;

namespace Vellumkeep.Service.Imports;

/// <summary>
/// The sheet that is there already, brought in: columns matched by heading, every cell that cannot be read named, whole
/// rows or none.
/// </summary>
public sealed class SheetImport(Databases databases, Importing importing, ServiceSettings settings)
{
    /// <param name="columns">Columns that somebody matched: by heading or column name, the field.</param>
    /// <param name="leaveOut">Whether rows that cannot be read are left out; otherwise one of them stops the
    /// whole.</param>
    public async Task<SheetOutcome> RunAsync(
        Asker asker,
        DateTimeOffset now,
        string name,
        byte[] content,
        IReadOnlyDictionary<string, string> columns,
        string? customer,
        bool leaveOut,
        bool dryRun,
        CancellationToken ct,
        IProgress<Progressed>? progress = null
    )
    {
        var table = SheetFile.Read(content, name, settings.LargestImport, ct);
        if (!table.Ok)
            throw new ProblemException(
                422,
                "unreadable-file",
                "The sheet was not imported",
                $"{name}: {table.Wrong}. Expected: {table.Right}."
            ).With("field", "file");
        await using var context = databases.Open();
        var reader = new RecordReader(context);
        // Everything that could be named is read once: a sheet asks for it with every row.
        var all = await reader.NamedAsync(asker.Scope, ct);
        var byCode = all.ToDictionary(r => (r.Kind, r.CodeKey));
        var byName = all.ToLookup(r => (r.Kind, r.Name.ToLowerInvariant()));
        var loaded = new Dictionary<string, IRecord?>();
        var taken = (await reader.NamedAsync(Scope.Everything, ct)).Select(r => (r.Kind, r.CodeKey)).ToHashSet();
        var atOuter = new Dictionary<Address, Gateway?>();
        T? Load<T>(string? id)
            where T : class, IRecord =>
            id is null
                ? null
                : (T?)(
                    loaded.TryGetValue(id, out var there)
                        ? there
                        : loaded[id] = reader.ByIdAsync<T>(asker.Scope, id, ct).GetAwaiter().GetResult()?.Record
                );
        string? Code(RecordKind kind, string text) =>
            byCode.TryGetValue((kind, text.ToUpperInvariant()), out var found) ? found.Id : null;
        string? Name(RecordKind kind, string text, string? owner) =>
            byName[(kind, text.ToLowerInvariant())].Where(r => owner is null || r.OwnerId == owner).Take(2).ToArray()
                is [var one]
                ? one.Id
                : null;
        var known = new SheetKnown(
            text => Load<Customer>(Code(RecordKind.Customer, text) ?? Name(RecordKind.Customer, text, null)),
            (owner, text) => Load<Site>(Code(RecordKind.Site, text) ?? Name(RecordKind.Site, text, owner.Id)),
            text => Load<Gateway>(Code(RecordKind.Gateway, text)),
            address =>
                atOuter.TryGetValue(address, out var there)
                    ? there
                    : atOuter[address] = Load<Gateway>(
                        new GatewayList(context).AtOuterAsync(asker.Scope, address, ct).GetAwaiter().GetResult()
                    ),
            text => Load<Platform>(Code(RecordKind.Platform, text) ?? Name(RecordKind.Platform, text, null)),
            text => Code(RecordKind.Tunnel, text) is not null,
            (kind, code) => taken.Contains((kind, code.ToUpperInvariant()))
        );
        var read = SheetInventory.Read(table.Value, columns, customer, known);
        if (!read.Ok)
            throw new ProblemException(
                422,
                "unreadable-file",
                "The sheet was not imported",
                $"{name}: {read.Wrong}. Expected: {read.Right}."
            ).With("field", "columns");
        // Of the sheet only what is told of it is held while its records are worked on.
        var file = new RereadableFile(read.Value.Root, () =>
            SheetInventory.Read(table.Value, columns, customer, known).Value.Root
        );
        var sheet = read.Value with { Root = MapNode.Empty };
        ImportOutcome? outcome = null;
        if (sheet.Tunnels > 0 && (dryRun || leaveOut || sheet.Problems.IsEmpty))
            outcome = await importing.ImportAsync(asker, now, file, dryRun, $"from the sheet {name}", ct, progress);
        else if (!sheet.Problems.IsEmpty && !dryRun && !leaveOut)
            throw Unreadable(sheet);
        return Outcome(name, sheet, table.Value, outcome);
    }

    private static ProblemException Unreadable(SheetRead sheet) =>
        new ProblemException(
            422,
            "unreadable-cells",
            "The sheet was not imported",
            $"{sheet.LeftOut} of {sheet.LeftOut + sheet.Tunnels} tunnels have a cell that cannot be read. Fix "
                + $"them, or leave those rows out (--leave-out). Nothing was changed."
        )
            .With("field", "file")
            .With(
                "problems",
                sheet
                    .Problems.Take(200)
                    .Select(p => new FieldProblem(
                        $"column {p.Column ?? "?"}",
                        p.Row,
                        $"{(p.Cell.Length > 0 ? $"{p.Cell}: " : "")}{p.Wrong}",
                        p.Right
                    ))
            )
            .With("count", sheet.Problems.Length);

    private static SheetOutcome Outcome(string name, SheetRead sheet, SheetTable table, ImportOutcome? outcome) =>
        new()
        {
            Name = name,
            HeadingRow = sheet.HeadingRow + 1,
            Columns =
            [
                .. sheet
                    .Columns.Where(c => c.Heading.Length > 0)
                    .Select(c => new SheetColumnLine(
                        c.Name,
                        c.Heading,
                        c.Field,
                        c.Sure,
                        c.Field == "key"
                            ? []
                            :
                            [
                                .. table
                                    .Rows.Skip(sheet.HeadingRow + 1)
                                    .Select(r => r[c.Index])
                                    .Where(t => t.Length > 0)
                                    .Distinct()
                                    .Take(3),
                            ]
                    )),
            ],
            Fields = [.. SheetField.All.Select(f => new SheetFieldLine(f.Key, f.About))],
            Tunnels = sheet.Tunnels,
            LeftOut = sheet.LeftOut,
            Problems =
            [
                .. sheet
                    .Problems.Take(1000)
                    .Select(p => new SheetProblemLine(p.Row, p.Column, p.Cell, p.Wrong, p.Right)),
            ],
            Notes = [.. sheet.Notes.Take(1000).Select(n => new SheetNoteLine(n.Row, n.Column, n.Text))],
            Outcome = outcome,
        };
}

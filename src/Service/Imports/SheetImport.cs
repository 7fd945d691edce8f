using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Exchange.Sheets;

namespace Vellumkeep.Service.Imports;

/// <summary>The sheet that is there already, brought in: columns matched by heading, every cell that cannot be read named, whole rows or none.</summary>
public sealed class SheetImport(Databases databases, Importing importing)
{
    /// <param name="columns">Columns matched by hand: by heading or column name, the field.</param>
    /// <param name="leaveOut">Whether rows that cannot be read are left out; otherwise one of them stops the whole.</param>
    public async Task<SheetOutcome> RunAsync(Asker asker, DateTimeOffset now, string name, byte[] content, IReadOnlyDictionary<string, string> columns, string? customer, bool leaveOut, bool dryRun, CancellationToken ct, IProgress<Progressed>? progress = null)
    {
        var table = SheetFile.Read(content, name);
        if (!table.Ok)
            throw new ProblemException(422, "unreadable-file", "The sheet was not taken", $"{name}: {table.Wrong}. Right would be: {table.Right}.").With("field", "file");
        await using var context = databases.Open();
        var reader = new RecordReader(context);
        var lists = new Lists(context);
        T? Wait<T>(Task<T?> task)
            where T : class => task.GetAwaiter().GetResult();
        var known = new SheetKnown(
            text => Wait(FindAsync<Customer>(RecordKind.Customer, text, null)),
            (owner, text) => Wait(FindAsync<Site>(RecordKind.Site, text, owner.Id)),
            text => Wait(ByCode<Gateway>(RecordKind.Gateway, text)),
            address => Wait(AtAsync(address)),
            text => Wait(FindAsync<Platform>(RecordKind.Platform, text, null)),
            text => Wait(ByCode<Tunnel>(RecordKind.Tunnel, text)) is not null,
            (kind, code) => new KeptNames(context, Scope.Everything).IdOf(kind, code) is not null);
        var read = SheetInventory.Read(table.Value, columns, customer, known);
        if (!read.Ok)
            throw new ProblemException(422, "unreadable-file", "The sheet was not taken", $"{name}: {read.Wrong}. Right would be: {read.Right}.").With("field", "columns");
        var sheet = read.Value;
        ImportOutcome? outcome = null;
        if (sheet.Tunnels > 0 && (dryRun || leaveOut || sheet.Problems.IsEmpty))
            outcome = await importing.ImportAsync(asker, now, (names, gatewayById, newId) => Keepfile.Read(sheet.Root, names, gatewayById, newId), dryRun, $"from the sheet {name}", ct, progress);
        else if (!sheet.Problems.IsEmpty && !dryRun && !leaveOut)
            throw new ProblemException(422, "unreadable-cells", "The sheet was not taken", $"{sheet.LeftOut} of {sheet.LeftOut + sheet.Tunnels} tunnels have a cell that cannot be read. Mend them, or leave those rows out (--leave-out). Nothing was changed.")
                .With("field", "file").With("problems", sheet.Problems.Take(200).Select(p => new FieldProblem($"column {p.Column ?? "?"}", p.Row, $"{(p.Cell.Length > 0 ? $"{p.Cell}: " : "")}{p.Wrong}", p.Right))).With("count", sheet.Problems.Length);
        return new(name, sheet.HeadingRow + 1, [.. sheet.Columns.Where(c => c.Heading.Length > 0).Select(c => new SheetColumnLine(c.Name, c.Heading, c.Field, c.Sure,
                c.Field == "key" ? [] : [.. table.Value.Rows.Skip(sheet.HeadingRow + 1).Select(r => r[c.Index]).Where(t => t.Length > 0).Distinct().Take(3)]))],
            [.. SheetField.All.Select(f => new SheetFieldLine(f.Key, f.About))], sheet.Tunnels, sheet.LeftOut,
            [.. sheet.Problems.Take(1000).Select(p => new SheetProblemLine(p.Row, p.Column, p.Cell, p.Wrong, p.Right))], [.. sheet.Notes.Take(1000).Select(n => new SheetNoteLine(n.Row, n.Column, n.Text))], outcome);

        async Task<T?> ByCode<T>(RecordKind kind, string code)
            where T : class, IRecord => (await reader.ByCodeAsync<T>(asker.Scope, kind, code, ct))?.Record;

        async Task<T?> FindAsync<T>(RecordKind kind, string text, string? owner)
            where T : class, IRecord => await ByCode<T>(kind, text) ?? (await lists.NamedAsync(asker.Scope, kind, text, owner, ct) is { } id ? (await reader.ByIdAsync<T>(asker.Scope, id, ct))?.Record : null);

        async Task<Gateway?> AtAsync(Address address) => await lists.AtOuterAsync(asker.Scope, address, ct) is { } id ? (await reader.ByIdAsync<Gateway>(asker.Scope, id, ct))?.Record : null;
    }
}

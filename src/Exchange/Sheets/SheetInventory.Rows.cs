namespace Vellumkeep.Exchange.Sheets;

/// <summary>Row by row.</summary>
public sealed partial class SheetInventory
{
    private Parsed<SheetRead> ReadRows(int headingRow)
    {
        foreach (var c in columns.Where(c => c.Field == "key"))
            notes.Add(
                new(
                    null,
                    c.Name,
                    $"Column {c.Name} '{c.Heading}' has keys. It was not read or stored. Delete the column from the "
                        + $"sheet before you send it on."
                )
            );
        var bothInRow = columns.Any(c => c.Field.StartsWith("b.", StringComparison.Ordinal));
        var single = columns.Any(c => c.Field is "subnets" or "outer" or "site" or "gateway");
        if (!bothInRow && !single)
            return Parsed<SheetRead>.Fail(
                "no column has subnets, sites or outer addresses of an end",
                "match at least one: --column 'Heading=a.subnets'"
            );
        var leftOut = Groups(headingRow, bothInRow).Count(g => !IsRead(g.Tunnel, g.Rows, bothInRow));
        return Parsed<SheetRead>.Of(
            new(
                columns,
                headingRow,
                Root(),
                [.. problems.OrderBy(p => p.Row)],
                [.. notes.OrderBy(n => n.Row ?? 0)],
                tunnels.Count,
                leftOut
            )
        );
    }

    /// <summary>The rows that belong together, each with the tunnel that they name.</summary>
    private List<(string? Tunnel, List<int> Rows)> Groups(int headingRow, bool bothInRow)
    {
        var groups = new List<(string? Tunnel, List<int> Rows)>();
        var named = new Dictionary<string, List<int>>();
        string? last = null;
        for (var r = headingRow + 1; r < table.Rows.Length; r++)
        {
            var cells = table.Rows[r];
            var filled = cells.Where(c => c.Length > 0).Distinct().ToArray();
            if (filled.Length == 0 || cells.SequenceEqual(table.Rows[headingRow]))
                continue;
            if (filled.Length == 1 || !HasPlace(cells))
            {
                notes.Add(
                    new(
                        r + 1,
                        null,
                        $"Row {r + 1} looks like a remark and was left out: {Typed.Short(string.Join(" · ", filled))}"
                    )
                );
                continue;
            }

            var tunnel = Cell(r, "tunnel");
            if (bothInRow)
                groups.Add((tunnel, [r]));
            else if (
                tunnel is null && last is not null
                || tunnel is not null && groups.Count > 0 && groups[^1].Tunnel == tunnel && groups[^1].Rows.Count < 2
            )
                groups[^1].Rows.Add(r);
            else if (tunnel is not null && named.TryGetValue(tunnel, out var rows))
                rows.Add(r);
            else
            {
                groups.Add((tunnel, [r]));
                if (tunnel is not null)
                    named[tunnel] = groups[^1].Rows;
            }

            last = tunnel ?? last;
        }

        return groups;
    }

    /// <summary>Whether a row says where an end is or what is behind it, and is no remark.</summary>
    private bool HasPlace(ImmutableArray<string> cells) =>
        columns.Any(c =>
            cells[c.Index].Length > 0
            && (
                c.Field.EndsWith("subnets", StringComparison.Ordinal)
                || c.Field.EndsWith("outer", StringComparison.Ordinal)
                || c.Field.EndsWith("gateway", StringComparison.Ordinal)
            )
        );

    /// <summary>Reads the rows of one tunnel.</summary>
    /// <returns>Whether all of them could be read.</returns>
    private bool IsRead(string? tunnel, List<int> rows, bool bothInRow)
    {
        var before = problems.Count;
        if (bothInRow)
            One(rows[0], tunnel, EndOf(rows[0], "a."), EndOf(rows[0], "b."), SharedOf(rows[0]), null, before);
        else if (rows.Count != 2)
            problems.Add(
                new(
                    rows[0] + 1,
                    null,
                    tunnel ?? "",
                    rows.Count == 1
                        ? "only one end of this tunnel is in the sheet"
                        : $"{rows.Count} rows are of this tunnel",
                    "two rows for each tunnel, one for each end, with the same name"
                )
            );
        else
        {
            // Without a column that says which, the first row is end A.
            var swapped = Headings.SideOf(Cell(rows[0], "end") ?? "") == "b";
            var (x, y) = swapped ? (rows[1], rows[0]) : (rows[0], rows[1]);
            One(x, tunnel, EndOf(x, ""), EndOf(y, ""), SharedOf(x), SharedOf(y), before);
        }

        return problems.Count == before;
    }

    private MapNode Root() =>
        new MapWriter()
            .Add("vellumkeep", "keepfile/1")
            .Add("customers", Listed(customers.Values))
            .Add(
                "platforms",
                needsUnknown && !known.HasCode(RecordKind.Platform, "unknown@1")
                    ? new ListNode([
                        new MapWriter()
                            .Add("code", "unknown")
                            .Add("version", "1")
                            .Add("name", "unknown platform")
                            .Done(),
                    ])
                    : null
            )
            .Add("sites", Listed(sites.Values))
            .Add("gateways", Listed(gateways.Values))
            .Add("tunnels", Listed(tunnels.Values))
            .Done();

    private static ListNode? Listed(IEnumerable<MapNode> maps) =>
        maps.ToArray() is { Length: > 0 } some ? new([.. some]) : null;

    private End EndOf(int row, string side)
    {
        var end = new End(row, side.Length > 0 ? side[..1].ToUpperInvariant() : $"row {row + 1}")
        {
            Site = Cell(row, side + "site"),
            Gateway = Cell(row, side + "gateway") is { } device ? WithoutBrackets(device).Name : null,
            Platform = Cell(row, side + "platform")
                ?? (Cell(row, side + "gateway") is { } said ? WithoutBrackets(said).Brackets : null),
            OuterGiven = Cell(row, side + "outer") is not null,
            Outer = Value(row, side + "outer", Cells.Outer),
            Subnets =
                Cell(row, side + "subnets") is null ? []
                : Value(row, side + "subnets", Cells.Subnets) is { IsDefault: false } read ? read
                : [],
            Identity = Value(row, side + "identity", Cells.IdentityOf),
        };
        return end;
    }

    /// <summary>A device, and the platform that stands behind it in brackets.</summary>
    private static (string Name, string? Brackets) WithoutBrackets(string cell)
    {
        var open = cell.IndexOfAny(['(', '[']);
        return open > 0 && cell[^1] is ')' or ']'
            ? (cell[..open].Trim(), cell[(open + 1)..^1].Trim() is { Length: > 0 } inner ? inner : null)
            : (cell, null);
    }

    private Dictionary<string, Node> SharedOf(int row)
    {
        var found = new Dictionary<string, Node>();
        void Put(string key, Node? node)
        {
            if (node is not null)
                found[key] = node;
        }

        if (IkeOf(row) is { } ike)
        {
            Put("ikeProposals", ListNode.OfTexts(ike.Proposals));
            Put("ikeVersions", ike.Version is null ? null : new ListNode([new TextNode(ike.Version)]));
            Put("exchangeMode", ike.Mode is null ? null : new TextNode(ike.Mode));
        }

        // A column of its own says it before what stands in another's cell.
        if (Value(row, "ikeVersion", Cells.IkeVersion) is { Version: not null } version)
        {
            Put("ikeVersions", new ListNode([new TextNode(version.Version)]));
            Put("exchangeMode", version.Mode is null ? null : new TextNode(version.Mode));
        }

        Put(
            "exchangeMode",
            Value(row, "mode", t => WordsOf.ExchangeModes.Parse(t.Split(' ')[0]).To(WordsOf.ExchangeModes.Of))
                is { } mode
                ? new TextNode(mode)
                : null
        );
        string? dh = null;
        if (EspOf(row) is { } second)
        {
            Put("espProposals", ListNode.OfTexts(second.Proposals));
            dh = second.Group;
            Put("pfs", second.Pfs is null ? null : new TextNode(second.Pfs));
        }

        foreach (var (field, key) in new[] { ("ikeLifetime", "ikeLifetime"), ("espLifetime", "espLifetime") })
            if (
                Cell(row, field) is { } cell
                && Value(row, field, t => Cells.Time(t, Headings.UnitIn(ColumnOf(field)!.Heading)))
                    is { Text: not null } time
            )
            {
                Put(key, new MapWriter().Add("time", time.Text).Add("data", time.Data).Done());
                if (time.Guessed)
                    notes.Add(
                        new(
                            row + 1,
                            ColumnOf(field)!.Name,
                            $"Row {row + 1}, column {ColumnOf(field)!.Name}: {cell} has no unit; it was read as seconds"
                        )
                    );
            }

        Put(
            "pfs",
            Value(row, "pfs", Cells.Pfs) is { } pfs
                    ? new TextNode(pfs == "required DH of IKE" && dh is not null ? $"required {dh}" : pfs)
                : dh is not null ? new TextNode($"required {dh}")
                : null
        );
        Put(
            "authentication",
            Value(row, "authentication", Cells.Authentication) is { } method ? new TextNode(method) : null
        );
        return found;
    }

    /// <summary>IKE in one cell, or in a column for each algorithm; null when the row has nothing of it.</summary>
    private IkeCell? IkeOf(int row)
    {
        if (Cell(row, "ikeProposal") is not null)
            return Value(row, "ikeProposal", Cells.Ike);
        string?[] parts = [Cell(row, "ikeEncryption"), Cell(row, "ikeHash"), GroupIn(Cell(row, "ikeDhGroup"))];
        return parts[0] is null ? null : InParts(row, "ikeEncryption", parts, Cells.Ike);
    }

    /// <summary>ESP in one cell, or in a column for each algorithm; null when the row has nothing of it.</summary>
    private EspCell? EspOf(int row)
    {
        if (Cell(row, "espProposal") is not null)
            return Value(row, "espProposal", Cells.Esp);
        string?[] parts = [Cell(row, "espEncryption"), Cell(row, "espHash")];
        return parts[0] is null ? null : InParts(row, "espEncryption", parts, Cells.Esp);
    }

    private static string? GroupIn(string? cell) =>
        cell is not null && cell.Trim().All(char.IsAsciiDigit) ? $"DH {cell.Trim()}" : cell;

    /// <summary>The algorithms of several columns, read as if they stood in one.</summary>
    private T? InParts<T>(int row, string field, string?[] parts, Func<string, Parsed<T>> parse)
        where T : class
    {
        var read = parse(string.Join(" / ", parts.OfType<string>()));
        if (!read.Ok)
            problems.Add(new(row + 1, ColumnOf(field)!.Name, Cell(row, field)!, read.Wrong!, read.Right!));
        return read.Ok ? read.Value : null;
    }
}

namespace Vellumkeep.Exchange.Sheets;

/// <summary>
/// Turns the rows of a sheet into the records that they speak of. A row is read whole or not at all; what is there
/// already is referred to, never rewritten.
/// </summary>
public sealed partial class SheetInventory
{
    private static readonly string[] Shared =
    [
        "ikeVersion",
        "mode",
        "ikeProposal",
        "ikeLifetime",
        "espProposal",
        "espLifetime",
        "pfs",
        "authentication",
    ];

    private readonly SheetTable table;
    private readonly SheetKnown known;
    private readonly string? everyone;
    private readonly ImmutableArray<SheetColumn> columns;
    private readonly List<SheetProblem> problems = [];
    private readonly List<SheetNote> notes = [];
    private readonly Dictionary<string, MapNode> customers = [];
    private readonly Dictionary<string, MapNode> sites = [];
    private readonly Dictionary<string, string> siteKeys = [];
    private readonly Dictionary<string, MapNode> gateways = [];
    private readonly Dictionary<string, string> gatewayAt = [];
    private readonly Dictionary<string, MapNode> tunnels = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<(string Field, string Text), object> parsed = [];
    private bool needsUnknown;

    private SheetInventory(SheetTable table, ImmutableArray<SheetColumn> columns, SheetKnown known, string? everyone) =>
        (this.table, this.columns, this.known, this.everyone) = (table, columns, known, everyone);

    /// <param name="said">Columns that somebody matched: by heading or column name, the field it holds.</param>
    /// <param name="everyone">The customer that all rows are of, when no column says so.</param>
    public static Parsed<SheetRead> Read(
        SheetTable table,
        IReadOnlyDictionary<string, string> said,
        string? everyone,
        SheetKnown known
    )
    {
        var row = Headings.RowOf(table);
        if (row < 0)
            return Parsed<SheetRead>.Fail(
                "no row of headings was found in the first thirty rows",
                "a row with headings such as Tunnel, Site, Public IP, Subnets, Phase 1, Phase 2"
            );
        var columns = Headings.Guess(table, row);
        foreach (var (heading, field) in said)
        {
            var index = columns
                .ToList()
                .FindIndex(c =>
                    c.Heading.Equals(heading, StringComparison.OrdinalIgnoreCase)
                    || c.Name.Equals(heading, StringComparison.OrdinalIgnoreCase)
                    || c.Heading.EndsWith(" / " + heading, StringComparison.OrdinalIgnoreCase)
                );
            if (index < 0)
                return Parsed<SheetRead>.Fail(
                    $"there is no column '{Typed.Short(heading)}'",
                    string.Join(
                        ", ",
                        Typed.Nearest(heading, columns.Where(c => c.Heading.Length > 0).Select(c => c.Heading))
                    )
                );
            if (SheetField.All.All(f => f.Key != field))
                return Parsed<SheetRead>.Fail(
                    $"'{Typed.Short(field)}' is not a field that a column can have",
                    string.Join(", ", Typed.Nearest(field, SheetField.All.Select(f => f.Key)))
                );
            // The field goes to the column that was named; whichever was guessed for it before holds nothing.
            columns =
            [
                .. columns.Select(c =>
                    c.Index == index ? c with { Field = field, Sure = true }
                    : c.Field == field && field is not ("nothing" or "key" or "notes")
                        ? c with
                        {
                            Field = "nothing",
                            Sure = false,
                        }
                    : c
                ),
            ];
        }

        var sheet = new SheetInventory(table, columns, known, everyone);
        return sheet.ReadRows(row);
    }

    private sealed record End(int Row, string Label)
    {
        public string? Site { get; set; }

        public string? Gateway { get; set; }

        public string? Platform { get; set; }

        public string? Outer { get; set; }

        public bool OuterGiven { get; set; }

        public ImmutableArray<NotedPrefix> Subnets { get; set; } = [];

        public string? Identity { get; set; }

        /// <summary>Shared fields as this row has them, as written form.</summary>
        public Dictionary<string, Node> Settings { get; } = [];
    }

    private SheetColumn? ColumnOf(string field) => columns.FirstOrDefault(c => c.Field == field);

    private string? Cell(int row, string field) =>
        ColumnOf(field) is { } c
        && table.Rows[row][c.Index] is { Length: > 0 } text
        && text is not ("-" or "n/a" or "N/A")
            ? text
            : null;

    private T? Value<T>(int row, string field, Func<string, Parsed<T>> parse)
    {
        if (Cell(row, field) is not { } text)
            return default;
        // A sheet says the same few things in a column over and over.
        if (parsed.TryGetValue((field, text), out var before) && before is Parsed<T> same)
            return same.Value;
        var read = parse(text);
        if (read.Ok)
        {
            parsed[(field, text)] = read;
            return read.Value;
        }

        problems.Add(
            new(row + 1, ColumnOf(field)!.Name, Typed.Short(text.ReplaceLineEndings(" ")), read.Wrong!, read.Right!)
        );
        return default;
    }

    private void One(
        int row,
        string? called,
        End a,
        End b,
        Dictionary<string, Node> first,
        Dictionary<string, Node>? second,
        int before
    )
    {
        var customer = CustomerOf(row);
        var state = Value(row, "state", Cells.State) ?? "in service";
        NeedPlaces(called, a, b);
        if (problems.Count > before || customer is null)
            return;
        var (left, right) = (GatewayOf(a, customer.Value), GatewayOf(b, customer.Value));
        if (left is null || right is null)
            return;
        if (left == right)
        {
            problems.Add(new(row + 1, null, called ?? "", $"both ends are the gateway {left}", "two gateways"));
            return;
        }

        var code =
            called is not null && Code(called) is { } typed
                ? typed
                : Free(
                    RecordKind.Tunnel,
                    $"{customer.Value.Code}-{Slug(b.Site ?? b.Gateway ?? right, true)}",
                    tunnels.ContainsKey
                );
        if (IsTaken(code, row))
            return;
        var (agreed, onA, onB) = Said(first, second);
        agreed.Add("identities", new MapWriter().Add("a", a.Identity).Add("b", b.Identity).Done());
        var (local, remote) = (a.Subnets.Select(s => s.Prefix).ToArray(), b.Subnets.Select(s => s.Prefix).ToArray());
        var plain = Pairs(agreed, row, code, local, remote);
        MapNode EndForm(string gateway, MapWriter set, Prefix[] mine, Prefix[] theirs) =>
            new MapWriter()
                .Add("gateway", gateway)
                .Add(
                    "subnets",
                    plain || mine.Length == 0 || theirs.Length == 0
                        ? null
                        : new MapWriter().Texts("local", mine).Texts("remote", theirs).Done()
                )
                .Add("set", set.Done())
                .Done();
        tunnels[code] = Line(
            new MapWriter()
                .Add("code", code)
                .Add("customer", customer.Value.Code)
                .Add(
                    "name",
                    called is not null && Code(called) is null ? called : $"{a.Site ?? left} to {b.Site ?? right}"
                )
                .Add("state", state)
                .Add("form", "policy-based")
                .List("contacts", Cell(row, "contact") is { } contact ? [contact] : Array.Empty<string>(), c =>
                    new MapWriter().Add("name", c).Done()
                )
                .Always("agreed", agreed.Done())
                .Add("a", EndForm(left, onA, local, remote))
                .Add("b", EndForm(right, onB, remote, local))
                .Add("notes", Notes(row, b.Row))
                .Done(),
            row
        );
    }

    /// <summary>Whether a tunnel of that code is in the sheet twice, or there already.</summary>
    private bool IsTaken(string code, int row)
    {
        if (tunnels.ContainsKey(code))
        {
            problems.Add(
                new(
                    row + 1,
                    ColumnOf("tunnel")?.Name,
                    code,
                    "this tunnel is in the sheet twice",
                    "each tunnel once, or another code"
                )
            );
            return true;
        }

        if (known.HasTunnel(code))
        {
            notes.Add(new(row + 1, null, $"Row {row + 1}: {code} exists already and is not changed"));
            return true;
        }

        return false;
    }

    private void NeedPlaces(string? called, params End[] ends)
    {
        foreach (var end in ends)
            if (end.Site is null && end.Gateway is null && end.Outer is null)
                problems.Add(
                    new(
                        end.Row + 1,
                        null,
                        called ?? "",
                        $"the place of end {end.Label} is missing",
                        "a site, a gateway or an outer address"
                    )
                );
    }

    private string? Notes(int row, int other)
    {
        var said = columns
            .Where(c => c.Field == "notes")
            .SelectMany(c => new[] { table.Rows[row][c.Index], table.Rows[other][c.Index] })
            .Where(t => t.Length > 0)
            .Distinct()
            .ToArray();
        return said.Length == 0 ? null : string.Join(" ", said).ReplaceLineEndings(" ");
    }

    private static MapNode Line(MapNode map, int row) => new(map.Entries, row + 1);
}

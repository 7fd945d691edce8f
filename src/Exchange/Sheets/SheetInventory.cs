using System.Globalization;

namespace Vellumkeep.Exchange.Sheets;

/// <summary>
/// A cell that could not be read, by row and column, with what would be right. Column is null when the row as a whole
/// is meant.
/// </summary>
public sealed record SheetProblem(int Row, string? Column, string Cell, string Wrong, string Right);

/// <summary>Something that was decided while reading and should be looked at.</summary>
public sealed record SheetNote(int? Row, string? Column, string Text);

/// <summary>What is there already, asked by what a sheet calls it.</summary>
public sealed record SheetKnown(
    Func<string, Customer?> Customer,
    Func<Customer, string, Site?> Site,
    Func<string, Gateway?> Gateway,
    Func<Address, Gateway?> AtOuter,
    Func<string, Platform?> Platform,
    Func<string, bool> HasTunnel,
    Func<RecordKind, string, bool> HasCode
);

/// <summary>
/// What a sheet says: a keepfile of its whole rows, and every row that could not be read, with the reason.
/// </summary>
/// <param name="Root">The keepfile; the line of each item is the row it came from.</param>
/// <param name="Tunnels">Tunnels that were read whole.</param>
/// <param name="LeftOut">Rows of tunnels that were not.</param>
public sealed record SheetRead(
    ImmutableArray<SheetColumn> Columns,
    int HeadingRow,
    MapNode Root,
    ImmutableArray<SheetProblem> Problems,
    ImmutableArray<SheetNote> Notes,
    int Tunnels,
    int LeftOut
);

/// <summary>
/// Turns the rows of a sheet into the records that they speak of. A row is read whole or not at all; what is there
/// already is referred to, never rewritten.
/// </summary>
public sealed class SheetInventory
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

    /// <param name="said">Columns that somebody matched by hand: by heading or column name, the field it holds.</param>
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
                    $"'{Typed.Short(field)}' is not something that a column can hold",
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

        public bool OuterSaid { get; set; }

        public ImmutableArray<NotedPrefix> Subnets { get; set; } = [];

        public string? Identity { get; set; }

        /// <summary>Shared fields as this row has them, as written form.</summary>
        public Dictionary<string, Node> Settings { get; } = [];
    }

    private Parsed<SheetRead> ReadRows(int headingRow)
    {
        foreach (var c in columns.Where(c => c.Field == "key"))
            notes.Add(
                new(
                    null,
                    c.Name,
                    $"Column {c.Name} '{c.Heading}' holds keys: nothing of it was read or kept. Take the column out of the sheet before it travels further."
                )
            );
        var bothInRow = columns.Any(c => c.Field.StartsWith("b.", StringComparison.Ordinal));
        var single = columns.Any(c => c.Field is "subnets" or "outer" or "site" or "gateway");
        if (!bothInRow && !single)
            return Parsed<SheetRead>.Fail(
                "no column holds subnets, sites or outer addresses of an end",
                "match at least one: --column 'Heading=a.subnets'"
            );
        var leftOut = 0;
        var groups = new List<(string? Tunnel, List<int> Rows)>();
        var named = new Dictionary<string, List<int>>();
        string? last = null;
        for (var r = headingRow + 1; r < table.Rows.Length; r++)
        {
            var cells = table.Rows[r];
            var filled = cells.Where(c => c.Length > 0).Distinct().ToArray();
            if (filled.Length == 0 || cells.SequenceEqual(table.Rows[headingRow]))
                continue;
            var data = columns.Any(c =>
                cells[c.Index].Length > 0
                && (
                    c.Field.EndsWith("subnets", StringComparison.Ordinal)
                    || c.Field.EndsWith("outer", StringComparison.Ordinal)
                    || c.Field.EndsWith("gateway", StringComparison.Ordinal)
                )
            );
            if (filled.Length == 1 || !data)
            {
                notes.Add(
                    new(
                        r + 1,
                        null,
                        $"Row {r + 1} was taken for a remark and left out: {Typed.Short(string.Join(" · ", filled))}"
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

        foreach (var (tunnel, rows) in groups)
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
                            ? "only one end of this tunnel stands in the sheet"
                            : $"{rows.Count} rows are of this tunnel",
                        "two rows for each tunnel, one for each end, with the same name"
                    )
                );
            else
            {
                // Without a column that says which, the first row is end A.
                var swapped = Cell(rows[0], "end")?.Trim().ToUpperInvariant() == "B";
                var (x, y) = swapped ? (rows[1], rows[0]) : (rows[0], rows[1]);
                One(x, tunnel, EndOf(x, ""), EndOf(y, ""), SharedOf(x), SharedOf(y), before);
            }

            if (problems.Count > before)
                leftOut++;
        }

        var root = new MapWriter()
            .Add("vellumkeep", "inventory/1")
            .Add("customers", Listed(customers.Values))
            .Add(
                "platforms",
                needsUnknown && !known.HasCode(RecordKind.Platform, "unknown@1")
                    ? new ListNode([
                        new MapWriter()
                            .Add("code", "unknown")
                            .Add("version", "1")
                            .Add("name", "a platform nobody has told us")
                            .Done(),
                    ])
                    : null
            )
            .Add("sites", Listed(sites.Values))
            .Add("gateways", Listed(gateways.Values))
            .Add("tunnels", Listed(tunnels.Values))
            .Done();
        return Parsed<SheetRead>.Of(
            new(
                columns,
                headingRow,
                root,
                [.. problems.OrderBy(p => p.Row)],
                [.. notes.OrderBy(n => n.Row ?? 0)],
                tunnels.Count,
                leftOut
            )
        );

        static ListNode? Listed(IEnumerable<MapNode> maps) =>
            maps.ToArray() is { Length: > 0 } some ? new([.. some]) : null;
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

    private End EndOf(int row, string side)
    {
        var end = new End(row, side.Length > 0 ? side[..1].ToUpperInvariant() : $"row {row + 1}")
        {
            Site = Cell(row, side + "site"),
            Gateway = Cell(row, side + "gateway"),
            Platform = Cell(row, side + "platform"),
            OuterSaid = Cell(row, side + "outer") is not null,
            Outer = Value(row, side + "outer", Cells.Outer),
            Subnets =
                Cell(row, side + "subnets") is null ? []
                : Value(row, side + "subnets", Cells.Subnets) is { IsDefault: false } read ? read
                : [],
            Identity = Value(row, side + "identity", Cells.IdentityOf),
        };
        return end;
    }

    private Dictionary<string, Node> SharedOf(int row)
    {
        var found = new Dictionary<string, Node>();
        void Put(string key, Node? node)
        {
            if (node is not null)
                found[key] = node;
        }

        Put(
            "ikeVersions",
            Value(row, "ikeVersion", Cells.IkeVersion) is { } version ? new ListNode([new TextNode(version)]) : null
        );
        Put(
            "exchangeMode",
            Value(row, "mode", t => WordsOf.ExchangeModes.Parse(t.Split(' ')[0]).To(WordsOf.ExchangeModes.Of))
                is { } mode
                ? new TextNode(mode)
                : null
        );
        Put(
            "ikeProposals",
            Value(row, "ikeProposal", Cells.IkeProposals) is { IsDefault: false } ike ? ListNode.OfTexts(ike) : null
        );
        string? dh = null;
        if (
            Cell(row, "espProposal") is not null
            && Value(row, "espProposal", Cells.EspProposals) is { Proposals.IsDefault: false } second
        )
        {
            Put("espProposals", ListNode.OfTexts(second.Proposals));
            dh = second.Group;
        }

        foreach (var (field, key) in new[] { ("ikeLifetime", "ikeLifetime"), ("espLifetime", "espLifetime") })
            if (
                Cell(row, field) is { } cell
                && Value(row, field, t => Cells.Time(t, Headings.UnitIn(ColumnOf(field)!.Heading)))
                    is { Text: not null } time
            )
            {
                Put(key, new MapWriter().Add("time", time.Text).Done());
                if (time.Guessed)
                    notes.Add(
                        new(
                            row + 1,
                            ColumnOf(field)!.Name,
                            $"Row {row + 1}, column {ColumnOf(field)!.Name}: {cell} has no unit and was read as seconds"
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
        Put("authentication", Value(row, "authentication", t => Typed.Folded(t) switch
                {
                    "psk" or "presharedkey" or "key" or "secret" => Parsed<string>.Of("PSK"),
                    "cert" or "certificate" or "certificates" or "rsa" => Parsed<string>.Of("certificate"),
                    _ => Parsed<string>.Fail(
                        $"'{Typed.Short(t)}' is not an authentication method",
                        "PSK or certificate"
                    ),
                }) is { } method ? new TextNode(method) : null);
        return found;
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
        foreach (var end in new[] { a, b })
            if (end.Site is null && end.Gateway is null && end.Outer is null)
                problems.Add(
                    new(
                        end.Row + 1,
                        null,
                        called ?? "",
                        $"nothing says where end {end.Label} is",
                        "a site, a gateway or an outer address"
                    )
                );
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
        if (tunnels.ContainsKey(code))
        {
            problems.Add(
                new(
                    row + 1,
                    ColumnOf("tunnel")?.Name,
                    code,
                    "this tunnel stands in the sheet twice",
                    "each tunnel once, or another code"
                )
            );
            return;
        }

        if (known.HasTunnel(code))
        {
            notes.Add(
                new(row + 1, null, $"Row {row + 1}: {code} is in the inventory already and stays as it is there")
            );
            return;
        }

        var agreed = new MapWriter();
        var (onA, onB) = (new MapWriter(), new MapWriter());
        foreach (var key in first.Keys.Union(second?.Keys ?? Enumerable.Empty<string>()))
        {
            var (x, y) = (first.GetValueOrDefault(key), second?.GetValueOrDefault(key));
            // Where the two rows say different things, that is what each end has.
            if (x is not null && y is not null && !Node.Same(x, y))
                (onA, onB) = (onA.Add(key, x), onB.Add(key, y));
            else
                agreed.Add(key, x ?? y);
        }

        agreed.Add("identities", new MapWriter().Add("a", a.Identity).Add("b", b.Identity).Done());
        var (own, peer) = (a.Subnets.Select(s => s.Prefix).ToArray(), b.Subnets.Select(s => s.Prefix).ToArray());
        var plain = own.Length == 1 || peer.Length == 1;
        if (plain)
            agreed.List("pairs", own.SelectMany(x => peer.Where(y => y.Family == x.Family).Select(y => (x, y))), p =>
                new MapWriter().Add("a", p.x.ToString()).Add("b", p.y.ToString()).Done()
            );
        else if (own.Length > 1 && peer.Length > 1)
            notes.Add(
                new(
                    row + 1,
                    null,
                    $"Row {row + 1}, {code}: {own.Length} subnets at A and {peer.Length} at B; the sheet does not say which pairs are wanted. Both lists were kept as entered: say the pairs on the tunnel's page"
                )
            );
        MapNode EndForm(string gateway, MapWriter set, Prefix[] mine, Prefix[] theirs) =>
            new MapWriter()
                .Add("gateway", gateway)
                .Add(
                    "subnets",
                    plain || mine.Length == 0 || theirs.Length == 0
                        ? null
                        : new MapWriter().Texts("own", mine).Texts("peer", theirs).Done()
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
                .Add("a", EndForm(left, onA, own, peer))
                .Add("b", EndForm(right, onB, peer, own))
                .Add("notes", Notes(row, b.Row))
                .Done(),
            row
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

    private (string Code, Customer? Known)? CustomerOf(int row)
    {
        var said = Cell(row, "customer") ?? everyone;
        if (said is null)
        {
            problems.Add(
                new(
                    row + 1,
                    null,
                    "",
                    "nothing says whose tunnel this is",
                    "a column with the customer, or one customer for the whole sheet"
                )
            );
            return null;
        }

        if (known.Customer(said) is { } there)
            return (there.Code, there);
        var key = Typed.Folded(said);
        if (!customers.TryGetValue(key, out var made))
        {
            var code =
                Code(said) is { } short_ && short_.Length <= 6
                    ? short_.ToUpperInvariant()
                    : Free(RecordKind.Customer, Slug(said, true)[..Math.Min(3, Slug(said, true).Length)], c =>
                        customers.Values.Any(m => m.Text("code") == c)
                    );
            customers[key] = made = Line(new MapWriter().Add("code", code).Add("name", said).Done(), row);
            notes.Add(new(row + 1, null, $"{said} is new here and becomes the customer {code}"));
        }

        return (made.Text("code")!, null);
    }

    /// <summary>
    /// The gateway of an end: one that is there, one that the sheet named before, or a new one with its site.
    /// </summary>
    private string? GatewayOf(End end, (string Code, Customer? Known) customer)
    {
        var address =
            end.Outer is { } outer && Address.Parse(outer) is { Ok: true } fixedAddress
                ? fixedAddress.Value
                : (Address?)null;
        if (end.Gateway is { } named && Code(named) is { } coded && known.Gateway(coded) is { } byCode)
            return byCode.Code;
        if (address is { } at && known.AtOuter(at) is { } byOuter)
            return byOuter.Code;
        var key =
            end.Gateway is not null ? "g:" + Typed.Folded(end.Gateway)
            : address is not null ? $"a:{address}"
            : $"s:{customer.Code}:{Typed.Folded(end.Site!)}";
        if (!gatewayAt.TryGetValue(key, out var code) && address is not null)
            gatewayAt.TryGetValue($"a:{address}", out code);
        if (code is not null)
        {
            // The same device with another outer address has another uplink.
            if (
                end.Outer is { } more
                && gateways[code].Find("uplinks") is ListNode uplinks
                && uplinks.Items.OfType<MapNode>().All(u => u.Text("address") != more)
            )
                gateways[code] = Line(
                    gateways[code]
                        .With(
                            "uplinks",
                            new ListNode([
                                .. uplinks.Items,
                                new MapWriter()
                                    .Add("label", $"outer-{uplinks.Items.Length + 1}")
                                    .Add("address", more)
                                    .Done(),
                            ])
                        ),
                    end.Row
                );
            AddNetworks(gateways[code].Text("site")!, end);
            return code;
        }

        var site = SiteOf(end, customer);
        code =
            end.Gateway is { } device
            && Code(device) is { } usable
            && !known.HasCode(RecordKind.Gateway, usable)
            && !gateways.ContainsKey(usable)
                ? usable
                : Free(
                    RecordKind.Gateway,
                    Slug(end.Gateway ?? $"{customer.Code}-{end.Site ?? end.Outer}", false)
                        + (end.Gateway is null ? "-gw" : ""),
                    gateways.ContainsKey
                );
        var platform = end.Platform is { } model ? known.Platform(model) : null;
        if (platform is null)
        {
            needsUnknown = true;
            if (end.Platform is { } unheard)
                notes.Add(
                    new(
                        end.Row + 1,
                        null,
                        $"Row {end.Row + 1}: no platform profile is called '{Typed.Short(unheard)}'; {code} gets the platform unknown, so that nothing is invented"
                    )
                );
        }

        gateways[code] = Line(
            new MapWriter()
                .Add("code", code)
                .Add("site", site)
                .Add("platform", platform?.Code ?? "unknown@1")
                .Add(
                    "uplinks",
                    new ListNode([
                        new MapWriter()
                            .Add("label", "outer")
                            .Add(
                                "address",
                                end.Outer is { } known1
                                    ? new TextNode(known1)
                                    : new MapWriter().Add("pending", "nobody yet").Done()
                            )
                            .Done(),
                    ])
                )
                .Add("notes", platform is null && end.Platform is { } said ? $"The sheet calls it: {said}" : null)
                .Done(),
            end.Row
        );
        gatewayAt[key] = code;
        if (address is not null)
            gatewayAt[$"a:{address}"] = code;
        return code;
    }

    private string SiteOf(End end, (string Code, Customer? Known) customer)
    {
        var name = end.Site ?? end.Gateway ?? end.Outer!;
        if (customer.Known is { } owner && known.Site(owner, name) is { } there)
            return there.Code;
        var key = $"{customer.Code}:{Typed.Folded(name)}";
        if (!sites.TryGetValue(key, out var site))
        {
            var code = Free(RecordKind.Site, $"{customer.Code}-{Slug(name, true)}", siteKeys.ContainsKey);
            siteKeys[code] = key;
            sites[key] = site = Line(
                new MapWriter().Add("code", code).Add("customer", customer.Code).Add("name", name).Done(),
                end.Row
            );
        }

        AddNetworks(site.Text("code")!, end);
        return site.Text("code")!;
    }

    private void AddNetworks(string code, End end)
    {
        if (!siteKeys.TryGetValue(code, out var key))
            return;
        var site = sites[key];
        var networks = (site.Find("networks") as ListNode)?.Items ?? [];
        foreach (
            var subnet in end.Subnets.Where(s =>
                networks.OfType<MapNode>().All(n => n.Text("prefix") != s.Prefix.ToString())
            )
        )
            networks = networks.Add(
                new MapWriter()
                    .Add("prefix", subnet.Prefix.ToString())
                    .Add("name", subnet.Name ?? subnet.Prefix.ToString())
                    .Done()
            );
        if (!networks.IsEmpty)
            sites[key] = Line(site.With("networks", new ListNode(networks)), site.Line - 1);
    }

    private string Free(RecordKind kind, string wanted, Func<string, bool> taken)
    {
        var start =
            wanted.Length > 36 ? wanted[..36].TrimEnd('-')
            : wanted.Length < 2 ? wanted + "X"
            : wanted;
        var code = start;
        for (var n = 2; taken(code) || known.HasCode(kind, code); n++)
            code = $"{start}-{n.ToString(CultureInfo.InvariantCulture)}";
        return code;
    }

    private static string? Code(string text) =>
        text.Length is >= 2 and <= 40
        && char.IsAsciiLetterOrDigit(text[0])
        && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '.')
        && text.Any(char.IsLetter)
            ? text
            : null;

    private static string Slug(string text, bool upper)
    {
        var slug = string.Join(
            '-',
            text.Split([' ', '-', '_', '/', '.', ',', '(', ')', ':', '\''], StringSplitOptions.RemoveEmptyEntries)
                .Select(w => new string([.. w.Where(char.IsAsciiLetterOrDigit)]))
                .Where(w => w.Length > 0)
        );
        slug = slug.Length == 0 ? "X1" : slug;
        return upper ? slug.ToUpperInvariant() : slug.ToLowerInvariant();
    }

    private static MapNode Line(MapNode map, int row) => new(map.Entries, row + 1);
}

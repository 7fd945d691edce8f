namespace Vellumkeep.Exchange.Sheets;

/// <summary>
/// What a column of a sheet can hold. A field with an end is written <c>a.subnets</c> or <c>b.subnets</c>; without one
/// it belongs to the end that the row is of.
/// </summary>
public sealed record SheetField(string Key, string About)
{
    /// <summary>Every field, in the order in which they are offered.</summary>
    public static readonly ImmutableArray<SheetField> All =
    [
        new("tunnel", "code or name of the tunnel"),
        new("customer", "code or name of the customer"),
        new("end", "A or B, where each end has a row of its own"),
        .. new[]
        {
            ("site", "name of the site"),
            ("gateway", "name of the device"),
            ("platform", "make and model"),
            ("outer", "outer address, a name, or dynamic"),
            ("subnets", "protected subnets"),
            ("identity", "identity it sends"),
        }.SelectMany(f =>
            new[]
            {
                new SheetField($"a.{f.Item1}", $"{f.Item2}, end A"),
                new SheetField($"b.{f.Item1}", $"{f.Item2}, end B"),
                new SheetField(f.Item1, $"{f.Item2}, of the row's end"),
            }
        ),
        new("ikeVersion", "IKEv1 or IKEv2"),
        new("mode", "main or aggressive"),
        new("ikeProposal", "IKE (phase 1) proposals"),
        new("ikeLifetime", "IKE lifetime"),
        new("espProposal", "ESP (phase 2) proposals"),
        new("espLifetime", "ESP lifetime"),
        new("pfs", "PFS group, yes or no"),
        new("authentication", "PSK or certificate"),
        new("state", "state of the tunnel"),
        new("contact", "contact person"),
        new("notes", "anything else"),
        new("key", "a key: never read"),
        new("nothing", "left out"),
    ];
}

/// <summary>
/// A column with what it was taken for. Sure: the heading says so; otherwise it is a guess to be looked at.
/// </summary>
public sealed record SheetColumn(int Index, string Heading, string Field, bool Sure)
{
    public string Name => SheetTable.Column(Index);
}

/// <summary>
/// Finds the row of headings, and guesses what each column holds from its heading, the group heading above it, and the
/// columns beside it.
/// </summary>
public static class Headings
{
    private static readonly (string Field, string[] Words)[] Plain =
    [
        ("key", ["psk", "presharedkey", "sharedsecret", "secret", "passphrase", "key"]),
        (
            "ikeProposal",
            ["phase1", "ph1", "p1", "ikeproposal", "phase1proposal", "phase1encryption", "ikeencryption", "ike"]
        ),
        (
            "espProposal",
            [
                "phase2",
                "ph2",
                "p2",
                "espproposal",
                "phase2proposal",
                "phase2encryption",
                "ipsecproposal",
                "ipsec",
                "esp",
            ]
        ),
        (
            "ikeLifetime",
            ["phase1lifetime", "p1lifetime", "ikelifetime", "phase1life", "p1life", "ikelife", "ikesalifetime"]
        ),
        (
            "espLifetime",
            [
                "phase2lifetime",
                "p2lifetime",
                "esplifetime",
                "ipseclifetime",
                "phase2life",
                "p2life",
                "esplife",
                "salifetime",
                "lifetime",
            ]
        ),
        ("pfs", ["pfs", "pfsgroup", "forwardsecrecy"]),
        ("ikeVersion", ["ikeversion", "ikever", "version", "ver", "ikev1v2"]),
        ("mode", ["mode", "exchangemode", "exchange"]),
        ("authentication", ["authentication", "auth", "authmethod"]),
        ("customer", ["customer", "client", "company", "account", "organisation"]),
        (
            "tunnel",
            ["tunnel", "tunnelname", "tunnelid", "vpn", "vpnname", "vpnid", "connection", "ref", "name", "id", "link"]
        ),
        ("end", ["end", "side"]),
        ("state", ["state", "status", "live"]),
        ("contact", ["contact", "contactperson", "phone", "engineer"]),
        ("notes", ["notes", "note", "remarks", "remark", "comment", "comments"]),
        (
            "subnets",
            [
                "subnets",
                "subnet",
                "networks",
                "network",
                "lan",
                "lans",
                "prefixes",
                "protectedsubnets",
                "localsubnets",
                "remotesubnets",
                "localnetworks",
                "remotenetworks",
                "internal",
                "inside",
            ]
        ),
        (
            "outer",
            [
                "outeraddress",
                "outer",
                "publicip",
                "public",
                "wanip",
                "wan",
                "publicaddress",
                "peer",
                "peerip",
                "peeraddress",
                "externalip",
                "external",
                "ip",
                "ipaddress",
                "gatewayip",
            ]
        ),
        ("identity", ["identity", "ikeid", "localid", "remoteid", "peerid"]),
        ("platform", ["platform", "model", "make", "makemodel", "hardware", "type"]),
        ("gateway", ["gateway", "device", "firewall", "router", "hostname", "box", "gw"]),
        ("site", ["site", "location", "office", "branch", "place", "sitename"]),
    ];

    private static readonly string[] OfAnEnd = ["site", "gateway", "platform", "outer", "subnets", "identity"];

    private static readonly string[] WordsOfA =
    [
        "a",
        "sidea",
        "enda",
        "local",
        "our",
        "ours",
        "hq",
        "hub",
        "headoffice",
        "near",
        "hubside",
        "thisside",
        "main",
        "head",
    ];

    private static readonly string[] WordsOfB =
    [
        "b",
        "sideb",
        "endb",
        "remote",
        "their",
        "theirs",
        "branch",
        "spoke",
        "far",
        "farside",
        "otherside",
        "customerside",
        "branchside",
    ];

    /// <summary>
    /// The index of the row of headings: the first in which most filled cells are known for headings; -1 when there is
    /// none among the first thirty.
    /// </summary>
    public static int RowOf(SheetTable table)
    {
        var best = (Row: -1, Known: 2);
        for (var r = 0; r < Math.Min(30, table.Rows.Length); r++)
        {
            var filled = table.Rows[r].Count(c => c.Length > 0);
            var known = Enumerable
                .Range(0, table.Width)
                .Count(c =>
                    table.Rows[r][c].Length is > 0 and <= 60
                    && Guess(table.Rows[r][c], r > 0 ? table.Rows[r - 1][c] : "").Field != "nothing"
                );
            // One text over the whole width is a title, merged or not.
            var texts = table.Rows[r].Where(c => c.Length > 0).Distinct().Count();
            if (texts > 1 && known > best.Known && known * 2 >= filled)
                best = (r, known);
        }

        return best.Row;
    }

    /// <summary>What each column is taken for.</summary>
    public static ImmutableArray<SheetColumn> Guess(SheetTable table, int row)
    {
        var columns = new List<SheetColumn>();
        var groups = Groups(table, row);
        for (var c = 0; c < table.Width; c++)
        {
            var heading = table.Rows[row][c];
            var above = groups[c];
            // A heading merged downwards stands in both rows.
            var guess = heading.Length == 0 ? ("nothing", false) : Guess(heading, above == heading ? "" : above);
            columns.Add(
                new(
                    c,
                    above.Length > 0 && above != heading && heading.Length > 0 ? $"{above} / {heading}" : heading,
                    guess.Item1,
                    guess.Item2
                )
            );
        }

        // The same field twice without an end: the first is A's, the second B's.
        foreach (
            var twice in columns
                .Where(c => OfAnEnd.Contains(c.Field))
                .GroupBy(c => c.Field)
                .Where(g => g.Count() == 2)
                .ToArray()
        )
        foreach (var (column, end) in twice.Zip(["a", "b"]))
            columns[column.Index] = column with { Field = $"{end}.{column.Field}", Sure = false };
        // Only one of an end's two is marked: the other is the other end's.
        foreach (var field in OfAnEnd)
            if (
                columns.Count(c => c.Field == field) == 1
                && columns.Count(c => c.Field == $"a.{field}") + columns.Count(c => c.Field == $"b.{field}") == 1
            )
            {
                var free = columns.Any(c => c.Field == $"a.{field}") ? "b" : "a";
                var index = columns.FindIndex(c => c.Field == field);
                columns[index] = columns[index] with { Field = $"{free}.{field}", Sure = false };
            }

        // What stands twice all the same is taken once.
        foreach (
            var twice in columns
                .Where(c => c.Field is not ("nothing" or "key" or "notes"))
                .GroupBy(c => c.Field)
                .Where(g => g.Count() > 1)
                .ToArray()
        )
        foreach (var column in twice.Skip(1))
            columns[column.Index] = column with { Field = "nothing", Sure = false };
        return [.. columns];
    }

    /// <summary>
    /// The group heading over each column: the cell above, or the nearest one to the left where the row above is one of
    /// groups, merged over several columns.
    /// </summary>
    private static string[] Groups(SheetTable table, int row)
    {
        var above = row > 0 ? table.Rows[row - 1].ToArray() : [.. Enumerable.Repeat("", table.Width)];
        var (named, all) = (above.Count(c => c.Length > 0), table.Rows[row].Count(c => c.Length > 0));
        if (named >= 2 && named * 3 <= all * 2)
            for (var c = 1; c < above.Length; c++)
                if (above[c].Length == 0 && table.Rows[row][c].Length > 0)
                    above[c] = above[c - 1];
        return above;
    }

    /// <summary>The unit that a heading names for its numbers: s, min, h, d; null when it names none.</summary>
    public static string? UnitIn(string heading)
    {
        var words = heading
            .ToLowerInvariant()
            .Split([' ', '(', ')', '[', ']', '/', '.', ','], StringSplitOptions.RemoveEmptyEntries);
        var units = words.Select(UnitOf).ToHashSet();
        // Where a heading has several, the smallest is that of its numbers.
        return new[] { "s", "min", "h", "d" }.FirstOrDefault(units.Contains);
    }

    private static string? UnitOf(string word) =>
        word switch
        {
            "s" or "sec" or "secs" or "seconds" => "s",
            "min" or "mins" or "minutes" or "m" => "min",
            "h" or "hr" or "hrs" or "hours" => "h",
            "d" or "days" => "d",
            _ => null,
        };

    private static (string Field, bool Sure) Guess(string heading, string above)
    {
        var own = Bare(heading);
        var whole = Bare(above) + own;
        foreach (var text in new[] { own, whole })
        {
            var field = Plain.FirstOrDefault(p => p.Words.Contains(text)).Field;
            if (field is not null && !OfAnEnd.Contains(field))
                return field == "tunnel" && above.Length > 0 && Side(above) is { } side
                    ? ($"{side}.site", false)
                    : (WithPhase(field, above), true);
        }

        // A heading of an end: the side may stand in it, before or behind, or in the heading above.
        var words = heading
            .ToLowerInvariant()
            .Split([' ', '-', '_', '/', '(', ')', '.', ':'], StringSplitOptions.RemoveEmptyEntries);
        foreach (var (field, known) in Plain)
        {
            if (
                !OfAnEnd.Contains(field)
                || !(
                    known.Contains(own)
                    || words.Any(w => known.Contains(w))
                    || known.Any(k => k.Length > 4 && own.Contains(k, StringComparison.Ordinal))
                )
            )
                continue;
            var end = Side(above)
                ?? words
                    .Select(w =>
                        WordsOfA.Contains(w) ? "a"
                        : WordsOfB.Contains(w) ? "b"
                        : null
                    )
                    .FirstOrDefault(e => e is not null);
            return (end is null ? field : $"{end}.{field}", known.Contains(own) || end is not null);
        }

        // A longer heading with one findingText word.
        var findingText = Plain
            .FirstOrDefault(p =>
                !OfAnEnd.Contains(p.Field)
                && p.Words.Any(k => k.Length > 3 && own.Contains(k, StringComparison.Ordinal))
            )
            .Field;
        return findingText is null ? ("nothing", false) : (WithPhase(findingText, above + " " + heading), false);
    }

    /// <summary>A lifetime or encryption under a heading above that names the phase.</summary>
    private static string WithPhase(string field, string above)
    {
        var folded = Typed.Folded(above);
        return
            field is "espLifetime"
            && (folded.Contains("phase1", StringComparison.Ordinal) || folded.Contains("ike", StringComparison.Ordinal))
            ? "ikeLifetime"
            : field;
    }

    private static string? Side(string above)
    {
        var folded = Typed.Folded(above);
        if (folded.Length == 0)
            return null;
        if (
            WordsOfA.Contains(folded)
            || WordsOfA.Any(w => w.Length > 3 && folded.StartsWith(w, StringComparison.Ordinal))
        )
            return "a";
        return
            WordsOfB.Contains(folded)
            || WordsOfB.Any(w => w.Length > 2 && folded.StartsWith(w, StringComparison.Ordinal))
            ? "b"
            : null;
    }

    private static string Bare(string heading)
    {
        // Units and remarks in brackets do not tell what the column is.
        var cut = heading.IndexOfAny(['(', '[']);
        return Typed.Folded(cut > 0 ? heading[..cut] : heading);
    }
}

namespace Vellumkeep.Exchange.Sheets;

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
    private static readonly string[] OfAnEnd = ["site", "gateway", "platform", "outer", "subnets", "identity"];

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
                    && Guess(new(table.Rows[r][c]), new(r > 0 ? table.Rows[r - 1][c] : ""), Shape.Other).Field
                        != "nothing"
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
            var guess =
                heading.Length == 0
                    ? ("nothing", false)
                    : Guess(new(heading), new(above == heading ? "" : above), ShapeOf(table, row, c));
            columns.Add(
                new(
                    c,
                    above.Length > 0 && above != heading && heading.Length > 0 ? $"{above} / {heading}" : heading,
                    guess.Item1,
                    guess.Item2
                )
            );
        }

        WithoutParts(columns, "ike", ["ikeHash", "ikeDhGroup"]);
        WithoutParts(columns, "esp", ["espHash"]);
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

    /// <summary>The end that a cell names, a or b: A, B, us, them, local, remote; null when it names none.</summary>
    public static string? SideOf(string cell) => new HeadingWords(cell).Side;

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

    /// <summary>Encryption alone in its phase is the whole proposal.</summary>
    private static void WithoutParts(List<SheetColumn> columns, string phase, string[] others)
    {
        if (columns.Any(c => others.Contains(c.Field)))
            return;
        for (var i = 0; i < columns.Count; i++)
            if (columns[i].Field == $"{phase}Encryption")
                columns[i] = columns[i] with { Field = $"{phase}Proposal" };
    }

    /// <summary>What the cells of a column look like.</summary>
    private enum Shape
    {
        /// <summary>Prefixes with a mask.</summary>
        Prefixes,

        /// <summary>Single addresses.</summary>
        Addresses,

        /// <summary>PSK, certificates.</summary>
        Authentications,

        /// <summary>Anything else.</summary>
        Other,
    }

    private static Shape ShapeOf(SheetTable table, int row, int column)
    {
        var cells = table.Rows.Skip(row + 1).Select(r => r[column]).Where(c => c.Length > 0).Take(20).ToArray();
        if (cells.Length == 0)
            return Shape.Other;
        bool Most(Func<string, bool> holds) => cells.Count(holds) * 2 > cells.Length;
        if (Most(c => c.Contains('/') && Cells.Subnets(c).Ok))
            return Shape.Prefixes;
        if (Most(c => Address.Parse(Typed.Trim(c)).Ok))
            return Shape.Addresses;
        return Most(c => Cells.Authentication(c).Ok) ? Shape.Authentications : Shape.Other;
    }

    /// <summary>
    /// What one column holds, by its heading, the group heading above it, and what its cells look like.
    /// </summary>
    private static (string Field, bool Sure) Guess(HeadingWords own, HeadingWords above, Shape shape)
    {
        var phase = own.Phase ?? above.Phase;
        if (own.Has(HeadingWord.Lifetime))
            return (phase == 1 ? "ikeLifetime" : "espLifetime", true);
        if (own.Has(HeadingWord.Key) && !own.Has(HeadingWord.Identity) && !own.Has(HeadingWord.Mode))
            return ("key", true);
        if (own.Has(HeadingWord.Pfs))
            return ("pfs", true);
        if (own.Has(HeadingWord.Version) || (own.Has(HeadingWord.Key) && own.Has(HeadingWord.Mode)))
            return ("ikeVersion", true);
        if (own.Has(HeadingWord.Mode))
            return ("mode", true);
        if (own.Has(HeadingWord.Identity) && (own.Side is not null || above.Side is not null || own.Phase is not null))
            return OfEnd("identity", own, above);
        if (own.Has(HeadingWord.Subnets))
            return OfEnd("subnets", own, above);
        if (Algorithm(own, phase, shape) is { } algorithm)
            return (algorithm, true);
        if (OfPlace(own, above, shape) is { } place)
            return place;
        if (own.Phase is { } alone)
            return (alone == 1 ? "ikeProposal" : "espProposal", true);
        if (own.Has(HeadingWord.Proposal) && above.Phase is { } grouped)
            return (grouped == 1 ? "ikeProposal" : "espProposal", true);
        if (own.Side is null || !own.OnlySide)
            foreach (var (word, field) in Plain)
                if (own.Has(word))
                    return (field, true);
        // A side alone: what its cells look like says what it holds of that end.
        if ((own.Side ?? above.Side) is not { } side || !own.OnlySide)
            return ("nothing", false);
        return shape switch
        {
            Shape.Prefixes => ($"{side}.subnets", false),
            Shape.Addresses => ($"{side}.outer", false),
            _ => ($"{side}.site", false),
        };
    }

    private static readonly (HeadingWord Word, string Field)[] Plain =
    [
        (HeadingWord.Customer, "customer"),
        (HeadingWord.Tunnel, "tunnel"),
        (HeadingWord.End, "end"),
        (HeadingWord.State, "state"),
        (HeadingWord.Contact, "contact"),
        (HeadingWord.Notes, "notes"),
    ];

    /// <summary>A column of one algorithm, or of how the ends authenticate; null when it is of neither.</summary>
    private static string? Algorithm(HeadingWords own, int? phase, Shape shape)
    {
        if (own.Has(HeadingWord.Group))
            return phase == 2 ? "pfs" : "ikeDhGroup";
        if (own.Has(HeadingWord.Hash))
            return phase == 2 ? "espHash" : "ikeHash";
        if (own.Has(HeadingWord.Authentication))
            return phase is null || shape == Shape.Authentications ? "authentication"
                : phase == 2 ? "espHash"
                : "ikeHash";
        if (own.Has(HeadingWord.Encryption))
            return phase switch
            {
                1 => "ikeEncryption",
                2 => "espEncryption",
                _ => null,
            };
        return null;
    }

    /// <summary>A column of an end: its address, device or site; null when it is of none.</summary>
    private static (string Field, bool Sure)? OfPlace(HeadingWords own, HeadingWords above, Shape shape)
    {
        if (own.Has(HeadingWord.Outer))
            return OfEnd(shape == Shape.Prefixes && !own.Has(HeadingWord.Strictly) ? "subnets" : "outer", own, above);
        if (own.Has(HeadingWord.Platform))
            return OfEnd("platform", own, above);
        if (own.Has(HeadingWord.Gateway))
            return OfEnd(shape == Shape.Addresses ? "outer" : "gateway", own, above);
        var numbered = own.Has(HeadingWord.Number);
        if (own.Has(HeadingWord.Site) && !numbered)
            return OfEnd("site", own, above);
        // A name under the heading of an end is the name of its place.
        return own.Has(HeadingWord.Tunnel) && !numbered && above.Side is { } side && own.Phase is null
            ? ($"{side}.site", false)
            : null;
    }

    private static (string Field, bool Sure) OfEnd(string field, HeadingWords own, HeadingWords above) =>
        (own.Side ?? above.Side ?? own.CustomersSide) is { } side ? ($"{side}.{field}", true) : (field, true);
}

using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using MiniExcelLibs;
using MiniExcelLibs.OpenXml;

namespace Vellumkeep.Exchange.Sheets;

/// <summary>
/// A sheet as text: rows of cells, every row as wide as the widest. Rows count from 1, columns are named as on a
/// screen: A, B, ... AA.
/// </summary>
public sealed record SheetTable(string Name, ImmutableArray<ImmutableArray<string>> Rows)
{
    public int Width => Rows.IsEmpty ? 0 : Rows[0].Length;

    /// <summary>The name of a column, counted from 0.</summary>
    public static string Column(int index) =>
        index < 26 ? $"{(char)('A' + index)}" : Column((index / 26) - 1) + Column(index % 26);
}

/// <summary>CSV (RFC 4180, also with semicolons or tabs) and XLSX, in and out.</summary>
public static class SheetFile
{
    /// <summary>The largest file that is read, in octets.</summary>
    public const int Largest = 16 * 1024 * 1024;

    /// <summary>Rows beside those of tunnels: headings, titles, blank ones.</summary>
    private const int MoreRows = 200;

    private const int MostColumns = 200;

    /// <summary>
    /// Reads the first sheet of a file that is told by its content, not its name. Merged cells give every cell their
    /// value.
    /// </summary>
    /// <param name="most">The most rows with something in them.</param>
    public static Parsed<SheetTable> Read(
        byte[] content,
        string name,
        int most = 200_000,
        CancellationToken ct = default
    )
    {
        if (content.Length == 0)
            return Parsed<SheetTable>.Fail("the file is empty", "a sheet in XLSX or CSV");
        if (content.Length > Largest)
            return Parsed<SheetTable>.Fail(
                $"the file is larger than {Largest / 1024 / 1024} MB",
                $"a sheet of at most {most:N0} rows"
            );
        try
        {
            var rows = content is [0x50, 0x4b, ..]
                ? Workbook.Read(content, most + MoreRows, MostColumns, ct)
                : Text(content, most + MoreRows, ct);
            var width = rows.Count == 0 ? 0 : rows.Max(r => r.Count);
            if (width > MostColumns)
                return Parsed<SheetTable>.Fail($"the sheet has {width} columns", $"at most {MostColumns}");
            return rows.Any(r => r.Any(c => c.Length > 0))
                ? Parsed<SheetTable>.Of(
                    new(
                        name,
                        [.. rows.Select(r => (ImmutableArray<string>)[.. r, .. Enumerable.Repeat("", width - r.Count)])]
                    )
                )
                : Parsed<SheetTable>.Fail("all cells are empty", "a sheet in XLSX or CSV");
        }
        catch (WorkbookException e)
        {
            return Parsed<SheetTable>.Fail(e.Message, e.Right);
        }
        catch (Exception e) when (e is not OperationCanceledException and not OutOfMemoryException)
        {
            // Whatever a reader of other people's formats makes of a spoilt file.
            return Parsed<SheetTable>.Fail(
                "this is not a sheet that can be read",
                "XLSX as saved by an office program, or CSV in UTF-8"
            );
        }
    }

    public static byte[] Csv(IReadOnlyList<string> heads, IEnumerable<IReadOnlyList<object?>> rows)
    {
        using var stream = new MemoryStream();
        // The byte order mark makes office programs read UTF-8 as what it is.
        using (var writer = new StreamWriter(stream, new UTF8Encoding(true)))
        using (
            var csv = new CsvWriter(
                writer,
                new CsvConfiguration(CultureInfo.InvariantCulture)
                {
                    NewLine = "\r\n",
                    InjectionOptions = InjectionOptions.Escape,
                }
            )
        )
        {
            foreach (var head in heads)
                csv.WriteField(head);
            csv.NextRecord();
            foreach (var row in rows)
            {
                foreach (var cell in row)
                    csv.WriteField(Plain(cell));
                csv.NextRecord();
            }
        }

        return stream.ToArray();
    }

    public static byte[] Xlsx(IReadOnlyList<string> heads, IEnumerable<IReadOnlyList<object?>> rows)
    {
        using var stream = new MemoryStream();
        // A cell that begins with = or @ is text here, never a formula: the writer marks it so.
        stream.SaveAs(
            rows.Select(r =>
                    heads
                        .Select((h, i) => (h, i))
                        .ToDictionary(x => x.h, x => r[x.i] is int or long or null ? r[x.i] : Plain(r[x.i]))
                )
                .DefaultIfEmpty(heads.ToDictionary(h => h, _ => (object?)null)),
            configuration: new OpenXmlConfiguration { AutoFilter = true }
        );
        return stream.ToArray();
    }

    private static string Plain(object? cell) =>
        cell switch
        {
            null => "",
            DateTimeOffset at => at.UtcDateTime.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture),
            IFormattable number => number.ToString(null, CultureInfo.InvariantCulture),
            _ => cell.ToString() ?? "",
        };

    private static List<List<string>> Text(byte[] content, int mostRows, CancellationToken ct)
    {
        var text = Encoding.UTF8.GetString(content);
        // Old programs save the letters of western Europe in one octet each.
        if (text.Contains('\ufffd'))
            text = Encoding.Latin1.GetString(content);
        text = text.TrimStart('\ufeff');
        var head = text.AsSpan(0, Math.Min(text.Length, 8192)).ToString();
        if (head.Contains('\0'))
            throw new InvalidDataException("Not text.");
        var first = head.Split('\n').Take(20).ToArray();
        var delimiter = new[] { ",", ";", "\t" }.MaxBy(d => first.Sum(l => l.Split(d).Length))!;
        if (NeverClosed(text, delimiter[0]) is { } opened)
            throw new WorkbookException(
                $"the quotation mark that begins a cell in line {opened:N0} is not closed, so everything below is one cell",
                "a quotation mark at the end of that cell too"
            );
        // A line with more cells than any sheet has is told before a parser takes it apart.
        foreach (var line in text.AsSpan().EnumerateLines())
            if (line.Count(delimiter[0]) is var many && many > 4 * MostColumns)
                throw new WorkbookException(
                    $"a line of the sheet has {many + 1:N0} cells",
                    $"at most {MostColumns} columns"
                );
        using var parser = new CsvParser(
            new StringReader(text),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = delimiter,
                BadDataFound = null,
                IgnoreBlankLines = false,
                Mode = CsvMode.RFC4180,
            }
        );
        var rows = new List<List<string>>();
        while (parser.Read())
        {
            ct.ThrowIfCancellationRequested();
            if (rows.Count >= mostRows)
                throw new WorkbookException(
                    $"the sheet has more than {mostRows:N0} rows",
                    $"at most {mostRows:N0} in one import; split the sheet"
                );
            rows.Add([.. parser.Record!.Select(Typed.Trim)]);
        }

        return rows;
    }

    /// <summary>
    /// The line, from 1, of a cell that begins with a quotation mark and never ends with one (RFC 4180 section 2, 5);
    /// null when there is none.
    /// </summary>
    private static int? NeverClosed(string text, char delimiter)
    {
        var (line, opened) = (1, 0);
        var (quoted, begins) = (false, true);
        for (var i = 0; i < text.Length; i++)
        {
            var c = text[i];
            if (c == '\n')
                line++;
            if (quoted)
            {
                // Two of them are one that belongs to the text.
                if (c == '"' && i + 1 < text.Length && text[i + 1] == '"')
                    i++;
                else if (c == '"')
                    quoted = false;
                continue;
            }

            if (c == '"' && begins)
                (quoted, opened) = (true, line);
            begins = c == delimiter || c == '\n' || c == '\r';
        }

        return quoted ? opened : null;
    }
}

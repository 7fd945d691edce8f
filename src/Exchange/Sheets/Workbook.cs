using System.Globalization;
using System.IO.Compression;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace Vellumkeep.Exchange.Sheets;

/// <summary>A workbook holds more than is read, or is not one; the message says what.</summary>
public sealed class WorkbookException(string wrong, string right) : Exception(wrong)
{
    public string Right { get; } = right;
}

/// <summary>
/// Reads the first sheet of a workbook (ISO/IEC 29500) as it streams in. Cells and characters are counted as they come,
/// and reading ends with the first that is too many: a small file can unpack to anything.
/// </summary>
internal static class Workbook
{
    /// <summary>Characters of one part once it is unpacked.</summary>
    private const int MostCharacters = 40_000_000;

    /// <summary>Octets of all parts together, as the file says of itself.</summary>
    private const long MostUnpacked = 200L * 1024 * 1024;

    private const int MostParts = 500;
    private const int MostTexts = 1_000_000;
    private const int MostTextCharacters = 20_000_000;
    private const int MostRanges = 2000;
    private const int MostFilled = 200_000;

    /// <summary>The longest text that a cell can hold.</summary>
    private const int MostInCell = 32_767;

    public static List<List<string>> Read(byte[] content, int mostRows, int mostColumns, CancellationToken ct)
    {
        LookOver(content);
        using var stream = new MemoryStream(content, writable: false);
        using var document = SpreadsheetDocument.Open(
            stream,
            false,
            new OpenSettings { MaxCharactersInPart = MostCharacters }
        );
        var workbook = document.WorkbookPart
            ?? throw new WorkbookException("the file has no workbook in it", "XLSX as saved by an office program");
        var sheet = FirstSheet(workbook);
        var texts = workbook.SharedStringTablePart is { } shared ? SharedTexts(shared, ct) : [];
        var dates = workbook.WorkbookStylesPart is { } styles ? DateStyles(styles) : [];
        return new Sheet(texts, dates, mostRows, mostColumns, ct).Read(sheet);
    }

    /// <summary>What the file says of its own size is looked at before anything is unpacked.</summary>
    private static void LookOver(byte[] content)
    {
        using var zip = new ZipArchive(new MemoryStream(content, writable: false), ZipArchiveMode.Read);
        if (zip.Entries.Count > MostParts)
            throw new WorkbookException(
                $"the file has {zip.Entries.Count} parts",
                $"a workbook of at most {MostParts}"
            );
        if (zip.Entries.Sum(e => Math.Min(e.Length, MostUnpacked + 1)) > MostUnpacked)
            throw new WorkbookException(
                $"the file is larger than {MostUnpacked / 1024 / 1024} MB",
                "a sheet with the tunnels and nothing else"
            );
    }

    private static WorksheetPart FirstSheet(WorkbookPart workbook)
    {
        using var reader = OpenXmlReader.Create(workbook);
        while (reader.Read())
            if (
                reader.ElementType == typeof(DocumentFormat.OpenXml.Spreadsheet.Sheet)
                && reader.IsStartElement
                && reader.Attributes.FirstOrDefault(a => a.LocalName == "id").Value is { } id
                && workbook.TryGetPartById(id, out var part)
                && part is WorksheetPart sheet
            )
                return sheet;
        throw new WorkbookException("the file has no sheet in it", "XLSX as saved by an office program");
    }

    private static List<string> SharedTexts(SharedStringTablePart part, CancellationToken ct)
    {
        var texts = new List<string>();
        var length = 0;
        var text = new System.Text.StringBuilder();
        using var reader = OpenXmlReader.Create(part);
        while (reader.Read())
        {
            if (reader.ElementType == typeof(Text) && reader.IsStartElement)
            {
                var more = reader.GetText();
                length += more.Length;
                if (text.Length + more.Length <= MostInCell)
                    text.Append(more);
            }
            else if (reader.ElementType == typeof(SharedStringItem) && reader.IsEndElement)
            {
                texts.Add(text.ToString());
                text.Clear();
                ct.ThrowIfCancellationRequested();
            }

            if (texts.Count > MostTexts || length > MostTextCharacters)
                throw new WorkbookException(
                    "the sheet holds too much text",
                    "a sheet with the tunnels and nothing else"
                );
        }

        return texts;
    }

    /// <summary>The cell styles under which a number is a date (ISO/IEC 29500-1, section 18.8.30).</summary>
    private static HashSet<int> DateStyles(WorkbookStylesPart part)
    {
        var own = new HashSet<uint>();
        var found = new HashSet<int>();
        var (inCells, index) = (false, 0);
        using var reader = OpenXmlReader.Create(part);
        while (reader.Read())
        {
            string? Of(string name) => reader.Attributes.FirstOrDefault(a => a.LocalName == name).Value;
            if (
                reader.ElementType == typeof(NumberingFormat)
                && reader.IsStartElement
                && uint.TryParse(Of("numFmtId"), NumberStyles.None, CultureInfo.InvariantCulture, out var id)
            )
            {
                if (own.Count < MostParts && IsDate(Of("formatCode") ?? ""))
                    own.Add(id);
            }
            else if (reader.ElementType == typeof(CellFormats))
            {
                inCells = reader.IsStartElement;
            }
            else if (inCells && reader.ElementType == typeof(CellFormat) && reader.IsStartElement)
            {
                var format = uint.TryParse(
                    Of("numFmtId"),
                    NumberStyles.None,
                    CultureInfo.InvariantCulture,
                    out var number
                )
                    ? number
                    : 0;
                if (format is >= 14 and <= 22 or >= 45 and <= 47 || own.Contains(format))
                    found.Add(index);
                index++;
            }
        }

        return found;
    }

    private static bool IsDate(string format)
    {
        var quoted = false;
        foreach (var c in format)
        {
            quoted ^= c == '"';
            if (!quoted && c is 'y' or 'd')
                return true;
        }

        return false;
    }

    /// <summary>One sheet as it is read.</summary>
    private sealed class Sheet(
        List<string> texts,
        HashSet<int> dates,
        int mostRows,
        int mostColumns,
        CancellationToken ct
    )
    {
        private readonly List<List<string>> rows = [];

        public List<List<string>> Read(WorksheetPart part)
        {
            using var reader = OpenXmlReader.Create(part);
            var ranges = 0;
            var filled = 0;
            var at = -1;
            while (reader.Read())
            {
                if (!reader.IsStartElement)
                    continue;
                if (reader.ElementType == typeof(Row))
                {
                    ct.ThrowIfCancellationRequested();
                    at = RowOf(reader.Attributes.FirstOrDefault(a => a.LocalName == "r").Value) ?? at + 1;
                }
                else if (reader.ElementType == typeof(Cell))
                {
                    Cell((Cell)reader.LoadCurrentElement()!, at);
                }
                else if (reader.ElementType == typeof(MergeCell))
                {
                    if (++ranges > MostRanges)
                        throw new WorkbookException(
                            $"the sheet has more than {MostRanges:N0} merged ranges",
                            "a sheet with fewer merged cells"
                        );
                    filled += Fill(reader.Attributes.FirstOrDefault(a => a.LocalName == "ref").Value ?? "");
                    if (filled > MostFilled)
                        throw new WorkbookException(
                            "the merged ranges cover too much of the sheet",
                            "a sheet with fewer merged cells"
                        );
                }
            }

            return rows;
        }

        private static int? RowOf(string? text) =>
            int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number > 0
                ? number - 1
                : null;

        private void Cell(Cell cell, int row)
        {
            var text = Value(cell);
            if (text.Length == 0)
                return;
            var column =
                cell.CellReference?.Value is { } reference ? Place(reference).Column
                : row < rows.Count ? rows[row].Count
                : 0;
            if (row >= mostRows)
                throw new WorkbookException(
                    $"the sheet has more than {mostRows:N0} rows",
                    $"at most {mostRows:N0} in one import; split the sheet"
                );
            if (column >= mostColumns)
                throw new WorkbookException(
                    $"the sheet has something in column {SheetTable.Column(Math.Min(column, 100_000))}",
                    $"at most {mostColumns} columns"
                );
            while (rows.Count <= row)
                rows.Add([]);
            while (rows[row].Count <= column)
                rows[row].Add("");
            rows[row][column] = text;
        }

        private string Value(Cell cell)
        {
            var text = cell.CellValue?.Text ?? "";
            var type = cell.DataType?.Value;
            if (type == CellValues.SharedString)
                return
                    int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var index)
                    && index < texts.Count
                    ? Typed.Trim(texts[index])
                    : "";
            if (type == CellValues.InlineString)
                return Typed.Trim(Cut(cell.InlineString?.InnerText ?? ""));
            if (type == CellValues.Boolean)
                return text == "1" ? "yes" : "no";
            if (
                (type is null || type == CellValues.Number)
                && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
            )
                return Number(number, (int)(cell.StyleIndex?.Value ?? 0));
            return Typed.Trim(Cut(text));
        }

        private static string Cut(string text) => text.Length > MostInCell ? text[..MostInCell] : text;

        private string Number(double number, int style)
        {
            // Days since 1899-12-30; what lies outside the calendar is no date.
            if (dates.Contains(style) && number is > 0 and < 2_958_466)
            {
                var day = DateTime.FromOADate(number);
                return day.ToString(
                    day.TimeOfDay == TimeSpan.Zero ? "yyyy-MM-dd" : "yyyy-MM-dd HH:mm",
                    CultureInfo.InvariantCulture
                );
            }

            // Whole numbers come as floating ones; 28800.0 was typed as 28800.
            return Math.Abs(number) < 1e15 && number == Math.Truncate(number)
                ? ((long)number).ToString(CultureInfo.InvariantCulture)
                : number.ToString(CultureInfo.InvariantCulture);
        }

        /// <summary>Gives every cell of a merged range the value of its first, as far as the sheet goes.</summary>
        private int Fill(string range)
        {
            var ends = range.Split(':');
            if (ends.Length != 2)
                return 0;
            var (from, to) = (Place(ends[0]), Place(ends[1]));
            if (from.Row < 0 || from.Row >= rows.Count || from.Column >= rows[from.Row].Count)
                return 0;
            var value = rows[from.Row][from.Column];
            var count = 0;
            for (var row = from.Row; row <= Math.Min(to.Row, rows.Count - 1); row++)
            for (var column = from.Column; column <= Math.Min(to.Column, mostColumns - 1); column++)
            {
                if (++count > MostFilled)
                    return count;
                while (rows[row].Count <= column)
                    rows[row].Add("");
                rows[row][column] = value;
            }

            return count;
        }

        /// <summary>The place of a reference such as B12, counted from 0; far away when it is none.</summary>
        private static (int Row, int Column) Place(string reference)
        {
            var letters = 0;
            var column = 0;
            while (letters < reference.Length && letters < 4 && char.IsAsciiLetterUpper(reference[letters]))
                column = (column * 26) + reference[letters++] - 'A' + 1;
            return (RowOf(reference[letters..]) ?? int.MaxValue, letters == 0 ? int.MaxValue : column - 1);
        }
    }
}

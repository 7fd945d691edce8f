using System.IO.Compression;
using System.Text;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using Shouldly;
using Vellumkeep.Exchange.Sheets;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Workbooks as office programs and people leave them: what a cell says is what is read, or it is said why not.
/// </summary>
public partial class WorkbookTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static Cell At(string place, string value, CellValues? type = null, uint? style = null) =>
        new()
        {
            CellReference = place,
            CellValue = new(value),
            DataType = type,
            StyleIndex = style,
        };

    private static Row Line(uint number, params Cell[] cells) => new(cells) { RowIndex = number };

    /// <summary>A workbook of one sheet, with two styles: 0 is a plain number, 1 a day.</summary>
    private static byte[] Book(IEnumerable<Row> rows, string[]? shared = null, params string[] merged)
    {
        using var stream = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(stream, SpreadsheetDocumentType.Workbook))
        {
            var book = document.AddWorkbookPart();
            var sheet = book.AddNewPart<WorksheetPart>();
            sheet.Worksheet = new(new SheetData(rows));
            if (merged.Length > 0)
                sheet.Worksheet.Append(new MergeCells(merged.Select(m => new MergeCell { Reference = m })));
            if (shared is not null)
                book.AddNewPart<SharedStringTablePart>().SharedStringTable = new(
                    shared.Select(s => new SharedStringItem(new Text(s)))
                );
            book.AddNewPart<WorkbookStylesPart>().Stylesheet = new(
                new CellFormats(new CellFormat { NumberFormatId = 0 }, new CellFormat { NumberFormatId = 14 })
            );
            book.Workbook = new(
                new Sheets(
                    new DocumentFormat.OpenXml.Spreadsheet.Sheet
                    {
                        Name = "Tunnels",
                        SheetId = 1,
                        Id = book.GetIdOfPart(sheet),
                    }
                )
            );
        }

        return stream.ToArray();
    }

    private static SheetTable Table(byte[] content)
    {
        var read = SheetFile.Read(content, "x.xlsx", ct: Ct);
        read.Ok.ShouldBeTrue(read.Wrong);
        return read.Value!;
    }

    private static string Refusal(byte[] content, int most = 200_000)
    {
        var read = SheetFile.Read(content, "x.xlsx", most, Ct);
        read.Ok.ShouldBeFalse();
        read.Right.ShouldNotBeNullOrWhiteSpace();
        return read.Wrong!;
    }

    [Fact]
    public void A_cell_is_read_as_its_type_says()
    {
        var rows = Table(
            Book(
                [
                    Line(
                        1,
                        At("A1", "0", CellValues.SharedString),
                        At("B1", "1", CellValues.Boolean),
                        At("C1", "0", CellValues.Boolean),
                        At("D1", "28800.0"),
                        At("E1", "0.5"),
                        At("F1", "46000", style: 1),
                        At("G1", "46000.75", style: 1),
                        At("H1", "46000", style: 0),
                        At("I1", "#REF!", CellValues.Error),
                        At("J1", " 10.1.0.0/24 ", CellValues.String)
                    ),
                ],
                ["PEN-1"]
            )
        ).Rows;
        rows.ShouldHaveSingleItem()
            .ShouldBe([
                "PEN-1",
                "yes",
                "no",
                "28800",
                "0.5",
                "2025-12-09",
                "2025-12-09 18:00",
                "46000",
                "#REF!",
                "10.1.0.0/24",
            ]);
    }

    [Fact]
    public void A_shared_text_that_is_not_there_is_an_empty_cell()
    {
        var rows = Table(
            Book(
                [
                    Line(
                        1,
                        At("A1", "0", CellValues.SharedString),
                        At("B1", "7", CellValues.SharedString),
                        At("C1", "x", CellValues.SharedString)
                    ),
                ],
                ["only"]
            )
        ).Rows;
        rows[0].ShouldBe(["only"]);
    }

    [Fact]
    public void Rows_and_cells_that_are_left_out_are_blank_and_not_closed_up()
    {
        var rows = Table(
            Book([Line(1, At("A1", "a", CellValues.String)), Line(4, At("C4", "c", CellValues.String))])
        ).Rows;
        rows.Length.ShouldBe(4);
        rows[0].ShouldBe(["a", "", ""]);
        rows[1].ShouldBe(["", "", ""]);
        rows[3].ShouldBe(["", "", "c"]);
    }

    [Fact]
    public void A_day_outside_the_calendar_is_the_number_that_it_is() =>
        Table(Book([Line(1, At("A1", "3000000", style: 1), At("B1", "-1", style: 1))]))
            .Rows[0]
            .ShouldBe(["3000000", "-1"]);

    [Fact]
    public void Every_cell_of_a_merged_range_has_the_value_of_its_first_and_no_row_is_made_up()
    {
        Row[] rows =
        [
            Line(1, At("A1", "hub", CellValues.String), At("B1", "one", CellValues.String)),
            Line(2, At("B2", "two", CellValues.String)),
        ];
        var table = Table(Book(rows, null, "A1:A9"));
        table.Rows.Length.ShouldBe(2);
        table.Rows.Select(r => r[0]).ShouldBe(["hub", "hub"]);
    }

    [Theory]
    [InlineData("A7:B9")]
    [InlineData("A1")]
    [InlineData("nowhere:else")]
    [InlineData("")]
    public void A_merged_range_that_lies_elsewhere_changes_nothing(string range) =>
        Table(Book([Line(1, At("A1", "a", CellValues.String))], null, range))
            .Rows.ShouldHaveSingleItem()
            .ShouldBe(["a"]);

    [Fact]
    public void Too_many_rows_are_refused_with_how_many_there_may_be()
    {
        var rows = Enumerable.Range(1, 260).Select(i => Line((uint)i, At($"A{i}", "x", CellValues.String)));
        Refusal(Book(rows), most: 50).ShouldContain("more than 250 rows");
        Table(Book(Enumerable.Range(1, 250).Select(i => Line((uint)i, At($"A{i}", "x", CellValues.String)))))
            .Rows.Length.ShouldBe(250);
    }

    [Fact]
    public void Something_far_to_the_right_is_refused_by_its_column() =>
        Refusal(Book([Line(1, At("GS1", "x", CellValues.String))])).ShouldContain("column GS");

    [Fact]
    public void Too_many_merged_ranges_are_refused()
    {
        var merged = Enumerable.Range(1, 2001).Select(i => $"A{i}:B{i}").ToArray();
        Refusal(Book([Line(1, At("A1", "x", CellValues.String))], null, merged)).ShouldContain("merged ranges");
    }

    [Fact]
    public void A_workbook_with_no_sheet_and_a_zip_that_is_no_workbook_are_refused()
    {
        using var stream = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(stream, SpreadsheetDocumentType.Workbook))
            document.AddWorkbookPart().Workbook = new(new Sheets());
        Refusal(stream.ToArray()).ShouldContain("no sheet");
        Refusal(Zip(("hello.txt", 10))).ShouldNotBeNullOrWhiteSpace();
    }

    [Fact]
    public void A_file_that_unpacks_to_more_than_anybody_types_is_refused_before_it_is_unpacked()
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var bomb = Zip(("xl/worksheets/sheet1.xml", 210 * 1024 * 1024));
        clock.Restart();
        Refusal(bomb).ShouldContain("is larger than 200 MB");
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(2));
        Refusal(Zip([.. Enumerable.Range(0, 501).Select(i => ($"part{i}", 1))])).ShouldContain("501 parts");
    }

    private static byte[] Zip(params (string Name, int Length)[] parts)
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
            foreach (var (name, length) in parts)
            {
                using var entry = zip.CreateEntry(name, CompressionLevel.Fastest).Open();
                entry.Write(new byte[length]);
            }

        return stream.ToArray();
    }

    [Theory]
    [InlineData("a;b;c\n1;2,5;3\n", "1|2,5|3")]
    [InlineData("a\tb\n1\t2 3\n", "1|2 3")]
    [InlineData("\ufeffa,b\n\"x, y\",\"say \"\"so\"\"\"\n", "x, y|say \"so\"")]
    [InlineData("a,b\r\n\"two\r\nlines\",z\r\n", "two\r\nlines|z")]
    [InlineData("a,b\n5\" pipe,z\n", "5\" pipe|z")]
    public void Text_is_taken_apart_by_what_parts_it(string text, string second)
    {
        var rows = Table(Encoding.UTF8.GetBytes(text)).Rows;
        string.Join('|', rows[1]).TrimEnd().ShouldBe(second.TrimEnd(), StringCompareShould.IgnoreLineEndings);
    }

    [Theory]
    [InlineData("a,b\nx,\"never closed\nPEN-2,y\n", 2)]
    [InlineData("a;b\n\"two \"\" marks;c\nd;e\n", 2)]
    [InlineData("\"", 1)]
    public void A_cell_that_is_never_closed_swallows_no_rows_in_silence(string text, int line) =>
        Refusal(Encoding.UTF8.GetBytes(text)).ShouldContain($"in line {line} is not closed");

    [Fact]
    public void Letters_of_old_programs_are_read_for_what_they_are() =>
        Table(Encoding.Latin1.GetBytes("name,site\nPEN-1,Schönfeld\n")).Rows[1].ShouldBe(["PEN-1", "Schönfeld"]);

    [Fact]
    public void A_line_with_more_cells_than_any_sheet_is_refused() =>
        Refusal(Encoding.UTF8.GetBytes("a,b\n" + new string(',', 900) + "\n")).ShouldContain("901 cells");
}

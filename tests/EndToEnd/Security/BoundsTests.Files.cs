using System.IO.Compression;
using System.Net;
using System.Text;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

public partial class BoundsTests
{
    /// <summary>Workbooks of a few kilobytes that unpack to anything, or reach over all rows and columns.</summary>
    [Fact]
    public async Task A_small_workbook_that_unpacks_to_anything_is_given_up_early()
    {
        using var ines = Ines;
        const string cells =
            "<row r=\"1\"><c r=\"A1\" t=\"inlineStr\"><is><t>VPN</t></is></c><c r=\"B1\" "
            + "t=\"inlineStr\"><is><t>Customer</t></is></c></row>";
        static string Sheet(string rows, string after = "") =>
            $"<worksheet "
            + $"xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"><sheetData>{rows}</sheetData>"
            + $"{after}</worksheet>";
        var many = string.Concat(Enumerable.Repeat("<mergeCell ref=\"A1:XFD1048576\"/>", 3000));
        var before = Asking.Memory(demo.Service);
        foreach (
            var (what, file, says) in new[]
            {
                (
                    "one merged range over everything",
                    Book(Sheet(cells, "<mergeCells><mergeCell ref=\"A1:XFD1048576\"/></mergeCells>")),
                    ""
                ),
                ("many merged ranges", Book(Sheet(cells, $"<mergeCells>{many}</mergeCells>")), "merged ranges"),
                (
                    "a cell in the last row",
                    Book(Sheet(cells + "<row r=\"1048576\"><c r=\"A1048576\"><v>1</v></c></row>")),
                    "rows"
                ),
                (
                    "a cell in the last column",
                    Book(Sheet("<row r=\"1\"><c r=\"XFD1\"><v>1</v></c></row>")),
                    "column XFD"
                ),
                ("three hundred megabytes of one text", Book(Sheet(cells), blanks: 300), "is larger than"),
                ("a hundred megabytes of one text", Book(Sheet(cells), blanks: 100), "can be read"),
                (
                    "too many rows",
                    Book(
                        Sheet(
                            string.Concat(
                                Enumerable
                                    .Range(1, 205_000)
                                    .Select(i => $"<row r=\"{i}\"><c r=\"A{i}\"><v>1</v></c></row>")
                            )
                        )
                    ),
                    "more than"
                ),
            }
        )
        {
            file.Length.ShouldBeLessThan(2 * 1024 * 1024, what);
            using var answer = await ines.PostAsync(
                "import/sheet?dryRun=true&name=x.xlsx",
                new ByteArrayContent(file) { Headers = { ContentType = new("application/octet-stream") } },
                Ct
            );
            var text = await answer.Content.ReadAsStringAsync(Ct);
            (answer.StatusCode, text.Contains(says, StringComparison.Ordinal)).ShouldBe(
                (HttpStatusCode.UnprocessableEntity, true),
                $"{what}: {text[..Math.Min(300, text.Length)]}"
            );
        }

        using var wide = await ines.PostAsync(
            "import/sheet?dryRun=true&name=x.csv",
            new ByteArrayContent(Encoding.UTF8.GetBytes(new string(',', 10_000_000)))
            {
                Headers = { ContentType = new("application/octet-stream") },
            },
            Ct
        );
        (await wide.Content.ReadAsStringAsync(Ct)).ShouldContain("10,000,001 cells");
        (Asking.Memory(demo.Service) - before).ShouldBeLessThan(400L * 1024 * 1024);
    }

    /// <summary>A workbook with one sheet; with shared texts of so many megabytes of blanks.</summary>
    private static byte[] Book(string sheet, int blanks = 0)
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            void Part(string name, string text)
            {
                using var writer = new StreamWriter(zip.CreateEntry(name, CompressionLevel.Optimal).Open());
                writer.Write(text);
            }

            const string types = "application/vnd.openxmlformats-officedocument.spreadsheetml.";
            Part(
                "[Content_Types].xml",
                $"<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"><Default "
                    + $"Extension=\"rels\" "
                    + $"ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Override "
                    + $"PartName=\"/xl/workbook.xml\" ContentType=\"{types}sheet.main+xml\"/><Override "
                    + $"PartName=\"/xl/worksheets/sheet1.xml\" ContentType=\"{types}worksheet+xml\"/><Override "
                    + $"PartName=\"/xl/sharedStrings.xml\" ContentType=\"{types}sharedStrings+xml\"/></Types>"
            );
            const string relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
            const string shared =
                $"<Relationship Id=\"r2\" Type=\"{relations}/sharedStrings\" Target=\"sharedStrings.xml\"/>";
            Part(
                "_rels/.rels",
                $"<Relationships "
                    + $"xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship "
                    + $"Id=\"r1\" Type=\"{relations}/officeDocument\" Target=\"xl/workbook.xml\"/></Relationships>"
            );
            Part(
                "xl/workbook.xml",
                $"<workbook xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\" "
                    + $"xmlns:r=\"{relations}\"><sheets><sheet name=\"s\" sheetId=\"1\" "
                    + $"r:id=\"r1\"/></sheets></workbook>"
            );
            Part(
                "xl/_rels/workbook.xml.rels",
                $"<Relationships "
                    + $"xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship "
                    + $"Id=\"r1\" Type=\"{relations}/worksheet\" "
                    + $"Target=\"worksheets/sheet1.xml\"/>"
                    + (blanks > 0 ? shared : "")
                    + $"</Relationships>"
            );
            Part("xl/worksheets/sheet1.xml", sheet);
            if (blanks > 0)
            {
                using var writer = new StreamWriter(
                    zip.CreateEntry("xl/sharedStrings.xml", CompressionLevel.Optimal).Open()
                );
                writer.Write("<sst xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"><si><t>");
                var blank = new string('x', 1024 * 1024);
                for (var i = 0; i < blanks; i++)
                    writer.Write(blank);
                writer.Write("</t></si></sst>");
            }
        }

        return stream.ToArray();
    }
}

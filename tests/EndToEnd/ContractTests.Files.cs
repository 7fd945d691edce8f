using System.Net;
using System.Text.Json;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

public partial class ContractTests
{
    /// <summary>
    /// A keepfile with one thing spoilt, a hundred and twenty times over: it is read or refused with the line, never
    /// answered with a failure of ours, and a refused one changes nothing.
    /// </summary>
    [Fact]
    public async Task A_spoilt_keepfile_is_refused_at_its_line_and_never_breaks_the_service()
    {
        using var http = Client("ines");
        var random = new Random(20261126);
        var source = await File.ReadAllTextAsync(Path.Combine(RunningService.Root, "demo/walk/cheese-cave.yaml"), Ct);
        var before = await http.GetStringAsync("export", Ct);
        var refused = 0;
        for (var i = 0; i < 120; i++)
        {
            var text = Spoilt(source, random);
            using var answer = await http.PostAsync(
                "import?dryRun=true",
                new StringContent(text, null, "application/yaml"),
                Ct
            );
            var told = await answer.Content.ReadAsStringAsync(Ct);
            ((int)answer.StatusCode).ShouldBeLessThan(500, text);
            if (answer.StatusCode == HttpStatusCode.OK)
                continue;
            refused++;
            using var problem = JsonDocument.Parse(told);
            problem.RootElement.GetProperty("title").GetString().ShouldNotBeNullOrWhiteSpace();
            told.ShouldNotContain("   at ");
            told.ShouldNotContain("Exception");
            if (problem.RootElement.TryGetProperty("problems", out var list))
                foreach (var one in list.EnumerateArray())
                    one.GetProperty("line").GetInt32().ShouldBeInRange(1, text.Split('\n').Length + 1, told);
        }

        refused.ShouldBeInRange(30, 120);
        WithoutDate(await http.GetStringAsync("export", Ct)).ShouldBe(WithoutDate(before));

        static string WithoutDate(string text) =>
            string.Join('\n', text.Split('\n').Where(l => !l.StartsWith("written:", StringComparison.Ordinal)));
    }

    private static string Spoilt(string text, Random random)
    {
        var at = random.Next(60, text.Length - 1);
        var lines = text.Split('\n').ToList();
        var line = random.Next(3, lines.Count - 1);
        switch (random.Next(7))
        {
            case 0:
                return text.Remove(at, 1);
            case 1:
                return text.Insert(at, new[] { "{", "]", ":", "\"", "\t", "\0", "- ", "💧" }[random.Next(8)]);
            case 2:
                lines.RemoveAt(line);
                break;
            case 3:
                lines.Insert(line, lines[random.Next(3, lines.Count - 1)]);
                break;
            case 4:
                lines[line] = "  " + lines[line];
                break;
            case 5:
                lines[line] = lines[line]
                    .Replace("10.", "256.")
                    .Replace("AES", "EAS")
                    .Replace("always", "often")
                    .Replace("B", "b");
                break;
            default:
                return text[..at];
        }

        return string.Join('\n', lines);
    }

    /// <summary>
    /// Each list as a sheet: as many cells in every row as there are headings (RFC 4180), and every record of the list
    /// in it.
    /// </summary>
    [Fact]
    public async Task Every_list_goes_out_as_a_sheet_with_all_that_is_in_it()
    {
        using var http = Client("odile");
        foreach (
            var (list, least) in new[]
            {
                ("tunnels", 30),
                ("gateways", 25),
                ("sites", 20),
                ("customers", 8),
                ("findings", 30),
            }
        )
        {
            using var answer = await http.GetAsync($"{list}?as=csv", Ct);
            answer.Content.Headers.ContentType!.MediaType.ShouldBe("text/csv", list);
            var rows = Rows(await answer.Content.ReadAsStringAsync(Ct));
            rows.Count.ShouldBeGreaterThan(least, list);
            rows.Select(r => r.Length)
                .Distinct()
                .ShouldHaveSingleItem(
                    $"{list}: {string.Join(" | ", rows.FirstOrDefault(r => r.Length != rows[0].Length) ?? [])}"
                );
            rows[0].ShouldBeUnique(list);
            // A cell that a spreadsheet would take for a formula is not one.
            foreach (var cell in rows.SelectMany(r => r))
                (cell.Length > 0 && "=+@".Contains(cell[0])).ShouldBeFalse(cell);
        }
    }

    private static List<string[]> Rows(string text)
    {
        var (rows, row, cell, quoted) = (
            new List<string[]>(),
            new List<string>(),
            new System.Text.StringBuilder(),
            false
        );
        for (var i = 0; i < text.Length; i++)
        {
            var c = text[i];
            if (quoted && c == '"' && i + 1 < text.Length && text[i + 1] == '"')
                cell.Append(text[i++]);
            else if (c == '"')
                quoted = !quoted;
            else if (!quoted && c is ',' or '\n' && !quoted)
            {
                row.Add(cell.ToString().TrimEnd('\r'));
                cell.Clear();
                if (c == '\n')
                {
                    rows.Add([.. row]);
                    row.Clear();
                }
            }
            else
                cell.Append(c);
        }

        quoted.ShouldBeFalse("a quotation mark is left open");
        return rows;
    }
}

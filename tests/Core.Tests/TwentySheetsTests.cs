using System.Text;
using Shouldly;
using Vellumkeep.Exchange.Sheets;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Twenty sheets as twenty providers would keep them, in cases/sheets: options, the sheet, and what each cell means.
/// What cannot be read is asked about; nothing is read wrong.
/// </summary>
public class TwentySheetsTests
{
    private sealed record Meant(string Sheet, string Tunnel, string Field, string Value);

    private sealed record Kept(
        string Name,
        string? Everyone,
        Dictionary<string, string> Columns,
        string Csv,
        Meant[] Cells
    );

    public static IEnumerable<TheoryDataRow<string>> Names() =>
        Directory
            .GetFiles(Path.Combine(DemoInventory.Root, "tests/Core.Tests/cases/sheets"), "*.txt")
            .Order(StringComparer.Ordinal)
            .Select(f => new TheoryDataRow<string>(Path.GetFileNameWithoutExtension(f)));

    private static Kept Load(string name)
    {
        var parts = File.ReadAllText(Path.Combine(DemoInventory.Root, "tests/Core.Tests/cases/sheets", name + ".txt"))
            .ReplaceLineEndings("\n")
            .Split("===\n");
        var options = parts[0].Split('\n', StringSplitOptions.RemoveEmptyEntries);
        return new(
            name,
            options.FirstOrDefault(o => o.StartsWith("everyone="))?["everyone=".Length..],
            options
                .Where(o => o.StartsWith("column="))
                .Select(o => o["column=".Length..].Split('='))
                .ToDictionary(c => c[0], c => c[1]),
            parts[1],
            [
                .. parts[2]
                    .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                    .SelectMany(line =>
                        line.Split('|') is [var tunnel, .. var fields]
                            ? fields.Select(f => new Meant(name, tunnel, f.Split('=', 2)[0], f.Split('=', 2)[^1]))
                            : []
                    ),
            ]
        );
    }

    /// <summary>The cells that were read right, read wrong, and asked about.</summary>
    private static (int Right, List<string> Wrong, List<string> Asked) Held(Kept sheet)
    {
        var table = SheetFile.Read(Encoding.UTF8.GetBytes(sheet.Csv), sheet.Name + ".csv").Value!;
        var read = SheetInventory.Read(table, sheet.Columns, sheet.Everyone, SheetTests.Nothing);
        var (right, wrong, asked) = (0, new List<string>(), new List<string>());
        foreach (var cell in sheet.Cells)
        {
            var said = $"{cell.Sheet} {cell.Tunnel} {cell.Field}: {cell.Value}";
            var tunnel = read.Ok ? TunnelOf(read.Value!.Root, cell.Tunnel) : null;
            var found = tunnel is null ? null : Found(read.Value!.Root, tunnel, cell.Field);
            if (cell.Field == "?")
                (tunnel is null ? asked : wrong).Add(said);
            else if (found == cell.Value)
                right++;
            else if (tunnel is null)
                asked.Add(said + (read.Ok ? "" : $" ({read.Wrong})"));
            else
                wrong.Add($"{said}, read as {found ?? "nothing"}");
        }

        return (right, wrong, asked);
    }

    private static IEnumerable<MapNode> Maps(MapNode root, string list) =>
        (root.Find(list) as ListNode)?.Items.OfType<MapNode>() ?? [];

    private static MapNode? TunnelOf(MapNode root, string called) =>
        Maps(root, "tunnels").FirstOrDefault(t => t.Text("code") == called || t.Text("name") == called);

    private static string? Found(MapNode root, MapNode tunnel, string field)
    {
        if (field is "customer" or "customerCode")
            return field == "customerCode"
                ? tunnel.Text("customer")
                : Maps(root, "customers").First(c => c.Text("code") == tunnel.Text("customer")).Text("name");
        if (field == "state")
            return tunnel.Text("state");
        var agreed = (MapNode)tunnel.Find("agreed")!;
        if (field[1] == '.')
            return OfEnd(root, tunnel, agreed, field[..1], field[2..]);
        return field switch
        {
            "ikeLifetime" => (agreed.Find("ikeLifetime") as MapNode)?.Text("time"),
            "espLifetime" => (agreed.Find("espLifetime") as MapNode)?.Text("time"),
            "espData" => (agreed.Find("espLifetime") as MapNode)?.Text("data"),
            _ => agreed.Find(field) switch
            {
                ListNode list => string.Join("; ", list.Items.Select(i => ((TextNode)i).Text)),
                TextNode text => text.Text,
                _ => null,
            },
        };
    }

    private static string? OfEnd(MapNode root, MapNode tunnel, MapNode agreed, string end, string what)
    {
        var gateway = Maps(root, "gateways").First(g => g.Text("code") == ((MapNode)tunnel.Find(end)!).Text("gateway"));
        var site = Maps(root, "sites").First(s => s.Text("code") == gateway.Text("site"));
        return what switch
        {
            "gateway" => gateway.Text("code"),
            "site" => site.Text("name"),
            "platform" => gateway.Text("notes")?.Replace("Platform in the sheet: ", ""),
            "outer" => Maps(gateway, "uplinks").First().Text("address"),
            "identity" => (agreed.Find("identities") as MapNode)?.Text(end),
            "subnets" => string.Join(
                ' ',
                (agreed.Find("pairs") as ListNode)?.Items.OfType<MapNode>().Select(p => p.Text(end)).Distinct()
                    ?? ((tunnel.Find(end) as MapNode)?.Find("subnets") as MapNode)
                        ?.Find("local")
                        .ShouldBeOfType<ListNode>()
                        .Items.Select(i => ((TextNode)i).Text)
                    ?? []
            ),
            _ => null,
        };
    }

    [Theory, MemberData(nameof(Names))]
    public void Nothing_of_a_sheet_is_read_wrong(string name)
    {
        var sheet = Load(name);
        sheet.Columns.Count.ShouldBeLessThanOrEqualTo(1, "a whole sheet needs one correction at most");
        Held(sheet).Wrong.ShouldBeEmpty();
    }

    [Fact]
    public void Of_all_cells_at_least_95_in_100_are_read_right()
    {
        var held = Names().Select(n => Held(Load(n.Data))).ToArray();
        var asked = held.SelectMany(h => h.Asked).ToArray();
        var right = held.Sum(h => h.Right);
        var meant = right + asked.Count(a => !a.Contains(" ?:"));
        meant.ShouldBeGreaterThan(230);
        (right * 100).ShouldBeGreaterThanOrEqualTo(meant * 95, string.Join("\n", asked));
    }
}

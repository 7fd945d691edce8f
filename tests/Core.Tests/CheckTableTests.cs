using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Records;
using Vellumkeep.Exchange.Keepfiles;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Checks case by case, in cases/checks-table.tsv: one value of a record of the demo is altered, and the check finds
/// something or does not. Swapping the ends of the tunnel changes nothing.
/// </summary>
public class CheckTableTests
{
    private sealed record Case(string Tunnel, string Record, string Path, string Value, string Code, bool Found);

    private static readonly string File = System.IO.Path.Combine(
        DemoInventory.Root,
        "tests/Core.Tests/cases/checks-table.tsv"
    );

    private static IEnumerable<Case> Cases() =>
        System
            .IO.File.ReadLines(File)
            .Where(l => l.Length > 0 && l[0] != '#')
            .Select(l => l.Split('\t'))
            .Select(c => new Case(c[0], c[1], c[2], c[3], c[4], c[5] == "yes"));

    public static IEnumerable<TheoryDataRow<string>> Lines() =>
        Cases().Select((c, i) => new TheoryDataRow<string>($"{i} {c.Code} {c.Record} {c.Path}"));

    [Theory]
    [MemberData(nameof(Lines))]
    public void A_check_finds_what_it_should_from_either_side(string line)
    {
        var wanted = Cases()
            .ElementAt(int.Parse(line.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture));
        var inventory = Altered(wanted);
        var tunnel = inventory.Get<Tunnel>(DemoInventory.Tunnel(wanted.Tunnel).Id);
        Codes(tunnel, inventory).Contains(wanted.Code).ShouldBe(wanted.Found, $"{wanted}");
        Codes(TestValues.Swapped(tunnel), inventory).Contains(wanted.Code).ShouldBe(wanted.Found, $"swapped: {wanted}");
    }

    private static string[] Codes(Tunnel tunnel, Inventory among) =>
        [.. Checks.Run(DemoInventory.Checked(tunnel, among)).Select(f => f.Code)];

    private static Inventory Altered(Case c)
    {
        if (c.Path == "=")
            return DemoInventory.All;
        var record = RecordOf(c);
        var form = WrittenRecord.Write(record, IdNames.Instance);
        var value = c.Value == "-" ? null : YamlText.ReadPart(c.Value).Root;
        var (made, problems) = WrittenRecord.Read(
            record.Kind,
            record.Id,
            Edits.Put(form, TestValues.Path(c.Path), value),
            IdNames.Instance
        );
        return DemoInventory.All.With(
            made ?? throw new InvalidOperationException($"{c}: {problems[0].Field}: {problems[0].Wrong}")
        );
    }

    private static IRecord RecordOf(Case c)
    {
        var tunnel = DemoInventory.Tunnel(c.Tunnel);
        if (c.Record == "tunnel")
            return tunnel;
        var end = c.Record.EndsWith('A') ? EndName.A : EndName.B;
        var gateway = DemoInventory.All.Get<Gateway>(tunnel.End(end).GatewayId);
        return c.Record[..^1] switch
        {
            "gateway" => gateway,
            "site" => DemoInventory.All.Get<Site>(gateway.SiteId),
            _ => DemoInventory.All.Get<Platform>(gateway.PlatformId),
        };
    }
}

using Shouldly;
using Vellumkeep.Core.Findings;
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

    /// <summary>
    /// Those that no one value of the demo brings about, or that something else holds: refused on entry, over several
    /// tunnels, by what was seen, or by what nobody knows.
    /// </summary>
    private static readonly string[] HeldElsewhere =
    [
        "ADR-01",
        "ADR-05",
        "ADR-10",
        "PAIR-16",
        "PAIR-19",
        "PAIR-20",
        "PATH-16",
        "PATH-17",
        "STR-01",
        "STR-08",
        "STR-10",
    ];

    [Fact]
    public void Every_other_check_has_a_case_in_which_it_finds_and_one_in_which_it_does_not()
    {
        var cases = Cases().ToLookup(c => c.Code, c => c.Found);
        Checks
            .All.Select(c => c.Code)
            .Where(code => cases[code].Distinct().Count() < 2)
            .Order()
            .ShouldBe(HeldElsewhere);
    }

    private static string[] Codes(Tunnel tunnel, Inventory among) =>
        [.. Checks.Run(DemoInventory.Checked(tunnel, among)).Select(f => f.Code)];

    private static Inventory Altered(Case c) =>
        c.Path == "="
            ? DemoInventory.All
            : Parts(c.Record)
                .Zip(Parts(c.Path), Parts(c.Value))
                .Aggregate(DemoInventory.All, (now, part) => Altered(now, c, part.First, part.Second, part.Third));

    /// <summary>Several alterations of one case stand beside each other.</summary>
    private static string[] Parts(string text) => text.Split(" & ");

    private static Inventory Altered(Inventory now, Case c, string of, string path, string text)
    {
        var record = RecordOf(now, c.Tunnel, of);
        var form = WrittenRecord.Write(record, IdNames.Instance);
        var value = text == "-" ? null : YamlText.ReadPart(text).Root;
        var (made, problems) = WrittenRecord.Read(
            record.Kind,
            record.Id,
            Edits.Put(form, TestValues.Path(path), value),
            IdNames.Instance
        );
        return now.With(made ?? throw new InvalidOperationException($"{c}: {problems[0].Field}: {problems[0].Wrong}"));
    }

    private static IRecord RecordOf(Inventory now, string code, string of)
    {
        var tunnel = now.Get<Tunnel>(DemoInventory.Tunnel(code).Id);
        if (of == "tunnel")
            return tunnel;
        var end = of.EndsWith('A') ? EndName.A : EndName.B;
        var gateway = now.Get<Gateway>(tunnel.End(end).GatewayId);
        return of[..^1] switch
        {
            "gateway" => gateway,
            "site" => now.Get<Site>(gateway.SiteId),
            _ => now.Get<Platform>(gateway.PlatformId),
        };
    }
}

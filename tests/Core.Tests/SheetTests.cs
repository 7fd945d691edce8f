using System.Text;
using CsCheck;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Exchange.Sheets;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class SheetTests
{
    internal static readonly SheetKnown Nothing = new(
        _ => null,
        (_, _) => null,
        _ => null,
        _ => null,
        _ => null,
        _ => false,
        (_, _) => false
    );

    [Theory]
    [InlineData("10.1.0.0/24", "10.1.0.0/24")]
    [InlineData("10.1.0.0 255.255.255.0", "10.1.0.0/24")]
    [InlineData("10.1.0.0/255.255.252.0; 10.2.0.0/16", "10.1.0.0/22 10.2.0.0/16")]
    [InlineData("10.1.0.0 / 24 and 10.2.0.0/16", "10.1.0.0/24 10.2.0.0/16")]
    [InlineData("\u00a010.1.0.0/24\n10.2.0.0/24 | 10.2.0.0/24", "10.1.0.0/24 10.2.0.0/24")]
    [InlineData("10.1.0.0/24 (plant), 10.1.7.9 [scales]", "10.1.0.0/24 10.1.7.9/32")]
    [InlineData("2001:db8:90::/64, 10.9.0.0/24", "2001:db8:90::/64 10.9.0.0/24")]
    [InlineData("10.1.0.0 mask 255.255.255.128", "10.1.0.0/25")]
    [InlineData("10.1.0.0", null, "a mask too, such as 10.1.0.0/24")]
    [InlineData("10.1.0.9/24", null, "10.1.0.0/24 for the network")]
    [InlineData("10.1.0.0/24 see Ines", null, "remarks in brackets")]
    [InlineData("10.1.0.0/33", null, "10.1.0.0/24")]
    [InlineData("10.1.0.0/0.0.0.255", null, "10.1.0.0/24")]
    [InlineData("all", null, "10.61.0.0/24")]
    public void Subnets_are_read_as_people_type_them_or_refused_with_what_would_be_right(
        string cell,
        string? prefixes,
        string? right = null
    )
    {
        var read = Cells.Subnets(cell);
        (read.Ok ? string.Join(' ', read.Value.Select(n => n.Prefix)) : null).ShouldBe(prefixes);
        if (right is not null)
            read.Right!.ShouldContain(right);
    }

    [Theory]
    [InlineData("AES256/SHA1/G2", "AES-256-CBC + HMAC-SHA1-96 + PRF-HMAC-SHA1 + DH 2")]
    [InlineData("AES 256, SHA 256, 2048-bit MODP", "AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 14")]
    [InlineData("AES-256, SHA-256, group 14", "AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 14")]
    [InlineData("AES256 SHA256 DH14", "AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 14")]
    [InlineData("3des md5 2", "3DES-CBC + HMAC-MD5-96 + PRF-HMAC-MD5 + DH 2")]
    [InlineData("AES 256 CBC + SHA 512 + 19", "AES-256-CBC + HMAC-SHA2-512-256 + PRF-HMAC-SHA2-512 + DH 19")]
    [InlineData("aes256gcm16-prfsha384-ecp384", "AES-256-GCM-16 + PRF-HMAC-SHA2-384 + DH 20")]
    [InlineData(
        "AES128/SHA1/G5 or AES256/SHA256/G14",
        "AES-128-CBC + HMAC-SHA1-96 + PRF-HMAC-SHA1 + DH 5; AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 14"
    )]
    [InlineData("AES257/SHA1/G2", null, "AES257")]
    [InlineData("AES256/SHA256", null, "has no DH group")]
    [InlineData("AES256/SHA256/G14/G19", null, "two DH groups")]
    [InlineData("strong", null, "'strong'")]
    public void Proposals_are_read_however_they_are_written(string cell, string? proposals, string? wrong = null)
    {
        var read = Cells.IkeProposals(cell);
        (read.Ok ? string.Join("; ", read.Value) : null).ShouldBe(proposals);
        if (wrong is not null)
            read.Wrong!.ShouldContain(wrong);
    }

    [Fact]
    public void A_group_beside_an_ESP_proposal_is_what_PFS_means()
    {
        var read = Cells.EspProposals("AES256-SHA256-DH14").Value;
        read.Proposals.ShouldBe(["AES-256-CBC + HMAC-SHA2-256-128"]);
        read.Group.ShouldBe("DH 14");
    }

    [Theory]
    [InlineData("8h", null, "8 h", false)]
    [InlineData("8 hrs", null, "8 h", false)]
    [InlineData("28,800", null, "28800 s", true)]
    [InlineData("28800", "s", "28800 s", false)]
    [InlineData("60", "min", "60 min", false)]
    [InlineData("\u00a01 day ", null, "1 d", false)]
    [InlineData("soon", null, null, false)]
    [InlineData("0", "s", null, false)]
    public void A_time_without_a_unit_takes_the_headings_or_is_told_to_be_a_guess(
        string cell,
        string? unit,
        string? text,
        bool guessed
    )
    {
        var read = Cells.Time(cell, unit);
        (read.Ok ? read.Value.Text : null).ShouldBe(text);
        (read.Ok && read.Value.Guessed).ShouldBe(guessed);
    }

    [Fact]
    public void Whatever_parts_them_the_same_prefixes_come_back()
    {
        var prefix = Gen.Select(Gen.UInt, Gen.Int[8, 31])
            .Select((a, l) => Prefix.Around(Address.Of(Family.IPv4, a), l));
        var parted = Gen.Int[0, 6].Select(i => new[] { ", ", ";", "\n", " and ", " / ", "  ", " & " }[i]);
        var mask = Gen.Bool;
        Gen.Select(prefix.Array[1, 6], parted, mask)
            .Sample(
                (prefixes, by, asMask) =>
                {
                    var text = string.Join(
                        by,
                        prefixes.Select(p =>
                            asMask
                                ? $"{p.Network}/{Prefix.Around(Address.Parse("255.255.255.255").Value, p.Length).Network}"
                                : p.ToString()
                        )
                    );
                    Cells.Subnets(text).Value.Select(n => n.Prefix).ShouldBe(prefixes.Distinct());
                }
            );
    }

    [Fact]
    public void The_messy_sheet_of_the_demo_comes_in_without_a_hand_on_it_and_names_every_row_that_does_not()
    {
        var read = Sheet("pennyroyal.xlsx");
        read.Columns.Where(c => c.Heading.Length > 0)
            .Select(c => c.Field)
            .ShouldBe([
                "tunnel",
                "customer",
                "a.site",
                "a.outer",
                "a.subnets",
                "b.site",
                "b.outer",
                "b.subnets",
                "ikeProposal",
                "ikeLifetime",
                "espProposal",
                "espLifetime",
                "pfs",
                "key",
                "notes",
            ]);
        read.Problems.Select(p => $"{p.Row}{p.Column}").ShouldBe(["9H", "10I", "11I", "13G", "13J"]);
        (read.Tunnels, read.LeftOut).ShouldBe((4, 4));
        var file = Keepfile.Read(read.Root, new CodeNames(), _ => null, null);
        file.Problems.ShouldBeEmpty();
        var inventory = Inventory.Of(file.Records);
        var heather = inventory.ByCode<Tunnel>("PEN-HEATHER")!;
        heather
            .Agreed.Pairs.Select(p => p.ToString())
            .ShouldBe(["10.90.0.0/24 - 10.90.16.0/24", "10.90.1.0/24 - 10.90.16.0/24"]);
        heather.Agreed.Both.TextOf(Settings.EspLifetime).ShouldBe("8 h");
        heather.Agreed.Both.TextOf(Settings.Pfs).ShouldBe("refused");
        inventory.ByCode<Site>("PEN-HONEY-HOUSE")!.Networks.Select(n => n.Name).ShouldBe(["offices", "bottling"]);
        // Two by two is not a request for four pairs: the lists are kept as entered, and that is told.
        var lime = inventory.ByCode<Tunnel>("PEN-LIME")!;
        lime.Agreed.Pairs.ShouldBeEmpty();
        lime.A.Subnets!.Local!.Value.Length.ShouldBe(2);
        read.Notes.ShouldContain(n => n.Row == 8 && n.Text.Contains("which pairs are wanted"));
        inventory.ByCode<Gateway>("pen-borage-end-gw")!.Uplinks[0].Address.Pending.ShouldNotBeNull();
        // The hub stands in every row and is one gateway.
        inventory.Tunnels.Select(t => t.A.GatewayId).Distinct().Count().ShouldBe(1);
        Keepfile.Write(file.Records, inventory.Codes(), DemoInventory.Today).ShouldNotContain("bees-bees-bees");
        read.Notes.ShouldContain(n => n.Column == "N" && n.Text.Contains("It was not read or stored"));
    }

    [Fact]
    public void One_end_a_row_is_paired_by_name_and_what_the_rows_say_differently_is_each_ends_own()
    {
        var read = Sheet("pennyroyal-ends.csv", "Pennyroyal Apiaries");
        read.Problems.Single()
            .ShouldSatisfyAllConditions(p => p.Row.ShouldBe(7), p => p.Wrong.ShouldContain("only one end"));
        var inventory = Inventory.Of(Keepfile.Read(read.Root, new CodeNames(), _ => null, null).Records);
        var willow = inventory.ByCode<Tunnel>("PEN-WILLOW")!;
        willow.Agreed.Both.TextOf(Settings.EspProposals).ShouldBe("AES-256-CBC + HMAC-SHA2-256-128");
        (willow.A.Set.TextOf(Settings.EspLifetime), willow.B.Set.TextOf(Settings.EspLifetime)).ShouldBe(
            ("60 min", "3,600 min")
        );
        willow.Agreed.IdentityB!.ToString().ShouldBe("address 192.168.7.2");
        inventory.ByCode<Tunnel>("PEN-FERRY")!.Agreed.Pairs.Length.ShouldBe(2);
    }

    [Fact]
    public void A_column_that_was_guessed_wrong_is_matched_by_hand_and_what_cannot_be_matched_is_refused()
    {
        const string text = "Name,Near,Far,Near nets,Far nets\nPEN-1,192.0.2.1,192.0.2.2,10.1.0.0/24,10.2.0.0/24\n";
        var unheard = text.Replace("Name,Near,Far,Near nets,Far nets", "Alpha,Beta,Gamma,Delta,Epsilon");
        var table = SheetFile
            .Read(Encoding.UTF8.GetBytes(unheard), "x.csv", ct: TestContext.Current.CancellationToken)
            .Value;
        var said = new Dictionary<string, string>
        {
            ["Near"] = "a.outer",
            ["Far"] = "b.outer",
            ["Near nets"] = "a.subnets",
            ["E"] = "b.subnets",
            ["Name"] = "tunnel",
        };
        // Nothing in this sheet is a heading that is known, so that it is told which row to look for.
        SheetInventory.Read(table, said, "PEN", Nothing).Wrong!.ShouldContain("no row of headings");
        table = SheetFile
            .Read(
                Encoding.UTF8.GetBytes(
                    text.Replace("Near nets,Far nets", "Subnet,Subnet,Notes,PSK").Replace("/24\n", "/24,x,y\n")
                ),
                "x.csv",
                ct: TestContext.Current.CancellationToken
            )
            .Value;
        said = new() { ["Near"] = "a.outer", ["Far"] = "b.outer" };
        SheetInventory
            .Read(table, said, "PEN", Nothing)
            .Value.ShouldSatisfyAllConditions(r => r.Tunnels.ShouldBe(1), r => r.Problems.ShouldBeEmpty());
        SheetInventory
            .Read(table, new Dictionary<string, string> { ["Nearr"] = "a.outer" }, "PEN", Nothing)
            .ShouldSatisfyAllConditions(r => r.Wrong!.ShouldContain("'Nearr'"), r => r.Right!.ShouldContain("Near"));
        SheetInventory
            .Read(table, new Dictionary<string, string> { ["Near"] = "a.out" }, "PEN", Nothing)
            .Right!.ShouldContain("a.outer");
    }

    [Theory]
    [InlineData("PK\u0003\u0004 not a workbook")]
    [InlineData("")]
    [InlineData("\0\0\0\0")]
    [InlineData(",,,\n,,,\n")]
    public void What_is_no_sheet_is_refused_and_nothing_is_thrown(string content) =>
        SheetFile
            .Read(Encoding.UTF8.GetBytes(content), "x", ct: TestContext.Current.CancellationToken)
            .Ok.ShouldBeFalse();

    [Fact]
    public void A_list_written_as_a_sheet_reads_back_and_no_cell_becomes_a_formula()
    {
        string[] heads = ["code", "what"];
        IReadOnlyList<object?>[] rows =
        [
            ["A-1", "=HYPERLINK(\"http://x.example\")"],
            ["A-2", "two\nlines, \"quoted\""],
            ["A-3", 42],
        ];
        var csv = SheetFile.Read(SheetFile.Csv(heads, rows), "x.csv", ct: TestContext.Current.CancellationToken).Value;
        csv.Rows[0].ShouldBe(heads);
        csv.Rows[1][1].ShouldStartWith("'=");
        csv.Rows[2][1].ShouldBe("two\nlines, \"quoted\"", StringCompareShould.IgnoreLineEndings);
        var xlsx = SheetFile
            .Read(SheetFile.Xlsx(heads, rows), "x.xlsx", ct: TestContext.Current.CancellationToken)
            .Value;
        xlsx.Rows.Select(r => r[0]).ShouldBe(["code", "A-1", "A-2", "A-3"]);
        xlsx.Rows[3][1].ShouldBe("42");
    }

    private static SheetRead Sheet(string file, string? customer = null) =>
        SheetInventory
            .Read(
                SheetFile
                    .Read(
                        File.ReadAllBytes(Path.Combine(DemoInventory.Root, "demo/sheet", file)),
                        file,
                        ct: TestContext.Current.CancellationToken
                    )
                    .Value,
                new Dictionary<string, string>(),
                customer,
                Nothing
            )
            .Value;
}

using System.Net;
using System.Text;
using Shouldly;
using Vellumkeep.Client;
using Xunit;

namespace Vellumkeep.EndToEnd;

public abstract partial class RecordTests
{
    [Fact]
    public async Task The_history_is_narrowed_by_person_customer_and_day_and_a_tampered_body_is_noticed()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        var tomas = (await odile.CommitsAsync("tomas", "BRI", null, null, null, null, null, Ct)).Items;
        tomas.ShouldAllBe(c =>
            c.Who == "tomas"
            && c.Records.Any(r =>
                r.Code.StartsWith("BRI", StringComparison.Ordinal)
                || r.Code.StartsWith("QUI-BRI", StringComparison.Ordinal)
            )
        );
        tomas.Count.ShouldBeGreaterThan(4);
        var day = DateTime.UtcNow.AddDays(-7).ToString("yyyy-MM-dd");
        (await odile.CommitsAsync(null, null, null, day, day, null, null, Ct))
            .Items.Select(c => c.What)
            .ShouldBe(["confirm", "confirm", "correct"]);
        var first = await odile.CommitsAsync(null, null, null, null, null, null, 5, Ct);
        var second = await odile.CommitsAsync(null, null, null, null, null, first.Cursor, 5, Ct);
        second.Items[0].Number.ShouldBe(first.Items[^1].Number - 1);
        (await odile.VerifyAsync(Ct)).ShouldSatisfyAllConditions(
            v => v.Broken.ShouldBeNull(),
            v => v.Digest.Length.ShouldBe(64)
        );
    }

    [Fact]
    public async Task Anything_is_found_by_the_beginning_of_a_word_an_address_or_a_prefix_and_the_best_comes_first()
    {
        using var bram = await demo.Service.ClientAsync("bram");
        async Task<string[]> Found(string q) =>
            [.. (await bram.SearchAsync(q, Ct)).Hits.Select(h => $"{h.Kind} {h.Code}")];
        (await Found("BRI-ASHLOW"))[..2].ShouldBe(["site BRI-ASHLOW", "tunnel BRI-ASHLOW"]);
        (await Found("cold store")).ShouldContain("change BRI-0003");
        (await Found("perpetua")).ShouldBe(["customer SAL"]);
        (await Found("vpn.skerrow.example"))[0].ShouldBe("standing offer SKE-PARTNERS");
        (await Found("10.61.8.20")).ShouldBe(
            ["site BRI-CHURN", "tunnel BRI-ASHLOW", "tunnel BRI-PETHER"],
            ignoreOrder: true
        );
        (await Found("10.61.0.0/16")).ShouldContain("tunnel QUI-BRI");
        (await Found("198.51.100.10"))[0].ShouldStartWith("gateway ");
        (await Found("bri-lan")).ShouldContain("gateway churn-gw1");
        (await Found("zzz")).ShouldBeEmpty();
        (await bram.SearchAsync("pair-05", Ct)).Finding.ShouldNotBeNull();
        (await Should.ThrowAsync<ServiceProblem>(bram.SearchAsync(" ", Ct))).Status.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
    }

    [Fact]
    public async Task A_kept_list_is_ones_own_or_shared_and_an_auditor_is_shown_no_others()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var bram = await demo.Service.ClientAsync("bram");
        using var maud = await demo.Service.ClientAsync("maud-audit");
        var own = await ines.SaveFilterAsync(new("to look at", "tunnels", "customer=BRI&severity=risk", false), Ct);
        await ines.SaveFilterAsync(new("blocks at Brindlecombe", "tunnels", "?customer=BRI&severity=blocks", true), Ct);
        (await bram.SavedFiltersAsync(Ct))
            .Select(k => (k.Name, k.By, k.Mine))
            .ShouldBe([("blocks at Brindlecombe", "ines", false)]);
        (await maud.SavedFiltersAsync(Ct)).ShouldBeEmpty();
        (await demo.Command("bram", "tunnel list --saved-filter 'blocks at Brindlecombe'")).Out.ShouldContain(
            "BRI-ASHLOW"
        );
        (await Should.ThrowAsync<ServiceProblem>(bram.RemoveFilterAsync(own.Id, Ct))).Status.ShouldBe(
            HttpStatusCode.NotFound
        );
        (
            await Should.ThrowAsync<ServiceProblem>(ines.SaveFilterAsync(new("to look at", "tunnels", "", false), Ct))
        ).Message.ShouldContain("already");
        await ines.RemoveFilterAsync(own.Id, Ct);
    }

    [Fact]
    public async Task The_messy_sheet_comes_in_by_command_rows_that_cannot_be_read_are_named_and_lists_go_out_as_sheets()
    {
        var sheet = "import demo/sheet/pennyroyal.xlsx";
        var dry = await demo.Command("ines", sheet + " --dry-run");
        dry.Out.ShouldContain("Row 10, column I: AES257/SHA256/G14: 'AES257'");
        dry.Out.ShouldContain("4 tunnels read, 4 left out");
        dry.Out.ShouldNotContain("bees-bees-bees");
        var refused = await demo.Command("ines", sheet);
        (refused.Status, refused.Error).ShouldSatisfyAllConditions(
            r => r.Status.ShouldBe(2),
            r => r.Error.ShouldContain("Nothing was changed"),
            r => r.Error.ShouldContain("row 9, column H")
        );
        (await demo.Command("ines", "customer show PEN")).Status.ShouldBe(3);
        (await demo.Command("ines", sheet + " --leave-out")).Out.ShouldContain("New 15");
        (await demo.Command("ines", sheet + " --leave-out")).Out.ShouldContain("exists already and is not changed");
        (
            await demo.Command("ines", "import demo/sheet/pennyroyal-ends.csv --customer PEN --leave-out")
        ).Out.ShouldContain("3,600 min at B looks like 3,600 s");
        var file = Path.Combine(demo.Service.Data, "list.csv");
        (await demo.Command("ines", $"tunnel list --customer PEN --output {file}")).Status.ShouldBe(0);
        var lines = await File.ReadAllLinesAsync(file, Encoding.UTF8, Ct);
        lines.Length.ShouldBe(7);
        lines[0].ShouldStartWith("code,name,customer");
        (
            await demo.Command("ines", $"history list --customer PEN --output {file.Replace(".csv", ".xlsx")}")
        ).Status.ShouldBe(0);
        (await demo.Command("ines", $"tunnel list --output {file}.doc")).Error.ShouldContain("neither .csv nor .xlsx");
    }
}

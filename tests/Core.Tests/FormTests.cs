using Shouldly;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>A field that is declared once is read, written and described alike.</summary>
public class FormTests
{
    private static readonly CodeNames Names = Known();

    private static CodeNames Known()
    {
        var names = new CodeNames();
        names.Add(RecordKind.Customer, "BRI", "c1");
        names.Add(RecordKind.Site, "BRI-CHURN", "s1");
        names.Add(RecordKind.Platform, "teasel-minor@1", "p1");
        return names;
    }

    private static (T? Record, string[] Problems) Read<T>(Form<T> form, string text)
        where T : class
    {
        var reading = new Reading(Names);
        var (root, problem) = Exchange.Keepfiles.YamlText.ReadPart(text);
        problem.ShouldBeNull();
        return (form.Read("id", new(root, "", reading)), [.. reading.Problems.Select(p => $"{p.Field}: {p.Wrong}")]);
    }

    private static string Written<T>(Form<T> form, T value)
        where T : class => Exchange.Keepfiles.YamlText.Write(form.Write(value, Names)).Trim();

    [Fact]
    public void What_is_left_out_is_what_the_record_says_of_itself_and_is_not_written()
    {
        var (site, problems) = Read(WrittenSite.Form, "code: BRI-X\ncustomer: BRI\nname: X");
        problems.ShouldBeEmpty();
        (site!.Id, site.CustomerId, site.TimeZone, site.GatewayIsDefaultRouter).ShouldBe(("id", "c1", "Etc/UTC", null));
        Written(WrittenSite.Form, site).ShouldBe("code: BRI-X\ncustomer: BRI\nname: X\ntimeZone: Etc/UTC");
        var (customer, _) = Read(WrittenCustomer.Form, "code: OTT\nname: O\nowner: customer");
        Written(WrittenCustomer.Form, customer!).ShouldNotContain("owner");
        Written(WrittenCustomer.Form, customer! with { Owner = OwnerKind.OtherParty })
            .ShouldContain("owner: other party");
    }

    [Fact]
    public void None_of_it_and_not_known_are_two_things()
    {
        const string gateway =
            "code: gw\nsite: BRI-CHURN\nplatform: teasel-minor@1\nuplinks:\n  - {label: line, address: dynamic";
        var (unknown, _) = Read(WrittenGateway.Form, gateway + "}");
        var (none, _) = Read(WrittenGateway.Form, gateway + ", allowsInbound: []}");
        unknown!.Uplinks[0].AllowsInbound.ShouldBeNull();
        none!.Uplinks[0].AllowsInbound!.Value.ShouldBeEmpty();
        Written(WrittenGateway.Form, unknown).ShouldNotContain("allowsInbound");
        Written(WrittenGateway.Form, none).ShouldContain("allowsInbound: []");
    }

    [Theory]
    [InlineData("code: gw\nsite: BRI-CHURN\nplatform: teasel-minor@1", "uplinks: 'uplinks' is missing")]
    [InlineData(
        "code: gw\nsite: BRI-CHRUN\nplatform: teasel-minor@1\nuplinks: [{label: a, address: 192.0.2.1}]",
        "site: there is no site 'BRI-CHRUN'"
    )]
    [InlineData(
        "code: gw\nsite: BRI-CHURN\nplatform: teasel-minor@1\nuplinks: [{label: a, address: 192.0.2.1}]\nrunBy: them",
        "runBy: 'them' is not"
    )]
    [InlineData(
        "code: gw\nsite: BRI-CHURN\nplatform: teasel-minor@1\nuplinks: [{label: a, address: "
            + "192.0.2.1}]\nsharedEntries: [{name: N}, {name: N}]",
        "sharedEntries: 'N' is entered twice"
    )]
    public void What_is_wrong_is_told_with_its_field(string text, string problem) =>
        Read(WrittenGateway.Form, text).Problems.ShouldHaveSingleItem().ShouldStartWith(problem);

    /// <summary>A rule speaks of fields that were read: beside a field that could not be, it would mislead.</summary>
    [Fact]
    public void A_rule_between_fields_is_asked_when_each_of_them_was_read()
    {
        const string site = "code: BRI-X\ncustomer: BRI\nname: X\nnetworks:\n  - {name: lan, ";
        Read(WrittenSite.Form, site + "prefix: 10.1.0.0/24, presentedAs: 10.2.0.0/25}")
            .Problems.ShouldBe(["networks[1].presentedAs: 10.2.0.0/25 is not as long as 10.1.0.0/24"]);
        Read(WrittenSite.Form, site + "presentedAs: 10.2.0.0/25}")
            .Problems.ShouldBe(["networks[1].prefix: 'prefix' is missing"]);
    }

    /// <summary>Every key that a kind asks for is one that it writes, and in the same order.</summary>
    [Fact]
    public void What_is_written_is_described()
    {
        foreach (var record in DemoInventory.All.All)
        {
            var described = WrittenRecord.Describe(record.Kind).Select(n => n.Key).ToArray();
            var written = WrittenRecord.Write(record, IdNames.Instance).Entries.Select(e => e.Key).ToArray();
            written.ShouldBe(described.Where(written.Contains), record.Code);
        }
    }

    [Fact]
    public void A_lifetime_keeps_the_unit_that_was_typed()
    {
        var (suite, problems) = Read(
            WrittenSuite.Form,
            "code: S\nversion: 1\nespLifetime: {time: 60 min, data: 4 GB, margin: 20 %}\nikeVersions: [IKEv2]"
        );
        problems.ShouldBe(["code: 'S' is not a code"]);
        suite.ShouldBeNull();
        (suite, _) = Read(
            WrittenSuite.Form,
            "code: SX\nversion: 1\nespLifetime: {time: 60 min, data: 4 GB, margin: 20 %}\nikeVersions: [IKEv2]"
        );
        Written(WrittenSuite.Form, suite!).ShouldContain("time: 60 min");
        Written(WrittenSuite.Form, suite!).ShouldContain("data: 4 GB");
        suite!.Settings.Given.Select(s => s.Key).ShouldBe(["ikeVersions", "espLifetime"]);
    }
}

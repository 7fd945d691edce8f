using Shouldly;
using Vellumkeep.Exchange.Keepfiles;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>A site of a file that says no time zone has its customer's, wherever the customer is recorded.</summary>
public class SiteZoneTests
{
    private const string File = """
        vellumkeep: keepfile/1
        customers:
          - {code: NEW, name: Newcomers, timeZone: Europe/London}
        sites:
          - {code: NEW-ONE, customer: NEW, name: One}
          - {code: NEW-TWO, customer: NEW, name: Two, timeZone: Europe/Madrid}
          - {code: BRI-NEW, customer: bri, name: Three}
          - {code: XXX-NEW, customer: XXX, name: Four}
        """;

    [Fact]
    public void A_site_without_a_time_zone_has_its_customers()
    {
        var root = YamlText.Read(File, TestContext.Current.CancellationToken).Root!;
        SiteZones.Asked(root).ShouldBe(["bri", "XXX"]);
        var taken = (MapNode)SiteZones.Taken(root, new Dictionary<string, string> { ["BRI"] = "Europe/Lisbon" });
        ((ListNode)taken.Find("sites")!)
            .Items.OfType<MapNode>()
            .Select(s => s.Text("timeZone"))
            .ShouldBe(["Europe/London", "Europe/Madrid", "Europe/Lisbon", null]);
    }

    [Theory]
    [InlineData("Europe/London", true)]
    [InlineData("Europe/Nowhere", false)]
    [InlineData("London", false)]
    public void A_time_zone_that_does_not_exist_is_refused(string zone, bool exists) =>
        Customer.ZoneText(zone).Ok.ShouldBe(exists);
}

using System.Text;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Exchange.Sheets;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Which customers, sites and gateways the rows of a sheet speak of: those that are there, those that other rows named,
/// and new ones; and the rows that do not say enough.
/// </summary>
public class SheetPlaceTests
{
    private const string Head = "Tunnel,Customer,Near gateway,Near IP,Near subnets,Far gateway,Far IP,Far subnets";

    private static readonly Dictionary<string, string> Columns = new()
    {
        ["Tunnel"] = "tunnel",
        ["Customer"] = "customer",
        ["Near gateway"] = "a.gateway",
        ["Near IP"] = "a.outer",
        ["Near subnets"] = "a.subnets",
        ["Far gateway"] = "b.gateway",
        ["Far IP"] = "b.outer",
        ["Far subnets"] = "b.subnets",
    };

    /// <summary>A fleet that has Brindlecombe with its gateway at Churn House, and nothing else.</summary>
    private static readonly SheetKnown Brindlecombe = new(
        name => name is "BRI" or "Brindlecombe" ? DemoInventory.All.ByCode<Customer>("BRI") : null,
        (_, _) => null,
        code => code == "churn-gw1" ? DemoInventory.All.ByCode<Gateway>(code) : null,
        address => address.ToString() == "198.51.100.10" ? DemoInventory.All.ByCode<Gateway>("churn-gw1") : null,
        _ => null,
        code => code == "BRI-ASHLOW",
        (_, code) => code is "BRI" or "churn-gw1"
    );

    private static SheetRead Read(string? everyone, params string[] rows)
    {
        var text = string.Join('\n', rows.Prepend(Head)) + "\n";
        var table = SheetFile.Read(Encoding.UTF8.GetBytes(text), "x.csv", ct: TestContext.Current.CancellationToken);
        var read = SheetInventory.Read(table.Value!, Columns, everyone, Brindlecombe);
        read.Ok.ShouldBeTrue(read.Wrong);
        return read.Value!;
    }

    private static Inventory Records(SheetRead read)
    {
        var names = DemoInventory.All.Codes();
        var file = Keepfile.Read(read.Root, names, id => DemoInventory.All.Find<Gateway>(id), null);
        file.Problems.ShouldBeEmpty(string.Join("; ", file.Problems));
        return Inventory.Of(file.Records);
    }

    private const string One = "BRI-X,BRI,churn-gw1,,10.61.0.0/24,mill-gw,203.0.113.200,10.64.0.0/24";

    [Fact]
    public void What_is_there_is_referred_to_and_what_is_new_is_made_once()
    {
        var read = Read(null, One, "BRI-Y,Brindlecombe,,198.51.100.10,10.61.8.0/22,mill-gw,203.0.113.200,10.65.0.0/24");
        read.Problems.ShouldBeEmpty(string.Join("; ", read.Problems));
        var all = Records(read);
        all.All.OfType<Customer>().ShouldBeEmpty();
        var mill = all.All.OfType<Gateway>().ShouldHaveSingleItem();
        mill.Code.ShouldBe("mill-gw");
        mill.Uplinks.ShouldHaveSingleItem().Outer.ShouldBe(Address.Parse("203.0.113.200").Value);
        var churn = DemoInventory.All.ByCode<Gateway>("churn-gw1")!.Id;
        all.Tunnels.ShouldAllBe(t => t.A.GatewayId == churn && t.B.GatewayId == mill.Id);
        all.Get<Site>(mill.SiteId).Networks.Select(n => n.Prefix.ToString()).ShouldBe(["10.64.0.0/24", "10.65.0.0/24"]);
    }

    [Fact]
    public void The_same_device_with_another_address_has_another_uplink()
    {
        var read = Read(null, One, "BRI-Y,BRI,churn-gw1,,10.61.8.0/22,mill-gw,203.0.113.201,10.65.0.0/24");
        read.Problems.ShouldBeEmpty();
        var mill = Records(read).All.OfType<Gateway>().ShouldHaveSingleItem();
        mill.Uplinks.Select(u => (u.Label, u.Outer.ToString()))
            .ShouldBe([("outer", "203.0.113.200"), ("outer-2", "203.0.113.201")]);
    }

    [Fact]
    public void A_customer_that_is_new_gets_a_code_and_is_told()
    {
        var read = Read(null, "HEA-X,Heather Mills Ltd,heath-gw,192.0.2.7,10.1.0.0/24,moor-gw,192.0.2.8,10.2.0.0/24");
        read.Problems.ShouldBeEmpty();
        var customer = Records(read).All.OfType<Customer>().ShouldHaveSingleItem();
        customer.Name.ShouldBe("Heather Mills Ltd");
        read.Notes.ShouldContain(n => n.Text.Contains($"adds it as customer {customer.Code}"));
    }

    [Theory]
    [InlineData(
        "BRI-X,,churn-gw1,,10.61.0.0/24,mill-gw,203.0.113.200,10.64.0.0/24",
        "the customer of this tunnel is missing"
    )]
    [InlineData("BRI-X,BRI,churn-gw1,,10.61.0.0/24,,,10.64.0.0/24", "the place of end B is missing")]
    [InlineData("BRI-X,BRI,churn-gw1,,10.61.0.0/24,churn-gw1,,10.64.0.0/24", "both ends are the gateway churn-gw1")]
    [InlineData("BRI-X,BRI,churn-gw1,,ten,mill-gw,203.0.113.200,10.64.0.0/24", "'ten'")]
    [InlineData("BRI-X,BRI,churn-gw1,,10.61.0.0/24,mill-gw,203.0.113.999,10.64.0.0/24", "203.0.113.999")]
    public void A_row_that_does_not_say_enough_is_named_and_left_out(string row, string says)
    {
        var read = Read(null, row);
        var problem = read.Problems.First(p => p.Wrong.Contains(says, StringComparison.Ordinal));
        (problem.Row, read.Tunnels).ShouldBe((2, 0));
        problem.Right.ShouldNotBeNullOrWhiteSpace();
    }

    [Fact]
    public void One_customer_for_the_whole_sheet_fills_what_no_row_says()
    {
        var read = Read("BRI", One.Replace(",BRI,", ",,"));
        read.Problems.ShouldBeEmpty();
        Records(read).Tunnels.ShouldHaveSingleItem().CustomerId.ShouldBe(DemoInventory.All.ByCode<Customer>("BRI")!.Id);
    }

    [Fact]
    public void A_tunnel_that_stands_twice_is_refused_and_one_that_is_there_stays_as_it_is()
    {
        var read = Read(null, One, One.Replace("mill-gw", "weir-gw").Replace("203.0.113.200", "203.0.113.201"));
        read.Problems.ShouldHaveSingleItem()
            .ShouldSatisfyAllConditions(p => p.Row.ShouldBe(3), p => p.Wrong.ShouldContain("twice"));
        read.Tunnels.ShouldBe(1);
        var there = Read(null, One.Replace("BRI-X", "BRI-ASHLOW"));
        there.Problems.ShouldBeEmpty();
        there.Notes.ShouldContain(n => n.Row == 2 && n.Text.Contains("exists already"));
        there.Tunnels.ShouldBe(0);
    }
}

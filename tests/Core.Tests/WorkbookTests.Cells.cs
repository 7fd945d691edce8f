using System.IO.Compression;
using System.Text;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using Shouldly;
using Vellumkeep.Exchange.Sheets;
using Xunit;

namespace Vellumkeep.Core.Tests;

public partial class WorkbookTests
{
    [Theory]
    [InlineData(0, "A")]
    [InlineData(25, "Z")]
    [InlineData(26, "AA")]
    [InlineData(51, "AZ")]
    [InlineData(52, "BA")]
    [InlineData(701, "ZZ")]
    [InlineData(702, "AAA")]
    public void Columns_are_named_as_on_a_screen(int index, string name) => SheetTable.Column(index).ShouldBe(name);

    [Theory]
    [InlineData("ikev2", "IKEv2")]
    [InlineData("V1", "IKEv1")]
    [InlineData("IKE v2", "IKEv2")]
    [InlineData("IKE", "IKEv1")]
    [InlineData("3", null)]
    [InlineData("either", null)]
    public void A_version_is_read_however_it_is_typed(string cell, string? version)
    {
        var read = Cells.IkeVersion(cell);
        (read.Ok ? read.Value.Version : null).ShouldBe(version);
        if (!read.Ok)
            read.Right!.ShouldContain("IKEv1 or IKEv2");
    }

    [Theory]
    [InlineData("no", "refused")]
    [InlineData("Off", "refused")]
    [InlineData("yes", "required DH of IKE")]
    [InlineData("group 14", "required DH 14")]
    [InlineData("PFS 14", "required DH 14")]
    [InlineData("modp2048", "required DH 14")]
    [InlineData("required DH 19", "required DH 19")]
    [InlineData("perhaps", null)]
    public void Pfs_is_read_however_it_is_typed(string cell, string? pfs)
    {
        var read = Cells.Pfs(cell);
        (read.Ok ? read.Value : null).ShouldBe(pfs);
    }

    [Theory]
    [InlineData("203.0.113.9", "203.0.113.9")]
    [InlineData("203.0.113.9/29", "203.0.113.9")]
    [InlineData("Dynamic", "dynamic")]
    [InlineData("PPPoE", "dynamic")]
    [InlineData("gw.heather.example.", "gw.heather.example")]
    [InlineData("TBC", null)]
    [InlineData("?", null)]
    [InlineData("-", null)]
    public void An_outer_address_is_one_a_name_dynamic_or_not_known_yet(string cell, string? address)
    {
        var read = Cells.Outer(cell);
        read.Ok.ShouldBeTrue(read.Wrong);
        read.Value.ShouldBe(address);
    }

    [Theory]
    [InlineData("203.0.113.999")]
    [InlineData("the usual one")]
    public void An_outer_address_that_is_none_is_refused(string cell) => Cells.Outer(cell).Ok.ShouldBeFalse();

    [Theory]
    [InlineData("203.0.113.9", "address 203.0.113.9")]
    [InlineData("gw.heather.example", "fqdn gw.heather.example")]
    [InlineData("ops@heather.example", "e-mail ops@heather.example")]
    [InlineData("CN=gw, O=Heather", "dn CN=gw, O=Heather")]
    [InlineData("heather one", "key-id heather one")]
    [InlineData("key-id 203.0.113.9", "key-id 203.0.113.9")]
    public void The_kind_of_an_identity_is_read_off_its_form_unless_it_is_named(string cell, string identity) =>
        Cells.IdentityOf(cell).Value.ShouldBe(identity);

    [Theory]
    [InlineData("", "in service")]
    [InlineData("LIVE", "in service")]
    [InlineData("in progress", "building")]
    [InlineData("Paused", "suspended")]
    [InlineData("decommissioned", "retired")]
    [InlineData("new", "planned")]
    [InlineData("half", null)]
    public void A_state_is_read_however_it_is_typed(string cell, string? state)
    {
        var read = Cells.State(cell);
        (read.Ok ? read.Value : null).ShouldBe(state);
        if (!read.Ok)
            read.Right!.ShouldContain("in service");
    }
}

using Shouldly;
using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Storage.Bodies;
using Vellumkeep.Storage.Rows;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class RecordFormTests
{
    private static readonly CodeNames Names = DemoInventory.All.Codes();

    [Fact]
    public void Every_record_of_the_demo_is_the_same_by_id_by_code_and_as_bytes()
    {
        foreach (var record in DemoInventory.All.All)
        {
            var byCode = WrittenRecord.Write(record, Names);
            var (back, problems) = WrittenRecord.Read(record.Kind, record.Id, byCode, Names);
            problems.ShouldBeEmpty(record.Code);
            RecordBody.Bytes(back!).ShouldBe(RecordBody.Bytes(record), record.Code);
            WrittenRecord.CodeOf(record.Kind, byCode).ShouldBe(record.Code);
            // The text that an editor shows and gives back is the same form.
            Node.Same(YamlText.ReadPart(YamlText.Write(byCode)).Root, byCode).ShouldBeTrue(record.Code);
        }
    }

    [Theory]
    [InlineData("customer", "BRI", "notes", "new", null)]
    [InlineData("customer", "BRI", "contacts", "[{name: Wren}]", null)]
    [InlineData("customer", "BRI", "owner", "other party", "owner")]
    [InlineData("site", "BRI-CHURN", "networks[plant].purpose", "milk", null)]
    [InlineData("site", "BRI-CHURN", "networks[plant].presentedAs", "10.99.8.0/22", "networks")]
    [InlineData("site", "BRI-CHURN", "gatewayIsDefaultRouter", "no", "gatewayIsDefaultRouter")]
    [InlineData("gateway", "churn-gw1", "managementAccess.outOfBand", "a screen", null)]
    [InlineData("gateway", "churn-gw1", "uplinks[fibre].mtu", "1400", "uplinks")]
    [InlineData("tunnel", "BRI-ASHLOW", "tags", "[milk]", null)]
    [InlineData("tunnel", "BRI-ASHLOW", "b.set.pfs", "refused", "b.set.pfs")]
    [InlineData("tunnel", "BRI-ASHLOW", "state", "suspended", "state")]
    [InlineData("suite", "BRI-STANDARD@3", "about", "old", null)]
    [InlineData("suite", "BRI-STANDARD@3", "pfs", "refused", "pfs")]
    public void What_describes_is_told_from_what_alters_behaviour(
        string kind,
        string code,
        string path,
        string value,
        string? altered
    )
    {
        var record = DemoInventory.All.All.Single(r => r.Kind.Word() == kind && r.Code == code);
        var before = WrittenRecord.Write(record, Names);
        var after = Edits.Put(before, TestValues.Path(path), YamlText.ReadPart(value).Root);
        WrittenRecord.Read(record.Kind, record.Id, after, Names).Problems.ShouldBeEmpty();
        Behaviour
            .Altered(record.Kind, before, after)
            .Select(m => m.Path.ToString().Split('[')[0])
            .ShouldBe(altered is null ? [] : [altered]);
    }

    [Fact]
    public void A_planned_tunnel_is_only_written_down_so_nothing_of_it_alters_behaviour_until_it_is_in_service()
    {
        var form = WrittenRecord.Write(DemoInventory.Tunnel("BRI-ASHLOW"), Names).With("state", "planned");
        Behaviour
            .Altered(RecordKind.Tunnel, form, Edits.Put(form, EndPaths.B.Setting(Settings.Pfs), "refused"))
            .ShouldBeEmpty();
        Behaviour.Altered(RecordKind.Tunnel, form, form.With("state", "in service")).ShouldNotBeEmpty();
    }

    [Fact]
    public void The_form_of_a_new_record_need_not_ask_what_follows_and_never_replaces_what_was_typed()
    {
        (MapNode Form, IReadOnlyDictionary<string, Derived> Derived) Filled(RecordKind kind, string text)
        {
            var (form, derived) = Derive.Fill(kind, (MapNode)YamlText.ReadPart(text).Root!, Names, id =>
                DemoInventory.All.Find<IRecord>(id)
            );
            return (form, derived.ToDictionary(d => d.Path.ToString()));
        }

        var site = Filled(RecordKind.Site, "{code: SKE-ANNEX, customer: SKE, name: Annex}");
        site.Derived["timeZone"].ShouldBe(new(FieldPath.Of("timeZone"), "Europe/Oslo", "SKE's time zone"));
        Filled(RecordKind.Site, "{code: X1, customer: SKE, name: X, timeZone: Etc/UTC}").Derived.ShouldBeEmpty();
        Filled(RecordKind.Gateway, "{code: x-gw, site: SKE-LAB}").Form.ShouldNotBeNull();

        var tunnel = Filled(RecordKind.Tunnel, "{code: BRI-X, a: {gateway: churn-gw1}, b: {gateway: ashlow-gw}}");
        tunnel.Derived.Keys.ShouldBe(["customer", "name", "state", "form"], ignoreOrder: true);
        tunnel.Form.Text("name").ShouldBe("Churn House to Ashlow creamery");
        tunnel.Form.Text("form").ShouldBe("policy-based");
        WrittenRecord.Read(RecordKind.Tunnel, "x", tunnel.Form, Names).Problems.ShouldBeEmpty();
        // The far end's customer, although the hub is the house's.
        Filled(RecordKind.Tunnel, "{code: Q1, a: {gateway: keel-gw1}, b: {gateway: ashlow-gw}}")
            .Form.Text("customer")
            .ShouldBe("BRI");
        Filled(RecordKind.Tunnel, "{code: Q1, a: {gateway: nowhere}, b: {gateway: ashlow-gw}}").Derived.ShouldBeEmpty();
    }

    [Fact]
    public void A_copied_tunnel_keeps_what_was_agreed_and_nothing_that_belongs_to_the_one_tunnel()
    {
        var copy = Copying.Tunnel(WrittenRecord.Write(DemoInventory.Tunnel("BRI-ASHLOW"), Names), "BRI-NEXT");
        Edits.Find(copy, TunnelPaths.Agreed.Key("suite"))!.ToString().ShouldBe("BRI-STANDARD@3");
        Edits.Find(copy, EndPaths.A.Setting(Settings.Pfs))!.ToString().ShouldBe("required DH 16");
        copy.Text("state").ShouldBe("planned");
        foreach (
            var path in new[]
            {
                "agreed.pairs",
                "agreed.identities",
                "a.keyHeld",
                "a.progress",
                "a.subnets",
                "b.gateway",
                "since",
            }
        )
            Edits.Find(copy, TestValues.Path(path)).ShouldBeNull(path);
        YamlText.Write(copy).ShouldNotContain("confirmed");
        WrittenRecord.Read(RecordKind.Tunnel, "x", copy, Names).Problems.Select(p => p.Field).ShouldBe(["b.gateway"]);
        WrittenRecord
            .Read(RecordKind.Tunnel, "x", Edits.Put(copy, EndPaths.B.Gateway, "ashlow-gw"), Names)
            .Problems.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("engineer", "engineer")]
    [InlineData("Reader for SAL, BRI", "reader for BRI, SAL")]
    [InlineData("reviewer for sal and bri", "reviewer for BRI, SAL")]
    [InlineData("lead for SAL", null, "a lead is a lead for all")]
    [InlineData("engineer for SALT", null, "no customer 'SALT'")]
    [InlineData("boss", null, "not a role")]
    [InlineData("reader for ", null, "names no customer")]
    public void A_role_is_for_all_customers_or_for_those_it_names(string text, string? written, string? wrong = null)
    {
        var read = WrittenGrant.Parse(text, Names);
        (read.Ok ? WrittenGrant.Write(read.Value, Names) : null).ShouldBe(written);
        if (wrong is not null)
            read.Wrong!.ShouldContain(wrong);
    }

    [Theory]
    [InlineData("BRI-ASHLOW", "bri-ashlow bri ashlow")]
    [InlineData("gw.brindle.example", "gw.brindle.example gw brindle example")]
    [InlineData("Churn House (plant)", "churn house plant")]
    [InlineData("10.4.7.9", "10.4.7.9")]
    [InlineData("\u00a0", "")]
    public void A_text_is_found_by_the_whole_of_it_and_by_its_parts(string text, string words) =>
        SearchWords.Split(text).ShouldBe(words.Split(' ', StringSplitOptions.RemoveEmptyEntries), ignoreOrder: true);
}

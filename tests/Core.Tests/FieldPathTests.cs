using CsCheck;
using Shouldly;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Places in written forms: as they are written, what lies within what, and what stands there.</summary>
public class FieldPathTests
{
    private static Gen<string> Of(params string[] names) => Gen.Int[0, names.Length - 1].Select(i => names[i]);

    private static readonly Gen<string> Name = Of("a", "set", "rules", "cold store", "10.61.40.0/24", "x-1");

    private static readonly Gen<FieldPath> Paths =
        from first in Of("a", "networks", "uplinks")
        from more in Gen.Select(Name, Gen.Bool, (name, item) => (name, item)).Array[0, 5]
        select more.Aggregate(FieldPath.Of(first), (path, step) =>
            step.item || step.name.Contains('.') ? path.Item(step.name) : path.Key(step.name)
        );

    /// <summary>Maps within maps, and perhaps a list of texts in the innermost.</summary>
    private static readonly Gen<FieldPath> Places =
        from keys in Of("set", "rules", "x-1").Array[1, 4]
        from item in Gen.Bool
        select item ? FieldPath.Of(keys).Item("10.61.40.0/24") : FieldPath.Of(keys);

    [Fact]
    public void A_path_is_the_same_after_it_was_written_and_read() =>
        Paths.Sample(path =>
        {
            var read = FieldPath.Parse(path.ToString());
            return read.Ok && read.Value!.Equals(path) && read.Value.GetHashCode() == path.GetHashCode();
        });

    [Fact]
    public void What_is_put_at_a_path_stands_there_and_is_gone_when_it_is_taken_out() =>
        Places.Sample(path =>
        {
            var form = Edits.Put(MapNode.Empty.With("other", "stays"), path, Value(path));
            Edits.Find(form, path).ShouldNotBeNull();
            Edits.Find(Edits.Put(form, path, null), path).ShouldBeNull();
            Edits.Put(form, path, null).Text("other").ShouldBe("stays");
        });

    /// <summary>An item of a list is found by what identifies it, so that it has to be that.</summary>
    private static Node Value(FieldPath path) =>
        path.Steps[^1].IsItem ? new TextNode(path.Steps[^1].Name) : new TextNode("value");

    [Fact]
    public void A_path_lies_within_its_beginnings_and_joins_with_what_is_below_them() =>
        Paths.Sample(path =>
        {
            for (var n = 0; n <= path.Steps.Length; n++)
            {
                path.IsWithin(path.First(n)).ShouldBeTrue();
                path.First(n).Join(path.Below(path.First(n))).ShouldBe(path);
                path.First(n).IsWithin(path).ShouldBe(n == path.Steps.Length);
            }
        });

    [Theory]
    [InlineData("")]
    [InlineData("[x]")]
    [InlineData("a.")]
    [InlineData("a..b")]
    [InlineData("a[x")]
    [InlineData("a[]")]
    [InlineData(".a")]
    public void What_is_no_path_is_refused(string text) =>
        FieldPath
            .Parse(text)
            .Right.ShouldBe("keys separated by dots, items of lists in brackets: networks[cold store].purpose");

    [Fact]
    public void An_item_is_not_a_key_of_the_same_name()
    {
        FieldPath.Of("a").Item("b").ShouldNotBe(FieldPath.Of("a", "b"));
        FieldPath.Of("a").Key("b").ShouldBe(FieldPath.Of("a", "b"));
        Should.Throw<ArgumentException>(() => FieldPath.Of("a").Below(FieldPath.Of("b")));
    }

    [Fact]
    public void Places_of_an_end_are_those_that_its_form_is_written_to()
    {
        var form = WrittenTunnel.Form.Write(DemoInventory.Tunnel("BRI-ASHLOW"), IdNames.Instance);
        foreach (var end in Enum.GetValues<EndName>())
        {
            var at = TunnelPaths.Of(end);
            TunnelPaths.EndOf(at.Rules).ShouldBe(end);
            ((TextNode)Edits.Find(form, at.Gateway)!).Text.ShouldBe(
                DemoInventory.Tunnel("BRI-ASHLOW").End(end).GatewayId
            );
            Edits.Find(form, at.Subnets).ShouldNotBeNull();
            Edits.Find(form, at.PeerAddress).ShouldNotBeNull();
        }

        TunnelPaths.EndOf(TunnelPaths.Agreed).ShouldBeNull();
        foreach (var pair in DemoInventory.Tunnel("BRI-ASHLOW").Agreed.Pairs)
            Edits.Find(form, TunnelPaths.Pair(pair)).ShouldNotBeNull(pair.ToString());
        foreach (var rule in DemoInventory.Tunnel("BRI-ASHLOW").B.Rules!.Value!.Items)
            Edits.Find(form, EndPaths.B.Rule(rule)).ShouldNotBeNull(rule.ToString());
    }

    [Fact]
    public void Differences_are_told_item_by_item_only_when_that_is_asked_for()
    {
        var gateway = DemoInventory.All.ByCode<Gateway>("churn-gw1")!;
        var (was, then) = (
            WrittenGateway.Form.Write(gateway, IdNames.Instance),
            WrittenGateway.Form.Write(
                gateway with
                {
                    Uplinks = gateway.Uplinks.SetItem(0, gateway.Uplinks[0] with { Mtu = 1300 }),
                },
                IdNames.Instance
            )
        );
        Edits.Between(was, then).ShouldHaveSingleItem().Path.ShouldBe(GatewayPaths.Uplinks);
        Edits
            .Between(was, then, intoItems: true)
            .ShouldHaveSingleItem()
            .Path.ShouldBe(GatewayPaths.Uplinks.Item(gateway.Uplinks[0].Label).Key("mtu"));
    }
}

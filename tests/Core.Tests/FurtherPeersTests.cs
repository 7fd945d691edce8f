using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Storage.Bodies;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Several peer addresses, in the order in which the device tries them.</summary>
public class FurtherPeersTests
{
    private static readonly Tunnel Sound = DemoInventory.Tunnel("QUI-BRI");

    /// <summary>End A with these peer addresses for end B, the first and the further ones.</summary>
    private static TunnelView View(params string[] peers) => ViewOf(Sound, peers);

    private static TunnelView ViewOf(Tunnel sound, string[] peers)
    {
        var read = peers.Select(p => PeerAddress.Parse(p).Value!).ToArray();
        var tunnel = sound with
        {
            A = sound.A with { PeerAddress = Recorded<PeerAddress>.Known(read[0]), FurtherPeers = [.. read[1..]] },
        };
        return new(DemoInventory.All.With(tunnel), tunnel, DemoInventory.Today);
    }

    private static string Real => View("192.0.2.250").B.Outer!.Value.ToString();

    [Fact]
    public void The_first_that_the_other_end_has_is_where_it_is_sent_to()
    {
        Rehearse.From(View("192.0.2.250"), EndName.A).ComesUp.ShouldBeFalse();
        Rehearse.From(View("192.0.2.250", Real), EndName.A).ComesUp.ShouldBeTrue();
        // It answers whichever of them initiates.
        var answering = DemoInventory.Tunnel("BRI-ASHLOW");
        var source = ViewOf(answering, ["192.0.2.250"]).B.Outer!.Value.ToString();
        Rehearse.From(ViewOf(answering, ["192.0.2.250"]), EndName.B).ComesUp.ShouldBeFalse();
        Rehearse.From(ViewOf(answering, ["192.0.2.250", source]), EndName.B).ComesUp.ShouldBeTrue();
        Checks
            .Run(new(View("192.0.2.250", Real)))
            .Where(f => f.Code == "PAIR-08")
            .ShouldHaveSingleItem()
            .ShouldSatisfyAllConditions(
                f => f.Severity.ShouldBe(Severity.Risk),
                f => f.What.ToString().ShouldContain("192.0.2.250 among the peer addresses")
            );
        Checks.Run(new(View(Real))).ShouldNotContain(f => f.Code == "PAIR-08");
        Comparison
            .Compare.Rows(View("192.0.2.250", Real))
            .First(r => r.Key == RowKey.AddressOf(EndName.B))
            .A.Text.ShouldBe($"192.0.2.250, then {Real}");
    }

    [Fact]
    public void They_are_recorded_in_order_and_none_of_them_is_any()
    {
        var tunnel = View("192.0.2.250", Real, "late.brindle.example").Tunnel;
        var again = (Tunnel)RecordBody.Read(RecordKind.Tunnel, tunnel.Id, RecordBody.Bytes(tunnel));
        again.A.FurtherPeers.Select(p => p.ToString()).ShouldBe([Real, "late.brindle.example"]);
        PeerAddress.ParseOne("any").Wrong!.ShouldContain("not one of several");
    }
}

using System.Collections.Immutable;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Algorithms;
using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// A tunnel that is worked out between two gateways is one that comes up: between any two of the demo, or it is said
/// why there can be none.
/// </summary>
public class TunnelDesignTests
{
    private static readonly SubnetPair Pair = new(
        Prefix.Parse("10.201.7.0/24").Value,
        Prefix.Parse("10.202.7.0/24").Value
    );

    private static TunnelOutline Idea(string a, string b, params SubnetPair[] pairs) =>
        new()
        {
            Code = "NEW-ONE",
            CustomerId = DemoInventory.All.ByCode<Customer>("BRI")!.Id,
            Name = "New one",
            A = new(DemoInventory.All.ByCode<Gateway>(a)!.Id, []),
            B = new(DemoInventory.All.ByCode<Gateway>(b)!.Id, []),
            Pairs = [.. pairs],
        };

    private static (Tunnel? Tunnel, ImmutableArray<Refusal> Refused) Designed(
        TunnelOutline idea,
        Inventory? among = null
    ) => TunnelDesign.Of(among ?? DemoInventory.All, "tunnel:new", idea, DemoInventory.Today);

    private static IEnumerable<(Gateway A, Gateway B)> Couples()
    {
        Gateway[] all = [.. DemoInventory.All.All.OfType<Gateway>()];
        return all.SelectMany(a => all.Where(b => b.Id != a.Id).Select(b => (a, b)));
    }

    private static Platform PlatformOf(Gateway g) => DemoInventory.All.Get<Platform>(g.PlatformId);

    [Fact]
    public void Between_any_two_gateways_it_comes_up_from_whoever_starts_or_it_is_said_why_not()
    {
        int up = 0,
            open = 0,
            refused = 0;
        foreach (var (a, b) in Couples())
        {
            var (tunnel, why) = Designed(Idea(a.Code, b.Code, Pair));
            var between = $"{a.Code} and {b.Code}";
            if (tunnel is null)
            {
                why.ShouldNotBeEmpty(between);
                why.ShouldAllBe(r => r.Wrong.ToString().Length > 10 && r.Right.ToString().EndsWith('.'), between);
                refused++;
                continue;
            }

            why.ShouldBeEmpty(between);
            var rehearsals = Built(tunnel);
            if (rehearsals.Any(r => r.ComesUp))
                up++;
            else if (rehearsals.Any(r => r.Stop?.Cause is DoesNotStart { Fault: StartFault.AddressPending }))
                open++;
            else
            {
                // What no profile says cannot be promised; nothing that is known stands in the way.
                rehearsals.ShouldContain(
                    r => r.Outcome == Outcome.Undetermined,
                    $"{between}: {SentenceLine(rehearsals)}"
                );
                open++;
            }
        }

        (up > 100).ShouldBeTrue($"{up} up, {open} open, {refused} refused");
    }

    /// <summary>The tunnel with its key held at both ends, as it is once it was built.</summary>
    private static Rehearsal[] Built(Tunnel designed)
    {
        var built = designed with
        {
            State = TunnelState.InService,
            A = designed.A with { KeyHeld = new([1], [1]) },
            B = designed.B with { KeyHeld = new([1], [1]) },
        };
        var view = new TunnelView(DemoInventory.All.With(built), built, DemoInventory.Today);
        return [Rehearse.From(view, EndName.A), Rehearse.From(view, EndName.B)];
    }

    [Fact]
    public void Both_platforms_can_do_what_it_asks_for_and_no_standard_advises_against_it()
    {
        foreach (var (a, b) in Couples())
            if (Designed(Idea(a.Code, b.Code, Pair)).Tunnel is { } tunnel)
            {
                var both = tunnel.Agreed.Both;
                var version = both.Get(Settings.IkeVersions)!.Value!.Items.ShouldHaveSingleItem();
                var chosen = both.Get(Settings.IkeProposals)!.Value!.Items.ShouldHaveSingleItem();
                var esp = both.Get(Settings.EspProposals)!.Value!.Items.ShouldHaveSingleItem();
                foreach (var platform in new[] { PlatformOf(a), PlatformOf(b) })
                foreach (var member in Graded.Of(chosen).Members.Concat(Graded.Of(esp).Members).Select(m => m.Name))
                    platform.Can(member, version).ShouldBe(true, $"{member} on {platform.Title}");
                (Graded.Of(chosen).Worst < Requirement.ShouldNot).ShouldBeTrue(chosen.ToString());
                (Graded.Of(esp).Worst < Requirement.ShouldNot).ShouldBeTrue(esp.ToString());
                both.Get(Settings.Pfs)!.Value!.ToString().ShouldContain(chosen.Group.Name);
            }
    }

    [Fact]
    public void Whoever_moves_starts_and_shows_a_name_and_the_other_answers()
    {
        foreach (var (a, b) in Couples())
            if (Designed(Idea(a.Code, b.Code, Pair)).Tunnel is { } tunnel)
            {
                var view = new TunnelView(DemoInventory.All.With(tunnel), tunnel, DemoInventory.Today);
                foreach (var end in view.Ends.Where(e => e.AddressIsDynamic))
                {
                    end.Get(Settings.Initiation).Value!.Value.ShouldBe(Initiation.Always, end.Gateway.Code);
                    end.Other.Get(Settings.Initiation).Value!.Value.ShouldBe(Initiation.RespondsOnly, end.Gateway.Code);
                    var identity = end.Name == EndName.A ? tunnel.Agreed.IdentityA : tunnel.Agreed.IdentityB;
                    identity!.Type.ShouldBe(IdentityKind.Fqdn, end.Gateway.Code);
                }
            }
    }

    [Fact]
    public void A_route_based_tunnel_gets_the_first_free_addresses_of_the_pool()
    {
        var pool = Prefix.Parse("198.51.100.0/28").Value;
        var hub = DemoInventory.All.ByCode<Gateway>("keel-gw1")! with { TunnelPool = pool };
        var among = DemoInventory.All.With(hub);
        Tunnel Next(string code)
        {
            var idea = Idea("keel-gw1", "harbour-gw", Pair) with { Code = code };
            var (tunnel, why) = TunnelDesign.Of(among, $"tunnel:{code}", idea, DemoInventory.Today);
            tunnel.ShouldNotBeNull(why.FirstOrDefault()?.Wrong.ToString());
            among = among.With(tunnel);
            return tunnel;
        }

        (string?, string?) Inner(Tunnel t) =>
            (t.A.TunnelAddress?.Value?.ToString(), t.B.TunnelAddress?.Value?.ToString());
        Inner(Next("ONE")).ShouldBe(("198.51.100.1/30", "198.51.100.2/30"));
        Inner(Next("TWO")).ShouldBe(("198.51.100.5/30", "198.51.100.6/30"));
        Inner(Next("THREE")).ShouldBe(("198.51.100.9/30", "198.51.100.10/30"));
        Inner(Next("FOUR")).ShouldBe(("198.51.100.13/30", "198.51.100.14/30"));
        // The pool is used up: none is made up.
        Inner(Next("FIVE")).ShouldBe((null, null));
    }

    [Theory]
    [InlineData("churn-gw1", "churn-gw1", "10.201.7.0/24", "10.202.7.0/24", null, "Both ends are churn-gw1")]
    [InlineData("churn-gw1", "harbour-gw", "10.201.7.0/24", "10.201.7.128/25", "ADR-04", "overlaps")]
    [InlineData("churn-gw1", "harbour-gw", "10.201.7.0/24", "10.201.7.0/24", "ADR-04", "overlaps")]
    [InlineData("churn-gw1", "harbour-gw", "10.61.0.0/24", "10.62.4.0/25", "ADR-03", "10.62.4.0/24")]
    public void What_cannot_be_is_refused_by_its_finding(
        string a,
        string b,
        string behindA,
        string behindB,
        string? code,
        string says
    )
    {
        var (tunnel, refused) = Designed(
            Idea(a, b, new SubnetPair(Prefix.Parse(behindA).Value, Prefix.Parse(behindB).Value))
        );
        tunnel.ShouldBeNull();
        refused.ShouldContain(r => r.Code == code && r.Wrong.ToString().Contains(says));
    }

    [Fact]
    public void Without_a_pair_there_is_nothing_to_work_out()
    {
        var (tunnel, refused) = Designed(Idea("churn-gw1", "harbour-gw"));
        tunnel.ShouldBeNull();
        refused.ShouldHaveSingleItem().Field.ShouldBe("pairs");
    }

    [Fact]
    public void A_bad_code_is_refused_as_where_it_is_typed()
    {
        var (tunnel, refused) = Designed(Idea("churn-gw1", "harbour-gw", Pair) with { Code = "no spaces, please" });
        tunnel.ShouldBeNull();
        refused.ShouldHaveSingleItem().Field.ShouldBe("code");
    }

    [Fact]
    public void A_peer_that_moves_is_entered_as_any_or_refused_where_the_platform_cannot()
    {
        int entered = 0,
            refused = 0;
        foreach (var (a, b) in Couples().Where(c => Moves(c.B) && !Moves(c.A)))
        {
            var (tunnel, why) = Designed(Idea(a.Code, b.Code, Pair));
            if (PlatformOf(a).LooksUpBy is { } by && !by.Contains(Lookup.Any))
            {
                tunnel.ShouldBeNull($"{a.Code} and {b.Code}");
                why.ShouldContain(r => r.Code == "PAIR-08" || r.Code == "PAIR-01" || r.Code == "PAIR-03");
                refused++;
            }
            else if (tunnel is not null)
            {
                tunnel.A.PeerAddress!.Value!.IsAny.ShouldBeTrue();
                tunnel.B.PeerAddress.ShouldBeNull();
                entered++;
            }
        }

        (entered > 0 && refused > 0).ShouldBeTrue($"{entered} entered, {refused} refused");
    }

    private static string SentenceLine(Rehearsal[] all) =>
        string.Join("; ", all.Select(r => $"{r.Outcome} {r.Stop?.Code} {r.Stop?.Cause}"));

    private static bool Moves(Gateway g) =>
        g.Uplinks is [var u, ..] && (u.Address.Value?.IsDynamic == true || u.Nat is { PublicAddress: null });

    [Fact]
    public void Two_ends_that_both_move_cannot_find_each_other()
    {
        var moving = DemoInventory
            .All.All.OfType<Gateway>()
            .Where(g => g.Uplinks is [var u, ..] && u.Address.Value?.IsDynamic == true)
            .Take(2)
            .ToArray();
        moving.Length.ShouldBe(2, "the demo has two gateways with a dynamic address");
        var (tunnel, refused) = Designed(Idea(moving[0].Code, moving[1].Code, Pair));
        tunnel.ShouldBeNull();
        var why = refused.ShouldHaveSingleItem();
        why.Code.ShouldBe("PAIR-08");
        why.Wrong.ToString().ShouldContain(moving[0].Code);
        why.Wrong.ToString().ShouldContain(moving[1].Code);
    }
}

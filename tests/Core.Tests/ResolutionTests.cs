using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Quantities;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Where each value of an end comes from: set before agreed, agreed before default, default before unknown.
/// </summary>
public class ResolutionTests
{
    private static readonly Tunnel Base = DemoInventory.Tunnel("BRI-ASHLOW");

    private static readonly Pfs Fourteen = Pfs.Parse("required DH 14").Value!;

    private static readonly Pfs Twenty = Pfs.Parse("required DH 20").Value!;

    private static TunnelView View(Tunnel tunnel) => new(DemoInventory.All.With([tunnel]), tunnel, DemoInventory.Today);

    private static Tunnel Without(Tunnel tunnel, Setting setting) =>
        tunnel with
        {
            A = tunnel.A with { Set = tunnel.A.Set.Without(setting) },
            B = tunnel.B with { Set = tunnel.B.Set.Without(setting) },
            Agreed = tunnel.Agreed with
            {
                SuiteId = null,
                Both = tunnel.Agreed.Both.Without(setting),
                OnlyA = tunnel.Agreed.OnlyA.Without(setting),
                OnlyB = tunnel.Agreed.OnlyB.Without(setting),
            },
        };

    private static Tunnel Agreed(Tunnel tunnel, Pfs pfs) =>
        tunnel with
        {
            Agreed = tunnel.Agreed with { Both = tunnel.Agreed.Both.With(Settings.Pfs, Recorded<Pfs>.Known(pfs)) },
        };

    private static Tunnel SetAtA(Tunnel tunnel, Recorded<Pfs> pfs) =>
        tunnel with
        {
            A = tunnel.A with { Set = tunnel.A.Set.With(Settings.Pfs, pfs) },
        };

    [Fact]
    public void What_is_set_at_an_end_stands_before_what_was_agreed_and_only_there()
    {
        var tunnel = SetAtA(Agreed(Without(Base, Settings.Pfs), Twenty), Recorded<Pfs>.Known(Fourteen));
        var view = View(tunnel);
        view.A.Get(Settings.Pfs)
            .ShouldSatisfyAllConditions(r => r.Value.ShouldBe(Fourteen), r => r.Source.ShouldBe(Source.Set));
        view.B.Get(Settings.Pfs)
            .ShouldSatisfyAllConditions(r => r.Value.ShouldBe(Twenty), r => r.Source.ShouldBe(Source.Agreed));
    }

    [Fact]
    public void What_was_agreed_for_one_end_alone_is_that_ends()
    {
        var bare = Without(Base, Settings.Pfs);
        var tunnel = bare with
        {
            Agreed = bare.Agreed with
            {
                Both = bare.Agreed.Both.With(Settings.Pfs, Recorded<Pfs>.Known(Twenty)),
                OnlyB = bare.Agreed.OnlyB.With(Settings.Pfs, Recorded<Pfs>.Known(Fourteen)),
            },
        };
        var view = View(tunnel);
        (view.A.Get(Settings.Pfs).Value, view.B.Get(Settings.Pfs).Value).ShouldBe((Twenty, Fourteen));
    }

    [Fact]
    public void What_nobody_said_is_the_platforms_default_with_its_name_or_not_known()
    {
        foreach (var setting in Settings.All)
        {
            var view = View(Without(Base, setting));
            foreach (var end in view.Ends)
            {
                var row = new Findings.Checked(view).Row(setting);
                var given = end.Platform.Defaults.TextOf(setting);
                if (row?.Cell(end.Name) is not { } cell || cell.Source is Source.Set or Source.Agreed)
                    continue;
                cell.Source.ShouldBe(given is null ? Source.Unknown : Source.Default, $"{setting.Key} at {end.Name}");
                if (given is not null)
                    cell.Via.ShouldNotBeNull().ShouldContain(end.Platform.Title);
            }
        }
    }

    [Fact]
    public void A_pending_value_is_not_known_and_says_who_will_know_it()
    {
        var tunnel = SetAtA(
            Agreed(Without(Base, Settings.Pfs), Twenty),
            Recorded<Pfs>.NotYet(new("Wren", new DateOnly(2026, 12, 1)))
        );
        var pfs = View(tunnel).A.Get(Settings.Pfs);
        pfs.Known.ShouldBeFalse("what is pending at the end is not what was agreed");
        pfs.Pending.ShouldNotBeNull().WhoKnows.ShouldBe("Wren");
    }

    [Fact]
    public void A_temporary_value_is_the_one_that_works_now()
    {
        var temporary = new Temporary<Pfs>(Twenty, "until the other end is replaced", new DateOnly(2026, 12, 1));
        var pfs = View(SetAtA(Without(Base, Settings.Pfs), Recorded<Pfs>.ForNow(Fourteen, temporary)))
            .A.Get(Settings.Pfs);
        (pfs.Value, pfs.Source).ShouldBe((Fourteen, Source.Set));
    }

    [Fact]
    public void The_address_of_the_other_end_is_what_is_entered_else_what_is_recorded_there()
    {
        var bare = Base with { A = Base.A with { PeerAddress = null } };
        var there = View(bare).B.Outer.ShouldNotBeNull();
        View(bare)
            .A.PeerAddress.ShouldSatisfyAllConditions(
                p => p.Value!.Address.ShouldBe(there),
                p => p.Source.ShouldBe(Source.Agreed),
                p => p.Via.ShouldNotBeNull().ShouldContain(View(bare).B.Gateway.Code)
            );
        var other = new PeerAddress(Address.Parse("192.0.2.99").Value, null);
        var entered = bare with { A = bare.A with { PeerAddress = Recorded<PeerAddress>.Known(other) } };
        View(entered)
            .A.PeerAddress.ShouldSatisfyAllConditions(p => p.Value.ShouldBe(other), p => p.Source.ShouldBe(Source.Set));
    }

    [Fact]
    public void An_identity_is_set_or_agreed_or_the_address_where_the_platform_takes_that_by_itself()
    {
        var agreed = Identity.Parse("fqdn a.brindle.example").Value!;
        var bare = Base with
        {
            A = Base.A with { IdentitySent = null },
            B = Base.B with { IdentityExpected = null },
            Agreed = Base.Agreed with { IdentityA = agreed },
        };
        (View(bare).A.IdentitySent.Value, View(bare).A.IdentitySent.Source).ShouldBe((agreed, Source.Agreed));
        (View(bare).B.IdentityExpected.Value, View(bare).B.IdentityExpected.Source).ShouldBe((agreed, Source.Agreed));
        var none = bare with { Agreed = bare.Agreed with { IdentityA = null } };
        var sent = View(none).A.IdentitySent;
        if (View(none).A.Platform.SendsAddressByDefault == true)
            (sent.Value!.Type, sent.Source).ShouldBe((IdentityKind.Address, Source.Default));
        else
            sent.Known.ShouldBeFalse();
    }

    [Theory]
    // Lifetime, margin and jitter: renewed at the margin, earlier by the jitter's share of the lifetime, never below 1
    // s.
    [InlineData("1 h", "10 min", 0, 3000, 3000)]
    [InlineData("1 h", "10 min", 10, 2640, 3000)]
    [InlineData("1 h", "20 %", 0, 2880, 2880)]
    [InlineData("60 s", "20 %", 100, 1, 48)]
    public void An_end_renews_by_its_margin_and_its_platforms_jitter(
        string time,
        string margin,
        int jitter,
        long from,
        long to
    )
    {
        var life = new Life(Lifetime.Parse(time).Value!, null, Margin.Parse(margin).Value);
        var gateway = DemoInventory.All.Get<Gateway>(Base.A.GatewayId);
        var platform = DemoInventory.All.Get<Platform>(gateway.PlatformId) with { Jitter = jitter };
        var tunnel = Base with
        {
            A = Base.A with { Set = Base.A.Set.With(Settings.EspLifetime, Recorded<Life>.Known(life)) },
        };
        var view = new TunnelView(DemoInventory.All.With([platform, tunnel]), tunnel, DemoInventory.Today);
        Rekeying.Rekeys(view.A, Settings.EspLifetime, EndName.A).ShouldBe(new Span(from, to));
        Rekeying.Drops(view.A, Settings.EspLifetime, EndName.A).ShouldBe(life.Time.InSeconds);
    }
}

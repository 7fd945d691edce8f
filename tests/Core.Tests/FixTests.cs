using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Fleet;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Values that would bring a rehearsal further: every one was tried, and what is said of it is what trying gave. Over
/// the demo, and over random ends of which most stop somewhere.
/// </summary>
public class FixTests
{
    private static readonly Lazy<(TunnelView View, Rehearsal Rehearsal)[]> Stopped = new(() =>
        [
            .. DemoInventory
                .All.Tunnels.Concat(RandomEnds.Tunnels(DemoInventory.All, 21).Take(150))
                .Select(t => new TunnelView(DemoInventory.All.With([t]), t, DemoInventory.Today))
                .SelectMany(v => Enum.GetValues<EndName>().Select(e => (v, new Checked(v).Rehearsed(e))))
                .Where(x => x.Item2.Stop is not null),
        ]
    );

    [Fact]
    public void Each_of_them_brings_the_rehearsal_further_when_it_is_set()
    {
        var seen = 0;
        foreach (var (view, before) in Stopped.Value)
        foreach (var fix in FixFinder.Of(view, before))
        {
            var set = FixFinder.Set(view, fix.Values);
            set.ShouldNotBeNull($"{view.Tunnel.Code}: {fix.Says}");
            var then = new Checked(new(view.Inventory.With([set]), set, view.Today)).Rehearsed(before.Initiator);
            then.Further(before).ShouldBeTrue($"{view.Tunnel.Code} from {before.Initiator}: {fix.Says}");
            then.Outcome.ShouldBe(fix.Then.Outcome);
            then.Outcome.ShouldNotBe(Outcome.DoesNotStart, $"{view.Tunnel.Code} from {before.Initiator}: {fix.Says}");
            Said(view, fix).ShouldAllBe(x => x.Before != x.After, $"{view.Tunnel.Code}: {fix.Says}");
            seen++;
        }

        seen.ShouldBeGreaterThan(50);
    }

    /// <summary>What the comparison shows for each value of a fix, before and after.</summary>
    private static IEnumerable<(string? Before, string? After)> Said(TunnelView view, Fix fix)
    {
        var after = new Checked(new(view.Inventory.With([fix.Fixed]), fix.Fixed, view.Today));
        var before = new Checked(view);
        return fix
            .Values.Where(v => before.Row(v.Row) is not null)
            .Select(v => (before.Row(v.Row)!.Cell(v.End).Text, after.Row(v.Row)?.Cell(v.End).Text));
    }

    [Fact]
    public void They_are_few_told_apart_and_none_is_another_with_more()
    {
        foreach (var (view, before) in Stopped.Value)
        {
            var fixes = FixFinder.Of(view, before);
            fixes.Length.ShouldBeLessThanOrEqualTo(4);
            fixes.Select(m => m.Says.ToString()).ShouldBeUnique($"{view.Tunnel.Code} from {before.Initiator}");
            foreach (var fix in fixes)
            {
                fix.Values.ShouldNotBeEmpty();
                fix.Says.ToString().ShouldEndWith(".");
                fixes
                    .Where(m => m.Passes && m != fix)
                    .ShouldNotContain(m => m.Values.All(fix.Values.Contains), $"{fix.Says} says more than it has to");
            }
        }
    }

    [Fact]
    public void One_that_adds_a_risk_names_it_and_stands_behind_one_that_adds_none()
    {
        foreach (var (view, before) in Stopped.Value)
        {
            var fixes = FixFinder.Of(view, before);
            fixes.Select(m => m.Risks.Length).ShouldBeInOrder();
            var had = Risks(view);
            foreach (var fix in fixes)
            {
                var after = new TunnelView(view.Inventory.With([fix.Fixed]), fix.Fixed, view.Today);
                string.Join(" ", Risks(after).Except(had).Order(StringComparer.Ordinal))
                    .ShouldBe(string.Join(" ", fix.Risks));
            }
        }
    }

    [Fact]
    public void Nothing_is_offered_where_nothing_stops()
    {
        foreach (var tunnel in DemoInventory.All.Tunnels)
        {
            var view = new TunnelView(DemoInventory.All, tunnel, DemoInventory.Today);
            foreach (var end in Enum.GetValues<EndName>())
            {
                var rehearsal = new Checked(view).Rehearsed(end);
                if (rehearsal.Stop is null)
                    FixFinder.Of(view, rehearsal).ShouldBeEmpty(tunnel.Code);
                if (rehearsal.Later is null)
                    FixFinder.OfLater(view, rehearsal).ShouldBeEmpty(tunnel.Code);
            }
        }
    }

    [Fact]
    public void What_fails_at_the_first_rekey_no_longer_does_with_what_is_offered_for_it()
    {
        var seen = 0;
        foreach (var tunnel in DemoInventory.All.Tunnels)
        {
            var view = new TunnelView(DemoInventory.All, tunnel, DemoInventory.Today);
            foreach (var end in Enum.GetValues<EndName>())
            foreach (var fix in FixFinder.OfLater(view, new Checked(view).Rehearsed(end)))
            {
                fix.Then.Later.ShouldBeNull($"{tunnel.Code}: {fix.Says}");
                seen++;
            }
        }

        seen.ShouldBeGreaterThan(0);
    }

    [Fact]
    public void A_value_that_cannot_be_read_there_sets_nothing()
    {
        var view = new TunnelView(DemoInventory.All, DemoInventory.Tunnel("BRI-ASHLOW"), DemoInventory.Today);
        FixFinder.Set(view, [new(EndName.A, Settings.Pfs, "perhaps")]).ShouldBeNull();
        FixFinder
            .Set(view, [new(EndName.A, Settings.Pfs, "refused"), new(EndName.B, RowKey.CertificateUsage, "blue")])
            .ShouldBeNull();
        FixFinder.Set(view, [new(EndName.A, Settings.Pfs, "refused")]).ShouldNotBeNull();
    }

    private static string[] Risks(TunnelView view) =>
        [
            .. Checks
                .Run(new Checked(view))
                .Where(f => f.Severity == Severity.Risk && f.Code is not ("PAIR-20" or "PATH-15" or "PATH-14"))
                .Select(f => f.Code)
                .Distinct(),
        ];
}

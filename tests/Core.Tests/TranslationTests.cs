using Shouldly;
using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// What becomes of each setting on another platform: held for every gateway of the demo and of random ends, onto every
/// other platform.
/// </summary>
public class TranslationTests
{
    public static TheoryData<string> Grounds => ["demo", "ends 1"];

    private sealed record Carried(PlatformRequest Request, Plan Plan, TunnelView Was, TunnelView Then, EndName End)
    {
        public IEnumerable<Translated> Told =>
            Plan.Translations.Where(t => t.TunnelId == Was.Tunnel.Id && t.End == End);

        public Platform To => Then.End(End).Platform;

        public override string ToString() => $"{Was.Tunnel.Code} {End} from {Was.End(End).Platform.Code} to {To.Code}";
    }

    private static IEnumerable<Carried> Cases(string name)
    {
        var ground = Ground.Of(name);
        foreach (var (request, plan) in ground.Plans)
        {
            if (request is not PlatformRequest moved)
                continue;
            var after = ground.After(plan);
            foreach (var id in moved.TunnelIds)
            {
                var (was, then) = (ground.View(id), new TunnelView(after, after.Get<Tunnel>(id), DemoInventory.Today));
                foreach (var end in was.Ends.Where(e => e.Gateway.Id == moved.GatewayId))
                    yield return new(moved, plan, was, then, end.Name);
            }
        }
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void Each_setting_is_told_once_and_none_that_was_there_is_left_out(string name)
    {
        var cases = Cases(name).ToArray();
        cases.Length.ShouldBeGreaterThan(30);
        foreach (var c in cases)
        {
            c.Told.Select(t => t.What).ShouldBeUnique($"{c}");
            if (c.Told.Any(t => t is { What: "IKE version", Carries: Carries.Impossible }))
                continue;
            var had = Settings
                .All.Where(s => s != Settings.ExchangeMode && Value(s, c.Was, c.End) is not null)
                .Select(s => s.Label);
            had.Except(c.Told.Select(t => t.What)).ShouldBeEmpty($"{c} says nothing of");
        }
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void Kept_is_alike_changed_is_otherwise_and_impossible_is_nothing_each_with_a_reason(string name)
    {
        foreach (var c in Cases(name))
        foreach (var t in c.Told)
        {
            t.Why.ToString().ShouldEndWith(".", Case.Sensitive, $"{c} {t.What}");
            (t.After is null).ShouldBe(t.Carries == Carries.Impossible, $"{c} {t.What}: {t.After}");
            if (t.Carries == Carries.Changed)
                t.After.ShouldNotBe(t.Before, $"{c} {t.What}");
        }
    }

    /// <summary>What is told is what the records become: the label's value on the end, after the plan.</summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void What_is_kept_or_changed_stands_in_the_records_afterwards(string name)
    {
        foreach (var c in Cases(name))
        foreach (var setting in Settings.All)
        {
            var told = c.Told.FirstOrDefault(t => t.What == setting.Label);
            if (told is not { Carries: Carries.Kept })
                continue;
            var (was, then) = (Value(setting, c.Was, c.End), Value(setting, c.Then, c.End));
            then.ShouldNotBeNull($"{c} {setting.Label}");
            then.ShouldBe(was, $"{c} {setting.Label}");
        }
    }

    /// <summary>The new platform is never given what its profile says that it cannot do.</summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void Nothing_is_carried_that_the_platform_cannot_do(string name)
    {
        foreach (var c in Cases(name))
        {
            var end = c.Then.End(c.End);
            bool Told(Setting setting) => c.Told.Any(t => t.What == setting.Label && t.Carries != Carries.Impossible);
            if (Told(Settings.IkeVersions))
                end.Get(Settings.IkeVersions).Value!.Items.Except(c.To.IkeVersions).ShouldBeEmpty($"{c} speaks");
            if (Told(Settings.IkeProposals) && end.Get(Settings.IkeProposals).Value is { } ike)
                foreach (var member in ike.Items.SelectMany(p => Graded.Of(p).Members))
                    c.To.Can(member.Name, null).ShouldNotBe(false, $"{c} is given {member.Name} for IKE");
            if (Told(Settings.EspProposals) && end.Get(Settings.EspProposals).Value is { } esp)
                foreach (var member in esp.Items.SelectMany(p => Graded.Of(p).Members))
                    c.To.Can(member.Name, null).ShouldNotBe(false, $"{c} is given {member.Name} for ESP");
            if (Told(Settings.Authentication) && end.Get(Settings.Authentication).Value is { } method)
                (c.To.Methods?.Contains(method.Value) ?? true).ShouldBeTrue($"{c} authenticates by {method}");
        }
    }

    /// <summary>
    /// What both ends must have alike is changed on both, or the move itself would be what stops the tunnel: proposals
    /// that met before meet afterwards.
    /// </summary>
    [Fact]
    public void Proposals_that_met_before_meet_on_the_new_platform_unless_it_is_impossible()
    {
        var seen = 0;
        foreach (var c in Cases("demo"))
        {
            if (c.Told.Any(t => t.Carries == Carries.Impossible))
                continue;
            foreach (var initiator in Enum.GetValues<EndName>())
            {
                var (before, after) = (Choice(c.Was, initiator), Choice(c.Then, initiator));
                if (before is null)
                    continue;
                after.ShouldNotBeNull($"{c}: {initiator} and the other end chose {before} and choose nothing");
                seen++;
            }
        }

        seen.ShouldBeGreaterThan(20);
    }

    private static string? Choice(TunnelView view, EndName initiator)
    {
        var (s, a) = (view.End(initiator), view.End(initiator.Other()));
        var accepted = a.Get(Settings.IkeProposals).Value?.Items ?? [];
        return s.Get(Settings.IkeProposals).Value?.Items.FirstOrDefault(accepted.Contains)?.ToString();
    }

    /// <summary>What an end has of a setting, as the comparison tells it; null when it has nothing.</summary>
    private static string? Value(Setting setting, TunnelView view, EndName end) =>
        new Checked(view).Row(setting)?.Cell(end).Text;
}

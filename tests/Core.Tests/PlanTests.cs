using System.Collections.Immutable;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Forms;
using Vellumkeep.Core.Records;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Storage.Bodies;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Plans of every kind, held against model devices: what a device holds is a dictionary, a step enters and takes out, a
/// way back puts back.
/// </summary>
public partial class PlanTests
{
    private static readonly DateOnly Today = DemoInventory.Today;

    private static IEnumerable<Tunnel> Running =>
        DemoInventory.All.Tunnels.Where(t => t.State == TunnelState.InService);

    /// <summary>
    /// Every wish that makes sense of the demo: each kind on each tunnel or gateway, each gateway onto each other
    /// platform.
    /// </summary>
    private static IEnumerable<Wish> Wishes()
    {
        var all = DemoInventory.All;
        foreach (var t in Running)
        {
            yield return new RekeyWish([t.Id]);
            yield return new StrengthenWish(t.Id, null);
            yield return new RetireWish(t.Id);
            if (t.Agreed.Pairs.Length > 1)
                yield return new SubnetsWish(t.Id, EndName.A, [], []) { Remove = [t.Agreed.Pairs[0].A] };
        }

        foreach (var t in all.Tunnels.Where(t => t.State == TunnelState.Planned))
            yield return new NewTunnelWish(t.Id);
        foreach (var g in all.All.OfType<Gateway>())
        {
            var on = all.On(g.Id)
                .Where(o => o.Tunnel.State != TunnelState.Planned)
                .Select(o => o.Tunnel.Id)
                .Distinct()
                .ToImmutableArray();
            if (on.IsEmpty)
                continue;
            foreach (var p in all.All.OfType<Platform>().Where(p => p.Id != g.PlatformId))
            {
                yield return new PlatformWish(g.Id, p.Id, on);
                yield return new PlatformWish(g.Id, p.Id, on) { Beside = Address.Parse("192.0.2.251").Value };
            }

            yield return new AddressWish(
                g.Id,
                g.Uplinks[0].Label,
                Address.Parse("192.0.2.250").Value,
                [
                    .. all.On(g.Id)
                        .Where(o =>
                            o.Tunnel.State != TunnelState.Planned
                            && (
                                o.Tunnel.End(o.End).Uplinks.IsEmpty
                                || o.Tunnel.End(o.End).Uplinks.Contains(g.Uplinks[0].Label)
                            )
                        )
                        .Select(o => o.Tunnel.Id)
                        .Distinct(),
                ]
            );
        }
    }

    private static readonly Lazy<ImmutableArray<(Wish Wish, Plan Plan)>> Plans = new(() =>
        [
            .. Wishes()
                .Select(w => (Wish: w, Planner.Plan(DemoInventory.All, w, Today).Plan))
                .Where(p => p.Plan is not null)
                .Select(p => (p.Wish, p.Plan!)),
        ]
    );

    [Fact]
    public void Every_kind_is_planned_on_the_demo()
    {
        foreach (
            var kind in new[]
            {
                "rekey",
                "strengthen",
                "retire",
                "subnets",
                "new tunnel",
                "replace platform",
                "address move",
            }
        )
            Plans.Value.Count(p => p.Wish.Kind == kind).ShouldBeGreaterThan(0, kind);
        Plans.Value.Length.ShouldBeGreaterThan(150);
    }

    [Fact]
    public void The_same_wish_makes_the_same_plan_to_the_octet()
    {
        foreach (var (wish, plan) in Plans.Value.Where((_, i) => i % 7 == 0))
            Bytes(wish, Planner.Plan(DemoInventory.All, wish, Today).Plan!)
                .ShouldBe(Bytes(wish, plan), wish.ToString());

        static string Bytes(Wish wish, Plan plan) =>
            System.Text.Encoding.UTF8.GetString(RecordBody.Bytes(Made.Change(wish, plan)));
    }

    [Fact]
    public void A_plan_that_is_kept_is_read_back_as_it_was()
    {
        foreach (var (wish, plan) in Plans.Value.GroupBy(p => p.Wish.Kind).Select(g => g.First()))
        {
            var change = Made.Change(wish, plan);
            var kept = RecordBody.Bytes(change);
            RecordBody.Bytes(RecordBody.Read(RecordKind.Change, "c", kept)).ShouldBe(kept, wish.Kind);
        }
    }

    /// <summary>
    /// The edits, carried out in order, are what was rehearsed: applied to the records as they are they give readable
    /// records, and every path held what the plan found.
    /// </summary>
    [Fact]
    public void The_edits_of_a_plan_lead_from_the_records_before_to_readable_records_after()
    {
        foreach (var (wish, plan) in Plans.Value)
        {
            var forms = new Dictionary<string, MapNode>();
            foreach (var edit in plan.Edits)
            {
                var form = forms.TryGetValue(edit.At.RecordId, out var f)
                    ? f
                    : RecordBody.Form(DemoInventory.All.All.First(r => r.Id == edit.At.RecordId));
                Node.Same(Edits.Find(form, edit.At.Path), edit.Before).ShouldBeTrue($"{wish}: {edit.At.Path}");
                forms[edit.At.RecordId] = Edits.Put(form, edit.At.Path, edit.After);
            }

            foreach (var (id, form) in forms)
                RecordBody
                    .Read(DemoInventory.All.All.First(r => r.Id == id).Kind, id, form)
                    .Problems.ShouldBeEmpty(wish.ToString());
        }
    }

    /// <summary>
    /// On each device: entering the steps gives what the after-state needs there and nothing else, and the way back
    /// gives what stood there before. No step enters what stands there already.
    /// </summary>
    [Fact]
    public void Steps_enter_what_differs_and_nothing_else_and_the_way_back_restores()
    {
        var seen = 0;
        foreach (var (wish, plan) in Plans.Value)
        {
            var after = After(plan);
            foreach (var id in wish.Tunnels)
            {
                var (was, then) = (
                    new TunnelView(DemoInventory.All, DemoInventory.All.Get<Tunnel>(id), Today),
                    new TunnelView(after, after.Get<Tunnel>(id), Today)
                );
                foreach (var end in Enum.GetValues<EndName>())
                {
                    var fresh = was.End(end).Platform.Id != then.End(end).Platform.Id;
                    var before = fresh ? [] : Held(Entries.Of(was.End(end)));
                    var device = new Dictionary<string, string>(before);
                    var steps = plan
                        .Steps.Where(s =>
                            s.TunnelId == id
                            && s.Where.ToString() == end.ToString()
                            && (s.Enter.Any(v => v.Key is not null and not "outer") || s.TakeOut.Length > 0)
                        )
                        .ToArray();
                    foreach (var step in steps)
                    {
                        foreach (var value in step.Enter.Where(v => v.Key is not null and not "outer"))
                        {
                            device
                                .GetValueOrDefault(value.Key!)
                                .ShouldBe(value.Before, $"{wish} {step.Key}: {value.Label}");
                            device
                                .GetValueOrDefault(value.Key!)
                                .ShouldNotBe(value.Text, $"{wish} {step.Key}: {value.Label} stands there already");
                            device[value.Key!] = value.Text;
                            seen++;
                        }

                        foreach (var value in step.TakeOut)
                        {
                            device.Remove(value.Key!, out var gone).ShouldBeTrue($"{wish} {step.Key}: {value.Label}");
                            gone.ShouldBe(value.Text);
                            seen++;
                        }
                    }

                    device
                        .OrderBy(d => d.Key, StringComparer.Ordinal)
                        .ShouldBe(
                            Held(Entries.Of(then.End(end))).OrderBy(d => d.Key, StringComparer.Ordinal),
                            $"{wish} at {end}"
                        );
                    foreach (var step in steps.Reverse())
                    {
                        step.Undo.ShouldNotBeNull($"{wish} {step.Key}");
                        foreach (var value in step.Enter.Where(v => v.Key is not null and not "outer").Reverse())
                            _ =
                                value.Before is { } b ? device[value.Key!] = b
                                : device.Remove(value.Key!) ? null
                                : null;
                        foreach (var value in step.TakeOut)
                            device[value.Key!] = value.Text;
                    }

                    device
                        .OrderBy(d => d.Key, StringComparer.Ordinal)
                        .ShouldBe(before.OrderBy(d => d.Key, StringComparer.Ordinal), $"{wish} back at {end}");
                }
            }
        }

        seen.ShouldBeGreaterThan(2000);
    }

    [Fact]
    public void What_blocks_and_was_added_is_always_said()
    {
        foreach (var (wish, plan) in Plans.Value)
        {
            var after = After(plan);
            foreach (var id in wish.Tunnels)
            {
                var (had, has) = (Blocking(DemoInventory.All, id), Blocking(after, id));
                foreach (var code in has.Except(had))
                    plan.InTheWay.ShouldContain(f => f.TunnelId == id && f.Finding.Code == code, $"{wish}: {code}");
            }
        }

        static string[] Blocking(Inventory inventory, string id) =>
            [
                .. Checks
                    .Run(new(new TunnelView(inventory, inventory.Get<Tunnel>(id), Today)))
                    .Where(f => f.Severity == Severity.Blocks)
                    .Select(f => f.Code)
                    .Distinct(),
            ];
    }

    [Fact]
    public void Platforms_that_work_differently_get_different_steps()
    {
        var all = DemoInventory.All;
        Plan Of(string code) =>
            Plans.Value.First(p => p.Wish is RekeyWish r && r.TunnelIds[0] == all.ByCode<Tunnel>(code)!.Id).Plan;
        // Alderquay holds two keys while one is replaced, and is activated; Brackwater holds one, and is cleared by
        // hand.
        var (major, old) = (Of("QUI-BRI"), Of("TID-PUMP"));
        major.Steps.ShouldContain(s => s.Key.StartsWith("activate-"));
        major.Steps.ShouldContain(s => s.Key.StartsWith("withdraw-key-"));
        old.Steps.ShouldNotContain(s => s.Key.StartsWith("activate-") || s.Key.StartsWith("withdraw-key-"));
        old.Steps.Count(s => s.Part == Part.Switch && s.Key.StartsWith("key-")).ShouldBe(2);
        old.Verdict.Select(v => v.Says.ToString()).ShouldContain(v => v.Contains("a gap, 3 minutes by the steps"));
        // The hosted gateway is asked once; nothing else is done there by hand.
        var hosted = Plans
            .Value.First(p => p.Wish is NewTunnelWish n && n.TunnelId == all.ByCode<Tunnel>("THR-PLATES-2")!.Id)
            .Plan;
        hosted
            .Steps.Count(s => s.Gateway == "plates-gw2" && s.Part is Part.Build or Part.Switch && s.Where == Where.B)
            .ShouldBe(1);
        hosted.Pending.Length.ShouldBe(1);
    }

    [Fact]
    public void Subnets_on_both_sides_are_one_plan_and_every_new_pair_is_wanted_once()
    {
        var tunnel = DemoInventory.Tunnel("QUI-MOS");
        var wish = new SubnetsWish(tunnel.Id, EndName.A, [Prefix.Parse("10.250.77.0/24").Value], [])
        {
            Also = [new(tunnel.Id, EndName.B) { Add = [Prefix.Parse("10.90.77.0/24").Value], Remove = [] }],
        };
        var plan = Planner.Plan(DemoInventory.All, wish, Today).Plan!;
        var then = After(plan).Get<Tunnel>(tunnel.Id);
        var ipv4 = tunnel.Agreed.Pairs.Where(p => p.A.Family == Family.IPv4).ToArray();
        then.Agreed.Pairs.Length.ShouldBe(tunnel.Agreed.Pairs.Length + plan.NewPairs.Length);
        then.Agreed.Pairs.ShouldContain(p => p.A.ToString() == "10.250.77.0/24" && p.B.ToString() == "10.90.77.0/24");
        foreach (var a in ipv4.Select(p => p.A).Distinct())
            then.Agreed.Pairs.ShouldContain(p => p.A == a && p.B.ToString() == "10.90.77.0/24");
        plan.Steps.Select(s => s.Key).ShouldBeUnique();
        plan.Steps.Count(s => s.Key.StartsWith("activate-", StringComparison.Ordinal)).ShouldBe(2);
    }

    [Fact]
    public void What_stays_temporary_is_said_with_what_it_must_become()
    {
        var plan = Planner.Plan(DemoInventory.All, new RekeyWish([DemoInventory.Tunnel("TID-QUAY").Id]), Today).Plan!;
        plan.Verdict.Select(v => v.Says.ToString())
            .ShouldContain(v =>
                v.StartsWith("Peer address of TID-QUAY at A stays temporary", StringComparison.Ordinal)
            );
    }

    private static Dictionary<string, string> Held(IEnumerable<Entry> entries) =>
        entries.DistinctBy(e => e.Key).ToDictionary(e => e.Key, e => e.Text);

    private static Inventory After(Plan plan)
    {
        var records = plan
            .Edits.Select(e => e.At.RecordId)
            .Distinct()
            .Select(id => DemoInventory.All.All.First(r => r.Id == id));
        return DemoInventory.All.With(
            records.Select(r =>
                RecordBody
                    .Read(r.Kind, r.Id, RecordBody.Form(r).With(plan.Edits.Where(e => e.At.RecordId == r.Id)))
                    .Record!
            )
        );
    }
}

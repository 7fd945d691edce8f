using System.Collections.Immutable;
using Shouldly;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Storage.Bodies;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// What holds of every plan of every kind, whatever the records are: held against model devices, of which each is a
/// dictionary; a step enters and removes, a way back puts back.
/// </summary>
public class PlanPropertyTests
{
    private static readonly DateOnly Today = DemoInventory.Today;

    public static TheoryData<string> Grounds => ["demo", "fleet 1", "ends 1", "ends 2"];

    /// <summary>
    /// The edits, carried out in order, are what was rehearsed: applied to the records as they are they give readable
    /// records, and every path held what the plan found.
    /// </summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void The_edits_of_a_plan_lead_from_the_records_before_to_readable_records_after(string name)
    {
        var ground = Ground.Of(name);
        foreach (var (request, plan) in ground.Plans)
        {
            var forms = new Dictionary<string, MapNode>();
            foreach (var edit in plan.Edits)
            {
                var form = forms.TryGetValue(edit.At.RecordId, out var f)
                    ? f
                    : RecordBody.Form(ground.All.All.First(r => r.Id == edit.At.RecordId));
                Node.Same(Edits.Find(form, edit.At.Path), edit.Before).ShouldBeTrue($"{request}: {edit.At.Path}");
                forms[edit.At.RecordId] = Edits.Put(form, edit.At.Path, edit.After);
            }

            foreach (var (id, form) in forms)
                RecordBody
                    .Read(ground.All.All.First(r => r.Id == id).Kind, id, form)
                    .Problems.ShouldBeEmpty(request.ToString());
        }
    }

    /// <summary>
    /// On each device: entering the steps gives what the after-state needs there and nothing else, and the way back
    /// gives what stood there before. No step enters what stands there already.
    /// </summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void Steps_enter_what_differs_and_nothing_else_and_the_way_back_restores(string name)
    {
        var ground = Ground.Of(name);
        var seen = 0;
        foreach (var (request, plan) in ground.Plans)
        {
            var after = ground.After(plan);
            foreach (var id in request.Tunnels)
            {
                var (was, then) = (
                    new TunnelView(ground.All, ground.All.Get<Tunnel>(id), Today),
                    new TunnelView(after, after.Get<Tunnel>(id), Today)
                );
                foreach (var end in Enum.GetValues<EndName>())
                {
                    var fresh = was.End(end).Platform.Id != then.End(end).Platform.Id;
                    var before = fresh ? [] : Ground.Held(Entries.Of(was.End(end)));
                    var device = new Dictionary<string, string>(before);
                    var steps = plan
                        .Steps.Where(s =>
                            s.TunnelId == id
                            && s.Where.ToString() == end.ToString()
                            && (Standing(s).Any() || s.Remove.Length > 0)
                        )
                        .ToArray();
                    foreach (var step in steps)
                    {
                        foreach (var value in Standing(step))
                        {
                            var whole = value.Whole ?? value.Text;
                            device
                                .GetValueOrDefault(value.Key!)
                                .ShouldBe(value.Before, $"{request} {step.Key}: {value.Label}");
                            device
                                .GetValueOrDefault(value.Key!)
                                .ShouldNotBe(whole, $"{request} {step.Key}: {value.Label} stands there already");
                            device[value.Key!] = whole;
                            seen++;
                        }

                        foreach (var value in step.Remove)
                        {
                            device
                                .Remove(value.Key!, out var gone)
                                .ShouldBeTrue($"{request} {step.Key}: {value.Label}");
                            gone.ShouldBe(value.Text);
                            seen++;
                        }
                    }

                    Differences(device, Ground.Held(Entries.Of(then.End(end))))
                        .ShouldBeEmpty($"{request} at {end} of {id}");
                    foreach (var step in steps.Reverse())
                    {
                        step.Undo.ShouldNotBeNull($"{request} {step.Key}");
                        foreach (var value in Standing(step).Reverse())
                            _ =
                                value.Before is { } b ? device[value.Key!] = b
                                : device.Remove(value.Key!) ? null
                                : null;
                        foreach (var value in step.Remove)
                            device[value.Key!] = value.Text;
                    }

                    Differences(device, before).ShouldBeEmpty($"{request} back at {end} of {id}");
                }
            }
        }

        seen.ShouldBeGreaterThan(name == "demo" ? 2000 : 100);
    }

    /// <summary>What stands on the device then by a step, but for the address of an uplink.</summary>
    private static IEnumerable<StepValue> Standing(Step step) =>
        step.Enter.Concat(step.Expect).Where(v => v.Key is not null and not "outer");

    [Theory]
    [MemberData(nameof(Grounds))]
    public void What_blocks_and_was_added_is_always_said(string name)
    {
        var ground = Ground.Of(name);
        foreach (var (request, plan) in ground.Plans)
        {
            var after = ground.After(plan);
            foreach (var id in request.Tunnels)
            {
                var (had, has) = (Blocking(ground.All, id), Blocking(after, id));
                foreach (var code in has.Except(had))
                    plan.InTheWay.ShouldContain(f => f.TunnelId == id && f.Finding.Code == code, $"{request}: {code}");
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

    /// <summary>Steps are separate, wait only for steps that come before them, and each edit is carried once.</summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void Steps_stand_in_an_order_in_which_they_can_be_worked(string name)
    {
        foreach (var (request, plan) in Ground.Of(name).Plans)
        {
            plan.Steps.Select(s => s.Key).ShouldBeUnique(request.ToString());
            var before = new HashSet<string>();
            foreach (var step in plan.Steps)
            {
                step.Needs.Except(before).ShouldBeEmpty($"{request} {step.Key} needs what comes later");
                before.Add(step.Key);
                step.Minutes.ShouldBeInRange(0, 24 * 60, $"{request} {step.Key}");
                step.Do.ToString().ShouldNotBeNullOrWhiteSpace($"{request} {step.Key}");
            }

            plan.Steps.SelectMany(s => s.Edits).ShouldBeUnique($"{request} carries an edit twice");
            plan.Steps.SelectMany(s => s.Edits).ShouldAllBe(e => e >= 0 && e < plan.Edits.Length);
            plan.Steps.Select(s => s.Part).ShouldBeInOrder(Shouldly.SortDirection.Ascending, request.ToString());
        }
    }

    /// <summary>
    /// Only steps that enter something are undone, and what cannot be undone says so: nobody finds out in the window.
    /// </summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void The_way_back_is_the_steps_that_can_be_undone_from_the_last_to_the_first(string name)
    {
        foreach (var (request, plan) in Ground.Of(name).Plans)
        {
            var back = plan.WayBack().Select(s => plan.NumberOf(s.Key)).ToArray();
            back.ShouldBeInOrder(Shouldly.SortDirection.Descending, request.ToString());
            foreach (var step in plan.Steps.Where(s => s.Enter.Length + s.Remove.Length > 0 && s.Where != Where.Us))
                (step.Undo is not null || step.NoReturn).ShouldBeTrue(
                    $"{step.Key} ({step.Kind}) cannot be undone: {step.Do} {request}"
                );
        }
    }

    /// <summary>A plan rests on what it alters: whoever moves that before the work is heard of.</summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void A_plan_rests_on_every_value_that_it_alters(string name)
    {
        var ground = Ground.Of(name);
        foreach (var (request, plan) in ground.Plans)
        {
            var change = Change(ground, request, plan);
            ChangeLife
                .Changed(change, ground.All)
                .ShouldBeEmpty($"{request} has changed before anybody changed anything");
            if (plan.Edits.Any(e => e.Before is not null))
                ChangeLife.Changed(change, ground.After(plan)).ShouldNotBeEmpty($"{request}");
        }
    }

    /// <summary>
    /// Findings that come and those that go are exactly the difference of the checks before and after; those that stand
    /// are in both.
    /// </summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void Findings_that_come_and_go_are_those_of_the_checks_before_and_after(string name)
    {
        var ground = Ground.Of(name);
        foreach (var (request, plan) in ground.Plans.Where((_, i) => i % 3 == 0))
        {
            var after = ground.After(plan);
            foreach (var id in request.Tunnels)
            {
                var (had, has) = (Codes(ground.All, id), Codes(after, id));
                plan.Added.Where(f => f.TunnelId == id && f.Was is null)
                    .Select(f => f.Finding.Code)
                    .Except(has)
                    .ShouldBeEmpty($"{request}: said to come, and does not");
                plan.Removed.Where(f => f.TunnelId == id)
                    .Select(f => f.Finding.Code)
                    .Except(had)
                    .ShouldBeEmpty($"{request}: said to go, and was not there");
                has.Except(had)
                    .Except(plan.Added.Where(f => f.TunnelId == id).Select(f => f.Finding.Code))
                    .ShouldBeEmpty($"{request}: comes, and is not listed");
            }
        }
    }

    /// <summary>
    /// Done once, the same request is done: asked again it is refused, or plans no value that stands otherwise.
    /// </summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void What_was_done_is_not_planned_again(string name)
    {
        var ground = Ground.Of(name);
        foreach (
            var (request, plan) in ground.Plans.Where(p =>
                p.Request is StrengthenRequest or RetireRequest or NewTunnelRequest
            )
        )
        {
            var again = Planner.Plan(ground.After(plan), request, Today);
            if (again.Plan is { } second && request is StrengthenRequest)
                second.Edits.ShouldBeEmpty($"{request} once more");
            else
                again.Plan.ShouldBeNull($"{request} once more");
        }
    }

    private static IEnumerable<string> Differences(
        Dictionary<string, string> holds,
        Dictionary<string, string> needs
    ) =>
        holds
            .Keys.Union(needs.Keys)
            .Where(key => holds.GetValueOrDefault(key) != needs.GetValueOrDefault(key))
            .Select(key => $"{key} is '{holds.GetValueOrDefault(key)}', not '{needs.GetValueOrDefault(key)}'");

    private static Change Change(Ground ground, ChangeRequest request, Plan plan) =>
        new()
        {
            Id = "c",
            Code = "C",
            Title = "t",
            Reason = "w",
            CustomerId = ground.All.Get<Tunnel>(request.Tunnels[0]).CustomerId,
            Request = request,
            Plan = plan,
            State = ChangeState.Approved,
            Author = "ines",
            StatusHistory = [new(ChangeState.Draft, "ines", default, null)],
        };

    // What is entered is confirmed when its step is done: that nobody confirmed it yet is no news of the plan.
    private static string[] Codes(Inventory all, string id) =>
        [
            .. Checks
                .Run(new(new TunnelView(all, all.Get<Tunnel>(id), Today)))
                .Select(f => f.Code)
                .Except(["PAIR-19", "PAIR-20"])
                .Distinct(),
        ];
}

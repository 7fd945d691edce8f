using Shouldly;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Storage.Bodies;
using Xunit;

namespace Vellumkeep.Core.Tests;

public partial class PlanTests
{
    /// <summary>
    /// Two by two: the first one done moves the ground, the other is no longer what was approved, and computed anew it
    /// holds again.
    /// </summary>
    [Fact]
    public void The_change_that_is_finished_first_moves_the_ground_under_the_second()
    {
        var tunnel = DemoInventory.Tunnel("QUI-BRI");
        Change Make(string id, ChangeRequest request) =>
            TestValues.Change(request, ChangeState.Approved, id) with
            {
                Approval = new("tomas", default),
            };
        var (first, second) = (
            Make("c1", new RekeyRequest([tunnel.Id])),
            Make("c2", new StrengthenRequest(tunnel.Id, null))
        );
        var after = Demo.After(first.Plan);
        ChangeLife.Changed(second, DemoInventory.All).ShouldBeEmpty();
        var changed = ChangeLife.Changed(second, after);
        changed.ShouldNotBeEmpty();
        ChangeLife
            .Begin(second, "ines", DateTimeOffset.UnixEpoch, changed, TestValues.NoKeys)
            .Refused!.Code.ShouldBe("PLAN-07");
        var again = ChangeLife
            .Recompute(
                second,
                Planner.Plan(after, second.Request, Today).Plan!,
                "ines",
                DateTimeOffset.UnixEpoch,
                null,
                changed
            )
            .Value!;
        again.State.ShouldBe(ChangeState.InReview);
        again.Approval.ShouldBeNull();
        ChangeLife.Changed(again, after).ShouldBeEmpty();
    }

    /// <summary>
    /// Worked to the end as planned, the records become what was rehearsed, with every entry seen by who entered it,
    /// and nothing of the plan is left to be confirmed.
    /// </summary>
    [Fact]
    public void Closing_a_plan_that_was_worked_leaves_the_records_that_it_rehearsed()
    {
        var at = new DateTimeOffset(2026, 11, 24, 22, 0, 0, TimeSpan.Zero);
        foreach (var (request, plan) in Demo.Plans)
        {
            var change = TestValues.Change(request, plan with { Pending = [] }, ChangeState.UnderWay) with
            {
                Attempts =
                [
                    .. plan.Steps.Select(s => new Attempt(s.Key, AttemptOutcome.Done, "tomas", at, null, null)),
                ],
            };
            var (closed, refused) = ChangeLife.Close(change, DemoInventory.All, "tomas", at);
            refused.ShouldBeNull($"{request}: {refused?.Wrong}");
            var (after, built) = (Demo.After(plan), DemoInventory.All.With(closed!.AsBuilt));
            foreach (var id in request.Tunnels)
            {
                var (planned, then) = (
                    new TunnelView(after, after.Get<Tunnel>(id), Today),
                    new TunnelView(built, built.Get<Tunnel>(id), Today)
                );
                foreach (var end in Enum.GetValues<EndName>())
                    Ground
                        .Held(Entries.Of(then.End(end)))
                        .OrderBy(d => d.Key, StringComparer.Ordinal)
                        .ShouldBe(
                            Ground.Held(Entries.Of(planned.End(end))).OrderBy(d => d.Key, StringComparer.Ordinal),
                            $"{request} at {end}"
                        );
            }

            foreach (
                var edit in plan.Edits.Where(e => e.End is { } end && e.At.Path.IsWithin(TunnelPaths.Of(end).Settings))
            )
                if (
                    Edits.Find(RecordBody.Form(built.Get<Tunnel>(edit.At.RecordId)), edit.At.Path) is MapNode map
                    && plan.Steps.Any(s => s.Edits.Contains(plan.Edits.IndexOf(edit)))
                )
                    map.Text("confirmed").ShouldBe("typed 2026-11-24 by tomas", $"{request} {edit.At.Path}");
        }
    }

    /// <summary>
    /// What was set otherwise stands on the end where it was, in the record's own terms, and nowhere else.
    /// </summary>
    [Fact]
    public void A_setting_that_was_set_otherwise_is_recorded_as_it_was_set()
    {
        var tunnel = DemoInventory.Tunnel("QUI-SAL");
        var plan = Planner.Plan(DemoInventory.All, new StrengthenRequest(tunnel.Id, null), Today).Plan!;
        var at = new DateTimeOffset(2026, 11, 24, 22, 0, 0, TimeSpan.Zero);
        var change = TestValues.Change(new StrengthenRequest(tunnel.Id, null), plan, ChangeState.UnderWay);
        var step = plan.Steps.First(s => s.Where == Where.B && s.Enter.Any(v => v.Label == "PFS"));
        ChangeLife
            .Attempt(
                change,
                step.Key,
                new(AttemptOutcome.Done) { Deviation = new("PFS", "perhaps", "x") },
                "ines",
                at,
                TestValues.NoKeys
            )
            .Refused!.Wrong.ToString()
            .ShouldContain("PFS cannot be perhaps");
        foreach (var s in plan.Steps)
            change = ChangeLife
                .Attempt(
                    change,
                    s.Key,
                    TestValues.Proven with
                    {
                        Deviation =
                            s.Where == Where.B && s.Enter.Any(v => v.Label == "PFS")
                                ? new("PFS", "required DH 20", "the device would not take 21")
                                : null,
                    },
                    "ines",
                    at,
                    TestValues.NoKeys
                )
                .Value!;
        change
            .Attempts.Count(t => t.Deviation is not null)
            .ShouldBe(2, "in the stage that adds and in the one that withdraws");
        var built = ChangeLife.Close(change, DemoInventory.All, "ines", at).Value!.AsBuilt.OfType<Tunnel>().Single();
        var view = new TunnelView(DemoInventory.All.With(built), built, Today);
        (view.A.Get(Settings.Pfs).Value!.ToString(), view.B.Get(Settings.Pfs).Value!.ToString()).ShouldBe(
            ("required DH 21", "required DH 20")
        );
        Checks.Run(new(view)).ShouldContain(f => f.RowKey == RowKey.Of(Settings.Pfs));
    }

    [Fact]
    public void Of_two_values_that_are_planned_alike_the_one_that_is_named_was_set_otherwise()
    {
        var at = new DateTimeOffset(2026, 11, 27, 22, 0, 0, TimeSpan.Zero);
        var tunnel = DemoInventory.Tunnel("THR-PLATES-2");
        var form = Edits.Put(
            RecordBody.Form(tunnel),
            TunnelPaths.Agreed.Key("espLifetime"),
            new MapWriter().Add("a", new MapWriter().Add("time", "21600 s").Done()).Done()
        );
        var all = DemoInventory.All.With(RecordBody.Read(RecordKind.Tunnel, tunnel.Id, form).Record!);
        var plan = Planner.Plan(all, new NewTunnelRequest(tunnel.Id), Today).Plan! with { Pending = [] };
        var change = TestValues.Change(new NewTunnelRequest(tunnel.Id), plan, ChangeState.UnderWay);
        var step = plan.Steps.First(s => s.Where == Where.A && s.Enter.Count(v => v.Text == "21,600 s") == 2);
        foreach (var s in plan.Steps)
            change = ChangeLife
                .Attempt(
                    change with
                    {
                        Plan = plan with
                        {
                            Steps =
                            [
                                .. plan.Steps.Select(x =>
                                    x with
                                    {
                                        Enter = [.. x.Enter.Select(v => v with { Waits = null })],
                                    }
                                ),
                            ],
                        },
                    },
                    s.Key,
                    TestValues.Proven with
                    {
                        Deviation = s.Key == step.Key ? new("ESP lifetime", "3600 s", "as at the other end") : null,
                    },
                    "ines",
                    at,
                    TestValues.KeysOf(change)
                )
                .Value!;
        var built = ChangeLife.Close(change, all, "ines", at).Value!.AsBuilt.OfType<Tunnel>().Single();
        var end = new TunnelView(all.With(built), built, Today).A;
        (
            end.Get(Settings.IkeLifetime).Value!.Time.InSeconds,
            end.Get(Settings.EspLifetime).Value!.Time.InSeconds
        ).ShouldBe((21600, 3600));
    }
}

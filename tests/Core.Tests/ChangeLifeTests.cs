using CsCheck;
using Shouldly;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// The life of a change under people who do anything at any time: whatever they try, what was agreed about it holds.
/// </summary>
public class ChangeLifeTests
{
    private static readonly string[] People = ["ines", "tomas", "odile"];

    /// <summary>An act by somebody: which, who, on which step, with what outcome.</summary>
    private sealed record Act(int Which, int Who, int Step, int Outcome);

    private static readonly Gen<Act[]> Acts = Gen.Select(
        Gen.Int[0, 36],
        Gen.Int[0, 2],
        Gen.Int[0, 40],
        Gen.Int[0, 3],
        (a, b, c, d) => new Act(a, b, c, d)
    ).Array[20, 160];

    [Fact]
    public void Whatever_is_tried_the_author_never_approves_and_nothing_half_done_is_done()
    {
        var request = new SubnetsRequest(
            DemoInventory.Tunnel("BRI-PETHER").Id,
            EndName.A,
            [Addressing.Prefix.Parse("10.61.40.0/24").Value],
            []
        );
        var plan = Planner.Plan(DemoInventory.All, request, DemoInventory.Today).Plan!;
        var first = TestValues.Change(request, plan);
        int done = 0,
            approved = 0,
            refused = 0;
        Acts.Sample(
            acts =>
            {
                var change = first;
                var at = new DateTimeOffset(2026, 11, 24, 20, 0, 0, TimeSpan.Zero);
                foreach (var act in acts)
                {
                    at = at.AddMinutes(1);
                    var (next, closed) = Try(change, act, at);
                    if (next.Value is null && closed is null)
                    {
                        // A refusal says what is wrong and what would be right.
                        next.Refused.ShouldNotBeNull();
                        next.Refused!.Wrong.ToString().Length.ShouldBeGreaterThan(10);
                        next.Refused.Right.ToString().ShouldEndWith(".");
                        Interlocked.Increment(ref refused);
                        continue;
                    }

                    var was = change;
                    change = closed?.Change ?? next.Value!;
                    Holds(was, change, closed, plan);
                    _ = change.State switch
                    {
                        ChangeState.Done => Interlocked.Increment(ref done),
                        ChangeState.Approved => Interlocked.Increment(ref approved),
                        _ => 0,
                    };
                }
            },
            iter: 1500
        );
        // The walk got everywhere.
        (done > 20 && approved > 100 && refused > 1000).ShouldBeTrue(
            $"{done} done, {approved} approved, {refused} refused"
        );
    }

    private static (Next<Change>, Closed?) Try(Change c, Act act, DateTimeOffset at)
    {
        var who = People[act.Who];
        // Every other random step is the one at hand, so that some walks come to an end.
        var open = c.Plan.Steps.FirstOrDefault(s => c.LastAttempt(s.Key) is null or { Outcome: AttemptOutcome.Failed });
        var step =
            (act.Step % 2 == 0 || act.Which > 15) && open is not null
                ? open
                : c.Plan.Steps[act.Step % c.Plan.Steps.Length];
        switch (act.Which)
        {
            case 0:
                return (ChangeLife.Submit(c, who, at, []), null);
            case 1:
                return (ChangeLife.Approve(c, who, at, null, []), null);
            case 2:
                return (
                    ChangeLife.Return(c, who, at, "look again", act.Outcome == 0 ? "no such step" : step.Key),
                    null
                );
            case 3:
                return (ChangeLife.Begin(c, who, at, [], TestValues.NoKeys), null);
            case 4:
                return (
                    GivenUp(ChangeLife.BackOut(c, DemoInventory.All, who, at, act.Outcome == 0 ? " " : "it refused")),
                    null
                );
            case 5 when act.Step == 0:
                return (GivenUp(ChangeLife.Drop(c, DemoInventory.All, who, at, null)), null);
            case 6 when act.Step % 2 == 0:
                return (
                    ChangeLife.AskUrgently(c, who, at, People[act.Step % 3], act.Outcome == 0 ? "" : "it burns"),
                    null
                );
            case 6:
                return (ChangeLife.ConfirmUrgently(c, who, at, null, at.AddHours(24), [], TestValues.NoKeys), null);
            case 7:
                return (ChangeLife.ReviewAfter(c, who, at, null), null);
            case 8:
                return (ChangeLife.Remarked(c, who, at, "a remark", step.Key), null);
            case 9:
                var (closed, no) = ChangeLife.Close(c, DemoInventory.All, who, at);
                return closed is null ? (new(null, no), null) : (new(null, null), closed);
            default:
                var outcome = (AttemptOutcome)Math.Min(act.Outcome, 2);
                if (act.Which > 13 && c.State == ChangeState.UnderWay)
                    outcome = AttemptOutcome.Done;
                return (
                    ChangeLife.Attempt(
                        c,
                        step.Key,
                        new(outcome)
                        {
                            Remark = outcome == AttemptOutcome.Done || act.Step % 3 > 0 ? "confirmed" : null,
                            Proof = "5 replies",
                        },
                        who,
                        at,
                        TestValues.NoKeys
                    ),
                    null
                );
        }
    }

    private static Next<Change> GivenUp(Next<Closed> ended) => new(ended.Value?.Change, ended.Refused);

    private static void Holds(Change was, Change now, Closed? closed, Plan plan)
    {
        (now.Approval?.By).ShouldNotBe(now.Author);
        (now.Urgent is { } u && (u.Reviewer == now.Author || u.ReviewedBy == now.Author)).ShouldBeFalse();
        // Urgent work begins by the act of the person who was asked, never of the one who asked.
        if (was.State != ChangeState.UnderWay && now.Urgent is not null && was.Urgent is null)
            (
                now.StatusHistory[^1].By,
                was.UrgentAsked!.Reviewer,
                was.UrgentAsked.By == now.StatusHistory[^1].By
            ).ShouldBe((now.Urgent.Reviewer, now.Urgent.Reviewer, false));
        // Nothing said or recorded is ever lost, and what happened is told in order.
        now.Attempts.Take(was.Attempts.Length).ShouldBe(was.Attempts);
        now.Remarks.Take(was.Remarks.Length).ShouldBe(was.Remarks);
        now.StatusHistory.Take(was.StatusHistory.Length).ShouldBe(was.StatusHistory);
        now.StatusHistory[^1].To.ShouldBe(now.State);
        if (now.State == ChangeState.Approved)
            now.Approval.ShouldNotBeNull();
        if (now.State == ChangeState.UnderWay)
            (now.Approval is not null || now.Urgent is not null).ShouldBeTrue("nothing begins unseen");
        if (was.State is not ChangeState.UnderWay)
            now.Attempts.Length.ShouldBe(was.Attempts.Length, "only what is under way is worked on");
        if (!was.Open && now.State != was.State)
            throw new ShouldAssertException($"{was.State} became {now.State}");
        foreach (var attempt in now.Attempts.Where(t => t.Outcome != AttemptOutcome.Done))
            attempt.Remark.ShouldNotBeNull("what was skipped or failed says why");
        // What a step needs was settled before it was done.
        foreach (
            var (attempt, i) in now.Attempts.Select((t, i) => (t, i)).Where(t => t.t.Outcome == AttemptOutcome.Done)
        )
        foreach (var need in plan.Steps.First(s => s.Key == attempt.StepKey).Needs)
            now.Attempts.Take(i)
                .LastOrDefault(t => t.StepKey == need)
                ?.Outcome.ShouldBeOneOf(AttemptOutcome.Done, AttemptOutcome.Skipped);
        if (now.State != ChangeState.Done)
        {
            closed.ShouldBeNull();
            return;
        }

        if (closed is null)
            return;
        now.Settled.ShouldBe(plan.Steps.Length);
        // Only what was done is recorded: a step that was skipped left its end as it was.
        var built = closed.AsBuilt.OfType<Tunnel>().SingleOrDefault();
        foreach (var edit in plan.Edits.Where(e => e.At.Kind == RecordKind.Tunnel && built is not null))
        {
            var step = plan.Steps.FirstOrDefault(s => s.Edits.Contains(plan.Edits.IndexOf(edit)));
            if (step is null)
                continue;
            var stands = Forms.Node.Same(Edits.Find(Storage.Bodies.RecordBody.Form(built!), edit.At.Path), edit.After);
            (
                stands
                || now.LastAttempt(step.Key)!.Outcome == AttemptOutcome.Skipped
                || edit.At.Path.Steps[^1].Name == "confirmed"
            ).ShouldBeTrue($"{edit.At.Path} by {step.Key}");
            if (now.LastAttempt(step.Key)!.Outcome == AttemptOutcome.Skipped)
                Forms
                    .Node.Same(Edits.Find(Storage.Bodies.RecordBody.Form(built!), edit.At.Path), edit.Before)
                    .ShouldBeTrue($"{edit.At.Path} was skipped");
        }
    }
}

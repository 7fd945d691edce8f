using Shouldly;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// A pending value that becomes known: the plan takes it up, and nothing that was said or worked is lost.
/// </summary>
public class FillTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 24, 22, 0, 0, TimeSpan.Zero);

    private static readonly NewTunnelRequest Request = new(DemoInventory.Tunnel("THR-PLATES-2").Id);

    private static Change Waiting(ChangeState state) => TestValues.Change(Request, state);

    private static PendingValue Pending(Change change) => change.Plan.Pending.ShouldHaveSingleItem();

    /// <summary>The plan with the outer address of the second hosted gateway known.</summary>
    private static Plan Known(Change change)
    {
        var gateway = DemoInventory.All.ByCode<Gateway>("plates-gw2")!;
        var address = UplinkAddress.Parse("203.0.113.171").Value!;
        var filled = gateway with
        {
            Uplinks = [gateway.Uplinks[0] with { Address = Recorded<UplinkAddress>.Known(address) }],
        };
        Pending(change).At.At.RecordId.ShouldBe(gateway.Id);
        return Planner.Plan(DemoInventory.All.With(filled), Request, DemoInventory.Today).Plan!;
    }

    private static Next<Change> FillIn(Change change) =>
        ChangeLife.Fill(
            change,
            Known(change),
            new(1, Pending(change).At, null),
            new TextNode("pending"),
            "203.0.113.171",
            "ines",
            Now
        );

    private static Change Filled(Change change) =>
        ChangeLife
            .Fill(
                change,
                Known(change),
                new(1, Pending(change).At, null),
                new TextNode("pending"),
                "203.0.113.171",
                "ines",
                Now
            )
            .Value!;

    [Theory]
    [InlineData(ChangeState.Draft)]
    [InlineData(ChangeState.InReview)]
    [InlineData(ChangeState.Approved)]
    [InlineData(ChangeState.UnderWay)]
    public void The_state_and_approval_stay_and_nothing_is_pending(ChangeState state)
    {
        var was = Waiting(state) with { Approval = state == ChangeState.Approved ? new("tomas", Now) : null };
        var now = Filled(was);
        (now.State, now.Approval, now.Plan.Pending.Length).ShouldBe((state, was.Approval, 0));
        now.StatusHistory.ShouldBe(was.StatusHistory);
    }

    [Theory]
    [InlineData(ChangeState.Done)]
    [InlineData(ChangeState.Dropped)]
    [InlineData(ChangeState.BackedOut)]
    public void What_is_over_is_filled_in_no_more(ChangeState state)
    {
        var change = Waiting(state);
        var next = FillIn(change);
        next.Value.ShouldBeNull();
        next.Refused!.Wrong.ToString().ShouldContain("cannot be filled in");
    }

    [Fact]
    public void The_step_that_asked_for_it_is_ticked_with_the_value_and_by_whom()
    {
        var was = Waiting(ChangeState.UnderWay);
        var asked = was.Plan.Steps.Single(s => s.Fills == Pending(was).At.At);
        var now = Filled(was);
        var attempt = now.LastAttempt(asked.Key).ShouldNotBeNull();
        (attempt.Outcome, attempt.By, attempt.At).ShouldBe((AttemptOutcome.Done, "ines", Now));
        attempt.Remark!.ShouldContain("203.0.113.171");
        now.Plan.Steps.ShouldContain(s => s.Key == asked.Key);
    }

    [Fact]
    public void What_was_worked_stays_as_it_was_said_then_and_keeps_its_number()
    {
        var was = Waiting(ChangeState.UnderWay);
        var worked = was
            .Plan.Steps.Where(s => s.Kind != StepKind.FillIn && s.Enter.All(v => v.Waits is null))
            .Take(3)
            .Aggregate(was, (c, s) =>
                c with
                {
                    Attempts = c.Attempts.Add(new(s.Key, AttemptOutcome.Done, "ines", Now, null, null)),
                }
            );
        var now = Filled(worked);
        foreach (var attempt in worked.Attempts)
        {
            var (then, after) = (worked.Plan.StepOf(attempt.StepKey)!, now.Plan.StepOf(attempt.StepKey)!);
            after.Do.ToString().ShouldBe(then.Do.ToString());
            after.Enter.Select(v => v.Text).ShouldBe(then.Enter.Select(v => v.Text));
            now.Plan.NumberOf(attempt.StepKey).ShouldBe(worked.Plan.NumberOf(attempt.StepKey), attempt.StepKey);
        }

        now.Attempts.Take(worked.Attempts.Length).ShouldBe(worked.Attempts);
    }

    [Fact]
    public void The_step_that_waited_enters_the_value_now()
    {
        var was = Waiting(ChangeState.UnderWay);
        var waited = was.Plan.Steps.Where(s => s.Enter.Any(v => v.Waits is not null)).ToArray();
        waited.ShouldNotBeEmpty();
        var now = Filled(was);
        foreach (var step in waited)
        {
            var after = now.Plan.StepOf(step.Key).ShouldNotBeNull(step.Key);
            after.Enter.ShouldAllBe(v => v.Waits == null);
            after.Enter.ShouldContain(v => v.Text.Contains("203.0.113.171", StringComparison.Ordinal));
        }
    }

    [Fact]
    public void Under_way_no_preparation_is_added_that_nobody_has_seen()
    {
        var was = Waiting(ChangeState.UnderWay);
        var known = was.Plan.Steps.Select(s => s.Key).ToHashSet();
        Filled(was)
            .Plan.Steps.Where(s => s.Part is Part.Prepare or Part.Safeguard)
            .ShouldAllBe(s => known.Contains(s.Key));
    }

    [Fact]
    public void A_filled_value_keeps_its_number_is_corrected_and_opens_the_steps_that_entered_it()
    {
        var filled = Filled(Waiting(ChangeState.UnderWay));
        var known = ChangeLife.ValueOf(filled, 1).ShouldNotBeNull();
        known.Corrected!.Value.ShouldBe("203.0.113.171");
        var entered = filled.Plan.Steps.First(s => s.Enter.Any(v => v.Text == "203.0.113.171"));
        filled = filled with
        {
            Attempts = filled.Attempts.Add(new(entered.Key, AttemptOutcome.Done, "ines", Now, null, null)),
        };
        var corrected = ChangeLife
            .Fill(filled, Known(Waiting(ChangeState.UnderWay)), known, null, "203.0.113.172", "tomas", Now)
            .Value!;
        corrected.Filled.ShouldHaveSingleItem().Value.ShouldBe("203.0.113.172");
        corrected.LastAttempt(entered.Key)!.Outcome.ShouldBe(AttemptOutcome.Failed);
        // A number that was given goes to no other value.
        var renumbered = filled.Plan.Numbered((filled.Filled[0].At.At, 1)) with { };
        renumbered.Pending.ShouldAllBe(p => p.Number != 1);
    }

    [Fact]
    public void Backing_out_takes_back_what_filling_wrote_and_says_what_stays()
    {
        var gateway = DemoInventory.All.ByCode<Gateway>("plates-gw2")!;
        Inventory With(string address) =>
            DemoInventory.All.With(
                gateway with
                {
                    Uplinks =
                    [
                        gateway.Uplinks[0] with
                        {
                            Address = Recorded<UplinkAddress>.Known(UplinkAddress.Parse(address).Value!),
                        },
                    ],
                }
            );
        var was = Edits.Find(
            Storage.Bodies.RecordBody.Form(gateway),
            Pending(Waiting(ChangeState.UnderWay)).At.At.Path
        );
        var filled = Filled(Waiting(ChangeState.UnderWay));
        filled = filled with { Filled = [filled.Filled[0] with { Was = was }] };
        var ended = ChangeLife.BackOut(filled, With("203.0.113.171"), "ines", Now, "it failed").Value!;
        ended
            .AsBuilt.OfType<Gateway>()
            .Single()
            .Uplinks[0]
            .Address.Pending.ShouldBe(gateway.Uplinks[0].Address.Pending);
        ended.Change.Filled.ShouldBeEmpty();
        var stays = ChangeLife.BackOut(filled, With("203.0.113.199"), "ines", Now, "it failed").Value!;
        (stays.AsBuilt.Length, stays.Change.Filled.Length).ShouldBe((0, 1));
    }
}

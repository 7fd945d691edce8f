using Shouldly;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// The one table of what can be done to a change: from which states, to which, by whom and under which guards. What the
/// core does is held against it, act by act and state by state.
/// </summary>
public class ChangeActsTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 24, 22, 0, 0, TimeSpan.Zero);

    private static readonly Change Draft = TestValues.Change(
        new RekeyRequest([DemoInventory.Tunnel("BRI-ASHLOW").Id]),
        id: "bri-0001"
    );

    private static readonly RestsOn[] Changed = [Draft.Plan.RestsOn[0]];

    /// <summary>What each act may be done from, word for word as changes.md has it.</summary>
    public static TheoryData<ChangeAct, string, Role, string> Table() =>
        new()
        {
            { ChangeAct.Submit, "draft", Role.Engineer, "in review" },
            { ChangeAct.Approve, "in review", Role.Reviewer, "approved" },
            { ChangeAct.Return, "in review", Role.Reviewer, "draft" },
            { ChangeAct.Begin, "approved", Role.Engineer, "under way" },
            { ChangeAct.Step, "under way", Role.Engineer, "" },
            { ChangeAct.Close, "under way", Role.Engineer, "done" },
            { ChangeAct.BackOut, "under way", Role.Engineer, "backed out" },
            { ChangeAct.Recompute, "draft, in review, approved", Role.Engineer, "" },
            { ChangeAct.Window, "draft, in review, approved, under way", Role.Engineer, "" },
            { ChangeAct.Fill, "draft, in review, approved, under way", Role.Engineer, "" },
            { ChangeAct.Urgent, "draft, in review", Role.Engineer, "" },
            { ChangeAct.ConfirmUrgent, "draft, in review", Role.Reviewer, "under way" },
            { ChangeAct.Drop, "draft, in review, approved", Role.Engineer, "dropped" },
        };

    [Theory]
    [MemberData(nameof(Table))]
    public void An_act_is_done_from_its_states_by_its_role_and_from_no_other(
        ChangeAct act,
        string from,
        Role role,
        string to
    )
    {
        var rule = ChangeActs.Of(act);
        rule.Roles.ShouldBe([role]);
        (rule.To is { } state ? Change.States.Of(state) : "").ShouldBe(to);
        foreach (var at in Enum.GetValues<ChangeState>())
        {
            var may = from.Split(", ").Contains(Change.States.Of(at));
            rule.From.Contains(at).ShouldBe(may, $"{act} from {at}");
            if (may)
                continue;
            var stopped = ChangeActs.Stops(act, Draft with { State = at }, "tomas", [])!;
            stopped.Short.ShouldBe($"BRI-0001 is {Change.States.Of(at)}");
            stopped.Why.Wrong.ToString().ShouldContain($"cannot be {rule.Done}");
            stopped.Why.Right.ToString().ShouldContain(from.Replace(", ", " or "));
        }
    }

    [Fact]
    public void Every_act_has_one_rule_and_a_word_of_its_own()
    {
        ChangeActs.All.Select(r => r.Act).ShouldBe(Enum.GetValues<ChangeAct>(), ignoreOrder: true);
        ChangeActs.All.Select(r => r.Word).ShouldBeUnique();
        ChangeActs.All.Where(r => r.Act != ChangeAct.Remark).ShouldAllBe(r => r.Roles.Length == 1);
        ChangeActs.Of(ChangeAct.Remark).Roles.ShouldBe([Role.Engineer, Role.Reviewer]);
        foreach (var state in Enum.GetValues<ChangeState>())
            ChangeActs.Stops(ChangeAct.Remark, Draft with { State = state }, "bram", Changed).ShouldBeNull();
    }

    [Theory]
    [InlineData(ChangeAct.Submit, ChangeState.Draft)]
    [InlineData(ChangeAct.Approve, ChangeState.InReview)]
    [InlineData(ChangeAct.Begin, ChangeState.Approved)]
    public void Nothing_goes_on_from_ground_that_has_moved(ChangeAct act, ChangeState from)
    {
        var change = Draft with { State = from };
        ChangeActs.Stops(act, change, "tomas", []).ShouldBeNull();
        var stopped = ChangeActs.Stops(act, change, "tomas", Changed)!;
        stopped.Why.Code.ShouldBe("PLAN-07");
        stopped.Why.Wrong.ToString().ShouldContain(Changed[0].At.Path.ToString());
    }

    [Fact]
    public void A_plan_is_made_anew_only_when_what_it_rests_on_has_moved()
    {
        ChangeActs.Stops(ChangeAct.Recompute, Draft, "ines", [])!.Short.ShouldBe("no record has changed");
        ChangeLife.Recompute(Draft, Draft.Plan, "ines", Now, null, []).Refused.ShouldNotBeNull();
        ChangeLife
            .Recompute(Draft with { State = ChangeState.Approved }, Draft.Plan, "ines", Now, null, Changed)
            .Value!.State.ShouldBe(ChangeState.InReview);
        ChangeLife.Recompute(Draft, Draft.Plan, "ines", Now, null, Changed).Value!.State.ShouldBe(ChangeState.Draft);
    }

    [Theory]
    [InlineData(ChangeAct.Submit, ChangeState.Draft)]
    [InlineData(ChangeAct.Approve, ChangeState.InReview)]
    [InlineData(ChangeAct.Urgent, ChangeState.Draft)]
    public void A_plan_that_adds_what_blocks_goes_nowhere(ChangeAct act, ChangeState from)
    {
        var blocks = new FindingOn(
            Draft.Request.Tunnels[0],
            "BRI-ASHLOW",
            new()
            {
                Code = "PAIR-06",
                Severity = Severity.Blocks,
                What = $"a pair is missing",
                Why = $"w",
                Do = $"Add it.",
            }
        );
        var change = Draft with { State = from, Plan = Draft.Plan with { Added = [blocks] } };
        var stopped = ChangeActs.Stops(act, change, "tomas", [])!;
        (stopped.Short, stopped.Why.Code).ShouldBe(("it adds PAIR-06 on BRI-ASHLOW, which blocks", "PLAN-03"));
        stopped.Why.Right.ToString().ShouldBe("Add it.");
        var degrades = blocks with { Finding = blocks.Finding with { Severity = Severity.Degrades } };
        ChangeActs
            .Stops(act, change with { Plan = change.Plan with { Added = [degrades] } }, "tomas", [])
            .ShouldBeNull();
    }

    [Fact]
    public void The_author_neither_approves_nor_lets_urgent_work_begin_nor_reviews_it()
    {
        var review = Draft with { State = ChangeState.InReview, UrgentAsked = new("tomas", "ines", "w", Now) };
        var owed = Draft with { State = ChangeState.Done, Urgent = new("tomas", "w", Now) };
        ChangeActs.Stops(ChangeAct.Approve, review, "ines", [])!.Short.ShouldBe("the author cannot approve");
        ChangeActs.Stops(ChangeAct.ConfirmUrgent, review, "ines", [])!.Short.ShouldBe("the author cannot approve");
        ChangeActs.Stops(ChangeAct.ReviewAfter, owed, "ines", [])!.Short.ShouldBe("the author cannot approve");
        ChangeActs.Stops(ChangeAct.Approve, review, "tomas", []).ShouldBeNull();
        ChangeActs.Stops(ChangeAct.ReviewAfter, owed, "tomas", []).ShouldBeNull();
    }

    [Fact]
    public void Urgent_work_begins_for_whoever_was_asked_and_nobody_else()
    {
        ChangeActs.Stops(ChangeAct.ConfirmUrgent, Draft, "tomas", [])!.Short.ShouldBe("not asked for");
        var asked = ChangeLife.AskUrgently(Draft, "ines", Now, "odile", "the plant stands").Value!;
        ChangeActs.Stops(ChangeAct.ConfirmUrgent, asked, "tomas", [])!.Short.ShouldBe("odile was asked");
        ChangeActs.Stops(ChangeAct.ConfirmUrgent, asked, "odile", []).ShouldBeNull();
        ChangeActs.Stops(ChangeAct.ConfirmUrgent, asked, "odile", Changed)!.Why.Code.ShouldBe("PLAN-07");
    }

    [Fact]
    public void A_change_closes_when_every_step_is_settled_and_says_which_are_not()
    {
        var change = Draft with { State = ChangeState.UnderWay };
        var steps = change.Plan.Steps;
        ChangeActs.Stops(ChangeAct.Close, change, "ines", [])!.Short.ShouldBe($"{steps.Length} steps open");
        Attempt Attempted(Step step, AttemptOutcome outcome) => new(step.Key, outcome, "ines", Now, "r", null);
        var all = change with
        {
            Attempts = [.. steps.Select((s, i) => Attempted(s, i == 0 ? AttemptOutcome.Skipped : AttemptOutcome.Done))],
        };
        ChangeActs.Stops(ChangeAct.Close, all, "ines", []).ShouldBeNull();
        var failed = all with { Attempts = all.Attempts.Add(Attempted(steps[2], AttemptOutcome.Failed)) };
        var stopped = ChangeActs.Stops(ChangeAct.Close, failed, "ines", [])!;
        (stopped.Short, stopped.Why.Wrong.ToString()).ShouldBe(
            ("1 step open", "BRI-0001 cannot close: step 3 (failed) is open.")
        );
    }

    [Fact]
    public void Only_a_pending_value_can_be_filled_in_and_work_waits_for_one_that_no_step_waits_for()
    {
        ChangeActs.Stops(ChangeAct.Fill, Draft, "ines", [])!.Short.ShouldBe("nothing is pending");
        var at = new PendingAt(Draft.Plan.RestsOn[0].At, "outer address", "the harbour office", null);
        Change With(params string[] steps) =>
            Draft with
            {
                Plan = Draft.Plan with { Pending = [new(at, [.. steps])] },
                UrgentAsked = new("ines", "tomas", "w", Now),
            };
        ChangeActs.Stops(ChangeAct.Fill, With(), "ines", []).ShouldBeNull();
        ChangeActs.Stops(ChangeAct.ConfirmUrgent, With(), "tomas", [])!.Why.Code.ShouldBe("PLAN-04");
        ChangeActs.Stops(ChangeAct.ConfirmUrgent, With("a step"), "tomas", []).ShouldBeNull();
    }
}

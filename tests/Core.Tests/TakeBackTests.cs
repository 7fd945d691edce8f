using Shouldly;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>A tick that was a slip is taken back for ten minutes, and the record keeps both.</summary>
public class TakeBackTests
{
    private static readonly DateTimeOffset At = new(2026, 11, 24, 22, 0, 0, TimeSpan.Zero);

    private static readonly Change Begun = TestValues.Change(
        new RekeyRequest([DemoInventory.Tunnel("LAR-LOAN").Id]),
        ChangeState.UnderWay
    );

    private static Change Done(Change c, params Step[] steps) =>
        steps.Aggregate(c, (all, s) =>
            ChangeLife.Attempt(all, s.Key, TestValues.Proven, "ines", At, TestValues.KeysOf(c)).Value!
        );

    private static Step[] Before(Part part) => [.. Begun.Plan.Steps.Where(s => s.Part < part)];

    [Fact]
    public void What_is_taken_back_stays_in_the_record_and_no_longer_counts()
    {
        var step = Before(Part.Build).First(s => s.Kind != StepKind.MakeKey);
        var done = Done(Begun, step);
        var back = ChangeLife.TakeBack(done, step.Key, "tomas", At.AddMinutes(10)).Value.ShouldNotBeNull();
        back.IsSettled(step).ShouldBeFalse();
        back.Attempts.Single().TakenBack.ShouldBe(new("tomas", At.AddMinutes(10)));
        back.Settled.ShouldBe(0);
        // It is done again, and the change is as planned: the slip was none of the work.
        Done(back, [.. Begun.Plan.Steps]).WorkedAsPlanned.ShouldBeTrue();
        // There is nothing left to take back twice.
        ChangeLife.TakeBack(back, step.Key, "ines", At).Refused!.Wrong.ToString().ShouldContain("no attempt");
    }

    [Theory]
    [InlineData(10, true)]
    [InlineData(11, false)]
    public void It_is_taken_back_within_ten_minutes(int minutes, bool can)
    {
        var step = Before(Part.Build).First(s => s.Kind != StepKind.MakeKey);
        var done = Done(Begun, step);
        var at = At.AddMinutes(minutes);
        (ChangeLife.TakeBack(done, step.Key, "ines", at).Refused is null).ShouldBe(can);
        ChangeLife.CanBeTakenBackUntil(done, step, at).ShouldBe(can ? At.AddMinutes(10) : null);
    }

    [Fact]
    public void What_others_were_worked_after_is_taken_back_last()
    {
        var steps = Before(Part.Prove);
        var done = Done(Begun, steps);
        var (early, last) = (steps.First(s => s.Kind != StepKind.MakeKey), steps[^1]);
        ChangeLife.TakeBack(done, early.Key, "ines", At).Refused!.Right.ToString().ShouldContain("back first");
        ChangeLife.TakeBack(done, last.Key, "ines", At).Refused.ShouldBeNull();
    }

    [Fact]
    public void What_the_service_saw_for_itself_and_a_change_that_is_closed_are_not_taken_back()
    {
        var make = Begun.Plan.Steps.Single(s => s.Kind == StepKind.MakeKey);
        ChangeLife
            .TakeBack(Done(Begun, make), make.Key, "ines", At)
            .Refused!.Wrong.ToString()
            .ShouldContain("saw for itself");
        var closed = Done(Begun, [.. Begun.Plan.Steps]) with { State = ChangeState.Done };
        ChangeLife.TakeBack(closed, make.Key, "ines", At).Refused!.Wrong.ToString().ShouldContain("is done");
    }
}

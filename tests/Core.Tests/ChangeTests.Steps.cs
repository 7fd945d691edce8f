using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Storage.Bodies;
using Xunit;

namespace Vellumkeep.Core.Tests;

public partial class ChangeTests
{
    [Fact]
    public void A_skip_needs_a_reason_a_failure_what_happened_and_an_activation_its_entries()
    {
        var change = Draft() with { State = ChangeState.UnderWay };
        ChangeLife
            .Attempt(
                change,
                "save-churn-gw1",
                new(AttemptOutcome.Skipped) { Remark = " " },
                "ines",
                Now,
                TestValues.NoKeys
            )
            .Refused!.Right.ToString()
            .ShouldBe("Enter why it is skipped.");
        ChangeLife
            .Attempt(change, "save-churn-gw1", new(AttemptOutcome.Failed), "ines", Now, TestValues.NoKeys)
            .Refused!.Right.ToString()
            .ShouldBe("Enter what happened.");
        ChangeLife
            .Attempt(change, "activate-churn-gw1", new(AttemptOutcome.Done), "ines", Now, TestValues.NoKeys)
            .Refused!.Wrong.ToString()
            .ShouldContain("needs step 1 first");
        ChangeLife
            .Attempt(
                change,
                "subnets-remote-b-BRI-ASHLOW",
                new(AttemptOutcome.Done) { Deviation = new("10.61.40.0/24", "10.61.40.9/25", "because") },
                "ines",
                Now,
                TestValues.NoKeys
            )
            .Refused!.Code.ShouldBe("ADR-01");
    }

    [Fact]
    public void A_step_waits_for_what_it_needs_and_proof_is_given_or_waived()
    {
        var change = TestValues.Change(new RekeyRequest([DemoInventory.Tunnel("LAR-LOAN").Id]), ChangeState.UnderWay);
        Next<Change> Try(Change c, Step step, StepTold told, IReadOnlySet<VersionOfKey> made) =>
            ChangeLife.Attempt(c, step.Key, told, "ines", Now, made);
        var (make, enter, prove) = (
            change.Plan.Steps.Single(s => s.Kind == StepKind.MakeKey),
            change.Plan.Steps.First(s => s.Kind == StepKind.Enter),
            change.Plan.Steps.First(s => s.Proves)
        );
        var keys = TestValues.KeysOf(change);
        // A key that nobody made is neither ticked nor entered.
        foreach (var step in new[] { make, enter })
            Try(change, step, TestValues.Proven, TestValues.NoKeys)
                .Refused!.Wrong.ToString()
                .ShouldContain("nobody has made");
        // One part after the other.
        Try(change, enter, TestValues.Proven, keys).Refused!.Wrong.ToString().ShouldContain("needs step 1 first");
        Try(change, prove, TestValues.Proven, keys).Refused!.Wrong.ToString().ShouldContain("needs step");
        foreach (var step in change.Plan.Steps.Where(s => s.Part < Part.Prove))
            change = Try(change, step, new(AttemptOutcome.Done), keys).Value.ShouldNotBeNull();
        Try(change, prove, new(AttemptOutcome.Done), keys).Refused!.Wrong.ToString().ShouldContain("has no proof");
        Try(change, prove, new(AttemptOutcome.Done) { WithoutProof = " " }, keys).Refused.ShouldNotBeNull();
        var waived = Try(
            change,
            prove,
            new(AttemptOutcome.Done) { WithoutProof = "no host answers at night" },
            keys
        ).Value!;
        waived.Attempts[^1].WithoutProof.ShouldBe("no host answers at night");
        foreach (var step in change.Plan.Steps.Where(s => s.Part >= Part.Prove))
        {
            change = Try(change, step, TestValues.Proven, keys).Value.ShouldNotBeNull();
            if (step != prove)
                waived = Try(waived, step, TestValues.Proven, keys).Value.ShouldNotBeNull();
        }

        (change.WorkedAsPlanned, waived.WorkedAsPlanned).ShouldBe((true, false));
        // What was made is seen without anybody's word.
        var begun = TestValues.Change(change.Request, ChangeState.Approved);
        ChangeLife.Begin(begun, "ines", Now, [], keys).Value!.IsDone(make).ShouldBeTrue();
        ChangeLife.Begin(begun, "ines", Now, [], TestValues.NoKeys).Value!.IsDone(make).ShouldBeFalse();
    }
}

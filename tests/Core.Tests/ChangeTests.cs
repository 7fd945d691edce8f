using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Storage.Bodies;
using Xunit;

namespace Vellumkeep.Core.Tests;

public partial class ChangeTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 24, 22, 0, 0, TimeSpan.Zero);

    /// <summary>
    /// One request for each kind of end in the demo: list held by others, list of its own, pairs, nothing recorded,
    /// route-based.
    /// </summary>
    public static TheoryData<string, EndName, string> Requests() =>
        new()
        {
            { "BRI-ASHLOW", EndName.A, "10.61.40.0/24" },
            { "BRI-DEPOT", EndName.B, "10.62.21.0/24" },
            { "TID-PUMP", EndName.B, "10.41.1.0/24" },
            { "QUI-BRI", EndName.A, "10.250.8.0/24" },
            { "SAL-SPIT", EndName.A, "10.70.9.0/24" },
            { "SAL-DUNLIN", EndName.B, "10.80.5.0/24" },
        };

    [Theory]
    [MemberData(nameof(Requests))]
    public void Edits_lead_to_the_after_state_and_taken_back_lead_exactly_to_the_before_state(
        string tunnel,
        EndName end,
        string add
    )
    {
        var plan = DemoInventory.Plan(tunnel, end, add);
        foreach (var group in plan.Edits.GroupBy(e => e.At.RecordId))
        {
            var before = Form(group.Key);
            var after = before.With(group);
            Node.Same(before, after).ShouldBeFalse();
            Node.Same(after.With(group.Reverse().Select(e => e with { Before = e.After, After = e.Before })), before)
                .ShouldBeTrue();
        }

        plan.Steps.Where(s => s.Part is Part.Build or Part.Switch).ShouldAllBe(s => s.Undo != null);
    }

    [Theory]
    [MemberData(nameof(Requests))]
    public void Every_new_pair_is_mirrored_and_proved_both_ways_and_the_same_request_gives_the_same_plan_byte_for_byte(
        string tunnel,
        EndName end,
        string add
    )
    {
        var plan = DemoInventory.Plan(tunnel, end, add);
        plan.Added.ShouldNotContain(f => f.Finding.Code == "PAIR-06");
        plan.NewPairs.ShouldAllBe(p =>
            plan.Steps.Count(s => s.Part == Part.Prove && s.Key.Contains($"{p.A}-{p.B}")) == 2
        );
        plan.Steps.Select(s => s.Key).ShouldBeUnique();
        foreach (var i in Enumerable.Range(0, plan.Edits.Length).Where(i => plan.Edits[i].End is not null))
            plan.Steps.ShouldContain(
                s => s.Edits.Contains(i) && s.Where.ToString() == plan.Edits[i].End.ToString(),
                plan.Edits[i].ToString()
            );
        Bytes(DemoInventory.Plan(tunnel, end, add)).ShouldBe(Bytes(plan));
    }

    [Fact]
    public void Platforms_that_need_different_work_get_different_steps()
    {
        var keys = DemoInventory
            .Plan("BRI-ASHLOW", EndName.A, "10.61.40.0/24")
            .Steps.Select(s =>
                s.Key.Split('-')[0]
                + "-"
                + (
                    s.Where == Where.A ? "a"
                    : s.Where == Where.B ? "b"
                    : "us"
                )
            )
            .ToHashSet();
        new[] { "copy-a", "use-a", "activate-a", "rule-b", "no-b", "subnets-b" }.ShouldBeSubsetOf(keys);
        keys.ShouldNotContain("rule-a");
        keys.ShouldNotContain("activate-b");
        var routed = DemoInventory
            .Plan("QUI-BRI", EndName.A, "10.250.8.0/24")
            .Steps.Where(s => s.Where == Where.B)
            .Select(s => s.Key.Split('-')[0])
            .ToArray();
        // The discard route comes before the selectors, and the route that draws traffic in comes after.
        Array.IndexOf(routed, "discard").ShouldBeLessThan(Array.IndexOf(routed, "subnets"));
        Array.IndexOf(routed, "subnets").ShouldBeLessThan(Array.IndexOf(routed, "route"));
        DemoInventory
            .Plan("BRI-ASHLOW", EndName.A, "10.61.40.0/24")
            .Steps.Single(s => s.Key == "subnets-remote-b-BRI-ASHLOW")
            .Stops!.ToString()
            .ShouldBe("BRI-ASHLOW restarts, 20 seconds: subnets changed at B.");
    }

    [Theory]
    [InlineData("BRI-ASHLOW", EndName.A, "10.61.0.0/24", null, "already reaches")]
    [InlineData("BRI-ASHLOW", EndName.A, "10.61.8.0/24", "ADR-08", "overlaps 10.61.8.0/22")]
    [InlineData("BRI-ASHLOW", EndName.A, "10.62.4.0/25", "ADR-04", "would overlap 10.62.4.0/24")]
    [InlineData("BRI-ASHLOW", EndName.B, "10.61.40.0/24", "ADR-02", "already behind A")]
    [InlineData("BRI-ASHLOW", EndName.B, "10.62.8.0/25", "ADR-03", "overlaps 10.62.8.0/24 of BRI-PETHER")]
    [InlineData("BRI-ASHLOW", EndName.A, "2001:db8:61::/48", null, "no prefix of that family")]
    public void An_overlap_is_refused_with_the_reason(
        string tunnel,
        EndName end,
        string add,
        string? code,
        string reason
    )
    {
        var planned = Planner.Plan(
            DemoInventory.All,
            new SubnetsRequest(DemoInventory.Tunnel(tunnel).Id, end, [Prefix.Parse(add).Value], []),
            DemoInventory.Today
        );
        planned.Plan.ShouldBeNull();
        planned.Refused.ShouldContain(
            r => r.Code == code && r.Wrong.ToString().Contains(reason),
            string.Join("\n", planned.Refused.Select(r => $"{r.Code} {r.Wrong}"))
        );
    }

    [Fact]
    public void The_author_never_approves_and_nothing_skips_a_state()
    {
        var draft = Draft();
        ChangeLife
            .Approve(draft, "tomas", Now, null, [])
            .Refused!.Wrong.ToString()
            .ShouldContain("is draft and cannot be approved");
        var review = ChangeLife.Submit(draft, "ines", Now, []).Value!;
        ChangeLife
            .Approve(review, "ines", Now, null, [])
            .Refused!.Wrong.ToString()
            .ShouldContain("the author cannot approve");
        ChangeLife.Begin(review, "ines", Now, [], TestValues.NoKeys).Refused.ShouldNotBeNull();
        var approved = ChangeLife.Approve(review, "tomas", Now, null, []).Value!;
        ChangeLife.BackOut(approved, DemoInventory.All, "ines", Now, "why").Refused.ShouldNotBeNull();
        ChangeLife.Begin(approved, "ines", Now, [], TestValues.NoKeys).Value!.State.ShouldBe(ChangeState.UnderWay);
    }

    [Fact]
    public void Approval_lapses_when_a_value_it_rests_on_moves_and_not_when_a_note_does()
    {
        var change = Draft();
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        ChangeLife
            .Changed(change, DemoInventory.All.With([tunnel with { Notes = "seen to", Name = "renamed" }]))
            .ShouldBeEmpty();
        var changed = ChangeLife.Changed(
            change,
            DemoInventory.All.With([tunnel with { B = tunnel.B with { Rules = null } }])
        );
        changed.Select(m => m.At.Path).ShouldBe([EndPaths.B.Rules]);
        var approved = change with { State = ChangeState.Approved };
        ChangeLife.Begin(approved, "ines", Now, changed, TestValues.NoKeys).Refused!.Code.ShouldBe("PLAN-07");
        ChangeLife
            .Recompute(approved, change.Plan, "ines", Now, null, changed)
            .Value!.ShouldSatisfyAllConditions(
                c => c.State.ShouldBe(ChangeState.InReview),
                c => c.Approval.ShouldBeNull()
            );
    }

    [Fact]
    public void Closing_writes_done_steps_as_set_and_seen_a_deviation_on_its_own_end_only_and_a_skipped_step_not_at_all()
    {
        var change = Draft() with { State = ChangeState.UnderWay };
        foreach (var step in change.Plan.Steps)
            change =
                step.Key.StartsWith("no-NAT-", StringComparison.Ordinal)
                    ? Attempt(change, step.Key, AttemptOutcome.Skipped, "translation is off there", null)
                : step.Key == "subnets-remote-b-BRI-ASHLOW"
                    ? Attempt(
                        change,
                        step.Key,
                        AttemptOutcome.Done,
                        null,
                        new("10.61.40.0/24", "10.61.40.0/25", "the upper half is not in use")
                    )
                : Attempt(change, step.Key, AttemptOutcome.Done, null, null);
        var closed = ChangeLife.Close(change, DemoInventory.All, "ines", Now).Value!;
        closed.Change.State.ShouldBe(ChangeState.Done);
        var built = closed.AsBuilt.OfType<Tunnel>().Single();
        var pair = new SubnetPair(Prefix.Parse("10.61.40.0/24").Value, Prefix.Parse("10.62.4.0/24").Value);
        built.Agreed.Pairs.ShouldContain(pair);
        built.A.Subnets!.LocalFrom.ShouldBe("bri-ashlow-nets");
        built.A.Subnets.Confirmed.ShouldBe(new(ConfirmedHow.Typed, new(2026, 11, 24), "ines"));
        built
            .B.Subnets!.Remote!.Value.Select(p => p.ToString())
            .ShouldBe(["10.61.0.0/24", "10.61.8.0/22", "10.61.40.0/25"]);
        built.B.Rules!.Value!.Items.Length.ShouldBe(4);
        built.B.NoNat!.Value!.Items.Length.ShouldBe(2);
        closed.AsBuilt.OfType<Gateway>().Single().Held("bri-lan")!.Members.Length.ShouldBe(2);
        // What was set otherwise and what was skipped is found at once.
        var codes = Checks
            .Run(DemoInventory.Checked(built, DemoInventory.All.With(closed.AsBuilt)))
            .Where(f => f.Pairs.Contains(pair))
            .Select(f => f.Code)
            .ToArray();
        codes.ShouldContain("PAIR-06");
        codes.ShouldContain("PATH-05");
    }

    [Fact]
    public void Closing_is_refused_while_a_step_is_open_or_failed_and_when_its_records_have_changed()
    {
        var change = Draft() with { State = ChangeState.UnderWay };
        ChangeLife
            .Close(change, DemoInventory.All, "ines", Now)
            .Refused!.Wrong.ToString()
            .ShouldContain("steps 1, 2, 3, 4, 5 and 14 more");
        foreach (var step in change.Plan.Steps)
            change = Attempt(change, step.Key, AttemptOutcome.Done, null, null);
        var last = change.Plan.Steps[^1].Key;
        ChangeLife
            .Close(Attempt(change, last, AttemptOutcome.Failed, "it beeped", null), DemoInventory.All, "ines", Now)
            .Refused!.Wrong.ToString()
            .ShouldContain("(failed) is open");
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        var elsewhere = DemoInventory.All.With([
            tunnel with
            {
                A = tunnel.A with { Subnets = tunnel.A.Subnets! with { LocalFrom = null, Local = [] } },
            },
        ]);
        ChangeLife.Close(change, elsewhere, "ines", Now).Refused!.Code.ShouldBe("PLAN-07");
    }

    private static Change Attempt(Change c, string key, AttemptOutcome outcome, string? remark, Deviation? deviation)
    {
        var (next, refused) = ChangeLife.Attempt(
            c,
            key,
            new(outcome)
            {
                Remark = remark,
                Deviation = deviation,
                Proof = "5 replies",
            },
            "ines",
            Now,
            TestValues.KeysOf(c)
        );
        return next ?? throw new InvalidOperationException(refused!.Wrong.ToString());
    }

    private static Change Draft() =>
        TestValues.Change(
            new SubnetsRequest(
                DemoInventory.Tunnel("BRI-ASHLOW").Id,
                EndName.A,
                [Prefix.Parse("10.61.40.0/24").Value],
                []
            ),
            id: "bri-0001"
        );

    private static MapNode Form(string id) => RecordBody.Form(DemoInventory.All.All.First(r => r.Id == id));

    private static byte[] Bytes(Plan plan) => RecordBody.Bytes(Draft() with { Plan = plan });
}

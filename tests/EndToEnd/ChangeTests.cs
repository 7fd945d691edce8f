using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

public abstract partial class ChangeTests(DemoService demo)
{
    protected DemoService Demo => demo;

    protected static CancellationToken Ct => TestContext.Current.CancellationToken;

    protected static Task<ChangePage> Drafted(KeepClient who, DraftChange given) => who.DraftAsync(given, Ct);

    private async Task<ChangePage> Begun(KeepClient who, ChangePage draft)
    {
        using var tomas = await demo.Service.ClientAsync("tomas");
        using var odile = await demo.Service.ClientAsync("odile");
        await who.ActAsync(draft.Code, "submit", new(null, null), null, Ct);
        var reviewer = draft.Author == "tomas" ? odile : tomas;
        var seen = await reviewer.ChangeAsync(draft.Code, Ct);
        await reviewer.ActAsync(draft.Code, "approve", new(null, null), seen.Version, Ct);
        return await who.ActAsync(draft.Code, "begin", new(null, null), null, Ct);
    }

    [Fact]
    public async Task A_new_tunnel_waits_for_its_address_takes_it_without_a_new_approval_and_is_built()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var change = await Drafted(
            ines,
            new DraftNewTunnel { Tunnel = "THR-PLATES-2", Reason = "the second endpoint" }
        );
        change.Pending.Single().WhoKnows.ShouldBe("the hosting firm's portal");
        change.PlanFindings.ShouldContain(f => f.Code == "PLAN-04" && f.Severity == "blocks");
        // What is wrong with it already, as planned, is said before anybody touches a device.
        change.Verdict.ShouldContain(v => v.Says.Text.Contains("64501"));
        change = await Begun(ines, change);
        await ines.MakeKeyAsync("THR-PLATES-2", new(change.Code), Ct);
        var waiting = change.Steps.First(s => s.Number == change.Pending[0].Steps[0]);
        foreach (
            var step in change.Steps.Where(s =>
                s.Number < waiting.Number && !s.Do.Text.StartsWith("Get the outer", StringComparison.Ordinal)
            )
        )
            await ines.AttemptAsync(change.Code, step.Number, new("done", null, null, null, null, "confirmed"), Ct);
        var refused = await Should.ThrowAsync<ServiceProblem>(
            ines.AttemptAsync(change.Code, waiting.Number, new("done", null, null, null, null, "5 of 5"), Ct)
        );
        refused.Message.ShouldContain("pending from the hosting firm's portal");
        (
            await Should.ThrowAsync<ServiceProblem>(ines.FillAsync(change.Code, new(1, "203.0.113.170"), Ct))
        ).Message.ShouldContain("outer address of plates-gw1");
        change = await ines.FillAsync(change.Code, new(1, "203.0.113.171"), Ct);
        (change.State, change.ApprovedBy, change.Pending.Count).ShouldBe(("under way", "tomas", 0));
        var step11 = change.Steps.First(s => s.Number == waiting.Number);
        (step11.Key, step11.Enter.First(v => v.Label == "peer address").Text).ShouldBe((waiting.Key, "203.0.113.171"));
        foreach (var step in change.Steps.Where(s => s.Outcome is null))
            await ines.AttemptAsync(change.Code, step.Number, new("done", null, null, null, null, "5 of 5"), Ct);
        await ines.ActAsync(change.Code, "close", new(null, null), null, Ct);
        var tunnel = await ines.TunnelAsync("THR-PLATES-2", Ct);
        tunnel.State.ShouldBe("in service");
        var address = tunnel.Rows.First(r => r.Key == "addressOfB").A;
        (address.Text, address.Source).ShouldBe(("203.0.113.171", "set"));
        address.Confirmed.ShouldNotBeNull();
    }

    [Fact]
    public async Task A_tunnel_between_two_gateways_is_worked_out_and_its_record_is_there_as_planned()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var idea = new NewTunnelGiven(
            "SAL-PRESS",
            null,
            null,
            "harbour-gw",
            "press-gw",
            null,
            "fibre",
            ["10.70.12.0/24 - 10.50.0.0/24"]
        );
        var given = new DraftNewTunnel { Reason = "tickets are printed there", New = idea };
        (
            await Should.ThrowAsync<ServiceProblem>(
                ines.DraftAsync(given with { New = idea with { Pairs = ["10.50.0.0/25 - 10.50.0.0/24"] } }, Ct)
            )
        ).Message.ShouldContain("overlaps");
        (
            await Should.ThrowAsync<ServiceProblem>(
                ines.DraftAsync(given with { New = idea with { UplinkB = "dish" } }, Ct)
            )
        ).Message.ShouldContain("fibre, cable");
        var change = await ines.DraftAsync(given, Ct);
        var tunnel = await ines.TunnelAsync("SAL-PRESS", Ct);
        (tunnel.State, tunnel.Form).ShouldBe(("planned", "route-based"));
        tunnel.Rows.First(r => r.Key == "ikeProposals").A.Text!.ShouldContain("AES-256-GCM-16");
        change.Steps.ShouldContain(s =>
            s.Where == "B"
            && s.Gateway == "press-gw"
            && s.Do.Text.StartsWith("Enter the proposals of SAL-PRESS on press-gw", StringComparison.Ordinal)
        );
        // Somebody who sees Saltmarsh alone sees neither the tunnel's change nor that there is one.
        using var maud = await demo.Service.ClientAsync("maud-audit");
        (await maud.ChangesAsync(null, null, Ct)).ShouldNotContain(c => c.Code == change.Code && c.Customer != "SAL");
    }

    [Fact]
    public async Task Subnets_of_two_tunnels_are_one_change_with_a_failed_step_and_a_deviation_and_the_history_tells_it()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var change = await Drafted(
            ines,
            new DraftSubnets
            {
                Tunnel = "BRI-ASHLOW",
                End = "A",
                Add = ["10.61.40.0/24"],
                Reason = "the cold store",
                Also = ["BRI-PETHER"],
            }
        );
        change.Tunnels.Select(t => t.Code).ShouldBe(["BRI-ASHLOW", "BRI-PETHER"]);
        change
            .Steps.Count(s => s.Do.Text.StartsWith("Save the configuration of churn-gw1", StringComparison.Ordinal))
            .ShouldBe(1);
        (
            await Should.ThrowAsync<ServiceProblem>(
                ines.ActAsync(change.Code, "remark", new("why this one?", 1) { Value = "MTU" }, null, Ct)
            )
        ).Message.ShouldContain("has no MTU");
        var ruled = change.Steps.First(s => s.Enter.Any(v => v.Label == "name"));
        (
            await ines.ActAsync(
                change.Code,
                "remark",
                new("too long for the old menu?", ruled.Number) { Value = "name" },
                null,
                Ct
            )
        )
            .Remarks.Single()
            .ShouldSatisfyAllConditions(r => r.Step.ShouldBe(ruled.Number), r => r.Value.ShouldBe("name"));
        change = await Begun(ines, change);
        var deviated = change.Steps.First(s =>
            s.Tunnel == "BRI-PETHER"
            && s.Where == "B"
            && s.Enter.Any(v => v.Text == "10.61.40.0/24")
            && s.Part != "prove"
            && !s.Key.StartsWith("rule", StringComparison.Ordinal)
            && !s.Key.StartsWith("no-", StringComparison.Ordinal)
        );
        foreach (var step in change.Steps)
        {
            if (step.Part == "prove" && step.Number == change.Steps.First(s => s.Part == "prove").Number)
            {
                (
                    await Should.ThrowAsync<ServiceProblem>(
                        ines.AttemptAsync(change.Code, step.Number, new("failed", null, null, null, null), Ct)
                    )
                ).Message.ShouldContain("needs a remark");
                (
                    await ines.AttemptAsync(
                        change.Code,
                        step.Number,
                        new("failed", "no answer; the rule was missing", null, null, null),
                        Ct
                    )
                ).Verdict.ShouldContain(v => v.Says.Text.Contains("failed"));
                (
                    await Should.ThrowAsync<ServiceProblem>(
                        ines.ActAsync(change.Code, "close", new(null, null), null, Ct)
                    )
                ).Message.ShouldContain("are open");
            }

            await ines.AttemptAsync(
                change.Code,
                step.Number,
                step.Number == deviated.Number
                    ? new(
                        "done",
                        null,
                        "10.61.40.0/24",
                        "10.61.40.0/25",
                        "the creamery needs the lower half",
                        "as entered"
                    )
                    : new("done", null, null, null, null, "5 of 5"),
                Ct
            );
        }

        await ines.ActAsync(change.Code, "close", new(null, null), null, Ct);
        var record = await ines.TextAsync($"changes/{change.Code}/record", Ct);
        record.ShouldContain(
            "set `10.61.40.0/25` instead of `10.61.40.0/24`, because the creamery needs the lower half"
        );
        record.ShouldContain("failed by ines");
        (await ines.TunnelAsync("BRI-ASHLOW", Ct)).Pairs.ShouldContain(p => p.A == "10.61.40.0/24");
        (await ines.TunnelAsync("BRI-PETHER", Ct)).Findings.ShouldContain(f => f.What.Text.Contains("10.61.40.0/25"));
        foreach (var tunnel in new[] { "BRI-ASHLOW", "BRI-PETHER" })
            (await ines.HistoryAsync(tunnel, Ct)).Count(h => h.Change == change.Code).ShouldBe(1);
    }

    [Fact]
    public async Task Two_people_ticking_at_once_lose_nothing()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var tomas = await demo.Service.ClientAsync("tomas");
        var change = await Begun(
            ines,
            await Drafted(
                ines,
                new DraftFree
                {
                    Tunnel = "OTT-SKERROW",
                    Reason = "the answer came back",
                    Steps =
                    [
                        .. Enumerable
                            .Range(1, 12)
                            .Select(i => new FreeStepGiven(
                                "prepare",
                                "us",
                                $"Look at line {i} of the sheet",
                                1,
                                null,
                                null
                            )),
                    ],
                }
            )
        );
        var work = change.Steps.Take(12).ToArray();
        await Task.WhenAll(
            Task.Run(
                async () =>
                {
                    foreach (var s in work.Where(s => s.Number % 2 == 1))
                        await ines.AttemptAsync(
                            change.Code,
                            s.Number,
                            new("done", null, null, null, null, "5 of 5"),
                            Ct
                        );
                },
                Ct
            ),
            Task.Run(
                async () =>
                {
                    foreach (var s in work.Where(s => s.Number % 2 == 0))
                        await tomas.AttemptAsync(
                            change.Code,
                            s.Number,
                            new("done", null, null, null, null, "5 of 5"),
                            Ct
                        );
                },
                Ct
            )
        );
        var now = await ines.ChangeAsync(change.Code, Ct);
        now.Steps.Take(12)
            .ShouldAllBe(s =>
                s.Outcome == "done"
                && s.Attempts.Count == 1
                && s.Attempts[0].By == (s.Number % 2 == 1 ? "ines" : "tomas")
            );
    }
}

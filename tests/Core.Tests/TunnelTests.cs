using Shouldly;
using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class TunnelTests
{
    /// <summary>
    /// Every fault planted in the demo, with the end or prefix it concerns; the last column is the whole of what blocks
    /// or degrades.
    /// </summary>
    public static TheoryData<string, string[], string[]> Planted() =>
        new()
        {
            { "BRI-ASHLOW", ["PAIR-05", "PATH-03", "PAIR-11"], ["PAIR-05", "PATH-03"] },
            { "BRI-PETHER", [], [] },
            { "BRI-NETTLE", ["PAIR-06", "PAIR-20"], ["PAIR-06"] },
            { "BRI-DEPOT", ["PAIR-11"], [] },
            { "QUI-BRI", [], [] },
            { "SAL-GANNET", ["PAIR-07"], ["PAIR-07"] },
            { "SAL-SPIT", ["PAIR-10", "PAIR-13", "PAIR-07"], ["PAIR-10", "PAIR-13"] },
            { "SAL-DUNLIN", ["STR-04", "PATH-06", "STR-03"], ["PATH-06"] },
            {
                "SAL-WHIMBREL",
                ["PAIR-06", "PAIR-10", "PATH-14", "PATH-15", "PATH-04"],
                ["PAIR-06", "PAIR-10", "PAIR-12"]
            },
            { "SAL-PIERS", [], [] },
            { "QUI-SAL-2", [], [] },
            { "BRI-MILK", ["PAIR-17"], [] },
            { "BRI-SPARES", [], [] },
            { "QUI-BRI-2", [], [] },
            { "QUI-OTT-2", [], [] },
            { "TID-QUAY", ["PATH-15", "ADR-09", "STR-08"], ["PAIR-21", "PAIR-12"] },
            { "LAR-BRACKEN", ["KEY-07", "ADR-08"], [] },
            { "LAR-HEATH", ["KEY-08"], ["KEY-08"] },
            { "LAR-MOOR", ["PATH-12", "STR-13"], ["PATH-12"] },
            { "LAR-FEN", ["PATH-16"], [] },
            { "LAR-TARN", ["KEY-09"], ["KEY-09"] },
            { "LAR-CARE", [], [] },
            { "LAR-LOAN", ["PAIR-07"], ["PAIR-07", "PATH-12"] },
            { "QUI-LAR", ["PATH-07"], [] },
            { "QUI-LAR-2", [], [] },
            { "THR-PLATES-1", [], [] },
            { "THR-PLATES-2", ["PATH-13"], ["PATH-13"] },
            { "QUI-THR", ["PATH-10"], [] },
            { "QUI-THR-2", ["PATH-10"], [] },
            { "MOS-STORE-1", ["PATH-09"], ["PATH-09"] },
            { "MOS-STORE-2", ["PATH-06"], ["PATH-06"] },
            { "QUI-MOS", ["PAIR-15"], ["PAIR-15"] },
            { "QUI-HILL", ["PAIR-15", "PATH-17"], ["PAIR-15", "PATH-17"] },
            { "QUI-MOS-2", [], [] },
            { "QUI-SAL", ["ADR-03", "PATH-02"], ["ADR-03"] },
            { "OTT-SKERROW", ["ADR-02", "ADR-04", "PAIR-04"], ["ADR-02", "ADR-04", "PAIR-04"] },
            { "QUI-OTT", ["PAIR-03"], ["PAIR-03"] },
            { "TID-PUMP", ["STR-02", "STR-03", "STR-06", "STR-09", "PATH-14"], ["PAIR-12"] },
            { "TID-SEAL", ["PATH-05", "STR-01", "STR-03"], ["PATH-05", "PAIR-12"] },
            { "QUI-TID", ["PAIR-08", "ADR-03", "STR-03"], ["PAIR-08", "ADR-03", "PAIR-12"] },
        };

    [Theory]
    [MemberData(nameof(Planted))]
    public void Planted_faults_are_found_by_their_codes_and_nothing_else_blocks_or_degrades(
        string code,
        string[] found,
        string[] stops
    )
    {
        var findings = Checks.Run(DemoInventory.Checked(DemoInventory.Tunnel(code)));
        findings.Select(f => f.Code).Intersect(found).ShouldBe(found, ignoreOrder: true);
        findings
            .Where(f => f.Severity <= Severity.Degrades)
            .Select(f => f.Code)
            .Distinct()
            .ShouldBe(stops, ignoreOrder: true);
        foreach (var f in findings)
        {
            // Every finding names what to do, and speaks in typed arguments that its text repeats.
            f.Do.ToString().ShouldNotBeNullOrWhiteSpace();
            f.Evidence.ShouldNotBeEmpty();
            f.What.Arguments.ShouldAllBe(a => f.What.ToString().Contains(a.Text));
        }
    }

    [Fact]
    public void The_demo_has_every_tunnel_in_the_table() =>
        DemoInventory.All.Tunnels.Select(t => t.Code).ShouldBe(Planted().Select(p => p.Data.Item1), ignoreOrder: true);

    [Fact]
    public void Pfs_that_does_not_fit_is_told_with_the_time_of_the_first_refusal_and_of_the_loss()
    {
        var about = DemoInventory.Checked(DemoInventory.Tunnel("BRI-ASHLOW"));
        var misfit = about.Differences<PfsMisfit>().Single().Difference;
        // A margin of 20 %, and up to 5 % of jitter before it.
        misfit.ShouldBe(new PfsMisfit(null, false, new(3600 - 720 - 180, 3600 - 720), 3600, null, true, false, true));
        string.Join(" ", Verdict.Of(about, Checks.Run(about)).Select(v => v.Says))
            .ShouldBe(
                "Comes up for 1 of 2 pairs when B initiates; A responds only. Drops 60 minutes after it comes up: "
                    + "PFS mismatch (A "
                    + "'required DH 16', B 'required DH 14'), refused first at 45 to 48 minutes. No traffic from plant "
                    + "reaches creamery. 1 risk."
            );
    }

    [Fact]
    public void Swapping_the_ends_swaps_the_story()
    {
        foreach (var tunnel in DemoInventory.All.Tunnels)
        {
            var agreed = tunnel.Agreed;
            var swapped = tunnel with
            {
                A = tunnel.B,
                B = tunnel.A,
                Agreed = agreed with
                {
                    OnlyA = agreed.OnlyB,
                    OnlyB = agreed.OnlyA,
                    IdentityA = agreed.IdentityB,
                    IdentityB = agreed.IdentityA,
                    Pairs = [.. agreed.Pairs.Select(p => new SubnetPair(p.B, p.A))],
                },
            };
            Story(swapped).ShouldBe(Story(tunnel), ignoreOrder: true, tunnel.Code);
        }

        static IEnumerable<(string, Severity, long?)> Story(Tunnel t) =>
            Checks.Run(DemoInventory.Checked(t)).Select(f => (f.Code, f.Severity, f.After));
    }

    [Fact]
    public void Confirming_every_row_leaves_a_mirrored_tunnel_in_agreement_and_never_touches_what_was_agreed()
    {
        var tunnel = DemoInventory.Tunnel("BRI-PETHER");
        foreach (var end in Enum.GetValues<EndName>())
        foreach (var row in DemoInventory.Checked(tunnel).Rows)
            if (
                row.Cell(end).Text is not null
                && ConfirmingValues.Confirm(
                    new(DemoInventory.All, tunnel, DemoInventory.Today),
                    end,
                    row.Key,
                    new(ConfirmedHow.Read, DemoInventory.Today, "ines")
                )
                    is { Ok: true } made
            )
                tunnel = made.Value;
        tunnel.Agreed.Pairs.ShouldBe(DemoInventory.Tunnel("BRI-PETHER").Agreed.Pairs);
        var rows = DemoInventory.Checked(tunnel).Rows;
        rows.Where(r => r.Key.Text is "pfs" or "ikeProposals" or "espLifetime" or "identityOfA" or "subnetsOfB")
            .ShouldAllBe(r => r.Relation == Relation.Agrees);
        rows.First(r => r.Key.Text == "espLifetime").A.Text.ShouldBe("3,600 s");
    }

    [Theory]
    [InlineData("3600 s", "3600 min", "3,600 s typed in the wrong unit")]
    [InlineData("28800 s", "2880 s", "28,800 s with a digit missing")]
    [InlineData("8 h", "2880 s", "28,800 s with a digit missing")]
    [InlineData("3600 s", "36000 s", "3,600 s with a digit too many")]
    [InlineData("3600 s", "1 h", null)]
    [InlineData("3600 s", "7200 s", null)]
    public void A_slip_in_a_lifetime_is_recognised_in_what_was_typed(string a, string b, string? slip)
    {
        var tunnel = DemoInventory.Tunnel("BRI-PETHER");
        Tunnel With(Tunnel t, EndName end, string text) =>
            ConfirmingValues
                .Correct(new(DemoInventory.All, t, DemoInventory.Today), end, Settings.EspLifetime, text, null)
                .Value;
        var found = Checks
            .Run(DemoInventory.Checked(With(With(tunnel, EndName.A, a), EndName.B, b)))
            .Where(f => f is { Code: "PAIR-11", Severity: Severity.Risk })
            .ToArray();
        if (slip is null)
            found.ShouldBeEmpty();
        else
            found.Single().What.ToString().ShouldContain(slip);
    }

    [Fact]
    public void Subnets_entered_in_the_same_order_on_both_ends_are_told_as_swapped()
    {
        var tunnel = DemoInventory.Tunnel("SAL-GANNET");
        var swapped = tunnel with { B = tunnel.B with { Subnets = tunnel.A.Subnets } };
        var found = Checks.Run(DemoInventory.Checked(swapped)).Where(f => f.Code == "PAIR-06").ToArray();
        found.Single().What.ToString().ShouldContain("same local and the same remote subnets");
        found.Single().Severity.ShouldBe(Severity.Blocks);
    }

    [Fact]
    public void A_digest_moves_with_the_values_and_with_nothing_else()
    {
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        string Digest(Tunnel t) => Checks.Run(DemoInventory.Checked(t)).First(f => f.Code == "PAIR-05").Digest;
        Digest(tunnel with { Name = "Another name", Notes = "noted" }).ShouldBe(Digest(tunnel));
        Digest(
                ConfirmingValues
                    .Correct(
                        new(DemoInventory.All, tunnel, DemoInventory.Today),
                        EndName.A,
                        Settings.Pfs,
                        "required DH 15",
                        null
                    )
                    .Value
            )
            .ShouldNotBe(Digest(tunnel));
    }
}

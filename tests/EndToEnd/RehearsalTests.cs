using System.Net;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>Rehearsals, calculations and acceptance through the service, and on a file alone.</summary>
public class RehearsalTests(DemoService demo) : IClassFixture<DemoService>
{
    [Fact]
    public async Task A_rehearsal_names_the_stop_and_its_first_mend_passes_as_a_hypothetical_that_is_not_kept()
    {
        using var bram = await demo.Service.ClientAsync("bram");
        var before = await bram.TunnelAsync("LAR-LOAN", Ct);
        var side = (await bram.RehearsalAsync("LAR-LOAN", Ct)).FromA;
        side.Outcome.ShouldBe("down");
        side.Stops[0]
            .ShouldSatisfyAllConditions(
                s => s.ExchangeName.ShouldBe("IKE_AUTH response"),
                s => s.RefusedBy.ShouldBe("A"),
                s => s.Notify.ShouldBe("AUTHENTICATION_FAILED"),
                s => s.Code.ShouldBe("PAIR-07")
            );
        side.Stops[0].Why.Text.ShouldContain("only upper and lower case differ, and it compares octet by octet");
        // What A refuses is an answer, so that its notify goes in an exchange of its own; then only what a fix would bring.
        (side.Exchanges[4].Name, side.Exchanges[4].IfFixed).ShouldBe(("INFORMATIONAL", false));
        side.Exchanges.Skip(5).ShouldAllBe(x => x.IfFixed);
        var fix = side.Fixes[0];
        fix.Passes.ShouldBeTrue();
        (await bram.RehearseAsync(new(null, "LAR-LOAN", fix.Values), Ct)).FromA.Outcome.ShouldBe("up");
        (await bram.TunnelAsync("LAR-LOAN", Ct)).Version.ShouldBe(before.Version);
        var (status, body) = await demo.Call(
            "bram",
            HttpMethod.Post,
            "rehearsals",
            new
            {
                tunnel = "LAR-LOAN",
                values = new[]
                {
                    new
                    {
                        end = "A",
                        row = "pfs",
                        value = "DH 99",
                    },
                },
            }
        );
        status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        body.GetProperty("detail").GetString()!.ShouldContain("required DH 14");
        var file = await File.ReadAllTextAsync(
            Path.Combine(Running.RunningService.Root, "demo/walk/cheese-cave.yaml"),
            Ct
        );
        (await bram.RehearseAsync(new(file, null, null), Ct)).FromB.Stops[0].Code.ShouldBe("PAIR-03");
        (await demo.Call("bram", HttpMethod.Get, "tunnels/BRI-CAVE")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_finding_is_accepted_with_reason_and_end_stays_visible_and_comes_back_when_its_values_move()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var t = await ines.TunnelAsync("LAR-MOOR", Ct);
        var f = t.Findings.Single(x => x.Code == "STR-13");
        async Task<(HttpStatusCode, string)> Accept(object body)
        {
            var (status, answer) = await demo.Call(
                "ines",
                HttpMethod.Post,
                "tunnels/LAR-MOOR/accept",
                body,
                $"\"{t.Version}\""
            );
            return (
                status,
                answer.ValueKind == System.Text.Json.JsonValueKind.Object
                    ? answer.GetProperty("detail").GetString()!
                    : ""
            );
        }

        var (none, why) = await Accept(
            new
            {
                code = f.Code,
                subject = f.Subject,
                digest = f.Digest,
                reason = " ",
                until = "2027-01-31",
            }
        );
        (none, why).ShouldSatisfyAllConditions(
            x => x.none.ShouldBe(HttpStatusCode.UnprocessableEntity),
            x => x.why.ShouldContain("needs a reason")
        );
        (
            await Accept(
                new
                {
                    code = f.Code,
                    subject = f.Subject,
                    digest = f.Digest,
                    reason = "x",
                    until = "2099-01-31",
                }
            )
        ).Item2.ShouldContain("not within a year");
        (
            await Accept(
                new
                {
                    code = f.Code,
                    subject = f.Subject,
                    digest = new string('0', 64),
                    reason = "x",
                    until = Soon,
                }
            )
        ).Item1.ShouldBe(HttpStatusCode.Conflict);
        await ines.AcceptAsync(
            "LAR-MOOR",
            t.Version,
            new(f.Code, f.Subject, f.Digest, "the ca's list cannot be reached from there", Soon),
            Ct
        );
        (await ines.FindingsAsync("LAR-MOOR", null, "STR-13", null, Ct)).Single().Accepted!.By.ShouldBe("ines");
        (await demo.Command("bram", "findings --tunnel LAR-MOOR --code STR-13")).Out.ShouldContain("Accepted until");
        (await ines.HistoryAsync("LAR-MOOR", Ct))[0].What.ShouldBe("accept");

        // The digest covers the values: when they move, the acceptance covers nothing any longer.
        var file = (await demo.Command("odile", "export --customer LAR")).Out;
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.ImportAsync(
            file.Replace("relaxedChecks: [revocation]", "relaxedChecks: [revocation, name]")
                .Replace("- revocation", "- revocation\n      - name"),
            false,
            "read again",
            Ct
        );
        (await ines.FindingsAsync("LAR-MOOR", null, "STR-13", null, Ct))
            .Single()
            .ShouldSatisfyAllConditions(x => x.Accepted.ShouldBeNull(), x => x.What.Text.ShouldContain("name"));
    }

    [Fact]
    public async Task A_write_checks_again_what_shares_a_look_up_key_and_nothing_is_said_of_others_to_an_auditor()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        (await ines.FindingsAsync("SAL-WHIMBREL", null, "PAIR-10", null, Ct))
            .Single()
            .What.Text.ShouldContain("has 2 for any address");
        var dunlin = await ines.TunnelAsync("SAL-DUNLIN", Ct);
        await ines.CorrectAsync(
            "SAL-DUNLIN",
            dunlin.Version,
            new("A", "addressOfB", "203.0.113.250", "has a fixed address now", "read", null),
            Ct
        );
        // One entry for any address is left, so that its key is the one.
        (await ines.FindingsAsync("SAL-WHIMBREL", null, "PAIR-10", null, Ct)).ShouldBeEmpty();
        using var maud = await demo.Service.ClientAsync("maud-audit");
        var gateway = await maud.GatewayAsync("harbour-gw", Ct);
        gateway.Tunnels.ShouldAllBe(t => t.Customer == "SAL");
        (await demo.Call("maud-audit", HttpMethod.Get, "gateways/keel-gw1")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await maud.AddressesAsync("10.61.0.0/16", null, null, null, Ct)).Within.ShouldBeEmpty();
        (await maud.GatewaysAsync(null, Ct)).ShouldAllBe(g => g.Customer == "SAL");
        foreach (var path in new[] { "rehearsal", "../tunnels/BRI-ASHLOW/rehearsal" })
            (await demo.Call("maud-audit", HttpMethod.Get, $"tunnels/BRI-ASHLOW/{path}")).Status.ShouldBe(
                HttpStatusCode.NotFound
            );
    }

    [Fact]
    public async Task The_command_works_on_a_file_alone_with_the_same_answers_and_exit_status()
    {
        var file = Path.Combine(demo.Service.Data, "all.yaml");
        (await demo.Command("odile", $"export --output {file}")).Status.ShouldBe(0);
        var nowhere = new Dictionary<string, string>
        {
            ["VELLUMKEEP_URL"] = "http://127.0.0.1:9",
            ["VELLUMKEEP_TOKEN"] = "",
        };
        async Task<(int Status, string Out, string Error)> Alone(string line) =>
            await demo.Service.CommandHereAsync(line, environment: nowhere);
        foreach (
            var (line, status) in new[]
            {
                ("tunnel rehearse BRI-PETHER", 0),
                ("tunnel rehearse LAR-HEATH", 1),
                ("tunnel compare QUI-OTT --all", 1),
                ("findings --tunnel TID-SEAL", 1),
                ("calc common teasel-minor churn-gw1", 0),
            }
        )
        {
            var alone = await Alone($"{line} --file {file}");
            alone.Status.ShouldBe(status, $"{line}\n{alone.Error}");
            var served = await demo.Command("ines", line);
            alone.Out.ShouldBe(served.Out, line);
        }

        // What a fix says can be tried as it is printed, on the service and alone; nothing is kept.
        foreach (var where in new[] { "", $" --file {file}" })
        {
            (await demo.Command("ines", $"tunnel rehearse SAL-GANNET --initiator B{where}")).Out.ShouldContain(
                "--with 'B identityOfB=address 203.0.113.120'"
            );
            (
                await demo.Command(
                    "ines",
                    $"tunnel rehearse SAL-GANNET --initiator B --with 'B identityOfB=address 203.0.113.120'{where}"
                )
            ).Status.ShouldBe(0);
            (
                await demo.Command(
                    "ines",
                    $"tunnel rehearse SAL-SPIT --with 'A initiation=on traffic' --with 'B keyHeld=version 2'{where}"
                )
            ).Status.ShouldBe(0);
            (
                await demo.Command("ines", $"tunnel rehearse SAL-SPIT --with 'A pfs=DH 99'{where}")
            ).ShouldSatisfyAllConditions(r => r.Status.ShouldBe(2), r => r.Error.ShouldContain("required DH 14"));
        }

        (await Alone($"tunnel rehearse LAR-HEATH --file {file} --json")).Out.ShouldContain("\"outcome\": \"down\"");
        (await Alone($"tunnel show NO-SUCH --file {file}")).Status.ShouldBe(3);
        (await Alone("tunnel show X --file /no/such/file")).Status.ShouldBe(3);
        (await Alone("calc packet AES-256-CBC + SHA256 --udp")).ShouldSatisfyAllConditions(
            r => r.Status.ShouldBe(0),
            r => r.Out.ShouldContain("1382  MSS with IPv4 inside")
        );
        (await Alone("calc lifetime 28800")).Out.ShouldContain("1,728,000");
        (await Alone("calc grade AES-256-GCM + SHA1 + DH 14")).ShouldSatisfyAllConditions(
            r => r.Status.ShouldBe(2),
            r => r.Error.ShouldContain("without integrity")
        );
        (await Alone("calc prefix split 10.61.0.0/22 --length 20")).ShouldSatisfyAllConditions(
            r => r.Status.ShouldBe(2),
            r => r.Error.ShouldContain("a length from 22 to 32")
        );
    }

    private static string Soon =>
        DateOnly
            .FromDateTime(DateTime.UtcNow)
            .AddDays(60)
            .ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
}

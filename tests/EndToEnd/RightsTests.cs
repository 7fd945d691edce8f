using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>
/// Every call of the described interface, asked by everybody, against the one table in cases/rights.tsv; and what
/// somebody for one customer is shown by any of them.
/// </summary>
public partial class RightsTests(DemoService demo) : IClassFixture<DemoService>
{
    private static readonly string[] Askers = ["nobody", "bram", "ines", "rowan", "odile", "maud-audit"];

    [Fact]
    public async Task Every_call_answers_every_role_as_the_table_says_and_the_table_names_every_call()
    {
        await ReviewerAsync();
        var table = File.ReadLines(Path.Combine(RunningService.Root, "tests/EndToEnd/cases/rights.tsv"))
            .Where(l => l.Length > 0 && l[0] != '#')
            .Select(l => l.Split('\t'))
            .ToDictionary(l => l[0], l => l[1..]);
        var wrong = new List<string>();
        var operations = await OperationsAsync();
        operations.Select(o => o.Name).Except(table.Keys).ShouldBeEmpty("calls that the table does not name");
        table.Keys.Except(operations.Select(o => o.Name)).ShouldBeEmpty("lines of the table that name no call");
        foreach (var (name, method, path) in operations)
            for (var i = 0; i < Askers.Length; i++)
            {
                // The auditor asks for what is not hers; everybody else for what is there.
                var asked = Filled(path, Askers[i] == "maud-audit" ? "BRI" : "SAL");
                var status = (int)await StatusAsync(Askers[i], method, asked);
                var meant = table[name][i];
                var fits = meant switch
                {
                    // Whoever may ask is answered: with what is there, or what is wrong with the question.
                    "yes" => status is not (401 or 403) and < 500,
                    "not found" => status == 404,
                    _ => status == int.Parse(meant, System.Globalization.CultureInfo.InvariantCulture),
                };
                if (!fits)
                    wrong.Add($"{name}: {method} {asked} asked by {Askers[i]} gave {status}, the table says {meant}");
            }

        wrong.ShouldBeEmpty();
    }

    [Fact]
    public async Task An_auditor_is_shown_her_customer_and_nothing_of_another_by_any_reading_call()
    {
        // Everything that tells of another customer: codes, names of customers, sites and people there, and the first
        // part of their addresses.
        string[] foreign =
        [
            "BRI",
            "Brindlecombe",
            "TID",
            "Tidewrack",
            "OTT",
            "Ottermoor",
            "LAR",
            "Larkfell",
            "THR",
            "Thrumley",
            "MOS",
            "Mossgate",
            "Skerrow",
            "SKE-",
            "Churn",
            "ashlow",
            "10.61.",
            "10.62.",
            "10.41.",
            "10.20.",
            "10.50.",
        ];
        var seen = 0;
        foreach (var (name, method, path) in await OperationsAsync())
        {
            // What a form asks for is the same for everybody, with examples.
            if (
                method != HttpMethod.Get
                || name is "events" or "keepfileSchema"
                || name.StartsWith("empty", StringComparison.Ordinal)
            )
                continue;
            foreach (var more in new[] { "", "as=csv" })
            foreach (var owner in new[] { "SAL", "BRI" })
            {
                var asked = Filled(path, owner);
                var (status, text) = await TextAsync(
                    "maud-audit",
                    asked + (more.Length == 0 ? "" : (asked.Contains('?') ? "&" : "?") + more)
                );
                text =
                    text.IndexOf("\"fields\":[", StringComparison.Ordinal) is var help and > 0
                    && name.StartsWith("form", StringComparison.Ordinal)
                        ? text[..help]
                        : text;
                // An error may repeat what was asked, and nothing else.
                foreach (var word in asked.Split('/', '?', '=', '&', ',').Where(w => w.Length > 2))
                    text = status == HttpStatusCode.OK ? text : text.Replace(word, "");
                // What would be right is told with the same example to everybody.
                foreach (var word in foreign.Where(w => status == HttpStatusCode.OK || w != "10.61."))
                    text.Contains(word, StringComparison.Ordinal)
                        .ShouldBeFalse($"{name}: {asked} tells {word}: {Around(text, word)}");
                seen += status == HttpStatusCode.OK ? 1 : 0;
            }
        }

        seen.ShouldBeGreaterThan(40);
        // The same searches find what is there for somebody who may see it.
        (await TextAsync("bram", "search?q=churn")).Text.ShouldContain("BRI-CHURN");
        (await TextAsync("maud-audit", "search?q=churn")).Text.ShouldContain("\"hits\":[]");
        (await TextAsync("maud-audit", "history?customer=BRI")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await TextAsync("maud-audit", "tunnels?asOf=2026-11-20&customer=BRI")).Status.ShouldBe(
            HttpStatusCode.NotFound
        );
    }

    [Fact]
    public async Task Somebody_who_may_work_for_one_customer_and_read_the_rest_works_for_that_one_only()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.AddAsync(
            "people",
            new(
                null,
                null,
                [new("code", "fenn"), new("name", "Fenn"), new("roles", "[reader, engineer for SAL]")],
                null
            ),
            false,
            Ct
        );
        using var fenn = await demo.Service.NewcomerAsync(odile, "fenn", "four-unrelated-words");
        var own = await fenn.FormAsync("sites", "SAL-HARBOUR", null, Ct);
        (
            await fenn.WriteAsync(
                "sites",
                "SAL-HARBOUR",
                own.Version,
                new(null, null, [new("notes", "keys at the desk")], null),
                false,
                Ct
            )
        ).As.ShouldBe("described");
        var other = await fenn.FormAsync("sites", "BRI-CHURN", null, Ct);
        (
            await Should.ThrowAsync<ServiceProblem>(
                fenn.WriteAsync(
                    "sites",
                    "BRI-CHURN",
                    other.Version,
                    new(null, null, [new("notes", "x")], null),
                    false,
                    Ct
                )
            )
        ).Message.ShouldContain("engineer for the customer of BRI-CHURN");
        (
            await Should.ThrowAsync<ServiceProblem>(
                fenn.DraftAsync(
                    new DraftSubnets
                    {
                        Tunnel = "BRI-NETTLE",
                        End = "A",
                        Add = ["10.61.77.0/24"],
                        Reason = "x",
                    },
                    Ct
                )
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
        var suite = await fenn.FormAsync("suites", "BRI-STANDARD@3", null, Ct);
        (
            await Should.ThrowAsync<ServiceProblem>(
                fenn.WriteAsync(
                    "suites",
                    suite.Code,
                    suite.Version,
                    new(null, null, [new("about", "x")], null),
                    false,
                    Ct
                )
            )
        ).Message.ShouldContain("belongs to all customers");
        (
            await Should.ThrowAsync<ServiceProblem>(
                fenn.ImportAsync(
                    "vellumkeep: keepfile/1\nsites:\n  - {code: BRI-FENN, customer: BRI, name: X}\n",
                    false,
                    null,
                    Ct
                )
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
        (
            await fenn.DraftAsync(
                new DraftSubnets
                {
                    Tunnel = "SAL-SPIT",
                    End = "A",
                    Add = ["10.70.12.0/24"],
                    Reason = "x",
                },
                Ct
            )
        ).State.ShouldBe("draft");
    }

    private async Task ReviewerAsync()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.AddAsync(
            "people",
            new(null, null, [new("code", "rowan"), new("name", "Rowan"), new("roles", "reviewer")], null),
            false,
            Ct
        );
        using var rowan = await demo.Service.NewcomerAsync(odile, "rowan", "four-unrelated-words");
        demo.Knows("rowan", (await rowan.MakeTokenAsync(new("test", 1), Ct)).Token);
    }
}

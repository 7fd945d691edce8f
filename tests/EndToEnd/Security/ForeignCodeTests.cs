using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>
/// Every call of the described interface with another customer's code in every place where a code can stand
/// (cases/foreign-codes.tsv), by every kind of asker. Who may not see that customer is answered as though the record
/// did not exist; who may only read it changes nothing of it.
/// </summary>
[Collection(SharedDemo.Name)]
public partial class ForeignCodeTests(DemoBeside demo)
{
    /// <summary>Calls in which no code of a record stands.</summary>
    private static readonly string[] WithoutCodes =
    [
        "signIn",
        "signOut",
        "makeTokenByPassword",
        "replacePassword",
        "whoAmI",
        "ownAccess",
        "makeToken",
        "endToken",
        "endSession",
        "keepfileSchema",
        "readPrefixes",
        "readProposals",
        "suggestCode",
        "events",
        "backup",
        "verifyHistory",
        "audit",
        "today",
        "addCustomer",
        "addPlatform",
        "addSuite",
        "listCustomers",
        "listPlatforms",
        "listSuites",
        "listOffers",
        "listPeople",
        "showGlossary",
        "savedFilters",
        "saveFilter",
        "removeFilter",
        "calculateGrade",
        "calculateLifetime",
        "calculatePacket",
        "calculatePrefix",
        "emptyCustomer",
        "emptyGateway",
        "emptyOffer",
        "emptyPerson",
        "emptyPlatform",
        "emptySite",
        "emptySuite",
        "emptyTunnel",
    ];

    private static readonly Dictionary<string, (string Local, string Foreign, string Nowhere)> Holes = new()
    {
        ["tunnel"] = ("SAL-SPIT", "BRI-ASHLOW", "ZQX-ASHLOW"),
        ["gateway"] = ("harbour-gw", "churn-gw1", "zqxxx-gw1"),
        ["site"] = ("SAL-HARBOUR", "BRI-CHURN", "ZQX-CHURN"),
        ["customer"] = ("SAL", "BRI", "ZQX"),
        ["suite"] = ("SAL-VESSELS@1", "BRI-STANDARD@3", "ZQX-STANDARD@3"),
        ["platform"] = ("duskmoth-six@1", "nimbolt-hosted@1", "zqxxxxx-hosted@1"),
        ["offer"] = ("SKE-PARTNERS", "SKE-PARTNERS", "ZQX-PARTNERS"),
        ["change"] = ("SAL-0001", "BRI-0003", "ZQX-0003"),
        ["person"] = ("maud-audit", "perrin", "zqxxin"),
        ["address"] = ("10.70.0.9", "10.61.8.20", "10.251.8.20"),
    };

    /// <summary>What would tell of the other customer.</summary>
    private static readonly string[] FindingText =
    [
        "Brindle",
        "Churn",
        "Ashlow",
        "Alderquay",
        "10.61.",
        "10.62.4",
        "203.0.113.77",
        "bri-lan",
    ];

    [Fact]
    public async Task Another_customers_code_is_answered_like_one_that_nobody_has_and_changes_nothing()
    {
        var cases = Cases();
        (await OperationsAsync())
            .Except(cases.Select(c => c.Call))
            .Except(WithoutCodes)
            .ShouldBeEmpty("calls that the table does not walk");
        await AskersAsync();
        var before = await StateAsync();
        var wrong = new List<string>();
        var walked = 0;
        foreach (var (call, path, body) in cases)
            for (var hole = 0; hole < HolePattern().Count(path + body); hole++)
                foreach (var asker in new[] { "maud-audit", "wend", "fenn", "ines-reads" })
                {
                    var foreign = await AskAsync(asker, call, Filled(path, body, hole, h => h.Foreign));
                    walked++;
                    if ((int)foreign.Status >= 500)
                        wrong.Add($"{call} {path} by {asker}: {(int)foreign.Status}");
                    if (asker is "fenn" or "ines-reads")
                        continue;
                    var nowhere = await AskAsync(asker, call, Filled(path, body, hole, h => h.Nowhere));
                    if (foreign.Status != nowhere.Status || Neutral(foreign.Text) != Neutral(nowhere.Text))
                        wrong.Add(
                            $"{call} {path} {body} hole {hole} by {asker}: {(int)foreign.Status} "
                                + $"{Cut(foreign.Text)} but of what nobody has {(int)nowhere.Status} "
                                + $"{Cut(nowhere.Text)}"
                        );
                    foreach (
                        var word in FindingText.Where(w => Without(foreign.Text).Contains(w, StringComparison.Ordinal))
                    )
                        wrong.Add($"{call} {path} by {asker} tells {word}: {Cut(foreign.Text)}");
                }

        string.Join("\n", wrong).ShouldBe("");
        walked.ShouldBeGreaterThan(500);
        (await StateAsync()).ShouldBe(before, "something of another customer was changed");
    }

    [Fact]
    public async Task An_import_never_takes_over_a_record_that_its_owner_keeps_elsewhere()
    {
        await AskersAsync();
        var before = await StateAsync();
        foreach (var asker in new[] { "wend", "fenn" })
        foreach (
            var text in new[]
            {
                "sites:\n  - {code: BRI-CHURN, customer: SAL, name: Mine}",
                "sites:\n  - {code: bri-churn, customer: SAL, name: Mine}",
                "gateways:\n  - {code: churn-gw1, site: SAL-HARBOUR, platform: duskmoth-six@1, runBy: us}",
                "tunnels:\n  - {code: BRI-ASHLOW, customer: SAL, name: Mine, state: in service, form: "
                    + "policy-based, agreed: {}, a: {gateway: harbour-gw}, b: {gateway: spit-gw}}",
                "customers:\n  - {code: BRI, name: Mine}",
                "sites:\n  - {code: SAL-OURS, customer: SAL, name: Ours}\ntunnels:\n  - {code: BRI-ASHLOW, "
                    + "customer: SAL, name: Mine, state: planned, form: policy-based, agreed: {}, a: {gateway: "
                    + "harbour-gw}, b: {gateway: churn-gw1}}",
            }
        )
        foreach (var dry in new[] { "?dryRun=true&reason=x", "?reason=x" })
        {
            var (status, body) = await AskAsync(
                asker,
                "importKeepfile",
                ("import" + dry, "vellumkeep: keepfile/1\n" + text + "\n")
            );
            status.ShouldBeOneOf(HttpStatusCode.UnprocessableEntity, HttpStatusCode.Forbidden);
            foreach (var word in FindingText.Where(_ => asker == "wend"))
                Without(body).ShouldNotContain(word, Case.Sensitive);
        }

        (await StateAsync()).ShouldBe(before);
    }

    [Fact]
    public async Task A_tunnel_comes_to_end_on_a_gateway_only_by_somebody_who_may_work_on_it()
    {
        await AskersAsync();
        // Fenn reads everything and works for Saltmarsh: the other customer's gateway is there, and not hers to put an
        // entry on.
        var (status, text) = await AskAsync(
            "fenn",
            "addTunnel",
            (
                "tunnels",
                """
                {"set":[{"path":"code","value":"SAL-MINE"},{"path":"name","value":"M"},
                {"path":"customer","value":"SAL"},{"path":"a.gateway","value":"harbour-gw"},
                {"path":"b.gateway","value":"churn-gw1"}]}
                """
            )
        );
        (status, text.Contains("engineer for the customer of churn-gw1", StringComparison.Ordinal)).ShouldBe(
            (HttpStatusCode.Forbidden, true),
            text
        );
        (status, text) = await AskAsync(
            "fenn",
            "draftChange",
            (
                "changes",
                """
                {"kind":"new tunnel","reason":"x","new":{"code":"SAL-MINE","gatewayA":"harbour-gw",
                "gatewayB":"churn-gw1","customer":"SAL","pairs":["10.70.0.0/22 - 10.199.0.0/24"]}}
                """
            )
        );
        status.ShouldBe(HttpStatusCode.Forbidden, text);
        // Between her customer's own gateways she may.
        (status, text) = await AskAsync(
            "fenn",
            "addTunnel",
            (
                "tunnels?dryRun=true",
                """
                {"set":[{"path":"code","value":"SAL-MINE"},{"path":"name","value":"M"},
                {"path":"customer","value":"SAL"},{"path":"a.gateway","value":"harbour-gw"},
                {"path":"b.gateway","value":"spit-gw"}]}
                """
            )
        );
        status.ShouldBe(HttpStatusCode.OK, text);
        // What is taken is said to be taken, and no more.
        (status, text) = await AskAsync(
            "wend",
            "addSite",
            (
                "sites",
                """{"set":[{"path":"code","value":"bri-churn"},{"path":"name","value":"M"},{"path":"customer","value":"SAL"}]}"""
            )
        );
        (status, text.Contains("is not free", StringComparison.Ordinal)).ShouldBe(
            (HttpStatusCode.UnprocessableEntity, true),
            text
        );
    }

    private static (string Call, string Path, string Body)[] Cases() =>
        [
            .. File.ReadLines(Path.Combine(RunningService.Root, "tests/EndToEnd/cases/foreign-codes.tsv"))
                .Where(l => l.Length > 0 && l[0] != '#')
                .Select(l => l.Split('\t'))
                .Select(l => (l[0], l[1], l.Length > 2 ? l[2] : "")),
        ];

    private async Task<IReadOnlyList<string>> OperationsAsync()
    {
        using var http = new HttpClient { BaseAddress = demo.Service.Url };
        using var document = JsonDocument.Parse(await http.GetStringAsync("/api/v1/openapi.json", Ct));
        return
        [
            .. document
                .RootElement.GetProperty("paths")
                .EnumerateObject()
                .SelectMany(p =>
                    p.Value.EnumerateObject().Select(o => o.Value.GetProperty("operationId").GetString()!)
                ),
        ];
    }

    /// <summary>
    /// Wend works for Saltmarsh and sees nothing else; Fenn works for it and reads the rest; and Ines's token that only
    /// reads.
    /// </summary>
    private async Task AskersAsync()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        var there = (await odile.PeopleAsync(Ct)).Select(p => p.Name).ToHashSet();
        foreach (
            var (name, roles) in new[]
            {
                ("wend", "[engineer for SAL, reviewer for SAL]"),
                ("fenn", "[reader, engineer for SAL, reviewer for SAL]"),
            }
        )
        {
            if (there.Contains(name))
                continue;
            await odile.AddAsync(
                "people",
                new(null, null, [new("code", name), new("name", name), new("roles", roles)], null),
                false,
                Ct
            );
            using var client = await demo.Service.NewcomerAsync(odile, name, "four-unrelated-words");
            demo.Knows(name, (await client.MakeTokenAsync(new("walk", 1), Ct)).Token);
        }

        using var ines = await demo.Service.ClientAsync("ines");
        demo.Knows("ines-reads", (await ines.MakeTokenAsync(new("reads", 1, "reader"), Ct)).Token);
    }

    /// <summary>Everything of the other customers, and who may do what.</summary>
    private async Task<string> StateAsync()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        var people = string.Join('\n', (await odile.PeopleAsync(Ct)).Where(p => p.Name == "perrin"));
        var states = (await odile.ChangesAsync(null, "BRI-ASHLOW", Ct)).Select(c => (c.Code, c.State));
        var records = $"{await odile.ExportAsync("BRI", Ct)}\n{await odile.ExportAsync("QUI", Ct)}";
        return $"{records}\n{people}\n{JsonSerializer.Serialize(states)}";
    }

    private static (string Path, string Body) Filled(
        string path,
        string body,
        int foreign,
        Func<(string Local, string Foreign, string Nowhere), string> with
    )
    {
        var at = 0;
        string Fill(string text) =>
            HolePattern()
                .Replace(text, m => at++ == foreign ? with(Holes[m.Groups[1].Value]) : Holes[m.Groups[1].Value].Local);
        return (Fill(path), Fill(body).Replace('|', body.StartsWith('{') ? '|' : '\n'));
    }

    private async Task<(HttpStatusCode Status, string Text)> AskAsync(
        string who,
        string call,
        (string Path, string Body) given
    )
    {
        using var http = new HttpClient { BaseAddress = new(demo.Service.Url, "/api/v1/") };
        http.DefaultRequestHeaders.Authorization = new("Bearer", demo.Token(who));
        using var request = new HttpRequestMessage(MethodOf(call, given.Body.Length > 0), given.Path);
        if (given.Body.Length > 0)
            request.Content = new StringContent(
                given.Body,
                Encoding.UTF8,
                new MediaTypeHeaderValue(
                    call == "importKeepfile" ? "application/yaml"
                    : call == "importSheet" ? "application/octet-stream"
                    : "application/json"
                )
            );
        // The version that is there, so that nothing is refused for want of it.
        if (request.Method != HttpMethod.Get)
            request.Headers.IfMatch.Add(new($"\"{await VersionAsync(http, given.Path)}\""));
        using var answer = await http.SendAsync(request, Ct);
        return (answer.StatusCode, await answer.Content.ReadAsStringAsync(Ct));
    }

    private static HttpMethod MethodOf(string call, bool body) =>
        call.StartsWith("endSession", StringComparison.Ordinal) || call.StartsWith("endToken", StringComparison.Ordinal)
            ? HttpMethod.Delete
        : call == "describeTunnel" ? HttpMethod.Patch
        : call.StartsWith("write", StringComparison.Ordinal) ? HttpMethod.Put
        : body ? HttpMethod.Post
        : HttpMethod.Get;

    private static async Task<string> VersionAsync(HttpClient http, string path)
    {
        using var there = await http.GetAsync(
            path.StartsWith("changes/", StringComparison.Ordinal)
                ? string.Join('/', path.Split('/')[..2])
                : string.Join('/', path.Split('?')[0].Split('/')[..Math.Min(2, path.Split('/').Length)]) + "/form",
            Ct
        );
        return there.Headers.ETag?.Tag.Trim('"') ?? "1";
    }

    /// <summary>An answer with the codes that were asked for, and what differs from call to call, left out.</summary>
    private static string Neutral(string text)
    {
        foreach (var (_, foreign, nowhere) in Holes.Values.OrderByDescending(h => h.Foreign.Length))
            text = text.Replace(foreign, "#", StringComparison.OrdinalIgnoreCase)
                .Replace(nowhere, "#", StringComparison.OrdinalIgnoreCase);
        // Which of the asker's own codes lies nearest depends on what was typed.
        return NearestPattern().Replace(TracePattern().Replace(text, ""), "");
    }

    private static string Without(string text)
    {
        foreach (var (_, foreign, _) in Holes.Values.OrderByDescending(h => h.Foreign.Length))
            text = text.Replace(foreign, "", StringComparison.OrdinalIgnoreCase);
        // Examples of what would be right are the same for everybody.
        return text.Replace("10.61.40.0/24", "").Replace("10.61.8.0/22", "");
    }

    private static string Cut(string text) => text.Length > 260 ? text[..260] : text;

    [GeneratedRegex("\\{(tunnel|gateway|site|customer|suite|platform|offer|change|person|address)\\}")]
    private static partial Regex HolePattern();

    [GeneratedRegex("Expected: [^.\"]*|\"right\":\"[^\"]*\"")]
    private static partial Regex NearestPattern();

    [GeneratedRegex("\"traceId\":\"[^\"]*\"")]
    private static partial Regex TracePattern();
}

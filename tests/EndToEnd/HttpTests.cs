using System.Diagnostics;
using System.Globalization;
using System.Net;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>The HTTP interface on SQLite.</summary>
[Collection(Alone.Name)]
public class HttpOnSqlite(DemoService demo) : HttpTests(demo), IClassFixture<DemoService>;

/// <summary>The same on PostgreSQL.</summary>
[Collection(Alone.Name)]
public class HttpOnPostgres(PostgresDemoService demo) : HttpTests(demo), IClassFixture<PostgresDemoService>;

public abstract class HttpTests(DemoService demo)
{
    [Fact]
    public async Task The_second_of_two_editors_is_told_what_moved_and_nothing_is_lost()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var tomas = await demo.Service.ClientAsync("tomas");
        var seen = await ines.TunnelAsync("TID-PUMP", Ct);
        (await demo.Call("ines", HttpMethod.Patch, "tunnels/TID-PUMP", new { purpose = "x" })).Status.ShouldBe(
            (HttpStatusCode)428
        );
        await tomas.CorrectAsync(
            "TID-PUMP",
            seen.Version,
            new("B", "espLifetime", "8 h", "read again", "read", null),
            Ct
        );
        var refused = await Should.ThrowAsync<ServiceProblem>(
            ines.DescribeAsync("TID-PUMP", seen.Version, new(null, "pump control", null, null), Ct)
        );
        refused.Status.ShouldBe(HttpStatusCode.PreconditionFailed);
        refused.Message.ShouldContain("TID-PUMP was changed by tomas");
        var changed = refused.Body!.Value.GetProperty("changed").EnumerateArray().Single();
        changed.GetProperty("path").GetString().ShouldBe("b.set");
        changed.GetProperty("after").GetString()!.ShouldContain("8 h");
        var now = await ines.TunnelAsync("TID-PUMP", Ct);
        (await ines.DescribeAsync("TID-PUMP", now.Version, new(null, "pump control", null, null), Ct)).Purpose.ShouldBe(
            "pump control"
        );
    }

    [Fact]
    public async Task Of_two_closings_at_once_one_wins_and_the_other_writes_nothing()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var change = await Worked(ines, "SAL-SPIT", "10.70.9.0/24");
        var closings = await Task.WhenAll(
            Enumerable.Range(0, 4).Select(_ => demo.Call("ines", HttpMethod.Post, $"changes/{change}/close", new { }))
        );
        closings.Count(c => c.Status == HttpStatusCode.OK).ShouldBe(1);
        closings.Where(c => c.Status != HttpStatusCode.OK).ShouldAllBe(c => c.Status == HttpStatusCode.Conflict);
        (await ines.HistoryAsync("SAL-SPIT", Ct)).Count(h => h.Change == change).ShouldBe(1);
    }

    [Fact]
    public async Task An_auditor_of_one_customer_sees_that_customer_and_nothing_else()
    {
        using var maud = await demo.Service.ClientAsync("maud-audit");
        var tunnels = (await maud.TunnelsAsync(null, null, null, null, null, null, Ct)).Items;
        tunnels.Select(t => t.Customer).Distinct().ShouldBe(["SAL"]);
        // On the hub Tidewrack's tunnel meets hers: she is told that there is one, and no more.
        var hub = await maud.TunnelAsync("QUI-SAL", Ct);
        hub.Findings.Single(f => f.Code == "ADR-03").What.Text.ShouldContain("another customer's tunnel");
        foreach (
            var text in new[]
            {
                await maud.ExportAsync(null, Ct),
                System.Text.Json.JsonSerializer.Serialize(hub),
                System.Text.Json.JsonSerializer.Serialize(await maud.TodayAsync(Ct)),
                System.Text.Json.JsonSerializer.Serialize(await maud.FindingsAsync(null, null, null, null, Ct)),
                System.Text.Json.JsonSerializer.Serialize(await maud.ChangesAsync(null, null, Ct)),
            }
        )
        foreach (var foreign in new[] { "TID", "BRI-", "OTT", "Tidewrack", "tid-" })
            text.ShouldNotContain(foreign, Case.Sensitive);
        foreach (
            var path in new[]
            {
                "tunnels/BRI-ASHLOW",
                "tunnels/BRI-ASHLOW/history",
                "changes/BRI-0003",
                "findings?tunnel=TID-PUMP",
                "export?customer=BRI",
            }
        )
        {
            var (status, body) = await demo.Call("maud-audit", HttpMethod.Get, path);
            status.ShouldBe(HttpStatusCode.NotFound, path);
            body.GetProperty("detail").GetString()!.ShouldNotContain("matches");
        }
    }

    [Theory]
    [InlineData(
        "vellumkeep: keepfile/1\nsites:\n  - {code: BRI-X, customer: BRI, name: X, networks: [{prefix: "
            + "10.9.0.1/24, name: lan}]}\n",
        3,
        "host bits"
    )]
    [InlineData(
        "vellumkeep: keepfile/1\ntunnels:\n  - {code: BRI-X, customer: BRI, name: X, state: planned, form: "
            + "policy-based, agreed: {}, a: {gateway: no-such-gw}, b: {gateway: churn-gw1}}\n",
        3,
        "no gateway 'no-such-gw'"
    )]
    [InlineData("vellumkeep: keepfile/1\na: &a [1]\nb: [*a, *a]\n", 2, "anchor")]
    public async Task A_broken_import_says_where_and_changes_nothing(string text, int line, string wrong)
    {
        var before = (await demo.Call("ines", HttpMethod.Get, "customers")).Body.ToString();
        var (status, body) = await demo.Call("ines", HttpMethod.Post, "import", text);
        status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var first = body.GetProperty("problems").EnumerateArray().First();
        first.GetProperty("line").GetInt32().ShouldBe(line);
        first.GetProperty("wrong").GetString()!.ShouldContain(wrong);
        body.GetProperty("detail").GetString()!.ShouldContain("Nothing was changed");
        (await demo.Call("ines", HttpMethod.Get, "customers")).Body.ToString().ShouldBe(before);
    }

    /// <summary>
    /// A filter with a value that does not exist is refused with what there is: an empty list would say that all is
    /// well.
    /// </summary>
    [Theory]
    [InlineData("tunnels?state=x", 422, "in service")]
    [InlineData("tunnels?severity=x", 422, "degrades")]
    [InlineData("tunnels?finding=PATH-99", 422, "PATH-03")]
    [InlineData("tunnels?customer=NOBODY", 404, "BRI, LAR, MOS")]
    [InlineData("tunnels?customer=NOBODY&asOf=2026-11-01", 404, "BRI, LAR, MOS")]
    [InlineData("findings?severity=x", 422, "degrades")]
    [InlineData("findings?code=nothing", 422, "PAIR-01")]
    [InlineData("findings?customer=NOBODY", 404, "BRI, LAR, MOS")]
    [InlineData("findings?gateway=churn-gw9", 404, "churn-gw1")]
    [InlineData("findings?tunnel=BRI-X", 404, "BRI-ASHLOW")]
    [InlineData("gateways?customer=NOBODY", 404, "BRI, LAR, MOS")]
    [InlineData("sites?customer=NOBODY", 404, "BRI, LAR, MOS")]
    [InlineData("records/tunnels?customer=NOBODY", 404, "BRI, LAR, MOS")]
    [InlineData("records/things", 422, "tunnels")]
    [InlineData("addresses?q=10.0.0.0/8&customer=NOBODY", 404, "BRI, LAR, MOS")]
    [InlineData("export?customer=NOBODY", 404, "BRI, LAR, MOS")]
    [InlineData("history?customer=NOBODY", 404, "BRI, LAR, MOS")]
    [InlineData("history?kind=x", 422, "gateway")]
    [InlineData("changes?state=x", 422, "in review")]
    [InlineData("audit?what=x", 422, "show key")]
    [InlineData("audit?outcome=x", 422, "refused")]
    [InlineData("sites/BRI-X", 404, "BRI-ASHLOW")]
    [InlineData("suites/NOTHING@1", 404, "BRI-STANDARD@3")]
    [InlineData("platforms/nothing", 404, "nimbolt-hosted@1")]
    [InlineData("people/nobody", 404, "There are 6 people")]
    public async Task What_does_not_exist_is_refused_with_what_there_is(string path, int refused, string says)
    {
        var (status, body) = await demo.Call("odile", HttpMethod.Get, path);
        ((int)status).ShouldBe(refused, body.ToString());
        body.GetProperty("detail").GetString()!.ShouldContain(says);
    }

    /// <summary>The beginning of a customer's code narrows a list as the whole code does.</summary>
    [Theory]
    [InlineData("gateways?customer={0}")]
    [InlineData("findings?customer={0}&most=500")]
    [InlineData("tunnels?customer={0}")]
    [InlineData("sites?customer={0}")]
    public async Task A_beginning_of_a_code_narrows_a_list_as_the_code_does(string path)
    {
        async Task<string> Listed(string code) =>
            (await demo.Call("odile", HttpMethod.Get, string.Format(CultureInfo.InvariantCulture, path, code)))
                .Body.GetProperty("items")
                .ToString();
        var whole = await Listed("SAL");
        whole.ShouldContain("SAL");
        whole.ShouldNotContain("BRI-ASHLOW");
        (await Listed("sa")).ShouldBe(whole);
    }

    [Fact]
    public async Task Ten_megabytes_of_noise_are_refused_within_two_seconds()
    {
        var clock = Stopwatch.StartNew();
        (
            await demo.Call("ines", HttpMethod.Post, "import", "vellumkeep: keepfile/1\n" + new string('x', 10_000_000))
        ).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(2));
    }

    [Fact]
    public async Task An_import_that_alters_what_is_in_service_needs_a_reason_and_meets_the_checks_of_what_it_touches()
    {
        var text = (await demo.Command("odile", "export --customer OTT")).Out.Replace("10.21.0.0/24", "10.70.1.0/24");
        using var odile = await demo.Service.ClientAsync("odile");
        (await Should.ThrowAsync<ServiceProblem>(odile.ImportAsync(text, false, null, Ct))).Message.ShouldContain(
            "a reason is needed"
        );
        var would = await odile.ImportAsync(text, true, null, Ct);
        // The archive's new prefix meets the harbour's on the hub: the other customer's tunnel is checked again too.
        would.FindingsAdded.Select(f => (f.Tunnel, f.Code)).ShouldContain(("QUI-SAL", "ADR-03"));
        would.FindingsAdded.Select(f => (f.Tunnel, f.Code)).ShouldContain(("QUI-OTT", "ADR-03"));
        (await odile.FindingsAsync("QUI-OTT", null, "ADR-03", null, Ct)).ShouldBeEmpty();
    }

    [Fact]
    public async Task The_interface_describes_itself_and_says_nothing_secret()
    {
        using var http = new HttpClient { BaseAddress = demo.Service.Url };
        (await http.GetStringAsync("/api/v1/openapi.json", Ct)).ShouldContain("\"openapi\": \"3.1");
        (await http.GetStringAsync("/api/v1/schema/keepfile", Ct)).ShouldContain("urn:vellumkeep:keepfile:1");
        (await http.GetStringAsync("/ready", Ct)).ShouldBe("ready");
        var (status, body) = await demo.Call("ines", HttpMethod.Get, "no/such/call");
        status.ShouldBe(HttpStatusCode.NotFound);
        body.ToString().ShouldNotContain("   at ");
        demo.Service.Log.ShouldNotContain("cold-store-1");
        demo.Service.Log.ShouldNotContain(demo.Token("ines"));
    }

    /// <summary>A change on the tunnel with every step done, ready to close.</summary>
    internal static async Task<string> Worked(KeepClient ines, string tunnel, string add)
    {
        var change = await ines.DraftAsync(
            new DraftSubnets
            {
                Tunnel = tunnel,
                End = "A",
                Add = [add],
                Reason = "test",
            },
            Ct
        );
        await ines.ActAsync(change.Code, "submit", new(null, null), null, Ct);
        using var nobody = new KeepClient(ines.Service, null);
        using var tomas = new KeepClient(
            ines.Service,
            (await nobody.TokenByPasswordAsync(new("tomas", "cold-store-2", "test", 1), Ct)).Token
        );
        await tomas.ActAsync(change.Code, "approve", new(null, null), 2, Ct);
        await ines.ActAsync(change.Code, "begin", new(null, null), null, Ct);
        foreach (var step in change.Steps)
            await ines.AttemptAsync(change.Code, step.Number, new("done", null, null, null, null, "5 of 5"), Ct);
        return change.Code;
    }
}

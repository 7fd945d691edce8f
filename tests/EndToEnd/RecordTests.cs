using System.Net;
using System.Net.Http.Headers;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

public class RecordsOnSqlite(DemoService demo) : RecordTests(demo), IClassFixture<DemoService>;

public class RecordsOnPostgres(PostgresDemoService demo) : RecordTests(demo), IClassFixture<PostgresDemoService>;

/// <summary>Records of every kind: added, edited, corrected, retired, found, and as they were.</summary>
public abstract partial class RecordTests(DemoService demo)
{
    private static WriteRecord Set(string? reason, params (string Path, string? Value)[] values) =>
        new(null, null, [.. values.Select(v => new SetValue(v.Path, v.Value))], reason);

    [Fact]
    public async Task A_customer_grows_from_nothing_to_a_tunnel_with_what_follows_derived_and_goes_again_in_order()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        (
            await ines.AddAsync(
                "customers",
                Set(null, ("code", "WEX"), ("name", "Wexcombe Quarries"), ("timeZone", "Europe/Dublin")),
                false,
                Ct
            )
        ).As.ShouldBe("added");
        foreach (var (site, address) in new[] { ("PIT", "192.0.2.201"), ("YARD", "192.0.2.202") })
        {
            var made = await ines.AddAsync(
                "sites",
                Set(
                    null,
                    ("code", $"WEX-{site}"),
                    ("customer", "WEX"),
                    ("name", $"The {site.ToLowerInvariant()}"),
                    ("networks", $"[{{prefix: 10.{(site == "PIT" ? 171 : 172)}.0.0/24, name: lan}}]")
                ),
                false,
                Ct
            );
            made.Derived.Single().ShouldBe(new("timeZone", "Europe/Dublin", "WEX's time zone"));
            (
                await ines.AddAsync(
                    "gateways",
                    Set(
                        null,
                        ("code", $"wex-{site.ToLowerInvariant()}"),
                        ("site", $"WEX-{site}"),
                        ("uplinks", $"[{{label: fibre, address: {address}}}]")
                    ),
                    false,
                    Ct
                )
            )
                .Derived.Select(d => d.Value)
                .ShouldBe(["us", "unknown@1"]);
        }

        var tunnel = Set(
            null,
            ("code", "WEX-STONE"),
            ("a.gateway", "wex-pit"),
            ("b.gateway", "wex-yard"),
            ("agreed.pairs", "[{a: 10.171.0.0/24, b: 10.172.0.0/24}]"),
            ("agreed.ikeVersions", "[IKEv2]")
        );
        var would = await ines.AddAsync("tunnels", tunnel, true, Ct);
        (would.DryRun, would.Derived.Select(d => d.Path)).ShouldSatisfyAllConditions(
            w => w.DryRun.ShouldBeTrue(),
            w => w.Item2.ShouldBe(["customer", "name", "state", "form"])
        );
        (await Should.ThrowAsync<ServiceProblem>(ines.TunnelAsync("WEX-STONE", Ct))).Status.ShouldBe(
            HttpStatusCode.NotFound
        );
        await ines.AddAsync("tunnels", tunnel, false, Ct);
        (await ines.TunnelAsync("wex-stone", Ct)).Name.ShouldBe("The pit to The yard");
        (await Should.ThrowAsync<ServiceProblem>(ines.AddAsync("tunnels", tunnel, false, Ct))).Message.ShouldContain(
            "already a tunnel WEX-STONE"
        );

        // What is in use stays; the other way round it goes.
        async Task Retire(string plural, string code) =>
            await ines.RetireAsync(
                plural,
                code,
                (await ines.FormAsync(plural, code, null, Ct)).Version,
                "the quarry is worked out",
                false,
                Ct
            );
        (await Should.ThrowAsync<ServiceProblem>(Retire("gateways", "wex-pit"))).Message.ShouldContain(
            "still used by tunnel WEX-STONE"
        );
        (await Should.ThrowAsync<ServiceProblem>(Retire("customers", "WEX"))).Message.ShouldContain("WEX-PIT");
        await Retire("tunnels", "WEX-STONE");
        foreach (var code in new[] { "wex-pit", "wex-yard" })
            await Retire("gateways", code);
        foreach (var code in new[] { "WEX-PIT", "WEX-YARD" })
            await Retire("sites", code);
        await Retire("customers", "WEX");
        (await ines.RecordsAsync("customers", null, null, Ct)).Single(r => r.Code == "WEX").State.ShouldBe("retired");
        (await ines.HistoryAsync("gateways", "wex-pit", Ct))
            .Select(h => (h.What, h.Reason))
            .ShouldBe([("retire", "the quarry is worked out"), ("add", null)]);
    }

    [Fact]
    public async Task An_edit_shows_its_findings_before_it_is_made_and_a_correction_needs_a_reason()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var router = Set(null, ("gatewayIsDefaultRouter", "no"));
        var version = (await ines.FormAsync("sites", "LAR-FEN", null, Ct)).Version;
        var would = await ines.WriteAsync("sites", "LAR-FEN", version, router, true, Ct);
        would.Altered.ShouldBe(["gatewayIsDefaultRouter"]);
        would.FindingsAdded.Select(f => (f.Tunnel, f.Code)).ShouldContain(("LAR-FEN", "PATH-12"));
        (await ines.FindingsAsync("LAR-FEN", null, "PATH-12", null, Ct)).ShouldBeEmpty();
        (
            await Should.ThrowAsync<ServiceProblem>(ines.WriteAsync("sites", "LAR-FEN", version, router, false, Ct))
        ).Message.ShouldContain("a reason is needed");
        (
            await ines.WriteAsync(
                "sites",
                "LAR-FEN",
                version,
                router with
                {
                    Reason = "an inner router stands before it",
                },
                false,
                Ct
            )
        ).As.ShouldBe("corrected");
        (await ines.FindingsAsync("LAR-FEN", null, "PATH-12", null, Ct)).Count.ShouldBe(1);
        (
            await ines.WriteAsync("sites", "LAR-FEN", version + 1, Set(null, ("notes", "white door")), false, Ct)
        ).As.ShouldBe("described");
        // Written as it is already: nothing happens, and nothing is added to the history.
        (
            await ines.WriteAsync("sites", "LAR-FEN", version + 2, Set(null, ("notes", "white door")), false, Ct)
        ).As.ShouldBe("nothing");
        (await ines.HistoryAsync("sites", "LAR-FEN", Ct)).Count.ShouldBe(version + 2);
        var between = await ines.VersionsAsync("sites", "LAR-FEN", version, version + 2, Ct);
        between.Differences.Select(d => d.Path).ShouldBe(["gatewayIsDefaultRouter", "notes"], ignoreOrder: true);
    }

    [Theory]
    [InlineData("gateways", "press-gw", "uplinks[fibre]", null, "uplinks", "still uses it")]
    [InlineData("gateways", "churn-gw1", "uplinks[fibre]", null, "uplinks", "at least one")]
    [InlineData("gateways", "churn-gw1", "site", "NOWHERE", "site", "no site 'NOWHERE'")]
    [InlineData("sites", "BRI-CHURN", "networks[plant].prefix", "10.61.8.1/22", "prefix", "host bits")]
    [InlineData("tunnels", "BRI-ASHLOW", "b.gateway", "press-gw", "b", "no uplink")]
    [InlineData("tunnels", "BRI-ASHLOW", "agreed.espLifetime", "{time: 3600}", "espLifetime", "no unit")]
    [InlineData(
        "suites",
        "BRI-STANDARD@3",
        "ikeProposals",
        "[AES-257-CBC]",
        "ikeProposals",
        "not an encryption algorithm"
    )]
    [InlineData("customers", "BRI", "contacts", "[{role: nobody}]", "name", "is missing")]
    [InlineData("customers", "BRI", "]oops[", "x", "]oops[", "")]
    public async Task A_wrong_value_is_refused_with_its_field_and_nothing_is_changed(
        string plural,
        string code,
        string path,
        string? value,
        string field,
        string wrong
    )
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var before = await ines.FormAsync(plural, code, null, Ct);
        var refused = await Should.ThrowAsync<ServiceProblem>(
            ines.WriteAsync(plural, code, before.Version, Set("x", (path, value)), false, Ct)
        );
        refused.Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        refused.Body!.Value.GetProperty("field").GetString()!.ShouldContain(field);
        refused.Message.ShouldContain(wrong);
        (await ines.FormAsync(plural, code, null, Ct)).Text.ShouldBe(before.Text);
    }

    [Fact]
    public async Task Of_two_who_edit_a_gateway_the_second_is_told_what_moved_and_sends_hers_again()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var tomas = await demo.Service.ClientAsync("tomas");
        var seen = await ines.FormAsync("gateways", "press-gw", null, Ct);
        await tomas.WriteAsync(
            "gateways",
            "press-gw",
            seen.Version,
            Set(null, ("notes", "in the paper store")),
            false,
            Ct
        );
        var mine = new WriteRecord(
            null,
            seen.Text.Replace("outOfBand: the press manager at a screen", "outOfBand: the foreman at a screen"),
            null,
            null
        );
        var refused = await Should.ThrowAsync<ServiceProblem>(
            ines.WriteAsync("gateways", "press-gw", seen.Version, mine, false, Ct)
        );
        (refused.Status, refused.Message).ShouldSatisfyAllConditions(
            r => r.Status.ShouldBe(HttpStatusCode.PreconditionFailed),
            r => r.Message.ShouldContain("press-gw was changed by tomas")
        );
        refused.Body!.Value.GetProperty("changed")[0].GetProperty("after").GetString().ShouldBe("in the paper store");
        await ines.WriteAsync(
            "gateways",
            "press-gw",
            seen.Version + 1,
            Set(null, ("managementAccess.outOfBand", "the foreman at a screen")),
            false,
            Ct
        );
        (await ines.FormAsync("gateways", "press-gw", null, Ct)).Text.ShouldSatisfyAllConditions(
            t => t.ShouldContain("in the paper store"),
            t => t.ShouldContain("the foreman")
        );
    }

    [Fact]
    public async Task A_code_is_renamed_and_what_refers_to_it_follows()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var version = (await ines.FormAsync("gateways", "hill-gw", null, Ct)).Version;
        await ines.WriteAsync("gateways", "hill-gw", version, Set(null, ("code", "hilltop-gw")), false, Ct);
        (await ines.TunnelAsync("QUI-HILL", Ct)).B.Gateway.ShouldBe("hilltop-gw");
        (await ines.SearchAsync("hilltop", Ct)).Hits.Select(h => h.Kind).ShouldContain("tunnel");
        (await ines.SearchAsync("hill-gw", Ct)).Hits.ShouldNotContain(h => h.Kind == "gateway");
        // As it was before today it still bears the old name.
        (
            await ines.FormAsync("gateways", "hill-gw", DateTime.UtcNow.AddDays(-5).ToString("yyyy-MM-dd"), Ct)
        ).Code.ShouldBe("hill-gw");
    }
}

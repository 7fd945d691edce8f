using System.Net;
using Microsoft.Data.Sqlite;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>Numbers 5, 6 and 8 of the doors: who is kept out, who is believed, and how long a way in lasts.</summary>
public class LockOutTests(DemoBeside demo) : IClassFixture<DemoBeside>
{
    [Fact]
    public async Task Wrong_guesses_slow_whoever_has_a_good_history_there_and_never_keep_them_out()
    {
        using var office = Asking.From(demo.Service, "127.0.0.31");
        (await SignInAsync(office, "bram", 4)).ShouldBe(HttpStatusCode.OK);
        for (var i = 0; i < 31; i++)
            await Asking.SignInAsync(office, $"guess-{i}", "guess-after-guess", Ct);
        (await SignInAsync(office, "tomas", 2)).ShouldBe(HttpStatusCode.TooManyRequests, "tomas was never there");
        (await SignInAsync(office, "bram", 4)).ShouldBe(HttpStatusCode.OK);
        // Also where it is their own name that is guessed.
        for (var i = 0; i < 7; i++)
            (await Asking.SignInAsync(office, "bram", "guess-after-guess", Ct)).Status.ShouldBe(
                HttpStatusCode.Unauthorized
            );
        (await SignInAsync(office, "bram", 4)).ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task A_clock_that_ran_ahead_once_keeps_nobody_out()
    {
        using var desk = Asking.From(demo.Service, "127.0.0.32");
        for (var i = 0; i < 6; i++)
            await Asking.SignInAsync(desk, "tomas", "guess-after-guess", Ct);
        (await SignInAsync(desk, "tomas", 2)).ShouldBe(HttpStatusCode.TooManyRequests);
        // Counted in a year that has not come yet.
        await AlterAsync("update sign_in_tries set since = '2031-01-01T00:00:00.0000000+00:00', count = 90");
        (await SignInAsync(desk, "tomas", 2)).ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task What_a_proxy_says_is_believed_from_trusted_ones_alone()
    {
        await using var service = await RunningService.StartAsync(
            true,
            "--trusted-proxies",
            "127.0.0.40, 127.0.1.0/24",
            "--data",
            Directory.CreateTempSubdirectory("vellumkeep-").FullName
        );
        foreach (
            var (from, said, believed) in new[]
            {
                ("127.0.0.40", "203.0.113.7", true),
                ("127.0.1.7", "203.0.113.8", true),
                ("127.0.0.41", "203.0.113.9", false),
            }
        )
        {
            using var proxy = Asking.From(service, from);
            proxy.DefaultRequestHeaders.Add("X-Forwarded-For", $"192.0.2.9, {said}");
            proxy.DefaultRequestHeaders.Add("X-Forwarded-Proto", "https");
            using var answer = await proxy.PostAsync("session", Password("ines", 1), Ct);
            answer.StatusCode.ShouldBe(HttpStatusCode.OK);
            answer.Headers.GetValues("Set-Cookie").Single().Contains("secure").ShouldBe(believed, from);
            using var ines = Asking.By(service, await service.ClientTokenAsync("ines"));
            var sessions = await ines.GetStringAsync("access", Ct);
            sessions.ShouldContain($"from {(believed ? said : from)}");
            // What stands before the nearest address that is no proxy's anybody may have written.
            sessions.ShouldNotContain("192.0.2.9");
        }

        var (status, _, error) = await RunningService.ServiceAsync(["--trusted-proxies", "192.0.2.300"]);
        (status, error.Contains("192.0.2.300", StringComparison.Ordinal)).ShouldBe((2, true), error);
    }

    [Fact]
    public async Task Ways_in_are_bounded_and_end()
    {
        using var browser = Asking.From(demo.Service, "127.0.0.33");
        for (var i = 0; i < 3; i++)
            (await SignInAsync(browser, "odile", 3)).ShouldBe(HttpStatusCode.OK);
        // Signing in again ended the session before.
        (await SessionsAsync("127.0.0.33")).ShouldBe(1);
        using var many = Asking.From(demo.Service, "127.0.0.34");
        for (var i = 0; i < 55; i++)
        {
            using var one = Asking.From(demo.Service, "127.0.0.34");
            (await SignInAsync(one, "odile", 3)).ShouldBe(HttpStatusCode.OK);
        }

        (await SessionsAsync("127.0.0.34")).ShouldBe(50);
        (await SignInAsync(many, "odile", 3)).ShouldBe(HttpStatusCode.OK);
        (await many.GetAsync("today", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        await AlterAsync($"update sessions set began_at = '{DateTimeOffset.UtcNow.AddDays(-8):O}'");
        (await many.GetAsync("today", Ct)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task Signing_out_by_cookie_needs_the_consoles_header()
    {
        using var browser = Asking.From(demo.Service, "127.0.0.35");
        (await SignInAsync(browser, "bram", 4)).ShouldBe(HttpStatusCode.OK);
        (await browser.DeleteAsync("session", Ct)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await browser.GetAsync("today", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        browser.DefaultRequestHeaders.Add("X-Vellumkeep-Console", "1");
        (await browser.DeleteAsync("session", Ct)).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await browser.GetAsync("today", Ct)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task Smaller_doors_are_shut()
    {
        using var ines = Asking.By(demo.Service, demo.Token("ines"));
        using var asset = await ines.GetAsync(new Uri(demo.Service.Url, "/assets/none-such"), Ct);
        (asset.StatusCode, asset.Headers.CacheControl?.Public ?? false).ShouldBe((HttpStatusCode.NotFound, false));
        foreach (
            var (path, field) in new[]
            {
                ("calc/packet?proposal=AES-256-GCM&mtu=0", "mtu"),
                ("calc/packet?proposal=AES-256-GCM&outer=x", "outer"),
                ("calc/packet?proposal=x", "proposal"),
                ("calc/lifetime?time=8%20h&throughput=0", "throughput"),
                ("calc/lifetime?time=8%20h&data=x", "data"),
                ("calc/lifetime?time=x", "time"),
                ("calc/detect?dpd=x", "dpd"),
                ("calc/prefix/subtract?prefix=10.0.0.0/8", "less"),
                ("calc/prefix/split?prefix=10.0.0.0/8", "length"),
            }
        )
            (await (await ines.GetAsync(path, Ct)).Content.ReadAsStringAsync(Ct)).ShouldContain(
                $"\"field\":\"{field}\"",
                Case.Sensitive,
                path
            );
        // Two at once are one.
        var made = await Task.WhenAll(
            Enumerable.Range(0, 2).Select(_ => Asking.PostAsync(ines, "tunnels/TID-SEAL/keys", "{}", Ct))
        );
        made.Count(m => m.Status == HttpStatusCode.OK).ShouldBe(1, string.Join('\n', made.Select(m => m.Text)));
        demo.Service.Log.ShouldNotContain("NotSupportedException");
    }

    [Fact]
    public async Task A_suggested_code_tells_nothing_of_records_that_the_asker_does_not_see()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.AddAsync(
            "people",
            new(null, null, [new("code", "petrel"), new("name", "Petrel"), new("roles", "engineer for SAL")], null),
            false,
            Ct
        );
        using var petrel = await demo.Service.NewcomerAsync(odile, "petrel", "herons over quiet water");
        using var asks = Asking.By(demo.Service, (await petrel.MakeTokenAsync(new("t", 1), Ct)).Token);
        var foreign = await asks.GetStringAsync("choices/code?of=sites&name=churn&under=BRI", Ct);
        foreign.ShouldContain("\"BRI-CHURN\"");
    }

    /// <summary>A service that nobody has written to but its own demo.</summary>
    [Fact]
    public async Task A_fresh_demo_raises_no_alarm_about_the_clock()
    {
        await using var service = await RunningService.LoadAsync();
        service.Log.ShouldNotContain("the clock says");
    }

    [Fact]
    public async Task A_lead_is_not_added_to_a_database_that_nobody_named()
    {
        var elsewhere = Directory.CreateTempSubdirectory("vellumkeep-").FullName;
        using var process = System.Diagnostics.Process.Start(
            new System.Diagnostics.ProcessStartInfo(
                "dotnet",
                [
                    Path.Combine(RunningService.Root, "src/Service/bin/Release/net10.0/Vellumkeep.Service.dll"),
                    "add-lead",
                    "wren",
                ]
            )
            {
                WorkingDirectory = elsewhere,
                RedirectStandardError = true,
                RedirectStandardInput = true,
            }
        )!;
        process.StandardInput.Close();
        (await process.StandardError.ReadToEndAsync(Ct)).ShouldContain("Expected: --data");
        await process.WaitForExitAsync(Ct);
        process.ExitCode.ShouldBe(2);
        Directory.GetFileSystemEntries(elsewhere).ShouldBeEmpty();
    }

    private static async Task<HttpStatusCode> SignInAsync(HttpClient http, string name, int number) =>
        (await Asking.SignInAsync(http, name, $"cold-store-{number}", Ct)).Status;

    private static StringContent Password(string name, int number) =>
        new($$"""{"name":"{{name}}","password":"cold-store-{{number}}"}""", null, "application/json");

    private async Task<int> SessionsAsync(string address)
    {
        using var odile = Asking.By(demo.Service, demo.Token("odile"));
        var sessions = await odile.GetStringAsync("access", Ct);
        return sessions.Split($"from {address}").Length - 1;
    }

    private async Task AlterAsync(string sql)
    {
        await using var database = new SqliteConnection(
            $"Data Source={Path.Combine(demo.Service.Data, "vellumkeep.db")};Pooling=False"
        );
        await database.OpenAsync(Ct);
        await using var command = database.CreateCommand();
        command.CommandText = sql;
        await command.ExecuteNonQueryAsync(Ct);
    }
}

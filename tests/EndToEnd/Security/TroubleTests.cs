using System.Diagnostics;
using System.Net;
using Microsoft.Data.Sqlite;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>
/// A database that is locked or away is told as that, and the service comes back automatically; more calls than it can
/// serve are told too.
/// </summary>
[Collection(Alone.Name)]
public class TroubleTests
{
    [Fact]
    public async Task A_locked_database_gives_503_and_the_service_recovers()
    {
        await using var service = await RunningService.StartAsync();
        var token = await service.ClientTokenAsync("ines");
        using var ines = Asking.By(service, token);
        var version = (await ines.GetAsync("sites/BRI-CHURN/form", Ct)).Headers.ETag!.Tag;
        await using (
            var other = new SqliteConnection($"Data Source={Path.Combine(service.Data, "vellumkeep.db")};Pooling=False")
        )
        {
            await other.OpenAsync(Ct);
            await using var begin = other.CreateCommand();
            begin.CommandText = "begin immediate";
            await begin.ExecuteNonQueryAsync(Ct);
            using var write = await PutAsync(ines, version);
            write.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
            write.Headers.RetryAfter!.Delta!.Value.ShouldBeGreaterThan(TimeSpan.Zero);
            (await write.Content.ReadAsStringAsync(Ct)).ShouldContain("the database is locked");
            // Who reads does not wait for it.
            var clock = Stopwatch.StartNew();
            (await ines.GetAsync("tunnels/BRI-ASHLOW", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
            clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(2));
            using var ready = await ines.GetAsync(new Uri(service.Url, "/ready"), Ct);
            (ready.StatusCode, await ready.Content.ReadAsStringAsync(Ct)).ShouldBe(
                (HttpStatusCode.ServiceUnavailable, "not ready: the database is locked")
            );
            var (status, _, error) = await service.CommandAsync("site edit BRI-CHURN --set 'notes=x'", null, token);
            (status, error.Trim().Split('\n').Length, error.Contains("   at ", StringComparison.Ordinal)).ShouldBe(
                (6, 1, false),
                error
            );
        }

        using var again = await PutAsync(ines, version);
        again.StatusCode.ShouldBe(HttpStatusCode.OK);
        await ReadyAsync(service);
    }

    /// <summary>
    /// No file of the service may grow any more, as on a full disk or a used-up quota; then there is room again.
    /// </summary>
    [Fact]
    public async Task A_full_disk_gives_503_loses_nothing_and_the_service_recovers()
    {
        await using var service = await RunningService.StartAsync();
        var token = await service.ClientTokenAsync("ines");
        using var ines = Asking.By(service, token);
        var version = (await ines.GetAsync("sites/BRI-CHURN/form", Ct)).Headers.ETag!.Tag;
        await MayGrowToAsync(service, 4096);
        using (var write = await PutAsync(ines, version))
        {
            write.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
            write.Headers.RetryAfter!.Delta!.Value.ShouldBeGreaterThan(TimeSpan.Zero);
            (await write.Content.ReadAsStringAsync(Ct)).ShouldMatch("the disk is full|cannot be read or written");
        }

        (await ines.GetAsync("tunnels/BRI-ASHLOW", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        var (status, _, error) = await service.CommandAsync("site edit BRI-CHURN --set 'notes=x'", null, token);
        (status, error.Trim().Split('\n').Length).ShouldBe((6, 1), error);
        await MayGrowToAsync(service, null);
        using var again = await PutAsync(ines, version);
        again.StatusCode.ShouldBe(HttpStatusCode.OK, await again.Content.ReadAsStringAsync(Ct));
        await ReadyAsync(service);
        (await service.CommandAsync("history verify", null, await service.ClientTokenAsync("odile"))).Status.ShouldBe(
            0
        );
    }

    /// <summary>How large a file the service may write from now on; no number: any.</summary>
    private static async Task MayGrowToAsync(RunningService service, long? octets)
    {
        using var limit = Process.Start(
            "prlimit",
            [
                "--pid",
                $"{service.ProcessId}",
                $"--fsize={octets?.ToString(System.Globalization.CultureInfo.InvariantCulture) ?? "unlimited"}:unlimited",
            ]
        );
        await limit.WaitForExitAsync(Ct);
        limit.ExitCode.ShouldBe(0);
    }

    [Fact]
    public async Task A_database_that_is_away_gives_503_and_a_burst_is_served_or_told_so()
    {
        await using var service = await RunningService.StartOnPostgresAsync(";Maximum Pool Size=12");
        var postgres = service.Postgres!;
        var token = await service.ClientTokenAsync("bram");
        using var bram = Asking.By(service, token);
        bram.Timeout = TimeSpan.FromMinutes(2);
        var burst = await Task.WhenAll(
            Enumerable
                .Range(0, 500)
                .Select(async n =>
                {
                    using var answer = await bram.GetAsync(n % 2 == 0 ? "tunnels/BRI-ASHLOW" : "today", Ct);
                    return (answer.StatusCode, Retry: answer.Headers.RetryAfter is not null);
                })
        );
        burst.ShouldAllBe(b =>
            b.StatusCode == HttpStatusCode.OK || (b.StatusCode == HttpStatusCode.ServiceUnavailable && b.Retry)
        );
        burst.Count(b => b.StatusCode == HttpStatusCode.OK).ShouldBeGreaterThan(100);

        await postgres.StopAsync();
        using (var away = await bram.GetAsync("today", Ct))
        {
            (away.StatusCode, away.Headers.RetryAfter is not null).ShouldBe((HttpStatusCode.ServiceUnavailable, true));
            (await away.Content.ReadAsStringAsync(Ct)).ShouldNotContain("   at ");
        }

        (await bram.GetAsync(new Uri(service.Url, "/ready"), Ct)).StatusCode.ShouldBe(
            HttpStatusCode.ServiceUnavailable
        );
        (await bram.GetAsync(new Uri(service.Url, "/health"), Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        var (status, _, error) = await service.CommandAsync("today", null, token);
        (status, error.Trim().Split('\n').Length).ShouldBe((6, 1), error);
        await postgres.StartAgainAsync();
        await ReadyAsync(service);
        (await bram.GetAsync("today", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    private static async Task<HttpResponseMessage> PutAsync(HttpClient http, string version)
    {
        using var request = new HttpRequestMessage(HttpMethod.Put, "sites/BRI-CHURN")
        {
            Content = new StringContent("""{"set":[{"path":"notes","value":"after"}]}""", null, "application/json"),
        };
        request.Headers.IfMatch.Add(new(version));
        return await http.SendAsync(request, Ct);
    }

    private static async Task ReadyAsync(RunningService service)
    {
        using var http = new HttpClient();
        var status = HttpStatusCode.ServiceUnavailable;
        for (var i = 0; i < 60 && status != HttpStatusCode.OK; i++)
        {
            await Task.Delay(250, Ct);
            using var ready = await http.GetAsync(new Uri(service.Url, "/ready"), Ct);
            status = ready.StatusCode;
        }

        status.ShouldBe(HttpStatusCode.OK);
    }
}

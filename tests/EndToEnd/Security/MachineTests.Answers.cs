using System.Diagnostics;
using System.Net;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

public partial class MachineTests
{
    [Fact]
    public async Task The_service_says_what_it_takes_and_refuses_the_rest_in_one_line()
    {
        var (status, told, _) = await RunningService.ServiceAsync(["--help"]);
        (
            status,
            told.Contains("--key-folder", StringComparison.Ordinal),
            told.Contains("re-encrypt", StringComparison.Ordinal)
        ).ShouldBe((0, true, true));
        (status, told, _) = await RunningService.ServiceAsync(["--version"]);
        (status, told.Trim().Length).ShouldSatisfyAllConditions(
            x => x.status.ShouldBe(0),
            x => x.Item2.ShouldBeInRange(3, 100)
        );
        foreach (var (wrong, says) in new[] { ("--dta", "--data"), ("serve-it", "backup, restore, add-lead") })
            (await RunningService.ServiceAsync([wrong])).Error.ShouldSatisfyAllConditions(
                e => e.ShouldContain($"'{wrong}'"),
                e => e.ShouldContain(says)
            );
        foreach (
            var args in new string[][]
            {
                ["--dta", "x"],
                ["serve-it"],
                ["backup"],
                ["--postgres", "Host"],
                ["--postgres", "Host=/nowhere;Database=x;Timeout=2"],
                ["--data", "/proc/nothing"],
                ["--demo", "/no/such/folder"],
                ["--largest-import", "many"],
                ["--largest-import", "1"],
            }
        )
        {
            var (code, output, error) = await RunningService.ServiceAsync([
                .. args,
                .. args.Contains("--data")
                    ? []
                    : new[] { "--data", Path.Combine(Path.GetTempPath(), Guid.NewGuid().ToString()) },
            ]);
            code.ShouldBe(2, string.Join(' ', args));
            error.Trim().Split('\n').Length.ShouldBe(1, error);
            (output + error).ShouldNotContain("   at ");
        }
    }

    [Fact]
    public async Task Answers_say_how_long_they_may_be_kept_and_the_reader_needs_no_script()
    {
        await using var service = await RunningService.StartAsync();
        using var odile = Asking.By(service, await service.ClientTokenAsync("odile"));
        foreach (var path in new[] { "today", "export", "tunnels/BRI-ASHLOW/keys", "backup" })
            (
                await odile.GetAsync(path, HttpCompletionOption.ResponseHeadersRead, Ct)
            ).Headers.CacheControl!.NoStore.ShouldBeTrue(path);
        var page = await odile.GetAsync(service.Url, Ct);
        page.Headers.CacheControl!.NoCache.ShouldBeTrue();
        var script = System
            .Text.RegularExpressions.Regex.Match(await page.Content.ReadAsStringAsync(Ct), "/assets/[^\"]+\\.js")
            .Value;
        (await odile.GetAsync(new Uri(service.Url, script), Ct)).Headers.CacheControl!.MaxAge.ShouldBe(
            TimeSpan.FromDays(365)
        );
        var reference = await odile.GetAsync(new Uri(service.Url, "/api/reference"), Ct);
        var text = await reference.Content.ReadAsStringAsync(Ct);
        text.ShouldNotContain("<script");
        using var document = JsonDocument.Parse(await odile.GetStringAsync("openapi.json", Ct));
        foreach (
            var operation in document
                .RootElement.GetProperty("paths")
                .EnumerateObject()
                .SelectMany(p => p.Value.EnumerateObject())
        )
            text.ShouldContain($"id=\"{operation.Value.GetProperty("operationId").GetString()}\"");
        // A listener hears that the line stands, and is told when there was too much to tell.
        using var listener = Asking.By(service, await service.ClientTokenAsync("bram"));
        listener.Timeout = Timeout.InfiniteTimeSpan;
        using var stream = new StreamReader(await listener.GetStreamAsync("events?after=0", Ct));
        var lines = new List<string>();
        for (var clock = Stopwatch.StartNew(); clock.Elapsed < TimeSpan.FromSeconds(25) && !lines.Contains(": "); )
            lines.Add(await stream.ReadLineAsync(Ct).AsTask().WaitAsync(TimeSpan.FromSeconds(25), Ct) ?? "");
        lines.ShouldContain(": ");
    }
}

using System.Net;
using System.Net.Http.Json;
using System.Text.RegularExpressions;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>What comes with the console's first page, so that it does not have to be asked for later.</summary>
public partial class FirstPageTests(DemoService demo) : IClassFixture<DemoService>
{
    [Fact]
    public async Task Whoever_is_signed_in_is_told_what_the_first_page_will_ask_for()
    {
        using var http = await SignedInAsync("ines");
        var announced = Announced(await http.GetAsync("/", Ct));
        announced[0].ShouldBe("/api/v1/today");
        announced.Length.ShouldBeGreaterThan(1);
        foreach (var path in announced)
            (await http.GetAsync(path, Ct)).StatusCode.ShouldBe(HttpStatusCode.OK, path);
        announced.Skip(1).ShouldAllBe(p => p.StartsWith("/assets/") && p.EndsWith(".js"));
    }

    [Fact]
    public async Task Other_pages_are_told_only_what_every_page_counts()
    {
        using var http = await SignedInAsync("ines");
        Announced(await http.GetAsync("/tunnels/BRI-ASHLOW", Ct)).ShouldBe(["/api/v1/today"]);
    }

    [Fact]
    public async Task Whoever_is_not_signed_in_is_told_nothing()
    {
        using var http = new HttpClient { BaseAddress = demo.Service.Url };
        Announced(await http.GetAsync("/", Ct)).ShouldBeEmpty();
    }

    private async Task<HttpClient> SignedInAsync(string name)
    {
        var http = new HttpClient(new HttpClientHandler { CookieContainer = new() }, true)
        {
            BaseAddress = demo.Service.Url,
        };
        http.DefaultRequestHeaders.Add("X-Vellumkeep-Console", "1");
        var answer = await http.PostAsJsonAsync(
            "/api/v1/session",
            new { name, password = RunningService.Password(name) },
            Ct
        );
        answer.StatusCode.ShouldBe(HttpStatusCode.OK);
        return http;
    }

    private static string[] Announced(HttpResponseMessage answer) =>
        answer.Headers.TryGetValues("Link", out var links)
            ? [.. Target().Matches(string.Join(", ", links)).Select(m => m.Groups[1].Value)]
            : [];

    [GeneratedRegex("<([^>]*)>")]
    private static partial Regex Target();

    private static CancellationToken Ct => TestContext.Current.CancellationToken;
}

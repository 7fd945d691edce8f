using System.Net;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>What a token lets do to other tokens, to sessions, and after a password was set.</summary>
[Collection(SharedDemo.Name)]
public class TokenTests(DemoBeside demo)
{
    private KeepClient By(string token) => new(demo.Service.Url, token);

    [Fact]
    public async Task A_token_makes_and_ends_nothing_beyond_its_own_bound()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        using var reads = By((await odile.MakeTokenAsync(new("wall", 7, "reader"), Ct)).Token);
        foreach (var most in new[] { "engineer", "reviewer", "lead" })
            (
                await Should.ThrowAsync<ServiceProblem>(reads.MakeTokenAsync(new("more", 7, most), Ct))
            ).ShouldSatisfyAllConditions(
                p => p.Status.ShouldBe(HttpStatusCode.Forbidden),
                p => p.Message.ShouldContain("at most the role reader")
            );
        // Asked for nothing, it gives what it has, and for no longer than it has it.
        var child = await reads.MakeTokenAsync(new("child", 300), Ct);
        child.ExpiresAt.ShouldBeLessThan(DateTimeOffset.UtcNow.AddDays(8));
        using var grandchild = By(child.Token);
        (await Should.ThrowAsync<ServiceProblem>(grandchild.VerifyAsync(Ct))).Status.ShouldBe(HttpStatusCode.Forbidden);
        (
            await Should.ThrowAsync<ServiceProblem>(grandchild.MakeTokenAsync(new("more", 7, "engineer"), Ct))
        ).Status.ShouldBe(HttpStatusCode.Forbidden);

        using var browser = new HttpClient(new HttpClientHandler { CookieContainer = new() })
        {
            BaseAddress = new(demo.Service.Url, "/api/v1/"),
        };
        (await Asking.SignInAsync(browser, "odile", "cold-store-3", Ct)).Status.ShouldBe(HttpStatusCode.OK);
        var access = await odile.AccessAsync(Ct);
        var lead = access.Tokens.First(t => t.Most == "lead");
        (await Should.ThrowAsync<ServiceProblem>(reads.EndAccessAsync(null, true, lead.Id, Ct))).Status.ShouldBe(
            HttpStatusCode.Forbidden
        );
        (
            await Should.ThrowAsync<ServiceProblem>(reads.EndAccessAsync(null, false, access.Sessions[0].Id, Ct))
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await Should.ThrowAsync<ServiceProblem>(reads.EndAccessAsync("ines", true, "none", Ct))).Status.ShouldBe(
            HttpStatusCode.Forbidden
        );
        (await browser.GetAsync("today", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        // Its equals it may end.
        await reads.EndAccessAsync(null, true, child.Id, Ct);
        (await Should.ThrowAsync<ServiceProblem>(grandchild.TodayAsync(Ct))).Status.ShouldBe(
            HttpStatusCode.Unauthorized
        );
    }

    [Fact]
    public async Task A_token_lets_do_what_its_person_may_at_the_moment()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.AddAsync(
            "people",
            new(null, null, [new("code", "heron"), new("name", "Heron"), new("roles", "engineer")], null),
            false,
            Ct
        );
        using var heron = await demo.Service.NewcomerAsync(odile, "heron", "four-unrelated-words");
        using var script = By((await heron.MakeTokenAsync(new("script", 30), Ct)).Token);
        (
            await script.DescribeAsync(
                "MOS-STORE-1",
                (await script.TunnelAsync("MOS-STORE-1", Ct)).Version,
                new(null, "by heron", null, null),
                Ct
            )
        ).Purpose.ShouldBe("by heron");
        await odile.WriteAsync(
            "people",
            "heron",
            (await odile.FormAsync("people", "heron", null, Ct)).Version,
            new(null, null, [new("roles", "[reader for SAL]")], "moved on"),
            false,
            Ct
        );
        (await Should.ThrowAsync<ServiceProblem>(script.TunnelAsync("MOS-STORE-1", Ct))).Status.ShouldBe(
            HttpStatusCode.NotFound
        );
        (
            await Should.ThrowAsync<ServiceProblem>(script.DescribeAsync("SAL-SPIT", 1, new(null, "x", null, null), Ct))
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task A_new_password_ends_everything_that_was_made_with_the_old_one_and_says_what_stays()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.AddAsync(
            "people",
            new(null, null, [new("code", "siskin"), new("name", "Siskin"), new("roles", "reader")], null),
            false,
            Ct
        );
        using var siskin = await demo.Service.NewcomerAsync(odile, "siskin", "four-unrelated-words");
        var made = (await siskin.MakeTokenAsync(new("script", 30), Ct)).Token;
        using var script = By(made);
        using var browser = new HttpClient(new HttpClientHandler { CookieContainer = new() })
        {
            BaseAddress = new(demo.Service.Url, "/api/v1/"),
        };
        (await Asking.SignInAsync(browser, "siskin", "four-unrelated-words", Ct)).Status.ShouldBe(HttpStatusCode.OK);
        using var listening = new StreamReader(await ListenAsync(made));

        (await siskin.ReplacePasswordAsync(new("four-unrelated-words", "another-good-phrase-here"), Ct)).ShouldBe(
            new PasswordReplaced(1, 1, "the token in use")
        );
        (await Should.ThrowAsync<ServiceProblem>(script.TodayAsync(Ct))).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await browser.GetAsync("today", Ct)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        await siskin.TodayAsync(Ct);
        // Whoever listened by the token that ended hears nothing more: the stream closes with the next thing that
        // happens.
        using var ines = await demo.Service.ClientAsync("ines");
        await ines.DescribeAsync(
            "SAL-PIERS",
            (await ines.TunnelAsync("SAL-PIERS", Ct)).Version,
            new(null, "heard by nobody", null, null),
            Ct
        );
        (await listening.ReadToEndAsync(Ct).WaitAsync(TimeSpan.FromSeconds(20), Ct)).ShouldNotContain("SAL-PIERS");

        // Given by a lead, nothing stays at all.
        await odile.GivePasswordAsync("siskin", Ct);
        (await Should.ThrowAsync<ServiceProblem>(siskin.TodayAsync(Ct))).Status.ShouldBe(HttpStatusCode.Unauthorized);
    }

    private async Task<Stream> ListenAsync(string token)
    {
        var http = Asking.By(demo.Service, token);
        http.Timeout = Timeout.InfiniteTimeSpan;
        return await http.GetStreamAsync("events", Ct);
    }
}

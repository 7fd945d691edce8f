using System.Net;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>Who can sign in, for how long, and who no longer can.</summary>
public class PeopleTests(DemoBeside demo) : IClassFixture<DemoBeside>
{
    private async Task<KeepClient> NewAsync(string name, string roles)
    {
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.AddAsync(
            "people",
            new(null, null, [new("code", name), new("name", name), new("roles", roles)], null),
            false,
            Ct
        );
        return await demo.Service.NewcomerAsync(odile, name, "four-unrelated-words");
    }

    private async Task<ServiceProblem> Wrong(string name, string password)
    {
        using var nobody = new KeepClient(demo.Service.Url, null);
        return await Should.ThrowAsync<ServiceProblem>(nobody.TokenByPasswordAsync(new(name, password, "t", 1), Ct));
    }

    [Fact]
    public async Task Who_has_left_is_shut_out_at_once_everywhere_and_their_name_stays_in_the_history()
    {
        using var wren = await NewAsync("wren", "engineer");
        using var second = new KeepClient(demo.Service.Url, (await wren.MakeTokenAsync(new("script", 30), Ct)).Token);
        using var browser = new HttpClient(new HttpClientHandler { CookieContainer = new() })
        {
            BaseAddress = demo.Service.Url,
        };
        (
            await System.Net.Http.Json.HttpClientJsonExtensions.PostAsJsonAsync(
                browser,
                "/api/v1/session",
                new SignIn("wren", "four-unrelated-words"),
                Ct
            )
        ).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await browser.GetAsync("/api/v1/today", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        await wren.DescribeAsync(
            "MOS-STORE-2",
            (await wren.TunnelAsync("MOS-STORE-2", Ct)).Version,
            new(null, "by wren", null, null),
            Ct
        );

        (await demo.Command("odile", "person leave wren --reason 'went to sea'")).Out.ShouldContain("wren retired");
        (await Should.ThrowAsync<ServiceProblem>(wren.TodayAsync(Ct))).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await Should.ThrowAsync<ServiceProblem>(second.TodayAsync(Ct))).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await browser.GetAsync("/api/v1/today", Ct)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await Wrong("wren", "four-unrelated-words")).Message.ShouldBe("Wrong name or password.");
        (await demo.Command("odile", "person show wren")).Out.ShouldContain(
            "left " + DateTime.UtcNow.ToString("yyyy-MM-dd")
        );
        (await demo.Command("bram", "tunnel history MOS-STORE-2")).Out.ShouldContain("wren");
    }

    [Fact]
    public async Task Five_wrong_tries_close_the_door_there_and_the_audit_list_says_so()
    {
        using var lark = await NewAsync("lark", "reader");
        // From a place where lark has never signed in.
        using var there = Security.Asking.From(demo.Service, "127.0.0.25");
        for (var i = 0; i < 5; i++)
            (await Security.Asking.SignInAsync(there, "lark", "not-this-one-either", Ct)).Status.ShouldBe(
                HttpStatusCode.Unauthorized
            );
        var locked = await Security.Asking.SignInAsync(there, "lark", "four-unrelated-words", Ct);
        locked.Status.ShouldBe(HttpStatusCode.TooManyRequests);
        locked.Text.ShouldContain("Too many failed sign-ins. Try again in");
        // Who is in already stays in; a lead lets the rest in again with a new password.
        await lark.TodayAsync(Ct);
        using var odile = await demo.Service.ClientAsync("odile");
        IReadOnlyList<AuditLine> Of(Page<AuditLine> page) => page.Items;
        for (
            var i = 0;
            i < 50 && Of(await odile.AuditAsync("lark", "sign in", "refused", null, null, null, null, Ct)).Count < 6;
            i++
        )
            await Task.Delay(100, Ct);
        Of(await odile.AuditAsync("lark", "sign in", "refused", null, null, null, null, Ct))
            .Select(a => a.About)
            .ShouldBe(["too many tries", .. Enumerable.Repeat("wrong name or password", 5)]);
        var given = await odile.GivePasswordAsync("lark", Ct);
        // All of it is forgiven, there as well.
        (await Security.Asking.SignInAsync(there, "lark", given.Password, Ct)).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task A_given_password_lets_do_nothing_but_replace_it()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.AddAsync(
            "people",
            new(null, null, [new("code", "tern"), new("name", "Tern"), new("roles", "engineer")], null),
            false,
            Ct
        );
        (await Wrong("tern", "")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        var given = await odile.GivePasswordAsync("tern", Ct);
        using var nobody = new KeepClient(demo.Service.Url, null);
        using var tern = new KeepClient(
            demo.Service.Url,
            (await nobody.TokenByPasswordAsync(new("tern", given.Password, "t", 1), Ct)).Token
        );
        (await tern.WhoAsync(Ct)).MustReplacePassword.ShouldBeTrue();
        (await Should.ThrowAsync<ServiceProblem>(tern.TodayAsync(Ct))).Type.ShouldEndWith("replace-password");
        await tern.ReplacePasswordAsync(new(given.Password, "four-unrelated-words"), Ct);
        await tern.TodayAsync(Ct);
    }

    [Fact]
    public async Task A_token_lets_do_no_more_than_it_was_made_for_and_its_value_is_kept_nowhere()
    {
        using var odile = await demo.Service.ClientAsync("odile");
        var made = await odile.MakeTokenAsync(new("wall screen", 7, "reader"), Ct);
        using var screen = new KeepClient(demo.Service.Url, made.Token);
        await screen.TodayAsync(Ct);
        (await Should.ThrowAsync<ServiceProblem>(screen.VerifyAsync(Ct))).Message.ShouldContain(
            "at most the role reader"
        );
        (
            await Should.ThrowAsync<ServiceProblem>(
                screen.DescribeAsync("SAL-PIERS", 1, new("x", null, null, null), Ct)
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
        var line = (await odile.AccessAsync(Ct)).Tokens.Single(t => t.Name == "wall screen");
        (line.Most, line.Used is not null).ShouldBe(("reader", true));
        var everything =
            string.Join('\n', (await odile.CommitsAsync(null, null, null, null, null, null, null, Ct)).Items)
            + demo.Service.Log
            + await odile.ExportAsync(null, Ct);
        everything.ShouldNotContain(made.Token);
        foreach (var file in Directory.GetFiles(demo.Service.Data, "*.db*"))
            System
                .Text.Encoding.Latin1.GetString(await RunningService.ReadSharedAsync(file, Ct))
                .ShouldNotContain(made.Token[3..]);
        await odile.EndAccessAsync(null, true, line.Id, Ct);
        (await Should.ThrowAsync<ServiceProblem>(screen.TodayAsync(Ct))).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await Should.ThrowAsync<ServiceProblem>(odile.MakeTokenAsync(new("x", 400), Ct))).Message.ShouldContain(
            "1 to 365"
        );
        (await Should.ThrowAsync<ServiceProblem>(odile.MakeTokenAsync(new("x", 1, "king"), Ct)))
            .Body!.Value.GetProperty("field")
            .GetString()
            .ShouldBe("most");
    }

    [Fact]
    public async Task Sessions_are_listed_and_ended_by_oneself_or_a_lead_and_a_new_password_ends_the_others()
    {
        using var dunnock = await NewAsync("dunnock", "reader");
        async Task<HttpClient> Browser()
        {
            var http = new HttpClient(new HttpClientHandler { CookieContainer = new() })
            {
                BaseAddress = demo.Service.Url,
            };
            http.DefaultRequestHeaders.UserAgent.ParseAdd("Harbour-Browser/1");
            (
                await System.Net.Http.Json.HttpClientJsonExtensions.PostAsJsonAsync(
                    http,
                    "/api/v1/session",
                    new SignIn("dunnock", "four-unrelated-words"),
                    Ct
                )
            ).EnsureSuccessStatusCode();
            return http;
        }

        using var one = await Browser();
        using var two = await Browser();
        using var odile = await demo.Service.ClientAsync("odile");
        var sessions = (await odile.PersonAsync("dunnock", Ct)).Access.Sessions;
        sessions.Count.ShouldBe(2);
        sessions[0].From.ShouldStartWith("Harbour-Browser/1 from ");
        await odile.EndAccessAsync("dunnock", false, sessions[0].Id, Ct);
        new[]
        {
            (await one.GetAsync("/api/v1/session", Ct)).StatusCode,
            (await two.GetAsync("/api/v1/session", Ct)).StatusCode,
        }.ShouldBe([HttpStatusCode.OK, HttpStatusCode.Unauthorized], ignoreOrder: true);
        await dunnock.ReplacePasswordAsync(new("four-unrelated-words", "four-other-plain-words"), Ct);
        (await one.GetAsync("/api/v1/session", Ct)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        // A cookie alone changes nothing: another site's page would send it too.
        using var three = new HttpClient(new HttpClientHandler { CookieContainer = new() })
        {
            BaseAddress = demo.Service.Url,
        };
        (
            await System.Net.Http.Json.HttpClientJsonExtensions.PostAsJsonAsync(
                three,
                "/api/v1/session",
                new SignIn("dunnock", "four-other-plain-words"),
                Ct
            )
        ).EnsureSuccessStatusCode();
        (
            await System.Net.Http.Json.HttpClientJsonExtensions.PostAsJsonAsync(
                three,
                "/api/v1/tokens",
                new NewToken("x", 1),
                Ct
            )
        ).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
    }
}

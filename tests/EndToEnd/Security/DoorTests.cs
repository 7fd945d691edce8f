using System.Diagnostics;
using System.Net;
using Shouldly;
using Vellumkeep.Client;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>Who may try to sign in, how often, and what the answer tells.</summary>
[Collection(OneDemo.Name)]
public class DoorTests(DemoProcess demo)
{
    [Fact]
    public async Task Names_that_somebody_has_and_names_that_nobody_has_are_answered_alike()
    {
        using var stranger = Asking.From(demo.Service, "127.0.0.20");
        var (known, unknown) = (new List<(HttpStatusCode, string)>(), new List<(HttpStatusCode, string)>());
        var (knownTimes, unknownTimes) = (new List<long>(), new List<long>());
        for (var i = 0; i < 7; i++)
            foreach (
                var (name, answers, times) in new[]
                {
                    ("bram", known, knownTimes),
                    ("nobody-here", unknown, unknownTimes),
                }
            )
            {
                var clock = Stopwatch.StartNew();
                var answer = await Asking.SignInAsync(stranger, name, "not-the-right-one", Ct);
                times.Add(clock.ElapsedMilliseconds);
                answers.Add((answer.Status, Digits(Asking.Detail(answer.Text))));
                (answer.RetryAfter is not null).ShouldBe(answer.Status == HttpStatusCode.TooManyRequests);
            }

        known.ShouldBe(unknown);
        known
            .Select(k => k.Item1)
            .ShouldBe([
                .. Enumerable.Repeat(HttpStatusCode.Unauthorized, 5),
                HttpStatusCode.TooManyRequests,
                HttpStatusCode.TooManyRequests,
            ]);
        // A password is hashed for either; without that an answer takes a fraction of the time.
        var (a, b) = (knownTimes.Take(5).Order().ElementAt(2), unknownTimes.Take(5).Order().ElementAt(2));
        ((double)Math.Max(a, b) / Math.Max(1, Math.Min(a, b))).ShouldBeLessThan(4);
    }

    [Fact]
    public async Task Tries_at_the_same_moment_are_counted_before_they_are_judged()
    {
        using var stranger = Asking.From(demo.Service, "127.0.0.21");
        var answers = await Task.WhenAll(
            Enumerable.Range(0, 16).Select(_ => Asking.SignInAsync(stranger, "tomas", "guess-after-guess", Ct))
        );
        answers.Count(x => x.Status == HttpStatusCode.Unauthorized).ShouldBe(5);
        answers.Count(x => x.Status == HttpStatusCode.TooManyRequests).ShouldBe(11);
        // The right password comes too late there, and right ones at the same moment elsewhere are no guessing.
        (await Asking.SignInAsync(stranger, "tomas", "cold-store-2", Ct)).Status.ShouldBe(
            HttpStatusCode.TooManyRequests
        );
        using var desk = Asking.From(demo.Service, "127.0.0.22");
        (
            await Task.WhenAll(
                Enumerable.Range(0, 8).Select(_ => Asking.SignInAsync(desk, "tomas", "cold-store-2", Ct))
            )
        ).ShouldAllBe(x => x.Status == HttpStatusCode.OK);
    }

    [Fact]
    public async Task A_lead_is_not_kept_out_by_strangers_wherever_they_come_from()
    {
        using var desk = Asking.From(demo.Service, "127.0.0.30");
        (await Asking.SignInAsync(desk, "odile", "cold-store-3", Ct)).Status.ShouldBe(HttpStatusCode.OK);
        var judged = 0;
        for (var n = 40; n < 54; n++)
        {
            using var stranger = Asking.From(demo.Service, $"127.0.0.{n}");
            for (var i = 0; i < 5; i++)
                judged +=
                    (await Asking.SignInAsync(stranger, "odile", "guess-after-guess", Ct)).Status
                    == HttpStatusCode.Unauthorized
                        ? 1
                        : 0;
        }

        // From all of them together fifty tries are judged; then no more, not even the right one from a place where she
        // never was.
        judged.ShouldBe(50);
        using var elsewhere = Asking.From(demo.Service, "127.0.0.60");
        (await Asking.SignInAsync(elsewhere, "odile", "cold-store-3", Ct)).Status.ShouldBe(
            HttpStatusCode.TooManyRequests
        );
        (await Asking.SignInAsync(desk, "Odile ", "cold-store-3", Ct)).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task One_address_has_few_wrong_tries_whatever_the_names()
    {
        using var stranger = Asking.From(demo.Service, "127.0.0.70");
        var answers = new List<HttpStatusCode>();
        for (var i = 0; i < 34; i++)
            answers.Add((await Asking.SignInAsync(stranger, $"name-{i}", "guess-after-guess", Ct)).Status);
        answers.Take(30).ShouldAllBe(s => s == HttpStatusCode.Unauthorized);
        answers.Skip(30).ShouldAllBe(s => s == HttpStatusCode.TooManyRequests);
        (await Asking.SignInAsync(stranger, "ines", "cold-store-1", Ct)).Status.ShouldBe(
            HttpStatusCode.TooManyRequests
        );
    }

    [Theory]
    [InlineData("password1234")]
    [InlineData("Sommer2026!!")]
    [InlineData("qwertyuiop12")]
    [InlineData("aaaaaaaaaaaaaaaa")]
    [InlineData("Welcome2026!")]
    [InlineData("123456789012")]
    [InlineData("Vellumkeep-2026!")]
    [InlineData("lark-lark-lark")]
    [InlineData("short")]
    public async Task A_common_or_trivial_password_is_refused_and_never_repeated(string password)
    {
        using var odile = await demo.Service.ClientAsync("odile");
        if ((await odile.PeopleAsync(Ct)).All(p => p.Name != "lark"))
            await odile.AddAsync(
                "people",
                new(null, null, [new("code", "lark"), new("name", "Lark"), new("roles", "reader")], null),
                false,
                Ct
            );
        var given = await odile.GivePasswordAsync("lark", Ct);
        using var nobody = new KeepClient(demo.Service.Url, null);
        using var lark = new KeepClient(
            demo.Service.Url,
            (await nobody.TokenByPasswordAsync(new("lark", given.Password, "t", 1), Ct)).Token
        );
        var refused = await Should.ThrowAsync<ServiceProblem>(
            lark.ReplacePasswordAsync(new(given.Password, password), Ct)
        );
        (refused.Status, refused.Body!.Value.GetProperty("field").GetString()).ShouldBe(
            (HttpStatusCode.UnprocessableEntity, "password")
        );
        refused.Body!.ToString()!.ShouldNotContain(password);
        // Length counts, not a mixture of signs.
        await lark.ReplacePasswordAsync(new(given.Password, "herons over quiet water"), Ct);
    }

    [Fact]
    public async Task What_happens_at_the_door_and_around_secrets_is_written_down_with_where_from()
    {
        using var stranger = Asking.From(demo.Service, "127.0.0.80");
        await Asking.SignInAsync(stranger, "bram", "a-typed-secret-by-mistake", Ct);
        await Asking.SignInAsync(stranger, "a-typed-secret-by-mistake", "x", Ct);
        using var bram = Asking.By(demo.Service, demo.Token("bram"));
        (await bram.GetAsync("backup", Ct)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await bram.GetAsync("export?customer=SAL", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await bram.GetAsync("tunnels?as=csv", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        using var odile = await demo.Service.ClientAsync("odile");
        await odile.BackupAsync(Stream.Null, Ct);
        using var ines = await demo.Service.ClientAsync("ines");
        var version = (await ines.MakeKeyAsync("SAL-PIERS", new(null), Ct)).Versions[0].Version;
        await ines.ShowKeyAsync("SAL-PIERS", version, new("entering it"), Ct);
        await Should.ThrowAsync<ServiceProblem>(ines.ShowKeyAsync("SAL-PIERS", version, new(" "), Ct));
        await Should.ThrowAsync<ServiceProblem>(ines.ShowKeyAsync("SAL-PIERS", version + 5, new("curious"), Ct));

        string[] Wanted() =>
            [
                "bram|sign in|wrong name or password|refused|127.0.0.80",
                "unknown|sign in|wrong name or password|refused|127.0.0.80",
                "bram|call|GET /api/v1/backup|refused|127.0.0.1",
                "bram|export|customer SAL|done|127.0.0.1",
                "bram|export|the list /api/v1/tunnels as csv|done|127.0.0.1",
                "odile|backup|the whole database|done|127.0.0.1",
                $"ines|show key|version {version} of SAL-PIERS|done|127.0.0.1",
                $"ines|show key|version {version} of SAL-PIERS: a value is wrong|refused|127.0.0.1",
                $"ines|show key|version {version + 5} of SAL-PIERS: not found|refused|127.0.0.1",
            ];

        // Refusals are written a moment later.
        var lines = Array.Empty<string>();
        for (var i = 0; i < 50 && Wanted().Except(lines).Any(); i++)
        {
            await Task.Delay(100, Ct);
            lines =
            [
                .. (await odile.AuditAsync(null, null, null, null, null, null, 500, Ct)).Items.Select(a =>
                    $"{a.Who}|{a.What}|{a.About}|{a.Outcome}|{a.From}"
                ),
            ];
        }

        Wanted().Except(lines).ShouldBeEmpty(string.Join('\n', lines.Take(40)));
        string.Join('\n', lines).ShouldNotContain("a-typed-secret-by-mistake");
        // A showing that was refused is no viewing.
        (await ines.KeysAsync("SAL-PIERS", Ct)).Versions[0].Viewed.Select(s => s.Reason).ShouldBe(["entering it"]);
        (await demo.Command("odile", "history audit --outcome refused --who bram")).Out.ShouldContain(
            "GET /api/v1/backup"
        );
        (await demo.Command("ines", "history audit")).Status.ShouldBe(5);
    }

    private static string Digits(string text) => new([.. text.Select(c => char.IsAsciiDigit(c) ? '0' : c)]);
}

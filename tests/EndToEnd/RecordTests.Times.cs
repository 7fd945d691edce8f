using System.Net;
using System.Net.Http.Headers;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

public abstract partial class RecordTests
{
    [Fact]
    public async Task Records_tunnels_and_lists_are_shown_as_they_were_and_a_correction_does_not_rewrite_the_past()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        string Day(int ago) => DateTime.UtcNow.AddDays(-ago).ToString("yyyy-MM-dd");
        var now = await ines.TunnelAsync("BRI-DEPOT", Ct);
        var then = await ines.TunnelAsync("BRI-DEPOT", Ct, Day(20));
        (then.AsOf, then.Pairs.Count, now.Pairs.Count).ShouldBe((Day(20), 1, 2));
        then.Findings.ShouldNotContain(f => f.Code == "PAIR-06");
        // Tried five times since it was corrected eight days ago; before that the record said three.
        (await ines.TunnelAsync("BRI-PETHER", Ct, Day(20)))
            .Rows.Single(r => r.Key == "dpd")
            .B.Text.ShouldNotBe(now.Rows.Single(r => r.Key == "dpd").B.Text + "x");
        (await ines.TunnelAsync("BRI-PETHER", Ct))
            .Rows.Single(r => r.Key == "dpd")
            .B.Text.ShouldBe("30 s x 5, try again");
        (await ines.TunnelsAsync("BRI", null, null, null, null, null, Ct, Day(20))).Items.Count.ShouldBe(
            (await ines.TunnelsAsync("BRI", null, null, null, null, null, Ct)).Items.Count(t =>
                !t.Code.StartsWith("BRI-X", StringComparison.Ordinal)
            )
        );
        (await ines.TunnelsAsync(null, null, null, null, null, null, Ct, Day(60))).Items.ShouldBeEmpty();
        (await Should.ThrowAsync<ServiceProblem>(ines.TunnelAsync("BRI-DEPOT", Ct, Day(60)))).Status.ShouldBe(
            HttpStatusCode.NotFound
        );
        (await Should.ThrowAsync<ServiceProblem>(ines.TunnelAsync("BRI-DEPOT", Ct, "3 Nov"))).Message.ShouldContain(
            "is not a date"
        );
        (await ines.RecordsAsync("people", null, Day(39), Ct)).Count.ShouldBeGreaterThan(4);
    }

    [Fact]
    public async Task A_creating_call_with_the_same_key_is_carried_out_once()
    {
        async Task<(HttpStatusCode Status, string Body, bool Again)> Post(string key, string code)
        {
            using var http = new HttpClient { BaseAddress = new(demo.Service.Url, "/api/v1/") };
            using var request = new HttpRequestMessage(HttpMethod.Post, "customers")
            {
                Content = new StringContent(
                    $$"""{"set":[{"path":"code","value":"{{code}}"},{"path":"name","value":"X"}]}""",
                    null,
                    "application/json"
                ),
            };
            request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", demo.Token("ines"));
            request.Headers.Add("Idempotency-Key", key);
            using var answer = await http.SendAsync(request, Ct);
            return (
                answer.StatusCode,
                await answer.Content.ReadAsStringAsync(Ct),
                answer.Headers.Contains("Idempotency-Replayed")
            );
        }

        var first = await Post("k1", "ONCE");
        var second = await Post("k1", "ONCE");
        (first.Status, first.Again, second.Status, second.Again).ShouldBe(
            (HttpStatusCode.OK, false, HttpStatusCode.OK, true)
        );
        // Nothing of an answer is kept: what is told again is what the first one did.
        System
            .Text.Json.JsonDocument.Parse(second.Body)
            .RootElement.GetProperty("records")
            .EnumerateArray()
            .Single()
            .GetProperty("code")
            .GetString()
            .ShouldBe("ONCE");
        (await Post("k1", "TWICE")).Body.ShouldContain("another call was made with it");
        (await Post("k2", "ONCE")).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task What_moves_is_told_to_who_listens_as_it_comes_and_only_what_they_may_see()
    {
        async Task<StreamReader> Listen(string who)
        {
            var http = new HttpClient
            {
                BaseAddress = new(demo.Service.Url, "/api/v1/"),
                Timeout = Timeout.InfiniteTimeSpan,
            };
            http.DefaultRequestHeaders.Authorization = new("Bearer", demo.Token(who));
            var reader = new StreamReader(await http.GetStreamAsync("events", Ct));
            (await Next(reader)).ShouldContain("listening");
            return reader;
        }

        static async Task<string> Next(StreamReader reader)
        {
            while (await reader.ReadLineAsync(Ct).AsTask().WaitAsync(TimeSpan.FromSeconds(20), Ct) is { } line)
                if (line.StartsWith("data:", StringComparison.Ordinal))
                    return line;
            return "";
        }

        using var bram = await Listen("bram");
        using var maud = await Listen("maud-audit");
        (await demo.Command("ines", "tunnel describe MOS-STORE-1 --purpose 'seeds by night'")).Status.ShouldBe(0);
        (await demo.Command("ines", "tunnel describe SAL-PIERS --purpose 'between the piers'")).Status.ShouldBe(0);
        (await Next(bram)).ShouldSatisfyAllConditions(
            l => l.ShouldContain("MOS-STORE-1"),
            l => l.ShouldContain("ines"),
            l => l.ShouldContain("describe")
        );
        (await Next(bram)).ShouldContain("SAL-PIERS");
        (await Next(maud)).ShouldContain("SAL-PIERS");
    }
}

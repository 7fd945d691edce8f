using System.Net;
using System.Text.Json;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>One key, one act.</summary>
[Collection(SharedDemo.Name)]
public class OnceTests(DemoBeside demo)
{
    private async Task<(HttpStatusCode Status, JsonElement Body, bool Repeated)> PostAsync(
        string? who,
        string path,
        string key,
        object body
    )
    {
        using var http = new HttpClient { BaseAddress = new(demo.Service.Url, "/api/v1/") };
        using var request = new HttpRequestMessage(HttpMethod.Post, path)
        {
            Content = System.Net.Http.Json.JsonContent.Create(body),
            Headers = { { "Idempotency-Key", key } },
        };
        if (who is not null)
            request.Headers.Authorization = new("Bearer", demo.Token(who));
        using var answer = await http.SendAsync(request, Ct);
        return (
            answer.StatusCode,
            JsonDocument.Parse(await answer.Content.ReadAsStringAsync(Ct)).RootElement,
            answer.Headers.Contains("Idempotency-Replayed")
        );
    }

    private static object Customer(string code) =>
        new { set = new[] { new { path = "code", value = code }, new { path = "name", value = "Once" } } };

    private static object Draft(string why) =>
        new
        {
            tunnel = "MOS-STORE-1",
            kind = "rekey",
            reason = why,
        };

    [Fact]
    public async Task The_same_call_many_times_at_the_same_moment_is_carried_out_once()
    {
        var answers = await Task.WhenAll(
            Enumerable.Range(0, 8).Select(_ => PostAsync("ines", "changes", "at-once", Draft("at once")))
        );
        answers.ShouldAllBe(a => a.Status == HttpStatusCode.OK);
        answers.Count(a => a.Repeated).ShouldBe(7);
        using var ines = await demo.Service.ClientAsync("ines");
        var made = (await ines.ChangesAsync("draft", "MOS-STORE-1", Ct)).Single(c =>
            c.Title.Contains("MOS-STORE-1", StringComparison.Ordinal)
        );
        // What is told again is what it did, not what it answered: nothing of either is kept.
        foreach (var again in answers.Where(a => a.Repeated))
            again
                .Body.GetProperty("records")
                .EnumerateArray()
                .Select(r => r.GetProperty("code").GetString())
                .ShouldBe([made.Code]);
        var kept = Kept();
        kept.ShouldNotContain("at once");
        // The key of a call is somebody's typing too.
        kept.ShouldContain("key=");
        kept.ShouldNotContain("at-once");
    }

    [Fact]
    public async Task It_is_told_again_only_to_the_one_who_asked_and_only_while_signed_in()
    {
        (await PostAsync("ines", "customers", "mine", Customer("ONCE-A"))).Status.ShouldBe(HttpStatusCode.OK);
        (await PostAsync(null, "customers", "mine", Customer("ONCE-A"))).Status.ShouldBe(HttpStatusCode.Unauthorized);
        // Somebody else's key is another key: the call is carried out for what it is.
        var (status, body, repeated) = await PostAsync("tomas", "customers", "mine", Customer("ONCE-A"));
        (status, repeated).ShouldBe((HttpStatusCode.UnprocessableEntity, false), body.ToString());
        (await PostAsync("ines", "customers", "mine", Customer("ONCE-B")))
            .Body.GetProperty("detail")
            .GetString()!
            .ShouldContain("another call was made with it");
        // What was refused was not carried out, and may be tried again under its key.
        (await PostAsync("ines", "customers", "again", Customer("no such code!"))).Status.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        (await PostAsync("ines", "customers", "again", Customer("ONCE-C"))).ShouldSatisfyAllConditions(
            a => a.Status.ShouldBe(HttpStatusCode.OK),
            a => a.Repeated.ShouldBeFalse()
        );
    }

    [Fact]
    public async Task A_password_leaves_no_trace_of_itself()
    {
        await PostAsync("bram", "session/password", "secret", new { old = "cold-store-4", @new = "short" });
        Kept().ShouldNotContain("secret");
    }

    /// <summary>Everything that is kept of calls with a key.</summary>
    private string Kept()
    {
        using var database = new Microsoft.Data.Sqlite.SqliteConnection(
            $"Data Source={Path.Combine(demo.Service.Data, "vellumkeep.db")};Mode=ReadOnly"
        );
        database.Open();
        using var command = database.CreateCommand();
        command.CommandText = "select * from answered";
        using var reader = command.ExecuteReader();
        var text = new System.Text.StringBuilder();
        while (reader.Read())
            for (var i = 0; i < reader.FieldCount; i++)
                text.Append(reader.GetName(i))
                    .Append('=')
                    .Append(reader.IsDBNull(i) ? "" : reader.GetValue(i))
                    .Append('\n');
        return text.ToString();
    }
}

using System.Text;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>What an earlier run had found.</summary>
public abstract partial class FuzzTests
{
    /// <summary>Those that were found before, each alone.</summary>
    [Theory]
    [InlineData("GET", "tunnels?asOf=9999-12-31", null, 422)]
    [InlineData("GET", "tunnels?asOf=0001-01-01", null, 422)]
    [InlineData("GET", "sites?asOf=9999-12-31", null, 422)]
    [InlineData("GET", "history?to=9999-12-31", null, 422)]
    [InlineData("GET", "audit?to=9999-12-31", null, 422)]
    [InlineData("GET", "tunnels/BRI-ASHLOW?asOf=2026-13-45", null, 422)]
    [InlineData("GET", "tunnels/%EF%BF%BF", null, 422)]
    [InlineData("GET", "tunnels?q=%00", null, 422)]
    [InlineData("GET", "search?q=%EF%BF%BF", null, 422)]
    [InlineData("POST", "changes", "null", 400)]
    [InlineData("POST", "changes", "", 400)]
    [InlineData("POST", "changes", "[]", 400)]
    [InlineData("POST", "changes/1/urgent", "null", 400)]
    [InlineData("POST", "changes/BRI-0003/window", "null", 400)]
    [InlineData("POST", "changes/BRI-0003/fill", "null", 400)]
    [InlineData("POST", "changes", """{"tunnel":"BRI-NETTLE","end":"A","add":[null],"reason":"x"}""", 422)]
    [InlineData("POST", "changes", """{"tunnel":"BRI-NETTLE","end":"A","add":[],"also":[null],"reason":"x"}""", 422)]
    [InlineData("POST", "changes", """{"tunnel":[],"reason":"x"}""", 400)]
    [InlineData(
        "POST",
        "changes",
        """{"tunnel":"BRI-NETTLE","kind":"rekey","reason":"x","windowStart":"9999-12-31T23:00:00Z","windowMinutes":1440}""",
        422
    )]
    [InlineData(
        "POST",
        "changes",
        """{"tunnel":"BRI-NETTLE","kind":"rekey","reason":"x","windowStart":"0001-01-01T00:00:00Z","windowMinutes":60}""",
        422
    )]
    [InlineData("POST", "changes/BRI-0003/window", """{"localStart":"9999-12-31 23:00","minutes":60,"end":"A"}""", 422)]
    [InlineData("POST", "sites", """{"set":[null]}""", 422)]
    [InlineData("POST", "sites", """{"set":[{"path":null,"value":"x"}]}""", 422)]
    [InlineData("POST", "sites", """{"form":{"code":"X-1","networks":[null]}}""", 422)]
    [InlineData("PUT", "sites/BRI-CHURN", """{"set":[{"path":"code","value":"SAL-HARBOUR"}],"reason":"x"}""", 422)]
    [InlineData("PUT", "sites/BRI-CHURN", """{"set":[{"path":"name","value":"a\u202eb"}],"reason":"x"}""", 422)]
    [InlineData("PUT", "customers/BRI", """{"set":[{"path":"name","value":"a\u0000b"}],"reason":"x"}""", 422)]
    [InlineData("PUT", "tunnels/BRI-ASHLOW", """{"set":[{"path":"customer","value":"[]"}],"reason":"x"}""", 422)]
    [InlineData(
        "POST",
        "tunnels/BRI-ASHLOW/accept",
        """{"code":"PAIR-05","subject":"","digest":"x","reason":"x","until":"9999-12-31"}""",
        422
    )]
    [InlineData("GET", "findings?cursor=2147483647", null, 200)]
    [InlineData("GET", "tunnels?most=-1", null, 200)]
    [InlineData("DELETE", "tunnels", null, 405)]
    [InlineData("PATCH", "today", null, 405)]
    [InlineData("GET", "nothing/there", null, 404)]
    public async Task What_was_found_once_is_refused_for_what_it_is(
        string method,
        string path,
        string? body,
        int status
    )
    {
        using var odile = Asking.By(demo.Service, demo.Token("odile"));
        using var request = new HttpRequestMessage(new(method), path);
        // A record is written on the version that was read; an act on a change takes the one that is there without one.
        if (
            !path.StartsWith("changes/", StringComparison.Ordinal)
            || path.EndsWith("/approve", StringComparison.Ordinal)
        )
            request.Headers.IfMatch.Add(new("\"1\""));
        if (body is not null)
            request.Content = new StringContent(body, Encoding.UTF8, "application/json");
        using var answer = await odile.SendAsync(request, Ct);
        var text = await answer.Content.ReadAsStringAsync(Ct);
        ((int)answer.StatusCode).ShouldBe(status, text);
        if (status >= 400)
            answer.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
        if (status == 405)
            answer
                .Content.Headers.Allow.Concat(answer.Headers.TryGetValues("Allow", out var allow) ? allow : [])
                .ShouldNotBeEmpty();
    }
}

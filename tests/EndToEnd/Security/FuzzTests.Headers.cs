using System.Net;
using System.Text;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>Odd headers and charsets.</summary>
public abstract partial class FuzzTests
{
    private static readonly string[] OddHeaders =
    [
        "",
        "\"",
        "\"\"",
        ";",
        ",,,",
        "*",
        "\u00e4\u00f6",
        "a=b;c=\"d",
        "-1",
        "99999999999999999999",
        "bytes=9-1",
        "W/\"1\"",
        "application/json; charset=\"utf-8\"",
        "application/json; charset=",
        "application/json; charset=\"\"",
        "application/json; charset=latin-7",
        "application/json; charset=utf-16",
        "application/json; charset=utf-8; charset=x",
        "Bearer",
        "Bearer vk_",
        new string('a', 3000),
    ];

    /// <summary>Every header that means something, with every odd value; signed in and not.</summary>
    [Theory]
    [InlineData("POST", "session")]
    [InlineData("DELETE", "session")]
    [InlineData("POST", "changes")]
    [InlineData("PUT", "sites/BRI-CHURN")]
    [InlineData("POST", "tunnels/BRI-ASHLOW/rehearsal")]
    [InlineData("GET", "tunnels/BRI-ASHLOW")]
    [InlineData("GET", "customers/BRI/drawing")]
    public async Task Odd_headers_are_told_to_whoever_sent_them(string method, string path)
    {
        string[] headers =
        [
            "Content-Type",
            "Content-Encoding",
            "Accept",
            "Accept-Encoding",
            "Accept-Language",
            "Accept-Charset",
            "Authorization",
            "Cookie",
            "Expect",
            "Forwarded",
            "Host",
            "Idempotency-Key",
            "If-Match",
            "If-None-Match",
            "If-Modified-Since",
            "Last-Event-ID",
            "Origin",
            "Range",
            "User-Agent",
            "X-Forwarded-For",
            "X-Forwarded-Proto",
            "X-Vellumkeep-Console",
        ];
        var (wrong, tried) = (new List<string>(), 0);
        foreach (var (header, value) in headers.SelectMany(h => OddHeaders.Select(v => (h, v))))
        {
            // Each from a place of its own under a name of its own, so that no bound on tries answers first.
            var number = ++tried;
            var body = method is "GET" or "DELETE" ? "" : $"{{\"name\":\"nobody-{number}\",\"password\":\"x\"}}";
            var lines = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase)
            {
                ["Host"] = "x",
                ["Connection"] = "close",
                ["Content-Type"] = "application/json",
                ["Content-Length"] = $"{body.Length}",
                ["Authorization"] = $"Bearer {demo.Token("odile")}",
                [header] = value,
            };
            if (path == "session" && header != "Authorization")
                lines.Remove("Authorization");
            var head = string.Concat(lines.Select(l => $"{l.Key}: {l.Value}\r\n"));
            var answer = await Asking.BareAsync(
                demo.Service,
                $"{method} /api/v1/{path} HTTP/1.1\r\n{head}\r\n{body}",
                Ct,
                $"127.1.{number / 200}.{1 + number % 200}"
            );
            // Hosts and expectations that cannot be are refused by the server itself.
            if (!answer.StartsWith("HTTP/1.1 ", StringComparison.Ordinal) || answer[9] is '5')
                wrong.Add($"{header}: {Cut(value)} gave {Cut(answer)}");
        }

        wrong.ShouldBeEmpty(string.Join('\n', wrong.Take(20)) + Failures());
    }

    [Theory]
    [InlineData("application/json; charset=\"utf-8\"", 401)]
    [InlineData("application/json; charset=UTF-8", 401)]
    [InlineData("application/json; charset=", 415)]
    [InlineData("application/json; charset=\"\"", 415)]
    [InlineData("application/json; charset=latin-7", 415)]
    [InlineData("application/json; charset=utf-16", 415)]
    public async Task A_charset_is_utf_8_or_told_also_to_strangers(string type, int status)
    {
        const string body = "{\"name\":\"nobody-of-a-charset\",\"password\":\"x\"}";
        var answer = await Asking.BareAsync(
            demo.Service,
            $"POST /api/v1/session HTTP/1.1\r\nHost: x\r\nConnection: close\r\nContent-Type: {type}\r\n"
                + $"Content-Length: {body.Length}\r\n\r\n{body}",
            Ct,
            "127.0.0.91"
        );
        answer.ShouldStartWith($"HTTP/1.1 {status}");
        answer.ShouldContain("application/problem+json");
    }

    [Fact]
    public async Task A_wrong_content_type_is_said_to_be_that()
    {
        using var odile = Asking.By(demo.Service, demo.Token("odile"));
        foreach (var path in new[] { "changes", "sites", "import" })
            (
                await odile.PostAsync(
                    path,
                    new StringContent("x=1", Encoding.UTF8, "application/x-www-form-urlencoded"),
                    Ct
                )
            ).StatusCode.ShouldBe(HttpStatusCode.UnsupportedMediaType, path);
    }
}

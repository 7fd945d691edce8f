using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>Odd calls on SQLite.</summary>
public class FuzzOnSqlite(DemoProcess demo) : FuzzTests(demo), IClassFixture<DemoProcess>;

/// <summary>Odd calls on PostgreSQL, which refuses other things.</summary>
public class FuzzOnPostgres(PostgresDemoProcess demo) : FuzzTests(demo), IClassFixture<PostgresDemoProcess>;

/// <summary>
/// Every call of the described interface, given what nobody means: days at the ends of the calendar, nulls in lists and
/// bodies, texts of 100,000 letters, characters that are none, lists where one value stands. Nothing of it may be the
/// service's failure, and every refusal is a problem detail.
/// </summary>
public abstract class FuzzTests(DemoService demo)
{
    // The same calls each time, so that what lands is what was tried; make fuzz looks for new ones.
    private static readonly int Seed = int.Parse(
        Environment.GetEnvironmentVariable("VELLUMKEEP_FUZZ_SEED") ?? "1",
        CultureInfo.InvariantCulture
    );

    private static readonly TimeSpan Time = TimeSpan.FromSeconds(
        int.Parse(Environment.GetEnvironmentVariable("VELLUMKEEP_FUZZ_SECONDS") ?? "20", CultureInfo.InvariantCulture)
    );

    private static readonly string[] Texts =
    [
        "",
        " ",
        "\0",
        "\uffff",
        "\u202ecod",
        "\u200b",
        "9999-12-31",
        "0001-01-01",
        "-1",
        "2147483647",
        "99999999999999999999",
        "NaN",
        "%",
        "%00",
        "..",
        "../../etc/passwd",
        "'; drop table records; --",
        "<script>",
        "SAL-SPIT",
        "BRI-ASHLOW",
        "0.0.0.0/0",
        "::/0",
        "255.255.255.255/32",
        "10.0.0.1/24",
        "2001:db8::/129",
        "true",
        "null",
        "[]",
        "{}",
        new string('a', 100_000),
        string.Concat(Enumerable.Repeat("a.", 3000)),
        "a\nb",
        "\ud83d\ude00",
        "lead",
        "engineer for SAL",
        "2026-11-27T25:00",
    ];

    private static readonly string[] Values =
    [
        "null",
        "[]",
        "{}",
        "[null]",
        "[[[[]]]]",
        "true",
        "-1",
        "0",
        "1e400",
        "2147483648",
        "\"\"",
        "\"\\u0000\"",
        "\"\\uffff\"",
        "\"\\ud800\"",
        "\"9999-12-31T23:59:59Z\"",
        "\"0001-01-01T00:00:00Z\"",
        "\"9999-12-31\"",
        "\"0001-01-01\"",
        "\"SAL-SPIT\"",
        "\"A\"",
        "\"BRI-CHURN\"",
        "{\"a\":{\"b\":[1,null]}}",
        "[\"x\",null,\"y\"]",
        "[{}]",
        "[{\"path\":null,\"value\":null}]",
        "[{\"path\":\"code\",\"value\":\"BRI-CHURN\"}]",
        "[{\"path\":\"customer\",\"value\":\"[]\"}]",
        "\"" + new string('z', 100_000) + "\"",
    ];

    [Fact]
    public async Task Nothing_that_is_asked_is_the_services_failure()
    {
        using var odile = Asking.By(demo.Service, demo.Token("odile"));
        odile.Timeout = TimeSpan.FromSeconds(60);
        using var document = JsonDocument.Parse(await odile.GetStringAsync("openapi.json", Ct));
        var operations = Operations(document);
        var random = new Random(Seed);
        var clock = Stopwatch.StartNew();
        var (wrong, asked, refused) = (new List<string>(), 0, 0);
        // Each call with each kind of oddity in turn, as long as there is time.
        for (var round = 0; clock.Elapsed < Time; round++)
            foreach (var (path, method, of) in operations)
            {
                if (clock.Elapsed > Time)
                    break;
                using var request = Request(document.RootElement, path, method, of, random);
                using var answer = await odile.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, Ct);
                asked++;
                if ((int)answer.StatusCode < 400)
                    continue;
                refused++;
                var text = await answer.Content.ReadAsStringAsync(Ct);
                var what =
                    $"{method} {Cut(request.RequestUri!.ToString())} "
                    + $"{Cut(request.Content is null ? "" : await request.Content.ReadAsStringAsync(Ct))}";
                if ((int)answer.StatusCode >= 500)
                    wrong.Add($"{what} gave {(int)answer.StatusCode}");
                // A NUL in a path is refused by the server itself, without a word.
                else if (
                    (
                        answer.Content.Headers.ContentType?.MediaType != "application/problem+json"
                        && !request.RequestUri!.OriginalString.Contains("%00", StringComparison.Ordinal)
                    ) || text.Contains("   at ", StringComparison.Ordinal)
                )
                    wrong.Add($"{what} gave {(int)answer.StatusCode} without a problem: {Cut(text)}");
            }

        TestContext.Current.SendDiagnosticMessage($"{GetType().Name}: {asked} odd calls, {refused} refused");
        if (wrong.Count > 0)
            Assert.Fail(string.Join('\n', wrong.Distinct().Take(20).Prepend($"seed {Seed}")) + Failures());
        asked.ShouldBeGreaterThan(operations.Length);
        (await odile.GetAsync("today", Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    /// <summary>The calls that can be made again and again without ending the one who asks.</summary>
    private static (string Path, HttpMethod Method, JsonElement Of)[] Operations(JsonDocument document) =>
        [
            .. document
                .RootElement.GetProperty("paths")
                .EnumerateObject()
                .SelectMany(p =>
                    p.Value.EnumerateObject()
                        .Select(o =>
                            (
                                Path: p.Name["/api/v1/".Length..],
                                Method: new HttpMethod(o.Name.ToUpperInvariant()),
                                Of: o.Value
                            )
                        )
                )
                .Where(o =>
                    o.Of.GetProperty("operationId").GetString()
                        is not (
                            "events"
                            or "backup"
                            or "signOut"
                            or "signIn"
                            or "makeTokenByPassword"
                            or "replacePassword"
                            or "retirePerson"
                            or "givePassword"
                        )
                ),
        ];

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

    /// <summary>
    /// Every field of every body, wherever it stands, null, absent and of a wrong kind: number 4 of the doors. A call
    /// that does nothing with what is missing there may be done.
    /// </summary>
    [Fact]
    public async Task Every_field_of_every_body_null_absent_and_of_a_wrong_kind_is_told_to_whoever_sent_it()
    {
        using var odile = Asking.By(demo.Service, demo.Token("odile"));
        using var document = JsonDocument.Parse(await odile.GetStringAsync("openapi.json", Ct));
        var (wrong, asked) = (new List<string>(), 0);
        foreach (var (path, method, of) in Operations(document))
        {
            if (!of.TryGetProperty("requestBody", out var body))
                continue;
            var (type, content) = body.GetProperty("content").EnumerateObject().Select(c => (c.Name, c.Value)).First();
            if (type != "application/json")
                continue;
            var whole = Plain(document.RootElement, content.GetProperty("schema"), 0);
            foreach (var odd in whole is null ? [] : Odd(whole))
            {
                using var request = new HttpRequestMessage(method, Filled(path)) { Content = Json(odd) };
                request.Headers.IfMatch.Add(new("\"1\""));
                using var answer = await odile.SendAsync(request, Ct);
                asked++;
                if ((int)answer.StatusCode >= 500)
                    wrong.Add($"{method} {path} {Cut(odd)} gave {(int)answer.StatusCode}");
            }
        }

        asked.ShouldBeGreaterThan(500);
        wrong.ShouldBeEmpty(string.Join('\n', wrong.Take(30)) + Failures());
    }

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

    private string Failures() =>
        string.Join(
            '\n',
            demo.Service.Log.Split('\n')
                .Where(l => l.Contains("A call failed", StringComparison.Ordinal))
                .Select(l => l[..Math.Min(1500, l.Length)])
                .Take(8)
                .Prepend("")
        );

    private static string Filled(string path) =>
        System.Text.RegularExpressions.Regex.Replace(path, "{[^}]*}", m => m.Value == "{step}" ? "1" : "BRI-0003");

    private static StringContent Json(string text) => new(text, Encoding.UTF8, "application/json");

    /// <summary>A body of the form that is described, with something plain in every place.</summary>
    private static JsonNode? Plain(JsonElement document, JsonElement schema, int depth)
    {
        schema = Followed(document, schema);
        foreach (var word in new[] { "oneOf", "anyOf" })
            if (schema.TryGetProperty(word, out var some))
                return Plain(document, some.EnumerateArray().Last(), depth);
        if (depth > 6)
            return null;
        if (schema.TryGetProperty("properties", out var properties))
            return new JsonObject(
                properties
                    .EnumerateObject()
                    .Select(p => KeyValuePair.Create(p.Name, Plain(document, p.Value, depth + 1)))
            );
        if (schema.TryGetProperty("items", out var items))
            return new JsonArray(Plain(document, items, depth + 1));
        var type = schema.TryGetProperty("type", out var named) ? named.ToString() : "";
        return type.Contains("integer", StringComparison.Ordinal) || type.Contains("number", StringComparison.Ordinal)
                ? 1
            : type.Contains("boolean", StringComparison.Ordinal) ? true
            : "BRI-ASHLOW";
    }

    /// <summary>The body with each of its places, one at a time, null, absent, and of another kind.</summary>
    private static IEnumerable<string> Odd(JsonNode whole)
    {
        var count = Places(whole).Count();
        for (var i = 0; i < count; i++)
            foreach (var odd in new[] { "null", "absent", "[]", "{}", "7", "\"x\"", "[null]", "[{}]" })
            {
                var copy = whole.DeepClone();
                var (parent, key) = Places(copy).ElementAt(i);
                if (parent is JsonObject record)
                {
                    if (odd == "absent")
                        record.Remove((string)key);
                    else
                        record[(string)key] = JsonNode.Parse(odd);
                }
                else if (odd == "absent")
                {
                    ((JsonArray)parent).RemoveAt((int)key);
                }
                else
                {
                    ((JsonArray)parent)[(int)key] = JsonNode.Parse(odd);
                }

                yield return copy.ToJsonString();
            }
    }

    private static IEnumerable<(JsonNode Parent, object Key)> Places(JsonNode? node) =>
        node switch
        {
            JsonObject record => record.SelectMany(p => Places(p.Value).Prepend((record, p.Key))),
            JsonArray list => list.SelectMany((item, i) => Places(item).Prepend((list, i))),
            _ => [],
        };

    private static JsonElement Followed(JsonElement document, JsonElement schema)
    {
        if (schema.TryGetProperty("$ref", out var named))
            foreach (var part in named.GetString()!.Split('/').Skip(1))
                schema = part == "components" ? document.GetProperty(part) : schema.GetProperty(part);
        return schema;
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

    private static HttpRequestMessage Request(
        JsonElement document,
        string path,
        HttpMethod method,
        JsonElement of,
        Random random
    )
    {
        string Text() =>
            random.Next(3) == 0 ? Texts[random.Next(Texts.Length)]
            : random.Next(2) == 0 ? "BRI-ASHLOW"
            : "1";
        var query = new List<string>();
        if (of.TryGetProperty("parameters", out var parameters))
            foreach (var parameter in parameters.EnumerateArray())
            {
                var name = parameter.GetProperty("name").GetString()!;
                var odd = Text();
                var value = Uri.EscapeDataString(odd.Length > 1200 ? odd[..1200] : odd);
                if (parameter.GetProperty("in").GetString() == "path")
                    path = path.Replace($"{{{name}}}", value.Length == 0 ? "x" : value);
                else if (random.Next(2) == 0)
                    query.Add($"{name}={value}");
            }

        if (query.RemoveAll(q => q.StartsWith("dryRun=", StringComparison.Ordinal)) > 0)
            query.Add("dryRun=" + (random.Next(4) > 0 ? "true" : "1"));
        var request = new HttpRequestMessage(method, $"{path}?{string.Join('&', query)}");
        request.Headers.IfMatch.Add(new($"\"{random.Next(1, 4)}\""));
        if (!of.TryGetProperty("requestBody", out var body))
            return request;
        var (type, content) = body.GetProperty("content").EnumerateObject().Select(c => (c.Name, c.Value)).First();
        var text =
            type == "application/json"
                ? Body(document, content.GetProperty("schema"), random, 0)
                : Texts[random.Next(Texts.Length)];
        request.Content = new StringContent(text, Encoding.UTF8, new MediaTypeHeaderValue(type));
        return request;
    }

    /// <summary>A body of the form that is described, with odd values in it.</summary>
    private static string Body(JsonElement document, JsonElement schema, Random random, int depth)
    {
        if (random.Next(12) == 0)
            return Values[random.Next(Values.Length)];
        schema = Followed(document, schema);
        foreach (var word in new[] { "oneOf", "anyOf" })
            if (schema.TryGetProperty(word, out var some))
                return Body(document, some.EnumerateArray().Last(), random, depth);
        if (schema.TryGetProperty("properties", out var properties) && depth < 5)
            return "{"
                + string.Join(
                    ",",
                    properties
                        .EnumerateObject()
                        .Where(_ => random.Next(5) > 0)
                        .Select(p =>
                            $"\"{p.Name}\":"
                            + (
                                random.Next(2) == 0
                                    ? Values[random.Next(Values.Length)]
                                    : Body(document, p.Value, random, depth + 1)
                            )
                        )
                )
                + "}";
        if (schema.TryGetProperty("items", out var items) && depth < 5)
            return "["
                + string.Join(
                    ",",
                    Enumerable.Range(0, random.Next(3)).Select(_ => Body(document, items, random, depth + 1))
                )
                + "]";
        return
            schema.TryGetProperty("type", out var type) && type.ToString().Contains("integer", StringComparison.Ordinal)
            ? random.Next(-3, 100).ToString(CultureInfo.InvariantCulture)
            : JsonValue.Create(Texts[random.Next(Texts.Length)])!.ToJsonString();
    }

    private static string Cut(string text) => text.Length > 300 ? text[..300] : text;
}

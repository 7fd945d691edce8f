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
public abstract partial class FuzzTests(DemoService demo)
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

using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>
/// What the interface says of itself, held against what it answers; and what goes in and out as files.
/// </summary>
public partial class ContractTests(DemoService demo) : IClassFixture<DemoService>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>
    /// Every call that only reads, asked for every record of the demo that it can be asked for: the answer is of the
    /// form that is described, with nothing left out and nothing besides.
    /// </summary>
    [Fact]
    public async Task Every_answer_has_the_form_that_is_described()
    {
        using var http = Client("odile");
        using var document = JsonDocument.Parse(await http.GetStringAsync("openapi.json", Ct));
        var (wrong, held) = (new List<string>(), 0);
        var (answered, refused) = (new HashSet<string>(), new Dictionary<string, int>());
        foreach (var path in document.RootElement.GetProperty("paths").EnumerateObject())
        {
            if (
                !path.Value.TryGetProperty("get", out var get)
                || !get.GetProperty("responses").TryGetProperty("200", out var ok)
                || !ok.TryGetProperty("content", out var content)
                || !content.TryGetProperty("application/json", out var json)
            )
                continue;
            var bare = path.Name["/api/v1/".Length..];
            foreach (var asked in Questions.TryGetValue(bare, out var questions) ? questions : Asked(bare, get))
            {
                using var answer = await http.GetAsync(asked, HttpCompletionOption.ResponseHeadersRead, Ct);
                if (answer.StatusCode != HttpStatusCode.OK)
                {
                    // What is not there for this record is told as that, and nothing else keeps a form from being held.
                    if (answer.StatusCode is not (HttpStatusCode.NotFound or HttpStatusCode.UnprocessableEntity))
                        wrong.Add($"{asked} gave {(int)answer.StatusCode}");
                    refused[path.Name] = refused.GetValueOrDefault(path.Name) + 1;
                    continue;
                }

                answered.Add(path.Name);
                if (answer.Content.Headers.ContentType?.MediaType != "application/json")
                {
                    wrong.Add($"{asked} is {answer.Content.Headers.ContentType?.MediaType}");
                    continue;
                }

                using var body = JsonDocument.Parse(await answer.Content.ReadAsStringAsync(Ct));
                Hold(document.RootElement, json.GetProperty("schema"), body.RootElement, asked, wrong);
                held++;
            }
        }

        wrong.Distinct().Take(20).ShouldBeEmpty();
        refused.Keys.Except(answered).ShouldBeEmpty("calls that were never answered, so that nothing was held");
        held.ShouldBeGreaterThan(150);
    }

    /// <summary>The filters of lists: each has a closed set of words, or names a record.</summary>
    private static readonly string[] Filters =
    [
        "customer",
        "tunnel",
        "gateway",
        "state",
        "severity",
        "finding",
        "code",
        "kind",
        "what",
        "outcome",
        "as",
    ];

    /// <summary>Whatever list takes a filter refuses a value that does not exist, and says what does.</summary>
    [Fact]
    public async Task No_list_takes_a_filter_for_one_that_finds_nothing()
    {
        using var http = Client("odile");
        using var document = JsonDocument.Parse(await http.GetStringAsync("openapi.json", Ct));
        var asked = 0;
        foreach (var (call, parameters) in Lists(document))
        {
            var names = parameters.Select(p => p.GetProperty("name").GetString()!).ToArray();
            foreach (var filter in names.Intersect(Filters))
            {
                var others = names.Contains("q") ? "&q=10.0.0.0/8" : "";
                using var answer = await http.GetAsync($"{call}?{filter}=no-such{others}", Ct);
                var said = await answer.Content.ReadAsStringAsync(Ct);
                ((int)answer.StatusCode).ShouldBeOneOf([404, 422], $"{call} {filter}: {said}");
                using var problem = JsonDocument.Parse(said);
                problem
                    .RootElement.GetProperty("detail")
                    .GetString()!
                    .ShouldMatch("Expected: |There (is|are) [0-9]|begins? with", $"{call} {filter}");
                asked++;
            }
        }

        asked.ShouldBeGreaterThan(15);
    }

    /// <summary>
    /// A parameter or a field that nobody reads is refused: an answer would look as though it had counted.
    /// </summary>
    [Fact]
    public async Task No_call_takes_a_parameter_or_a_field_that_nobody_reads()
    {
        using var http = Client("odile");
        using var document = JsonDocument.Parse(await http.GetStringAsync("openapi.json", Ct));
        var asked = 0;
        foreach (var (call, parameters) in Lists(document))
        {
            var needed = string.Concat(
                parameters
                    .Where(p => p.TryGetProperty("required", out var r) && r.GetBoolean())
                    .Select(p => $"&{p.GetProperty("name").GetString()}=1")
            );
            using var answer = await http.GetAsync($"{call}?nobodyReads=1{needed}", Ct);
            var said = await answer.Content.ReadAsStringAsync(Ct);
            ((int)answer.StatusCode, said.Contains("takes no such parameter", StringComparison.Ordinal)).ShouldBe(
                (422, true),
                $"{call}: {said}"
            );
            asked++;
        }

        asked.ShouldBeGreaterThan(15);
        (await (await http.GetAsync("search", Ct)).Content.ReadAsStringAsync(Ct)).ShouldContain("Q: it is missing.");
        (await (await http.GetAsync("history?most=x", Ct)).Content.ReadAsStringAsync(Ct)).ShouldContain("Most: ");
        using var content = JsonContent.Create(new { tunnel = "BRI-ASHLOW", valuess = Array.Empty<string>() });
        using var written = await http.PostAsync("rehearsals", content, Ct);
        var problem = await written.Content.ReadAsStringAsync(Ct);
        written.StatusCode.ShouldBe(System.Net.HttpStatusCode.BadRequest, problem);
        problem.ShouldContain("Valuess: this call takes no such field. Expected: keepfile, tunnel, values");
    }

    /// <summary>Every call that reads and names no record in its path, with its parameters.</summary>
    private static IEnumerable<(string Call, JsonElement[] Parameters)> Lists(JsonDocument description) =>
        from path in description.RootElement.GetProperty("paths").EnumerateObject()
        where !path.Name.Contains('{') && path.Value.TryGetProperty("get", out _)
        let get = path.Value.GetProperty("get")
        select (
            path.Name["/api/v1/".Length..],
            get.TryGetProperty("parameters", out var parameters) ? parameters.EnumerateArray().ToArray() : []
        );

    /// <summary>What is asked of the calls that need more than a code.</summary>
    private static readonly Dictionary<string, string[]> Questions = new()
    {
        ["addresses"] = ["addresses?q=10.61.0.10", "addresses?free=10.61.0.0/16&length=24"],
        ["calc/packet"] = ["calc/packet?proposal=AES-256-GCM-16"],
        ["calc/grade"] = ["calc/grade?proposal=AES-256-GCM-16"],
        ["calc/lifetime"] = ["calc/lifetime?time=3600%20s&data=4%20GB&throughput=100"],
        ["calc/detect"] = ["calc/detect?dpd=20%20s%20x%205,%20try%20again&version=IKEv2"],
        ["calc/prefix/{verb}"] = ["calc/prefix/show?prefix=10.62.20.0/22"],
        ["choices/new-tunnel"] = ["choices/new-tunnel?gatewayA=churn-gw1&gatewayB=ashlow-gw"],
        ["choices/proposals/read"] = ["choices/proposals/read?of=IKE&text=aes256%20sha256%20group14"],
        ["choices/code"] = ["choices/code?of=sites&name=Mill%20Lane&under=BRI"],
        ["calc/common"] = ["calc/common?a=brackwater-two&b=alderquay-major"],
    };

    private static IEnumerable<string> Asked(string path, JsonElement get)
    {
        var required = !get.TryGetProperty("parameters", out var parameters)
            ? []
            : parameters
                .EnumerateArray()
                .Where(p =>
                    p.GetProperty("in").GetString() == "query"
                    && p.TryGetProperty("required", out var r)
                    && r.GetBoolean()
                )
                .Select(p => p.GetProperty("name").GetString())
                .ToArray();
        var query = string.Join(
            '&',
            required.Select(n =>
                n switch
                {
                    "q" => "q=churn",
                    "a" => "a=churn-gw1",
                    "b" => "b=tid-main-gw",
                    "from" => "from=1",
                    "to" => "to=1",
                    _ => $"{n}=1",
                }
            )
        );
        string[] codes = path.Split('/')[0] switch
        {
            "customers" => ["BRI", "SAL", "OTT", "SKE", "QUI"],
            "sites" => ["BRI-CHURN", "QUI-KEEL", "SAL-DUNLIN"],
            "gateways" => ["churn-gw1", "keel-gw1", "dunlin-gw", "plates-gw2", "tid-main-gw"],
            "platforms" => ["alderquay-major@1", "brackwater-two@1", "nimbolt-hosted@1", "unknown@1"],
            "suites" => ["BRI-STANDARD@3", "TID-OLD@1"],
            "offers" => ["SKE-PARTNERS"],
            "people" => ["ines", "perrin"],
            "changes" =>
            [
                "BRI-0001",
                "BRI-0002",
                "BRI-0003",
                "THR-0001",
                "TID-0001",
                "TID-0002",
                "SAL-0001",
                "SAL-0002",
            ],
            _ =>
            [
                "BRI-ASHLOW",
                "BRI-DEPOT",
                "OTT-SKERROW",
                "SAL-WHIMBREL",
                "LAR-HEATH",
                "MOS-STORE-2",
                "THR-PLATES-2",
                "TID-SEAL",
                "QUI-BRI-2",
            ],
        };
        foreach (var code in path.Contains("{code}", StringComparison.Ordinal) ? codes : [""])
        foreach (
            var kind in path.Contains("{kind}", StringComparison.Ordinal)
                ? ["tunnels", "gateways", "sites", "customers"]
                : new[] { "" }
        )
            yield return path.Replace("{code}", code)
                .Replace("{kind}", kind)
                .Replace("{version}", "1")
                .Replace("{name}", "ines")
                .Replace("{id}", "none")
                .Replace("{digest}", "none") + (query.Length > 0 ? "?" + query : "");
    }

    private static void Hold(JsonElement document, JsonElement schema, JsonElement value, string at, List<string> wrong)
    {
        if (schema.TryGetProperty("$ref", out var named))
        {
            schema = document;
            foreach (var part in named.GetString()!.Split('/').Skip(1))
                schema = schema.GetProperty(part);
        }

        foreach (var word in new[] { "oneOf", "anyOf" })
            if (schema.TryGetProperty(word, out var choices))
            {
                var tried = choices
                    .EnumerateArray()
                    .Select(c =>
                    {
                        var found = new List<string>();
                        Hold(document, c, value, at, found);
                        return found;
                    })
                    .ToArray();
                if (tried.All(t => t.Count > 0))
                    wrong.AddRange(tried.OrderBy(t => t.Count).First());
                return;
            }

        if (schema.TryGetProperty("type", out var type))
        {
            string[] types =
                type.ValueKind == JsonValueKind.Array
                    ? [.. type.EnumerateArray().Select(t => t.GetString()!)]
                    : [type.GetString()!];
            var fits = value.ValueKind switch
            {
                JsonValueKind.Null => types.Contains("null"),
                JsonValueKind.String => types.Contains("string"),
                JsonValueKind.Number => types.Contains("number")
                    || (types.Contains("integer") && value.TryGetInt64(out _)),
                JsonValueKind.True or JsonValueKind.False => types.Contains("boolean"),
                JsonValueKind.Array => types.Contains("array"),
                _ => types.Contains("object"),
            };
            if (!fits)
            {
                wrong.Add($"{at} is {value.ValueKind}, described as {string.Join(" or ", types)}");
                return;
            }
        }

        if (value.ValueKind == JsonValueKind.Array && schema.TryGetProperty("items", out var items))
            foreach (var (item, i) in value.EnumerateArray().Select((x, i) => (x, i)))
                Hold(document, items, item, $"{at}[]", wrong);
        if (value.ValueKind != JsonValueKind.Object)
            return;
        var properties = schema.TryGetProperty("properties", out var p)
            ? p.EnumerateObject().ToDictionary(x => x.Name, x => x.Value)
            : [];
        if (schema.TryGetProperty("required", out var required))
            foreach (
                var name in required
                    .EnumerateArray()
                    .Select(r => r.GetString()!)
                    .Where(n => !value.TryGetProperty(n, out _))
            )
                wrong.Add($"{at}.{name} is missing");
        foreach (var member in value.EnumerateObject())
            if (properties.TryGetValue(member.Name, out var of))
                Hold(document, of, member.Value, $"{at}.{member.Name}", wrong);
            else if (
                schema.TryGetProperty("additionalProperties", out var more)
                && more.ValueKind == JsonValueKind.Object
            )
                Hold(document, more, member.Value, $"{at}.*", wrong);
            else if (properties.Count > 0)
                wrong.Add($"{at}.{member.Name} is not described");
    }

    /// <summary>
    /// For programs the command gives the same facts as the interface, as JSON and nothing else, with the same exit
    /// status as for people.
    /// </summary>
    [Fact]
    public async Task For_programs_the_command_gives_what_the_interface_gives()
    {
        using var http = Client("ines");
        foreach (
            var (line, path) in new[]
            {
                ("tunnel show BRI-ASHLOW", "tunnels/BRI-ASHLOW"),
                ("change show THR-0001", "changes/THR-0001"),
                ("change list", "changes"),
                ("tunnel list", "tunnels?most=500"),
                ("gateway list", "gateways?most=500"),
                ("gateway show churn-gw1", "gateways/churn-gw1"),
                ("platform list", "platforms"),
                ("suite list", "suites"),
                ("key list BRI-NETTLE", "tunnels/BRI-NETTLE/keys"),
                ("today", "today"),
                ("customer show BRI", "customers/BRI"),
            }
        )
        {
            var (status, told, error) = await demo.Command("ines", line + " --json");
            error.ShouldBeEmpty(line);
            status.ShouldBe((await demo.Command("ines", line)).Status, line);
            using var given = JsonDocument.Parse(told);
            using var asked = JsonDocument.Parse(await http.GetStringAsync(path, Ct));
            // The command reads every page of a list and gives the list.
            var whole =
                asked.RootElement.ValueKind == JsonValueKind.Object
                && asked.RootElement.TryGetProperty("items", out var items)
                    ? items
                    : asked.RootElement;
            Flat(given.RootElement).ShouldBe(Flat(whole), line);
        }

        static string[] Flat(JsonElement e, string at = "") =>
            e.ValueKind switch
            {
                JsonValueKind.Object =>
                [
                    .. e.EnumerateObject()
                        .OrderBy(p => p.Name, StringComparer.Ordinal)
                        .SelectMany(p => Flat(p.Value, $"{at}.{p.Name}")),
                ],
                JsonValueKind.Array => [.. e.EnumerateArray().SelectMany((x, i) => Flat(x, $"{at}[{i}]"))],
                JsonValueKind.Null => [],
                _ => [$"{at} {e.GetRawText()}"],
            };
    }

    private HttpClient Client(string who)
    {
        var http = new HttpClient { BaseAddress = new(demo.Service.Url, "/api/v1/") };
        http.DefaultRequestHeaders.Authorization = new("Bearer", demo.Token(who));
        return http;
    }
}

using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

public partial class RightsTests
{
    private async Task<IReadOnlyList<(string Name, HttpMethod Method, string Path)>> OperationsAsync()
    {
        using var http = new HttpClient { BaseAddress = demo.Service.Url };
        using var document = JsonDocument.Parse(await http.GetStringAsync("/api/v1/openapi.json", Ct));
        return
        [
            .. document
                .RootElement.GetProperty("paths")
                .EnumerateObject()
                .SelectMany(p =>
                    p.Value.EnumerateObject()
                        .Select(o =>
                            (
                                o.Value.GetProperty("operationId").GetString()!,
                                new HttpMethod(o.Name.ToUpperInvariant()),
                                Query(p.Name["/api/v1/".Length..], o.Value)
                            )
                        )
                ),
        ];
    }

    /// <summary>The path with the parameters of its query that have to be there.</summary>
    private static string Query(string path, JsonElement operation)
    {
        var asked = !operation.TryGetProperty("parameters", out var parameters)
            ? []
            : parameters
                .EnumerateArray()
                .Where(p => p.GetProperty("in").GetString() == "query")
                .Select(p =>
                    (
                        Name: p.GetProperty("name").GetString()!,
                        Required: p.TryGetProperty("required", out var r) && r.GetBoolean()
                    )
                )
                .Select(p =>
                    p.Name switch
                    {
                        "q" => "q={q}",
                        "newCode" => "newCode=X-1",
                        "from" when p.Required => "from=1",
                        "to" when p.Required => "to=1",
                        "a" => "a={gateway}",
                        "b" => "b={gateway}",
                        _ => "",
                    }
                )
                .Where(t => t.Length > 0)
                .ToArray();
        return asked.Length == 0 ? path : $"{path}?{string.Join('&', asked)}";
    }

    private static string Filled(string path, string owner)
    {
        var own = owner == "SAL";
        var kind = path.Split('/')[0];
        var code = kind switch
        {
            "customers" => owner,
            "sites" => own ? "SAL-HARBOUR" : "BRI-CHURN",
            "gateways" => own ? "harbour-gw" : "churn-gw1",
            "platforms" => own ? "duskmoth-six@1" : "brackwater-two@1",
            "suites" => own ? "SAL-VESSELS@1" : "BRI-STANDARD@3",
            "offers" => "SKE-PARTNERS",
            "people" => "perrin",
            "changes" => own ? "SAL-0001" : "BRI-0003",
            _ => own ? "SAL-GANNET" : "BRI-ASHLOW",
        };
        return path.Replace("{code}", code)
            .Replace("{name}", "perrin")
            .Replace("{id}", "none")
            .Replace("{step}", "1")
            .Replace("{version}", "1")
            .Replace("{kind}", "tunnels")
            .Replace("{q}", own ? "10.70.0.5" : "churn")
            .Replace("{gateway}", own ? "harbour-gw" : "churn-gw1");
    }

    private async Task<HttpStatusCode> StatusAsync(string who, HttpMethod method, string path)
    {
        using var http = new HttpClient { BaseAddress = new(demo.Service.Url, "/api/v1/") };
        using var request = new HttpRequestMessage(method, path);
        if (who != "nobody")
            request.Headers.Authorization = new("Bearer", demo.Token(who));
        if (method != HttpMethod.Get)
            request.Content =
                path.StartsWith("import", StringComparison.Ordinal)
                    ? new StringContent(
                        "",
                        null,
                        new MediaTypeHeaderValue(
                            path.Contains("sheet") ? "application/octet-stream" : "application/yaml"
                        )
                    )
                // A name of its own for each: wrong tries at one name are counted.
                : path is "session" or "tokens/by-password"
                    ? JsonContent.Create(new { name = $"{who}-{path.Length}", password = "x" })
                : JsonContent.Create(new { });
        using var answer = await http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, Ct);
        return answer.StatusCode;
    }

    private async Task<(HttpStatusCode Status, string Text)> TextAsync(string who, string path)
    {
        using var http = new HttpClient { BaseAddress = new(demo.Service.Url, "/api/v1/") };
        http.DefaultRequestHeaders.Authorization = new("Bearer", demo.Token(who));
        using var answer = await http.GetAsync(path, Ct);
        return (answer.StatusCode, await answer.Content.ReadAsStringAsync(Ct));
    }

    private static string Around(string text, string word) =>
        text.Substring(
            Math.Max(0, text.IndexOf(word, StringComparison.Ordinal) - 60),
            Math.Min(140, text.Length - Math.Max(0, text.IndexOf(word, StringComparison.Ordinal) - 60))
        );
}

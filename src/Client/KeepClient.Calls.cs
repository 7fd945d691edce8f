using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>How a call is made, and what is made of its answer.</summary>
public sealed partial class KeepClient
{
    private static HttpClient Make(Uri service, string? token)
    {
        var client = new HttpClient { BaseAddress = new(service, "/api/v1/"), Timeout = TimeSpan.FromMinutes(5) };
        if (token is not null)
            client.DefaultRequestHeaders.Authorization = new("Bearer", token);
        return client;
    }

    private static string Text(int n) => n.ToString(System.Globalization.CultureInfo.InvariantCulture);

    private static string Query(params (string Key, string? Value)[] given)
    {
        var said = given
            .Where(g => g.Value is not null)
            .Select(g => $"{g.Key}={Uri.EscapeDataString(g.Value!)}")
            .ToArray();
        return said.Length == 0 ? "" : "?" + string.Join('&', said);
    }

    /// <summary>Every page of a list, one after the other.</summary>
    private async Task<IReadOnlyList<T>> AllAsync<T>(
        string path,
        CancellationToken ct,
        params (string, string?)[] query
    )
    {
        var all = new List<T>();
        for (string? cursor = null; ; )
        {
            var page = await GetAsync<Page<T>>(path + Query([.. query, ("cursor", cursor)]), ct);
            all.AddRange(page.Items);
            if ((cursor = page.Cursor) is null)
                return all;
        }
    }

    /// <summary>Long work that is told in lines as it goes; the last line has the outcome or the problem.</summary>
    private async Task<T> WatchedAsync<T>(
        string path,
        HttpContent content,
        Action<string, int, int>? progress,
        CancellationToken ct
    )
    {
        if (progress is null)
            return await SendAsync<T>(HttpMethod.Post, path, content, null, ct);
        using var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = content };
        using var answer = await http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, ct);
        await RefusedAsync(answer, ct);
        using var reader = new StreamReader(await answer.Content.ReadAsStreamAsync(ct));
        while (await reader.ReadLineAsync(ct) is { } text)
        {
            var line = JsonSerializer.Deserialize<JsonElement>(text, Json);
            if (line.TryGetProperty("outcome", out var outcome))
                return outcome.Deserialize<T>(Json)!;
            if (line.TryGetProperty("problem", out var problem))
                throw Problem((HttpStatusCode)line.GetProperty("status").GetInt32(), problem);
            progress(
                line.GetProperty("doing").GetString()!,
                line.GetProperty("done").GetInt32(),
                line.GetProperty("of").GetInt32()
            );
        }

        throw new HttpRequestException("The response ended too early.");
    }

    private async Task<T> GetAsync<T>(string path, CancellationToken ct)
    {
        using var answer = await http.GetAsync(path, ct);
        return await ReadAsync<T>(answer, ct);
    }

    private async Task SendAsync(HttpMethod method, string path, object given, int? version, CancellationToken ct)
    {
        using var answer = await SentAsync(method, path, given, version, ct);
        await RefusedAsync(answer, ct);
    }

    private async Task<T> SendAsync<T>(HttpMethod method, string path, object given, int? version, CancellationToken ct)
    {
        using var answer = await SentAsync(method, path, given, version, ct);
        return await ReadAsync<T>(answer, ct);
    }

    private async Task<HttpResponseMessage> SentAsync(
        HttpMethod method,
        string path,
        object given,
        int? version,
        CancellationToken ct
    )
    {
        using var request = new HttpRequestMessage(method, path)
        {
            Content = given as HttpContent ?? JsonContent.Create(given, given.GetType(), null, Json),
        };
        if (version is { } known)
            request.Headers.IfMatch.Add(new EntityTagHeaderValue($"\"{known}\""));
        return await http.SendAsync(request, ct);
    }

    private static async Task<T> ReadAsync<T>(HttpResponseMessage answer, CancellationToken ct)
    {
        await RefusedAsync(answer, ct);
        return (await answer.Content.ReadFromJsonAsync<T>(Json, ct))!;
    }

    private static async Task RefusedAsync(HttpResponseMessage answer, CancellationToken ct)
    {
        if (answer.IsSuccessStatusCode)
            return;
        JsonElement? body = null;
        try
        {
            body = await answer.Content.ReadFromJsonAsync<JsonElement>(Json, ct);
        }
        catch (JsonException)
        {
            // An answer that is no problem detail comes from something before the service.
        }

        throw Problem(answer.StatusCode, body);
    }

    private static ServiceProblem Problem(HttpStatusCode status, JsonElement? body)
    {
        string? Text(string key) =>
            body is { ValueKind: JsonValueKind.Object } b
            && b.TryGetProperty(key, out var v)
            && v.ValueKind == JsonValueKind.String
                ? v.GetString()
                : null;
        return new(
            status,
            Text("type") ?? "",
            Text("detail") ?? Text("title") ?? $"The service responded with status {(int)status}.",
            body
        );
    }

    /// <summary>A list as a sheet. <paramref name="form"/>: csv or xlsx.</summary>
    public async Task<byte[]> ListAsync(
        string list,
        string form,
        IEnumerable<(string Key, string? Value)> narrowed,
        CancellationToken ct
    )
    {
        using var answer = await http.GetAsync(list + Query([.. narrowed, ("as", form)]), ct);
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsByteArrayAsync(ct);
    }

    /// <summary>What a path answers, as text.</summary>
    public async Task<string> TextAsync(string path, CancellationToken ct)
    {
        using var answer = await http.GetAsync(path, ct);
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsStringAsync(ct);
    }
}

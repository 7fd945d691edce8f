using System.Net.Http.Headers;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Vellumkeep.Storage.Rows;

namespace Vellumkeep.Bench;

internal static partial class Serving
{
    private static async Task<HttpClient> SignedInAsync(Uri url)
    {
        var http = new HttpClient(new SocketsHttpHandler { MaxConnectionsPerServer = 64 })
        {
            BaseAddress = url,
            Timeout = TimeSpan.FromSeconds(60),
        };
        using var made = await http.PostAsync(
            "/api/v1/tokens/by-password",
            new StringContent(
                JsonSerializer.Serialize(
                    new
                    {
                        name = "bench",
                        password = Password,
                        tokenName = "bench",
                        days = 1,
                    }
                ),
                null,
                "application/json"
            )
        );
        using var token = JsonDocument.Parse(await made.Content.ReadAsStringAsync());
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
            "Bearer",
            token.RootElement.GetProperty("token").GetString()
        );
        return http;
    }

    /// <summary>The service's processor time for a tunnel page against that for an empty answer.</summary>
    public static async Task<double> PageAgainstEmptyAsync(string root, string folder)
    {
        var (process, url) = await StartAsync(root, folder);
        using var _ = process;
        try
        {
            using var http = await SignedInAsync(url);
            var (_, tunnels) = await SomeAsync(folder);
            string Page(int i) => $"tunnels/{tunnels[i * 31 % tunnels.Length]}";
            await LoadAsync(http, Page, 1, 3);
            await LoadAsync(http, _ => "/empty", 1, 1);
            return await WorkAsync(Page, 2) / await WorkAsync(_ => "/empty", 1);

            async Task<double> WorkAsync(Func<int, string> path, double seconds)
            {
                var before = Timing.ProcessorSeconds(process);
                var (_, _, count) = await LoadAsync(http, path, 1, seconds);
                return (Timing.ProcessorSeconds(process) - before) / count;
            }
        }
        finally
        {
            process.Kill();
        }
    }

    private static async Task<(double Half, double Most, int Count)> LoadAsync(
        HttpClient http,
        Func<int, string> path,
        int clients,
        double seconds
    )
    {
        var times = new List<double>();
        var next = 0;
        var clock = Stopwatch.StartNew();
        await Task.WhenAll(
            Enumerable
                .Range(0, clients)
                .Select(async _ =>
                {
                    while (clock.Elapsed.TotalSeconds < seconds)
                    {
                        var i = Interlocked.Increment(ref next);
                        var from = Stopwatch.GetTimestamp();
                        var to = path(i);
                        using var answer = await http.GetAsync(to.StartsWith('/') ? to : "/api/v1/" + to);
                        await answer.Content.ReadAsByteArrayAsync();
                        var took = Stopwatch.GetElapsedTime(from).TotalMilliseconds;
                        if (!answer.IsSuccessStatusCode)
                            throw new InvalidOperationException($"{to}: {answer.StatusCode}");
                        lock (times)
                            times.Add(took);
                    }
                })
        );
        times.Sort();
        return (times[times.Count / 2], times[(int)((times.Count - 1) * 0.99)], times.Count);
    }
}

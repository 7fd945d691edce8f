using System.Net;
using System.Net.Sockets;
using System.Text;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>
/// What is too large, too deep or too much is refused at the edge, with a clear answer and without costing anything.
/// </summary>
[Collection(OneDemo.Name)]
public partial class BoundsTests(DemoProcess demo)
{
    private HttpClient Ines => Asking.By(demo.Service, demo.Token("ines"));

    [Theory]
    [InlineData("POST", "import", "application/yaml")]
    [InlineData("POST", "changes", "application/json")]
    [InlineData("POST", "import/sheet", "application/octet-stream")]
    [InlineData("PUT", "sites/BRI-CHURN", "application/json")]
    public async Task A_strangers_body_is_not_waited_for(string method, string path, string type)
    {
        // Only the head is sent: the answer comes all the same, and the line is closed.
        var answer = await HeadOnlyAsync(
            $"{method} /api/v1/{path} HTTP/1.1\r\nHost: x\r\nContent-Type: {type}\r\nContent-Length: 15000000\r\n\r\n"
        );
        answer.ShouldStartWith("HTTP/1.1 401");
        (
            await HeadOnlyAsync(
                $"{method} /api/v1/{path} HTTP/1.1\r\nHost: x\r\nContent-Type: {type}\r\nTransfer-Encoding: chunked\r\n\r\n"
            )
        ).ShouldStartWith("HTTP/1.1 401");
        // Nor is one that is announced as too large, whoever asks.
        (
            await HeadOnlyAsync(
                $"{method} /api/v1/{path} HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer "
                    + $"{demo.Token("ines")}\r\nContent-Type: {type}\r\nContent-Length: 99000000\r\n\r\n"
            )
        ).ShouldStartWith("HTTP/1.1 413");
        (
            await HeadOnlyAsync(
                "POST /api/v1/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 100000\r\n\r\n"
            )
        ).ShouldStartWith("HTTP/1.1 413");
    }

    [Fact]
    public async Task Strangers_with_large_bodies_cost_no_memory()
    {
        var before = Asking.Memory(demo.Service);
        var large = new byte[15 * 1024 * 1024];
        await Task.WhenAll(
            Enumerable
                .Range(0, 30)
                .Select(async _ =>
                {
                    using var http = new HttpClient { BaseAddress = new(demo.Service.Url, "/api/v1/") };
                    try
                    {
                        using var answer = await http.PostAsync("import", new ByteArrayContent(large), Ct);
                        answer.StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
                    }
                    catch (HttpRequestException)
                    {
                        // The line was closed while it was still being sent.
                    }
                })
        );
        (Asking.Memory(demo.Service) - before).ShouldBeLessThan(100L * 1024 * 1024);
    }

    [Fact]
    public async Task Paths_depths_and_counts_have_a_bound_that_is_told()
    {
        using var ines = Ines;
        async Task Refused(string path, string json, string field, string says, HttpMethod? method = null)
        {
            using var request = new HttpRequestMessage(method ?? HttpMethod.Post, path)
            {
                Content = new StringContent(json, Encoding.UTF8, "application/json"),
            };
            request.Headers.IfMatch.Add(new("\"1\""));
            using var answer = await ines.SendAsync(request, Ct);
            var text = await answer.Content.ReadAsStringAsync(Ct);
            ((int)answer.StatusCode).ShouldBeInRange(400, 422, $"{path}: {text}");
            text.ShouldContain(says);
            text.ShouldContain($"\"field\":\"{field}");
        }

        static string Json(object value) => System.Text.Json.JsonSerializer.Serialize(value);
        var dots = string.Concat(Enumerable.Repeat("a.", 50_000));
        await Refused(
            "sites",
            Json(new { set = new[] { new { path = dots, value = "x" } } }),
            "set[1].path",
            "characters"
        );
        await Refused(
            "sites",
            Json(new { set = new[] { new { path = string.Concat(Enumerable.Repeat("a.", 190)), value = "x" } } }),
            "set.path",
            "keys separated by dots"
        );
        await Refused(
            "sites",
            Json(new { set = new[] { new { path = "name", value = string.Concat(Enumerable.Repeat("[", 5000)) } } }),
            "name",
            "levels are nested"
        );
        await Refused(
            "sites",
            "{\"form\":" + string.Concat(Enumerable.Repeat("{\"a\":", 60)) + "1" + new string('}', 60) + "}",
            "form",
            "not JSON of the form"
        );
        await Refused(
            "changes",
            Json(
                new
                {
                    tunnel = "BRI-NETTLE",
                    end = "A",
                    reason = "x",
                    add = Enumerable.Range(0, 201).Select(i => $"10.200.{i}.0/24"),
                }
            ),
            "add",
            "at most 200"
        );
        await Refused(
            "changes",
            Json(
                new
                {
                    kind = "rekey",
                    reason = "x",
                    also = Enumerable.Repeat("BRI-NETTLE", 201),
                }
            ),
            "also",
            "at most 200"
        );
        await Refused(
            "changes",
            Json(
                new
                {
                    tunnel = "BRI-NETTLE",
                    end = "A",
                    reason = "x",
                    add = Enumerable.Range(0, 5000).Select(i => "10.0.0.0/8"),
                }
            ),
            "add",
            "more than 1,000"
        );
        await Refused(
            "changes",
            Json(new { tunnel = "BRI-NETTLE", reason = new string('x', 100_000) }),
            "reason",
            "100,000 characters"
        );
        var networks = string.Join(
            ", ",
            Enumerable.Range(0, 1001).Select(i => $"{{prefix: 10.{i / 250}.{i % 250}.0/24, name: n{i}}}")
        );
        await Refused(
            "sites",
            Json(new { text = $"code: BRI-MANY\ncustomer: BRI\nname: Many\nnetworks: [{networks[..30_000]}" }),
            "line",
            "readable"
        );
        var lines = string.Join(
            "\n",
            Enumerable.Range(0, 1001).Select(i => $"  - {{prefix: 10.{i / 250}.{i % 250}.0/24, name: n{i}}}")
        );
        await Refused(
            "sites",
            Json(new { text = $"code: BRI-MANY\ncustomer: BRI\nname: Many\nnetworks:\n{lines}" }),
            "networks",
            "1,001 items"
        );
        foreach (
            var (text, says) in new[]
            {
                (
                    "vellumkeep: keepfile/1\nsites:\n"
                        + string.Join("\n", Enumerable.Range(0, 200_001).Select(i => $"  - {{code: S{i}}}")),
                    "200,001 records"
                ),
                ("vellumkeep: keepfile/1\nsites: " + new string('[', 50_000), "characters long"),
                (
                    "vellumkeep: keepfile/1\nsites: " + string.Join("\n  ", Enumerable.Repeat("[", 5000)),
                    "levels are nested"
                ),
                (
                    "vellumkeep: keepfile/1\n" + string.Concat(Enumerable.Repeat("a:\n", 2_000_001)),
                    "values are before this line"
                ),
            }
        )
        {
            using var answer = await ines.PostAsync(
                "import?dryRun=true",
                new StringContent(text, Encoding.UTF8, "application/yaml"),
                Ct
            );
            (
                answer.StatusCode,
                (await answer.Content.ReadAsStringAsync(Ct)).Contains(says, StringComparison.Ordinal)
            ).ShouldBe((HttpStatusCode.UnprocessableEntity, true), says);
        }
    }

    [Fact]
    public async Task More_sites_than_can_be_drawn_are_told_and_a_part_is_drawn()
    {
        using var ines = Ines;
        var sites = string.Join(
            "\n",
            Enumerable
                .Range(0, 598)
                .Select(i =>
                    $"  - {{code: LOTS-{i}, customer: LOTS, name: Shop {i}, networks: [{{prefix: "
                    + $"{(i < 3 ? $"10.77.{i}.0/24" : "10.0.0.0/24")}, name: lan}}]}}"
                )
        );
        var given = new StringContent(
            $"vellumkeep: keepfile/1\ncustomers:\n  - {{code: LOTS, name: Lots}}\nsites:\n{sites}\n",
            Encoding.UTF8,
            "application/yaml"
        );
        (await ines.PostAsync("import?reason=many", given, Ct)).StatusCode.ShouldBe(HttpStatusCode.OK);
        var page = System.Text.Json.Nodes.JsonNode.Parse(await ines.GetStringAsync("customers/LOTS", Ct))!;
        (page["sites"]!.AsArray().Count, (int)page["siteCount"]!).ShouldBe((500, 598));
        foreach (
            var path in new[]
            {
                "customers/LOTS/drawing",
                "customers/LOTS/addresses",
                "customers/LOTS/addresses/drawing",
                "customers/LOTS/addresses?within=10.0.0.0/24",
            }
        )
        {
            using var answer = await ines.GetAsync(path, Ct);
            (
                answer.StatusCode,
                (await answer.Content.ReadAsStringAsync(Ct)).Contains(
                    "LOTS has more than 500",
                    StringComparison.Ordinal
                )
            ).ShouldBe((HttpStatusCode.UnprocessableEntity, true), path);
        }

        var part = System.Text.Json.Nodes.JsonNode.Parse(
            await ines.GetStringAsync("customers/LOTS/addresses?within=10.77.0.0/23", Ct)
        )!;
        part["areas"]!
            .AsArray()
            .SelectMany(a => a!["items"]!.AsArray())
            .Select(i => (string)i!["site"]!)
            .ShouldBe(["LOTS-0", "LOTS-1"]);
        (await ines.GetAsync("customers/LOTS/addresses?within=10.77.0.300", Ct)).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
    }

    private async Task<string> HeadOnlyAsync(string head)
    {
        using var socket = new TcpClient();
        await socket.ConnectAsync(IPAddress.Loopback, demo.Service.Url.Port, Ct);
        await using var stream = socket.GetStream();
        await stream.WriteAsync(Encoding.ASCII.GetBytes(head), Ct);
        using var reader = new StreamReader(stream, Encoding.ASCII);
        return await reader.ReadLineAsync(Ct).AsTask().WaitAsync(TimeSpan.FromSeconds(4), Ct) ?? "";
    }
}

using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>What the service refused: the problem detail (RFC 9457), with the fields it names.</summary>
public sealed class ServiceProblem(HttpStatusCode status, string type, string detail, JsonElement? body)
    : Exception(detail)
{
    public HttpStatusCode Status { get; } = status;

    public string Type { get; } = type;

    /// <summary>The whole problem detail; null when the answer was none.</summary>
    public JsonElement? Body { get; } = body;
}

/// <summary>
/// The HTTP interface, typed. Every call throws <see cref="ServiceProblem"/> when refused and
/// <see cref="HttpRequestException"/> when the service is not reachable.
/// </summary>
public sealed class KeepClient(Uri service, string? token) : IDisposable
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);
    private readonly HttpClient http = Make(service, token);

    /// <summary>Where the service is.</summary>
    public Uri Service { get; } = service;

    public Task<Me> WhoAsync(CancellationToken ct) => GetAsync<Me>("session", ct);

    public Task<MadeToken> TokenByPasswordAsync(TokenByPassword given, CancellationToken ct) =>
        SendAsync<MadeToken>(HttpMethod.Post, "tokens/by-password", given, null, ct);

    public Task<TodayPage> TodayAsync(CancellationToken ct) => GetAsync<TodayPage>("today", ct);

    public Task<Page<TunnelSummary>> TunnelsAsync(
        string? customer,
        string? state,
        string? finding,
        string? severity,
        string? text,
        string? cursor,
        CancellationToken ct,
        string? on = null
    ) =>
        GetAsync<Page<TunnelSummary>>(
            "tunnels"
                + Query(
                    ("customer", customer),
                    ("state", state),
                    ("finding", finding),
                    ("severity", severity),
                    ("q", text),
                    ("on", on),
                    ("cursor", cursor)
                ),
            ct
        );

    public Task<TunnelPage> TunnelAsync(string code, CancellationToken ct, string? on = null) =>
        GetAsync<TunnelPage>($"tunnels/{Uri.EscapeDataString(code)}" + Query(("on", on)), ct);

    public Task<TunnelPage> ConfirmAsync(string code, int version, ConfirmValue given, CancellationToken ct) =>
        SendAsync<TunnelPage>(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(code)}/confirm", given, version, ct);

    public Task<TunnelPage> CorrectAsync(string code, int version, CorrectValue given, CancellationToken ct) =>
        SendAsync<TunnelPage>(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(code)}/correct", given, version, ct);

    public Task<TunnelPage> DescribeAsync(string code, int version, EditTunnel given, CancellationToken ct) =>
        SendAsync<TunnelPage>(HttpMethod.Patch, $"tunnels/{Uri.EscapeDataString(code)}", given, version, ct);

    public Task<IReadOnlyList<HistoryEntry>> HistoryAsync(string code, CancellationToken ct) =>
        GetAsync<IReadOnlyList<HistoryEntry>>($"tunnels/{Uri.EscapeDataString(code)}/history", ct);

    /// <summary>
    /// The written form of a record of the kind that <paramref name="plural"/> names; on a day, as it was.
    /// </summary>
    public Task<RecordForm> FormAsync(string plural, string code, string? on, CancellationToken ct) =>
        GetAsync<RecordForm>($"{plural}/{Uri.EscapeDataString(code)}/form" + Query(("on", on)), ct);

    public Task<RecordForm> CopyAsync(string code, string newCode, CancellationToken ct) =>
        GetAsync<RecordForm>($"tunnels/{Uri.EscapeDataString(code)}/copy" + Query(("newCode", newCode)), ct);

    public Task<RecordWritten> AddAsync(string plural, WriteRecord given, bool dryRun, CancellationToken ct) =>
        SendAsync<RecordWritten>(HttpMethod.Post, plural + Query(("dryRun", dryRun ? "true" : null)), given, null, ct);

    public Task<RecordWritten> WriteAsync(
        string plural,
        string code,
        int version,
        WriteRecord given,
        bool dryRun,
        CancellationToken ct
    ) =>
        SendAsync<RecordWritten>(
            HttpMethod.Put,
            $"{plural}/{Uri.EscapeDataString(code)}" + Query(("dryRun", dryRun ? "true" : null)),
            given,
            version,
            ct
        );

    public Task<RecordWritten> RetireAsync(
        string plural,
        string code,
        int version,
        string reason,
        bool dryRun,
        CancellationToken ct
    ) =>
        SendAsync<RecordWritten>(
            HttpMethod.Post,
            $"{plural}/{Uri.EscapeDataString(code)}/retire" + Query(("dryRun", dryRun ? "true" : null)),
            new RetireRecord(reason),
            version,
            ct
        );

    public Task<IReadOnlyList<HistoryEntry>> HistoryAsync(string plural, string code, CancellationToken ct) =>
        GetAsync<IReadOnlyList<HistoryEntry>>($"{plural}/{Uri.EscapeDataString(code)}/history", ct);

    public Task<VersionsCompared> VersionsAsync(string plural, string code, int from, int to, CancellationToken ct) =>
        GetAsync<VersionsCompared>(
            $"{plural}/{Uri.EscapeDataString(code)}/versions" + Query(("from", Text(from)), ("to", Text(to))),
            ct
        );

    public Task<IReadOnlyList<RecordLine>> RecordsAsync(
        string plural,
        string? customer,
        string? on,
        CancellationToken ct
    ) => AllAsync<RecordLine>($"records/{plural}", ct, ("customer", customer), ("on", on), ("most", "2000"));

    public Task<SearchAnswer> SearchAsync(string text, CancellationToken ct) =>
        GetAsync<SearchAnswer>("search" + Query(("q", text)), ct);

    public Task<IReadOnlyList<KeptListLine>> KeptListsAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<KeptListLine>>("kept-lists", ct);

    public Task<KeptListLine> KeepListAsync(KeepList given, CancellationToken ct) =>
        SendAsync<KeptListLine>(HttpMethod.Post, "kept-lists", given, null, ct);

    public Task LetGoOfListAsync(string id, CancellationToken ct) =>
        SendAsync(HttpMethod.Delete, $"kept-lists/{Uri.EscapeDataString(id)}", new { }, null, ct);

    public Task<Page<CommitLine>> CommitsAsync(
        string? who,
        string? customer,
        string? kind,
        string? from,
        string? to,
        string? before,
        int? most,
        CancellationToken ct
    ) =>
        GetAsync<Page<CommitLine>>(
            "history"
                + Query(
                    ("who", who),
                    ("customer", customer),
                    ("kind", kind),
                    ("from", from),
                    ("to", to),
                    ("before", before),
                    ("most", most is { } m ? Text(m) : null)
                ),
            ct
        );

    /// <summary>Who came in, was refused, or took something out; newest first.</summary>
    public Task<Page<AuditLine>> AuditAsync(
        string? who,
        string? what,
        string? outcome,
        string? from,
        string? to,
        string? before,
        int? most,
        CancellationToken ct
    ) =>
        GetAsync<Page<AuditLine>>(
            "audit"
                + Query(
                    ("who", who),
                    ("what", what),
                    ("outcome", outcome),
                    ("from", from),
                    ("to", to),
                    ("before", before),
                    ("most", most is { } m ? Text(m) : null)
                ),
            ct
        );

    public Task<Verified> VerifyAsync(CancellationToken ct) => GetAsync<Verified>("history/verified", ct);

    /// <summary>The whole database as one file.</summary>
    public async Task BackupAsync(Stream to, CancellationToken ct)
    {
        using var answer = await http.GetAsync("backup", HttpCompletionOption.ResponseHeadersRead, ct);
        await RefusedAsync(answer, ct);
        await answer.Content.CopyToAsync(to, ct);
    }

    public Task<IReadOnlyList<PersonLine>> PeopleAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<PersonLine>>("people", ct);

    public Task<PersonPage> PersonAsync(string name, CancellationToken ct) =>
        GetAsync<PersonPage>($"people/{Uri.EscapeDataString(name)}", ct);

    public Task<GivenPassword> GivePasswordAsync(string name, CancellationToken ct) =>
        SendAsync<GivenPassword>(HttpMethod.Post, $"people/{Uri.EscapeDataString(name)}/password", new { }, null, ct);

    public Task<PasswordReplaced> ReplacePasswordAsync(ReplacePassword given, CancellationToken ct) =>
        SendAsync<PasswordReplaced>(HttpMethod.Post, "session/password", given, null, ct);

    public Task<AccessPage> AccessAsync(CancellationToken ct) => GetAsync<AccessPage>("access", ct);

    public Task<MadeToken> MakeTokenAsync(NewToken given, CancellationToken ct) =>
        SendAsync<MadeToken>(HttpMethod.Post, "tokens", given, null, ct);

    /// <summary>Ends a token or session: one's own, or with <paramref name="person"/> somebody else's.</summary>
    public Task EndAccessAsync(string? person, bool token, string id, CancellationToken ct) =>
        SendAsync(
            HttpMethod.Delete,
            $"{(person is null ? "" : $"people/{Uri.EscapeDataString(person)}/")}{(token ? "tokens" : "sessions")}/{Uri.EscapeDataString(id)}",
            new { },
            null,
            ct
        );

    public Task<IReadOnlyList<FindingPage>> FindingsAsync(
        string? tunnel,
        string? customer,
        string? code,
        string? severity,
        CancellationToken ct,
        string? gateway = null
    ) =>
        FirstAsync<FindingPage>(
            "findings"
                + Query(
                    ("tunnel", tunnel),
                    ("gateway", gateway),
                    ("customer", customer),
                    ("code", code),
                    ("severity", severity),
                    ("most", "2000")
                ),
            ct
        );

    public Task<RehearsalPage> RehearsalAsync(string code, CancellationToken ct) =>
        GetAsync<RehearsalPage>($"tunnels/{Uri.EscapeDataString(code)}/rehearsal", ct);

    public Task<RehearsalPage> RehearseAsync(HypotheticalTunnel given, CancellationToken ct) =>
        SendAsync<RehearsalPage>(HttpMethod.Post, "rehearsals", given, null, ct);

    public Task AcceptAsync(string tunnel, int version, AcceptFinding given, CancellationToken ct) =>
        SendAsync(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(tunnel)}/accept", given, version, ct);

    public Task WithdrawAsync(string tunnel, int version, WithdrawAcceptance given, CancellationToken ct) =>
        SendAsync(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(tunnel)}/withdraw-acceptance", given, version, ct);

    public Task<CommonAnswer> CommonAsync(string a, string b, string? version, CancellationToken ct) =>
        GetAsync<CommonAnswer>("sums/common" + Query(("a", a), ("b", b), ("version", version)), ct);

    public Task<IReadOnlyList<GatewaySummary>> GatewaysAsync(string? customer, CancellationToken ct) =>
        AllAsync<GatewaySummary>("gateways", ct, ("customer", customer), ("most", "1000"));

    public Task<GatewayPage> GatewayAsync(string code, CancellationToken ct) =>
        GetAsync<GatewayPage>($"gateways/{Uri.EscapeDataString(code)}", ct);

    public Task<IReadOnlyList<CustomerSummary>> CustomersAsync(CancellationToken ct) =>
        AllAsync<CustomerSummary>("customers", ct, ("most", "1000"));

    public Task<CustomerPage> CustomerAsync(string code, CancellationToken ct) =>
        GetAsync<CustomerPage>($"customers/{Uri.EscapeDataString(code)}", ct);

    public Task<IReadOnlyList<PlatformSummary>> PlatformsAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<PlatformSummary>>("platforms", ct);

    public Task<PlatformPage> PlatformAsync(string code, CancellationToken ct) =>
        GetAsync<PlatformPage>($"platforms/{Uri.EscapeDataString(code)}", ct);

    public Task<IReadOnlyList<SuiteSummary>> SuitesAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<SuiteSummary>>("suites", ct);

    public Task<SuitePage> SuiteAsync(string code, CancellationToken ct) =>
        GetAsync<SuitePage>($"suites/{Uri.EscapeDataString(code)}", ct);

    /// <summary>
    /// What contains or overlaps <paramref name="asked"/>; or, with <paramref name="free"/>, what of
    /// <paramref name="length"/> is free within it.
    /// </summary>
    public Task<AddressAnswer> AddressesAsync(
        string? asked,
        string? free,
        int? length,
        string? customer,
        CancellationToken ct
    ) =>
        GetAsync<AddressAnswer>(
            "addresses"
                + Query(
                    ("q", asked),
                    ("free", free),
                    ("length", length?.ToString(System.Globalization.CultureInfo.InvariantCulture)),
                    ("customer", customer)
                ),
            ct
        );

    /// <summary>
    /// Imports a keepfile. <paramref name="progress"/>: is told what is being done and how many of how many are.
    /// </summary>
    public Task<ImportOutcome> ImportAsync(
        string text,
        bool dryRun,
        string? reason,
        CancellationToken ct,
        Action<string, int, int>? progress = null
    ) =>
        WatchedAsync<ImportOutcome>(
            "import"
                + Query(
                    ("dryRun", dryRun ? "true" : "false"),
                    ("reason", reason),
                    ("progress", progress is null ? null : "true")
                ),
            new StringContent(text, null, "application/yaml"),
            progress,
            ct
        );

    /// <summary>
    /// A sheet as it is in its file. <paramref name="columns"/>: <c>heading=field</c> where the guess has to be
    /// corrected.
    /// </summary>
    public Task<SheetOutcome> ImportSheetAsync(
        string name,
        byte[] content,
        IEnumerable<string> columns,
        string? customer,
        bool leaveOut,
        bool dryRun,
        CancellationToken ct,
        Action<string, int, int>? progress = null
    ) =>
        WatchedAsync<SheetOutcome>(
            "import/sheet"
                + Query([
                    ("progress", progress is null ? null : "true"),
                    ("name", name),
                    ("customer", customer),
                    ("leaveOut", leaveOut ? "true" : null),
                    ("dryRun", dryRun ? "true" : null),
                    .. columns.Select(c => ("column", (string?)c)),
                ]),
            new ByteArrayContent(content) { Headers = { ContentType = new("application/octet-stream") } },
            progress,
            ct
        );

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

    public Task<SitePage> SiteAsync(string code, CancellationToken ct) =>
        GetAsync<SitePage>($"sites/{Uri.EscapeDataString(code)}", ct);

    public Task<AddressPlanPage> AddressPlanAsync(string customer, string? within, CancellationToken ct) =>
        GetAsync<AddressPlanPage>(
            $"customers/{Uri.EscapeDataString(customer)}/addresses" + Query(("within", within)),
            ct
        );

    /// <summary>A drawing of a customer as SVG: its sites and tunnels, or its addresses to scale.</summary>
    public async Task<string> DrawingAsync(string customer, bool addresses, CancellationToken ct, string? within = null)
    {
        using var answer = await http.GetAsync(
            $"customers/{Uri.EscapeDataString(customer)}/{(addresses ? "addresses/" : "")}drawing"
                + Query(("within", within)),
            ct
        );
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsStringAsync(ct);
    }

    public async Task<string> ExportAsync(string? customer, CancellationToken ct)
    {
        using var answer = await http.GetAsync("export" + Query(("customer", customer)), ct);
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsStringAsync(ct);
    }

    /// <summary>What a path answers, as text.</summary>
    public async Task<string> TextAsync(string path, CancellationToken ct)
    {
        using var answer = await http.GetAsync(path, ct);
        await RefusedAsync(answer, ct);
        return await answer.Content.ReadAsStringAsync(ct);
    }

    public Task<IReadOnlyList<ChangeSummary>> ChangesAsync(string? state, string? tunnel, CancellationToken ct) =>
        GetAsync<IReadOnlyList<ChangeSummary>>("changes" + Query(("state", state), ("tunnel", tunnel)), ct);

    public Task<ChangePage> ChangeAsync(string code, CancellationToken ct) =>
        GetAsync<ChangePage>($"changes/{Uri.EscapeDataString(code)}", ct);

    public Task<ChangePage> DraftAsync(DraftChange given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, "changes", given, null, ct);

    /// <summary>submit, approve, return, begin, confirm-urgent, recompute, close, back-out or drop.</summary>
    /// <param name="version">The version that was read; needed to approve.</param>
    public Task<ChangePage> ActAsync(string code, string act, ActRemark remark, int? version, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/{act}", remark, version, ct);

    public Task<KeysPage> KeysAsync(string tunnel, CancellationToken ct) =>
        GetAsync<KeysPage>($"tunnels/{Uri.EscapeDataString(tunnel)}/keys", ct);

    public Task<KeysPage> MakeKeyAsync(string tunnel, MakeKeyGiven given, CancellationToken ct) =>
        SendAsync<KeysPage>(HttpMethod.Post, $"tunnels/{Uri.EscapeDataString(tunnel)}/keys", given, null, ct);

    public Task<KeyShown> ShowKeyAsync(string tunnel, int version, ShowKeyGiven given, CancellationToken ct) =>
        SendAsync<KeyShown>(
            HttpMethod.Post,
            $"tunnels/{Uri.EscapeDataString(tunnel)}/keys/{version}/show",
            given,
            null,
            ct
        );

    public Task<ChangePage> WindowAsync(string code, WindowGiven given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/window", given, null, ct);

    public Task<ChangePage> FillAsync(string code, FillGiven given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/fill", given, null, ct);

    public Task<ChangePage> UrgentAsync(string code, UrgentGiven given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/urgent", given, null, ct);

    public Task<ChangePage> AttemptAsync(string code, int step, AttemptStep given, CancellationToken ct) =>
        SendAsync<ChangePage>(HttpMethod.Post, $"changes/{Uri.EscapeDataString(code)}/steps/{step}", given, null, ct);

    public void Dispose() => http.Dispose();

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

    private async Task<IReadOnlyList<T>> FirstAsync<T>(string path, CancellationToken ct) =>
        (await GetAsync<Page<T>>(path, ct)).Items;

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

        throw new HttpRequestException("The answer ended before the outcome.");
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
        if (version is { } seen)
            request.Headers.IfMatch.Add(new EntityTagHeaderValue($"\"{seen}\""));
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
            Text("detail") ?? Text("title") ?? $"The service answered {(int)status}.",
            body
        );
    }
}

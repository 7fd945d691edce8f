namespace Vellumkeep.Service.Tunnels;

/// <summary>Tunnels: listed, opened, confirmed, corrected, described, and their history.</summary>
public static class TunnelEndpoints
{
    public static void MapTunnels(this RouteGroupBuilder api)
    {
        ListTunnels(api);
        OpenTunnel(api);
        DescribeTunnel(api);
        ConfirmValue(api);
        CorrectValue(api);
        TunnelHistory(api);
        ListFindings(api);
        ListCustomers(api);
    }

    private static void ListTunnels(RouteGroupBuilder api) =>
        api.MapGet(
                "/tunnels",
                async (
                    string? customer,
                    string? state,
                    string? finding,
                    string? severity,
                    string? q,
                    string? asOf,
                    string? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    if (state is not null && WordsOf.States.Parse(state) is { Ok: false } wrong)
                        throw ProblemException.Field("state", wrong.Wrong!, wrong.Right!);
                    if (severity is not null && Severities.Words.Parse(severity) is { Ok: false } bad)
                        throw ProblemException.Field("severity", bad.Wrong!, bad.Right!);
                    if (finding is not null && Checks.CodeOf(finding) is { Ok: false } unknown)
                        throw ProblemException.Field("finding", unknown.Wrong!, unknown.Right!);
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var owner = await Find.OwnerAsync(new(context), scope, customer, ct);
                    if (Days.Day("asOf", asOf) is { } day)
                        return await PastAsync(context, scope, day, owner, state, finding ?? severity ?? q, cursor, ct);
                    var (items, next) = await new TunnelList(context).TunnelsAsync(
                        scope,
                        new(owner, state, finding, severity, q),
                        cursor,
                        Paging.Most(http, most, 1000),
                        ct
                    );
                    return new Page<TunnelSummary>(await TunnelSummaries.OfAsync(context, items, scope, ct), next);
                }
            )
            .For(Role.Reader)
            .WithName("listTunnels")
            .WithSummary("Tunnels by code; q takes words, addresses (what contains it) and prefixes (what overlaps it)")
            .ProducesProblem(404)
            .ProducesProblem(422);

    private static void OpenTunnel(RouteGroupBuilder api) =>
        api.MapGet(
                "/tunnels/{code}",
                async (
                    string code,
                    string? asOf,
                    TunnelWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    if (Days.Day("asOf", asOf) is { } day)
                        return await PastPageAsync(code, day, databases, http.Asker().Scope, ct);
                    var page = await PageAsync(code, work, databases, clock, http, ct);
                    http.Response.Headers.ETag = ETags.Of(page.Version);
                    return page;
                }
            )
            .For(Role.Reader)
            .WithName("openTunnel")
            .WithSummary("A tunnel with both ends, compared; now, or as it was recorded on a day")
            .ProducesProblem(404)
            .ProducesProblem(422);

    private static void DescribeTunnel(RouteGroupBuilder api) =>
        api.MapPatch(
                "/tunnels/{code}",
                async (
                    string code,
                    EditTunnel given,
                    TunnelWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await work.EditAsync(http.Asker(), clock.GetUtcNow(), code, ETags.Required(http), given, ct);
                    return await PageAsync(code, work, databases, clock, http, ct);
                }
            )
            .For(Role.Engineer)
            .WithName("describeTunnel")
            .WithSummary("Edit name, purpose, notes and tags")
            .ProducesProblem(404)
            .ProducesProblem(412)
            .ProducesProblem(422)
            .ProducesProblem(428);

    private static void ConfirmValue(RouteGroupBuilder api) =>
        api.MapPost(
                "/tunnels/{code}/confirm",
                async (
                    string code,
                    ConfirmValue given,
                    TunnelWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await work.ConfirmAsync(http.Asker(), clock.GetUtcNow(), code, ETags.Required(http), given, ct);
                    return await PageAsync(code, work, databases, clock, http, ct);
                }
            )
            .For(Role.Engineer)
            .WithName("confirmValue")
            .WithSummary("Record that an end has this value, as checked on the device")
            .ProducesProblem(404)
            .ProducesProblem(412)
            .ProducesProblem(422)
            .ProducesProblem(428);

    private static void CorrectValue(RouteGroupBuilder api) =>
        api.MapPost(
                "/tunnels/{code}/correct",
                async (
                    string code,
                    CorrectValue given,
                    TunnelWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await work.CorrectAsync(http.Asker(), clock.GetUtcNow(), code, ETags.Required(http), given, ct);
                    return await PageAsync(code, work, databases, clock, http, ct);
                }
            )
            .For(Role.Engineer)
            .WithName("correctValue")
            .WithSummary("Correct what is recorded of an end, with a reason")
            .ProducesProblem(404)
            .ProducesProblem(412)
            .ProducesProblem(422)
            .ProducesProblem(428);

    private static void TunnelHistory(RouteGroupBuilder api) =>
        api.MapGet(
                "/tunnels/{code}/history",
                async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    await using var context = databases.Open();
                    var reader = new RecordReader(context);
                    var kept = await Find.TunnelAsync(reader, http.Asker().Scope, code, ct);
                    return await RecordHistory.OfAsync(context, kept.Record.Id, http.Asker().Scope, ct);
                }
            )
            .For(Role.Reader)
            .WithName("tunnelHistory")
            .WithSummary("Who changed what, when, under which change, newest first")
            .ProducesProblem(404);

    private static void ListFindings(RouteGroupBuilder api) =>
        api.MapGet(
                "/findings",
                async (
                    string? tunnel,
                    string? gateway,
                    string? customer,
                    string? code,
                    string? severity,
                    int? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    if (code is not null && Checks.CodeOf(code) is { Ok: false } unknown)
                        throw ProblemException.Field("code", unknown.Wrong!, unknown.Right!);
                    if (severity is not null && Severities.Words.Parse(severity) is { Ok: false } wrong)
                        throw ProblemException.Field("severity", wrong.Wrong!, wrong.Right!);
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var owner = await Find.OwnerAsync(new(context), scope, customer, ct);
                    var id = tunnel is null
                        ? null
                        : (await Find.TunnelAsync(new RecordReader(context), scope, tunnel, ct)).Record.Id;
                    var at = gateway is null
                        ? null
                        : (await Find.RecordAsync<Gateway>(new(context), scope, RecordKind.Gateway, gateway, ct))
                            .Record
                            .Id;
                    var (skip, take) = (Math.Max(0, cursor ?? 0), Paging.Most(http, most));
                    var found = await new FindingList(context).FindingsAsync(
                        scope,
                        id,
                        owner,
                        code,
                        severity,
                        take + 1,
                        ct,
                        at,
                        skip
                    );
                    return new Page<FindingPage>(
                        [.. found.Take(take).Select(f => f.Finding.Show(f.TunnelCode, scope.Sees, f.Since))],
                        found.Count > take ? (skip + take).ToString(CultureInfo.InvariantCulture) : null
                    );
                }
            )
            .For(Role.Reader)
            .WithName("listFindings")
            .WithSummary("Findings, worst first; of a tunnel, a gateway, a customer, or all")
            .ProducesProblem(404)
            .ProducesProblem(422);

    private static void ListCustomers(RouteGroupBuilder api) =>
        api.MapGet(
                "/customers",
                async (string? cursor, int? most, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    await using var context = databases.Open();
                    return await Paging.ByCodeAsync(
                        http,
                        most,
                        async n => await new CustomerList(context).CustomersAsync(http.Asker().Scope, cursor, n, ct),
                        c => c.Code,
                        c => new CustomerSummary(c.Code, c.Name, Customer.Owners.Of(c.Owner), c.Tunnels, c.Blocked)
                    );
                }
            )
            .For(Role.Reader)
            .WithName("listCustomers")
            .WithSummary("Customers and other parties");

    /// <summary>A tunnel as it was recorded on a day, judged as it would have been that day.</summary>
    private static async Task<TunnelPage> PastPageAsync(
        string code,
        DateOnly day,
        Databases databases,
        Scope scope,
        CancellationToken ct
    )
    {
        await using var context = databases.Open();
        var past = await Past.OnAsync(context, day, ct);
        var kept = await past.ByCodeAsync<Tunnel>(scope, RecordKind.Tunnel, code, ct)
            ?? throw ProblemException.NotFound($"tunnel on {Scalars.Write(day)}", code);
        var view = new TunnelView(await past.AroundAsync([kept.Record], ct), kept.Record, day);
        var last = await context.Commits.AsNoTracking().FirstOrDefaultAsync(c => c.Number == kept.CommitNumber, ct);
        return TunnelPages.Make(
            view,
            new(
                kept.Version,
                [],
                _ => null,
                last is null
                    ? null
                    : new(last.Act, last.Who, DateTimeOffset.Parse(last.At, CultureInfo.InvariantCulture))
            ),
            scope.Sees
        ) with
        {
            AsOf = Scalars.Write(day),
        };
    }

    /// <summary>
    /// Tunnels as they were recorded on a day, a hundred at a time, each judged as it would have been that day.
    /// </summary>
    private static async Task<Page<TunnelSummary>> PastAsync(
        KeepContext context,
        Scope scope,
        DateOnly day,
        string? owner,
        string? state,
        string? other,
        string? cursor,
        CancellationToken ct
    )
    {
        if (other is not null)
            throw ProblemException.Field(
                "asOf",
                "a list as of a day can be filtered only by customer and state",
                "customer or state with asOf; leave out q, finding and severity"
            );
        const int most = 100;
        var past = await Past.OnAsync(context, day, ct);
        var kept = await past.ListAsync<Tunnel>(scope, RecordKind.Tunnel, owner, state, cursor, most + 1, ct);
        var tunnels = kept.Take(most).Select(k => k.Record).ToArray();
        var around = await past.AroundAsync(tunnels, ct);
        var listed = tunnels
            .Select(t =>
            {
                var about = new Checked(new TunnelView(around, t, day));
                var findings = Checks.Run(about);
                return new TunnelListed(
                    t.Id,
                    t.Code,
                    t.Name,
                    t.CustomerId,
                    WordsOf.States.Of(t.State),
                    about.View.A.Site.Name,
                    about.View.B.Site.Name,
                    findings
                        .Where(f => f.Accepted is null || f.Severity == Severity.Blocks)
                        .Select(f => (int)f.Severity)
                        .DefaultIfEmpty(4)
                        .Min(),
                    [.. Core.Verdicts.Verdict.Of(about, findings)]
                );
            })
            .ToArray();
        return new(
            await TunnelSummaries.OfAsync(context, listed, scope, ct),
            kept.Count > most ? tunnels[^1].Code.ToUpperInvariant() : null
        );
    }

    private static async Task<TunnelPage> PageAsync(
        string code,
        TunnelWork work,
        Databases databases,
        TimeProvider clock,
        HttpContext http,
        CancellationToken ct
    )
    {
        var scope = http.Asker().Scope;
        var (kept, around) = await work.LoadAsync(scope, code, ct);
        await using var context = databases.Open();
        var changes = await new ChangeList(context).ChangesAsync(scope, null, kept.Record.Id, int.MaxValue, ct);
        var findings = await new FindingList(context).OfTunnelAsync(scope, kept.Record.Id, ct);
        var last = await context.Commits.AsNoTracking().FirstOrDefaultAsync(c => c.Number == kept.CommitNumber, ct);
        var view = new TunnelView(around, kept.Record, DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime));
        return TunnelPages.Make(
            view,
            new(
                kept.Version,
                [
                    .. changes
                        .Where(c => c.Record.Open)
                        .Select(c =>
                            (c.Record, Changes.ChangePages.Summary(c.Record, view.Customer.Code, kept.Record.Code))
                        ),
                ],
                f => findings.FirstOrDefault(k => ReferenceEquals(k.Finding, f))?.Since,
                last is null
                    ? null
                    : new(
                        last.ChangeId is { } id && changes.FirstOrDefault(c => c.Record.Id == id) is { } by
                            ? by.Record.Code
                            : last.Act,
                        last.Who,
                        DateTimeOffset.Parse(last.At, CultureInfo.InvariantCulture)
                    )
            )
            {
                Findings = [.. findings.Select(f => f.Finding)],
            },
            scope.Sees
        );
    }
}

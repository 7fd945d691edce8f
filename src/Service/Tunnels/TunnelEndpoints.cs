namespace Vellumkeep.Service.Tunnels;

/// <summary>Tunnels: listed, opened, confirmed, corrected, described, and their history.</summary>
public static partial class TunnelEndpoints
{
    public static void MapTunnels(this RouteGroupBuilder api)
    {
        ListTunnels(api);
        OpenTunnel(api);
        DescribeTunnel(api);
        ConfirmValue(api);
        CorrectValue(api);
        TunnelHistory(api);
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
            .Refuses(404, 422);

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
            .Refuses(404, 422);

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
            .Refuses(404, 412, 422, 428);

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
            .Refuses(404, 412, 422, 428);

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
            .Refuses(404, 412, 422, 428);

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
            .Refuses(404);

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
        var changes = await new ChangeList(context).ChangesAsync(
            scope,
            Change.OpenStates,
            kept.Record.Id,
            int.MaxValue,
            ct
        );
        var findings = await new FindingList(context).OfTunnelAsync(scope, kept.Record.Id, ct);
        var last = await context.Commits.AsNoTracking().FirstOrDefaultAsync(c => c.Number == kept.CommitNumber, ct);
        // The change under which it was written last; where the asker does not see that one, what was done.
        var under = last?.ChangeId is { } id ? await new ChangeList(context).CodeAsync(scope, id, ct) : null;
        var view = new TunnelView(around, kept.Record, DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime));
        return TunnelPages.Make(
            view,
            new(
                kept.Version,
                [
                    .. changes.Select(c =>
                        (c.Record, Changes.ChangePages.Summary(c.Record, view.Customer.Code, kept.Record.Code))
                    ),
                ],
                f => findings.FirstOrDefault(k => ReferenceEquals(k.Finding, f))?.Since,
                last is null
                    ? null
                    : new(under ?? last.Act, last.Who, DateTimeOffset.Parse(last.At, CultureInfo.InvariantCulture))
            )
            {
                Findings = [.. findings.Select(f => f.Finding)],
            },
            scope.Sees
        );
    }
}

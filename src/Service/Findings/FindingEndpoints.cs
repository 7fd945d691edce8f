using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service.Findings;

/// <summary>Findings: what was found, and what was accepted of it.</summary>
public static class FindingEndpoints
{
    public static void MapFindings(this RouteGroupBuilder api)
    {
        ListFindings(api);
        AcceptFinding(api);
        WithdrawAcceptance(api);
    }

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
            .Refuses(404, 422);

    private static void AcceptFinding(RouteGroupBuilder api) =>
        api.MapPost(
                "/tunnels/{code}/accept",
                async (
                    string code,
                    AcceptFinding given,
                    TunnelWork work,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await work.AcceptAsync(http.Asker(), clock.GetUtcNow(), code, ETags.Required(http), given, ct);
                    return Results.NoContent();
                }
            )
            .For(Role.Engineer)
            .Produces(204)
            .WithName("acceptFinding")
            .WithSummary("Accept a finding, with a reason and an end date")
            .Refuses(404, 412, 422, 428);

    private static void WithdrawAcceptance(RouteGroupBuilder api) =>
        api.MapPost(
                "/tunnels/{code}/withdraw-acceptance",
                async (
                    string code,
                    WithdrawAcceptance given,
                    TunnelWork work,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await work.WithdrawAsync(http.Asker(), clock.GetUtcNow(), code, ETags.Required(http), given, ct);
                    return Results.NoContent();
                }
            )
            .For(Role.Engineer)
            .Produces(204)
            .WithName("withdrawAcceptance")
            .WithSummary("Take an acceptance back")
            .Refuses(404, 412, 422, 428);
}

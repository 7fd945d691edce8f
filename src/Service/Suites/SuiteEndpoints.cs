namespace Vellumkeep.Service.Suites;

/// <summary>Suites of algorithms.</summary>
public static class SuiteEndpoints
{
    public static void MapSuites(this RouteGroupBuilder api)
    {
        ListSuites(api);
        OpenSuite(api);
    }

    private static void ListSuites(RouteGroupBuilder api) =>
        api.MapGet("/suites", async (Databases databases, HttpContext http, CancellationToken ct) =>
            {
                await using var context = databases.Open();
                var scope = http.Asker().Scope;
                var all = await new RecordReader(context).AllAsync<Suite>(scope, RecordKind.Suite, ct);
                var uses = await new ReferenceList(context).UsersAsync(scope, [.. all.Select(s => s.Id)], "suite", ct);
                return (IReadOnlyList<SuiteSummary>)
                    [
                        .. all.Select(s => new SuiteSummary(
                            s.Code,
                            s.About,
                            s.Settings.Get(Settings.IkeProposals)?.Value?.Items[0].ToString(),
                            uses.GetValueOrDefault(s.Id)
                        )),
                    ];
            })
            .For(Role.Reader)
            .WithName("listSuites")
            .WithSummary("Suites and how many tunnels use each");

    private static void OpenSuite(RouteGroupBuilder api) =>
        api.MapGet("/suites/{code}", async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
            {
                var scope = http.Asker().Scope;
                await using var context = databases.Open();
                var kept = await Find.RecordAsync<Suite>(new(context), scope, RecordKind.Suite, code, ct);
                var set = kept.Record.Settings;
                var (tunnels, inAll) = await TunnelSummaries.ReferringAsync(
                    context,
                    scope,
                    [kept.Record.Id],
                    ["suite"],
                    ct
                );
                return new SuitePage(
                    kept.Record.Code,
                    kept.Record.About,
                    [
                        .. (set.Get(Settings.IkeProposals)?.Value?.Items ?? []).Select(p =>
                            CalculationPages.Grade(Graded.Of(p))
                        ),
                    ],
                    [
                        .. (set.Get(Settings.EspProposals)?.Value?.Items ?? []).Select(p =>
                            CalculationPages.Grade(Graded.Of(p))
                        ),
                    ],
                    PlatformFacts.Of(set, Settings.IkeProposals, Settings.EspProposals),
                    tunnels,
                    inAll
                );
            })
            .For(Role.Reader)
            .WithName("openSuite")
            .WithSummary("A suite, graded, with the tunnels that use it")
            .Refuses(404);
}

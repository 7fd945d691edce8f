using Vellumkeep.Core.Fixes;
using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service.Rehearsals;

/// <summary>Rehearsals of tunnels that are kept, and of some that are not.</summary>
public static class RehearsalEndpoints
{
    public static void MapRehearsals(this RouteGroupBuilder api)
    {
        RehearseTunnel(api);
        RehearseHypothetical(api);
    }

    private static void RehearseTunnel(RouteGroupBuilder api) =>
        api.MapGet(
                "/tunnels/{code}/rehearsal",
                async (
                    string code,
                    TunnelWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var scope = http.Asker().Scope;
                    var (kept, around) = await work.LoadAsync(scope, code, ct);
                    await using var context = databases.Open();
                    var findings = await new FindingList(context).OfTunnelAsync(scope, kept.Record.Id, ct);
                    return RehearsalPages.Make(
                        new(around, kept.Record, Day(clock)),
                        scope.Sees,
                        [.. findings.Select(f => f.Finding)]
                    );
                }
            )
            .For(Role.Reader)
            .WithName("rehearseTunnel")
            .WithSummary(
                "The negotiation with either end as initiator, message by message: where it stops, which fixes "
                    + "make it pass, and the hours after"
            )
            .Refuses(404);

    private static void RehearseHypothetical(RouteGroupBuilder api) =>
        api.MapPost(
                "/rehearsals",
                async (
                    HypotheticalTunnel given,
                    TunnelWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var scope = http.Asker().Scope;
                    if (given.Keepfile is null == given.Tunnel is null)
                        throw ProblemException.Field(
                            "keepfile",
                            "either a keepfile or a tunnel is expected",
                            "keepfile with one tunnel, or tunnel with values"
                        );
                    if (given.Tunnel is { } code)
                    {
                        var (kept, around) = await work.LoadAsync(scope, code, ct);
                        var view = new TunnelView(around, kept.Record, Day(clock));
                        var tunnel = kept.Record;
                        foreach (var v in given.Values ?? [])
                        {
                            var made = ConfirmingValues
                                .RowOf(v.Row)
                                .Then(row =>
                                    FixFinder.Tried(
                                        new(around, tunnel, Day(clock)),
                                        new(Find.EndOf(v.End), row, v.Value)
                                    )
                                );
                            tunnel = made.Ok
                                ? made.Value
                                : throw ProblemException.Field(
                                    RowKey.Find(v.Row)?.Text ?? "row",
                                    made.Wrong!,
                                    made.Right!
                                );
                        }

                        return RehearsalPages.Make(new(around.With([tunnel]), tunnel, Day(clock)), scope.Sees);
                    }

                    await using var context = databases.Open();
                    var reader = new RecordReader(context);
                    var names = await reader.CodesAsync(scope, ct);
                    var kept2 = Inventory.Of(await reader.AllAsync(scope, ct));
                    var read = Keepfile.Read(given.Keepfile!, names, id => kept2.Find<Gateway>(id), null, ct: ct);
                    if (!read.Problems.IsEmpty)
                    {
                        var p = read.Problems[0];
                        throw ProblemException
                            .Field(p.Field, $"line {p.Line}: {p.Wrong}", p.Right)
                            .With(
                                "problems",
                                read.Problems.Take(50).Select(x => new FieldProblem(x.Field, x.Line, x.Wrong, x.Right))
                            );
                    }

                    var tunnels = read.Records.OfType<Tunnel>().ToArray();
                    if (tunnels.Length != 1)
                        throw ProblemException.Field(
                            "keepfile",
                            $"it has {tunnels.Length} tunnels",
                            "exactly one tunnel"
                        );
                    return RehearsalPages.Make(new(kept2.With(read.Records), tunnels[0], Day(clock)), scope.Sees);
                }
            )
            .For(Role.Reader)
            .WithName("rehearseHypothetical")
            .WithSummary(
                "A rehearsal of an unrecorded tunnel, or of a recorded one with other values; nothing is stored"
            )
            .Refuses(404, 422);

    private static DateOnly Day(TimeProvider clock) => DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);
}

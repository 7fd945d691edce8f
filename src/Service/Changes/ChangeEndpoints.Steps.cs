using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>Attempts at steps, and taking one back.</summary>
public static partial class ChangeEndpoints
{
    private static void AttemptStep(RouteGroupBuilder api) =>
        api.MapPost(
                "/changes/{code}/steps/{step:int}",
                async (
                    string code,
                    int step,
                    AttemptStep given,
                    ChangeWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var on = work.On(ETags.Given(http));
                    await on.AttemptAsync(http.Asker(), clock.GetUtcNow(), code, step, given, ct);
                    return await PageAsync(code, databases, clock, http, ct);
                }
            )
            .For(RoleOf(ChangeAct.Step))
            .Takes(Bounds.Proof)
            .WithName("attemptStep")
            .WithSummary(
                "Record an attempt at a step: done, skipped or failed; with a deviation where another value was set"
            )
            .Refuses(404, 409, 412, 422);

    private static void TakeBackStep(RouteGroupBuilder api) =>
        api.MapPost(
                "/changes/{code}/steps/{step:int}/take-back",
                async (
                    string code,
                    int step,
                    ChangeWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var on = work.On(ETags.Given(http));
                    await on.TakeBackAsync(http.Asker(), clock.GetUtcNow(), code, step, ct);
                    return await PageAsync(code, databases, clock, http, ct);
                }
            )
            .For(RoleOf(ChangeAct.Step))
            .WithName("takeBackStep")
            .WithSummary("Take the last attempt at a step back, within ten minutes; it stays in the record")
            .Refuses(404, 409, 412, 422);
}

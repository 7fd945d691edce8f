using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service.Changes;

/// <summary>Changes: drafted, reviewed, worked, closed or backed out.</summary>
public static class ChangeEndpoints
{
    public static void MapChanges(this RouteGroupBuilder api)
    {
        api.MapGet("/changes", async (string? state, string? tunnel, Databases databases, HttpContext http, CancellationToken ct) =>
        {
            var scope = http.Asker().Scope;
            ChangeState[]? states = state switch
            {
                null => null,
                "open" => [ChangeState.Draft, ChangeState.InReview, ChangeState.Approved, ChangeState.UnderWay],
                _ => [Change.States.Parse(state) is { Ok: true } s ? s.Value : throw ProblemException.Field("state", $"'{Typed.Short(state)}' is not a state of a change", $"open, {string.Join(", ", Change.States.All)}")],
            };
            await using var context = databases.Open();
            var reader = new RecordReader(context);
            var id = tunnel is null ? null : (await TunnelWork.FindAsync(reader, scope, tunnel, ct)).Record.Id;
            var names = new KeptNames(context, Scope.Everything);
            return (IReadOnlyList<ChangeSummary>)[.. (await new Lists(context).ChangesAsync(scope, states, id, ct)).Select(c => Summary(c.Record, names))];
        }).For(Role.Reader).WithName("listChanges").WithSummary("Changes, newest first; state open is all that are not ended").ProducesProblem(422);

        api.MapPost("/changes", async (DraftSubnets given, ChangeWork work, Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            await PageAsync(await work.DraftAsync(http.Asker(), clock.GetUtcNow(), given, ct), databases, http, ct))
            .For(Role.Engineer).WithName("draftSubnets").WithSummary("Draft a change of kind subnets; the core makes the plan").ProducesProblem(404).ProducesProblem(422);

        api.MapGet("/changes/{code}", async (string code, Databases databases, HttpContext http, CancellationToken ct) => await PageAsync(code, databases, http, ct))
            .For(Role.Reader).WithName("openChange").WithSummary("A change: plan, review, run sheet, record").ProducesProblem(404);

        void Act(string act, Role role, string summary, Func<ChangeWork, Asker, DateTimeOffset, string, ActRemark, HttpContext, CancellationToken, Task> run) =>
            api.MapPost($"/changes/{{code}}/{act}", async (string code, ActRemark given, ChangeWork work, Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            {
                await run(work, http.Asker(), clock.GetUtcNow(), code, given, http, ct);
                return await PageAsync(code, databases, http, ct);
            }).For(role).WithName($"{act.Replace("-o", "O")}Change").WithSummary(summary).ProducesProblem(404).ProducesProblem(409).ProducesProblem(412).ProducesProblem(422);

        Act("submit", Role.Engineer, "Send it for review", (w, a, now, code, _, _, ct) => w.SubmitAsync(a, now, code, ct));
        Act("approve", Role.Reviewer, "Approve the version that was read (If-Match); never by the author", (w, a, now, code, g, http, ct) => w.ApproveAsync(a, now, code, ETags.Required(http), g.Remark, ct));
        Act("return", Role.Reviewer, "Return it with a remark, on a step or on the whole", (w, a, now, code, g, _, ct) => w.ReturnAsync(a, now, code, g.Remark, g.Step, ct));
        Act("begin", Role.Engineer, "Begin the work", (w, a, now, code, _, _, ct) => w.BeginAsync(a, now, code, ct));
        Act("recompute", Role.Engineer, "Make the plan anew when what it rests on has moved", (w, a, now, code, _, _, ct) => w.RecomputeAsync(a, now, code, ct));
        Act("close", Role.Engineer, "Close it: the inventory becomes what was built", (w, a, now, code, _, _, ct) => w.CloseAsync(a, now, code, ct));
        Act("back-out", Role.Engineer, "Back out: the inventory stays as it was", (w, a, now, code, g, _, ct) => w.BackOutAsync(a, now, code, g.Remark, ct));
        Act("drop", Role.Engineer, "Drop it", (w, a, now, code, g, _, ct) => w.DropAsync(a, now, code, g.Remark, ct));

        api.MapPost("/changes/{code}/steps/{step:int}", async (string code, int step, AttemptStep given, ChangeWork work, Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
        {
            await work.AttemptAsync(http.Asker(), clock.GetUtcNow(), code, step, given, ct);
            return await PageAsync(code, databases, http, ct);
        }).For(Role.Engineer).WithName("attemptStep").WithSummary("Note an attempt at a step: done, skipped or failed; with a deviation where it was set otherwise").ProducesProblem(404).ProducesProblem(409).ProducesProblem(422);
    }

    internal static ChangeSummary Summary(Change c, INames names) => ChangePages.Summary(c, names.TextOf(RecordKind.Customer, c.CustomerId), names.TextOf(RecordKind.Tunnel, c.Wish.TunnelId));

    private static async Task<ChangePage> PageAsync(string code, Databases databases, HttpContext http, CancellationToken ct)
    {
        var asker = http.Asker();
        await using var context = databases.Open();
        var reader = new RecordReader(context);
        var kept = await ChangeWork.FindAsync(reader, asker.Scope, code, ct);
        var around = await reader.AroundAsync([kept.Record.Wish.TunnelId], true, ct);
        var others = (await new Lists(context).ChangesAsync(asker.Scope, null, kept.Record.Wish.TunnelId, ct)).Where(c => c.Record.Open && c.Record.Id != kept.Record.Id).Select(c => c.Record.Code);
        http.Response.Headers.ETag = ETags.Of(kept.Version);
        return ChangePages.Make(kept, around, kept.Record.Open ? others : [], asker);
    }
}

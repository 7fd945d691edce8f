using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>Changes: drafted, reviewed, worked, closed or backed out.</summary>
public static partial class ChangeEndpoints
{
    public static void MapChanges(this RouteGroupBuilder api)
    {
        ListChanges(api);
        DraftChange(api);
        OpenChange(api);
        MapChangeRecord(api);
        ProofFile(api);
        ChangeCalendar(api);

        ReviewActs(api);
        WorkActs(api);
        GivingActs(api);
        AttemptStep(api);
        TakeBackStep(api);
    }

    private static void ReviewActs(RouteGroupBuilder api)
    {
        Act<ActRemark>(api, ChangeAct.Submit, "Send it for review", c => c.Work.SubmitAsync(c.By, c.Now, c.Code, c.Ct));
        Act<ActRemark>(api, ChangeAct.Approve, "Approve the version that was read (If-Match); not by the author", c =>
            c.Work.ApproveAsync(c.By, c.Now, c.Code, ETags.Required(c.Http), c.Given.Remark, c.Ct)
        );
        Act<ActRemark>(
            api,
            ChangeAct.ConfirmUrgent,
            "Confirm for oneself that urgent work begins: the version that was read (If-Match), by the person who "
                + "was asked and nobody else",
            c => c.Work.ConfirmUrgentAsync(c.By, c.Now, c.Code, ETags.Required(c.Http), c.Given.Remark, c.Ct)
        );
        Act<ActRemark>(api, ChangeAct.Return, "Return it with a remark, on a step or on the whole", c =>
            c.Work.ReturnAsync(c.By, c.Now, c.Code, c.Given.Remark, c.Given.Step, c.Ct)
        );
        Act<ActRemark>(
            api,
            ChangeAct.ConfirmWindow,
            "Approve the window alone, where nothing else changed since approval: the version that was read "
                + "(If-Match); not by the author",
            c => c.Work.ConfirmWindowAsync(c.By, c.Now, c.Code, ETags.Required(c.Http), c.Ct)
        );
        Act<ActRemark>(api, ChangeAct.Remark, "Remark on it, on a step or on the whole; engineers and reviewers", c =>
            c.Work.RemarkAsync(c.By, c.Now, c.Code, c.Given.Remark, c.Given.Step, c.Given.Value, c.Ct)
        );
        Act<ActRemark>(api, ChangeAct.ReviewAfter, "Review urgent work afterwards; never by the author", c =>
            c.Work.ReviewAfterAsync(c.By, c.Now, c.Code, c.Given.Remark, c.Ct)
        );
    }

    private static void WorkActs(RouteGroupBuilder api)
    {
        Act<ActRemark>(api, ChangeAct.Begin, "Begin the work; outside its window with a remark that says why", c =>
            c.Work.BeginAsync(c.By, c.Now, c.Code, c.Given.Remark, c.Ct)
        );
        Act<ActRemark>(api, ChangeAct.Recompute, "Make the plan again after records behind it have changed", c =>
            c.Work.RecomputeAsync(c.By, c.Now, c.Code, c.Ct)
        );
        Act<ActRemark>(
            api,
            ChangeAct.TakeIn,
            "Take corrections that were made while it is under way into it; closing then writes what was built over them",
            c => c.Work.TakeInAsync(c.By, c.Now, c.Code, c.Ct)
        );
        Act<ActRemark>(api, ChangeAct.Close, "Close it: the records become as built", c =>
            c.Work.CloseAsync(c.By, c.Now, c.Code, c.Ct)
        );
        Act<ActRemark>(api, ChangeAct.BackOut, "Back out: the records are not changed", c =>
            c.Work.BackOutAsync(c.By, c.Now, c.Code, c.Given.Remark, c.Ct)
        );
        Act<ActRemark>(api, ChangeAct.Drop, "Drop it", c =>
            c.Work.DropAsync(c.By, c.Now, c.Code, c.Given.Remark, c.Ct)
        );
    }

    private static void GivingActs(RouteGroupBuilder api)
    {
        Act<WindowGiven>(
            api,
            ChangeAct.Window,
            "Set the window, or clear it (no start); approval lapses, until a reviewer confirms the new window",
            c => c.Work.WindowAsync(c.By, c.Now, c.Code, c.Given, c.Ct)
        );
        Act<FillGiven>(
            api,
            ChangeAct.Fill,
            "Fill in a value that was pending; what depends on it is computed again, and approval stays",
            c => c.Work.FillAsync(c.By, c.Now, c.Code, c.Given, c.Ct)
        );
        Act<UrgentGiven>(
            api,
            ChangeAct.Urgent,
            "Ask a second person to let urgent work begin before it is reviewed; it begins when they confirm it",
            c => c.Work.AskUrgentAsync(c.By, c.Now, c.Code, c.Given, c.Ct)
        );
    }

    /// <summary>A call for an act on a change, with what was given.</summary>
    private sealed record ActCall<T>(
        ChangeWork Work,
        Asker By,
        DateTimeOffset Now,
        string Code,
        T Given,
        HttpContext Http,
        CancellationToken Ct
    );

    /// <summary>The endpoint of an act: it is done, and the page of the change is the answer.</summary>
    private static void Act<T>(RouteGroupBuilder api, ChangeAct act, string summary, Func<ActCall<T>, Task> run) =>
        api.MapPost(
                $"/changes/{{code}}/{ChangeActs.Of(act).Word}",
                async (
                    string code,
                    T given,
                    ChangeWork work,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await run(new(work.On(ETags.Given(http)), http.Asker(), clock.GetUtcNow(), code, given, http, ct));
                    return await PageAsync(code, databases, clock, http, ct);
                }
            )
            .For(RoleOf(act))
            .WithName(NameOf(act))
            .WithSummary(summary)
            .Refuses(404, 409, 412, 422);

    private static void DraftChange(RouteGroupBuilder api) =>
        api.MapPost(
                "/changes",
                async (
                    DraftChange given,
                    bool? dryRun,
                    ChangeDrafting drafting,
                    Databases databases,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                    dryRun == true
                        ? await drafting.LookAsync(http.Asker(), clock.GetUtcNow(), given, ct)
                        : await PageAsync(
                            await drafting.DraftAsync(http.Asker(), clock.GetUtcNow(), given, ct),
                            databases,
                            clock,
                            http,
                            ct
                        )
            )
            .For(Role.Engineer)
            .WithName("draftChange")
            .WithSummary(
                "Draft a change of any kind; the core makes the plan. dryRun: only look, nothing is kept and no number used"
            )
            .Refuses(404, 422);

    private static void OpenChange(RouteGroupBuilder api) =>
        api.MapGet(
                "/changes/{code}",
                async (string code, Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
                    await PageAsync(code, databases, clock, http, ct)
            )
            .For(Role.Reader)
            .WithName("openChange")
            .WithSummary("A change: plan, review, run sheet, record")
            .Refuses(404);

    private static void MapChangeRecord(RouteGroupBuilder api) =>
        api.MapGet(
                "/changes/{code}/record",
                async (string code, Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
                    Results.Text(ChangeRecord.Write(await PageAsync(code, databases, clock, http, ct)), "text/markdown")
            )
            .For(Role.Reader)
            .Produces<string>(200, "text/markdown")
            .WithName("changeRecord")
            .WithSummary("The record of a change as Markdown")
            .Refuses(404);

    private static void ProofFile(RouteGroupBuilder api) =>
        api.MapGet(
                "/changes/{code}/proof/{digest}",
                (string code, string digest, Databases databases, HttpContext http, CancellationToken ct) =>
                    ProofFiles.GiveAsync(databases, http.Asker().Scope, code, digest, http, ct)
            )
            .For(Role.Reader)
            .Produces<byte[]>(200, "application/octet-stream")
            .WithName("proofFile")
            .WithSummary("A file kept as proof of a step, by its digest")
            .Refuses(404);

    private static void ChangeCalendar(RouteGroupBuilder api) =>
        api.MapGet(
                "/changes/{code}/window.ics",
                async (string code, Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
                {
                    var page = await PageAsync(code, databases, clock, http, ct);
                    return page.WindowStart is null
                        ? throw ProblemException.NotFound("window", $"of {page.Code}")
                        : Results.Text(ChangeFiles.Calendar([page], clock.GetUtcNow()), "text/calendar");
                }
            )
            .For(Role.Reader)
            .Produces<string>(200, "text/calendar")
            .WithName("changeCalendar")
            .WithSummary("The window of a change as iCalendar (RFC 5545)")
            .Refuses(404);

    /// <summary>back-out is backOutChange.</summary>
    private static string NameOf(ChangeAct act) =>
        string.Concat(ChangeActs.Of(act).Word.Split('-').Select((w, i) => i == 0 ? w : Say.Capital(w))) + "Change";

    /// <summary>The role that a call asks for at the door; where several may, who may not is told inside.</summary>
    private static Role RoleOf(ChangeAct act) => ChangeActs.Of(act).Roles is [var only] ? only : Role.Reader;

    internal static ChangeSummary Summary(Change c, INames names) =>
        ChangePages.Summary(
            c,
            names.TextOf(RecordKind.Customer, c.CustomerId),
            string.Join(", ", c.Request.Tunnels.Take(3).Select(t => names.TextOf(RecordKind.Tunnel, t)))
                + (c.Request.Tunnels.Length > 3 ? $" and {c.Request.Tunnels.Length - 3} more" : "")
        );

    private static async Task<ChangePage> PageAsync(
        string code,
        Databases databases,
        TimeProvider clock,
        HttpContext http,
        CancellationToken ct
    )
    {
        var asker = http.Asker();
        await using var context = databases.Open();
        var reader = new RecordReader(context);
        var kept = await Find.ChangeAsync(reader, asker.Scope, code, ct);
        var around = await ChangeGround.AroundAsync(reader, kept.Record.Request, ct);
        var about = PlanChecks.GatewaysOf(kept.Record, around).ToHashSet();
        var beside = around
            .Tunnels.Where(t => about.Contains(t.A.GatewayId) || about.Contains(t.B.GatewayId))
            .Select(t => t.Id)
            .Concat(about)
            .ToArray();
        var others = kept.Record.Open
            ? (await new ChangeList(context).OpenChangesAsync(asker.Scope, beside, ct))
                .Where(c => c.Id != kept.Record.Id)
                .ToArray()
            : [];
        // What other changes make of the other ends.
        foreach (var platform in others.SelectMany(o => o.Request.Names).Where(n => n.Kind == RecordKind.Platform))
            if (await reader.ByIdAsync<Platform>(Scope.Everything, platform.Id, ct) is { } target)
                around = around.With(target.Record);
        var needed = kept.Record.Plan.Keys.Select(k => k.TunnelId).ToArray();
        var keys = (
            await context
                .Keys.AsNoTracking()
                .Where(k => needed.Contains(k.TunnelId))
                .Select(k => new
                {
                    k.TunnelId,
                    k.Version,
                    k.State,
                    k.CheckCode,
                })
                .ToListAsync(ct)
        ).ToDictionary(k => (k.TunnelId, k.Version), k => (k.State, k.CheckCode));
        http.Response.Headers.ETag = ETags.Of(kept.Version);
        var house = http.RequestServices.GetRequiredService<ServiceSettings>().House is { Length: > 0 } named
            ? await reader.ByCodeAsync<Customer>(Scope.Everything, RecordKind.Customer, named, ct)
            : null;
        return ChangePages.Make(kept, around, others, asker, clock.GetUtcNow(), keys, house?.Record);
    }
}

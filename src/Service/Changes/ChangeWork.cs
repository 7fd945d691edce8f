using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>What is done to changes once they are drafted, from review to record. Callable with any clock.</summary>
public sealed partial class ChangeWork(
    Databases databases,
    Keeper keeper,
    Keys.KeyGuard guard,
    ServiceSettings settings
)
{
    private int? expected;

    /// <summary>An act on a change: who, when, and which change.</summary>
    private sealed record Acting(Asker Asker, DateTimeOffset Now, string Code);

    /// <summary>What an act looks at: the records, and the versions that exist of the keys it brings.</summary>
    private sealed record Ground(Inventory Around, RecordReader Reader, IReadOnlySet<VersionOfKey> Made);

    /// <summary>The same for whoever read a version of the change: nothing is done to another. Null for any.</summary>
    public ChangeWork On(int? version) =>
        version is null ? this : new(databases, keeper, guard, settings) { expected = version };

    /// <summary>Sends it for review.</summary>
    public Task SubmitAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        DoAsync(
            ChangeAct.Submit,
            new(asker, now, code),
            (c, around) => ChangeLife.Submit(c, asker.Name, now, ChangeLife.Changed(c, around)),
            ct
        );

    /// <summary>Approves the version that was seen, and no other.</summary>
    public Task ApproveAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        string? remark,
        CancellationToken ct
    ) =>
        On(version)
            .DoAsync(
                ChangeAct.Approve,
                new(asker, now, code),
                (c, around) => ChangeLife.Approve(c, asker.Name, now, remark, ChangeLife.Changed(c, around)),
                ct
            );

    /// <summary>Sends it back to its author.</summary>
    public Task ReturnAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        string? remark,
        int? step,
        CancellationToken ct
    )
    {
        if (string.IsNullOrWhiteSpace(remark))
            throw ProblemException.Field("remark", "the remark is missing", "a remark for the author");
        return DoAsync(
            ChangeAct.Return,
            new(asker, now, code),
            (c, _) => ChangeLife.Return(c, asker.Name, now, remark.Trim(), step is { } n ? KeyOf(c, n) : null),
            ct
        );
    }

    /// <summary>Begins the work.</summary>
    public Task BeginAsync(Asker asker, DateTimeOffset now, string code, string? reason, CancellationToken ct) =>
        DoAsync(
            ChangeAct.Begin,
            new(asker, now, code),
            (c, ground) =>
                Task.FromResult(
                    ChangeLife.Begin(c, asker.Name, now, ChangeLife.Changed(c, ground.Around), ground.Made, reason)
                ),
            ct
        );

    /// <summary>Sets the window, or clears it.</summary>
    public Task WindowAsync(Asker asker, DateTimeOffset now, string code, WindowGiven given, CancellationToken ct) =>
        DoAsync(
            ChangeAct.Window,
            new(asker, now, code),
            (c, around) => ChangeLife.SetWindow(c, asker.Name, now, Windows.Of(around, c, given), given.Reason),
            ct,
            said: given.Start is null && given.LocalStart is null ? "clear window" : "set window"
        );

    /// <summary>Approves the window alone, of the version that was seen.</summary>
    public Task ConfirmWindowAsync(Asker asker, DateTimeOffset now, string code, int version, CancellationToken ct) =>
        On(version)
            .DoAsync(
                ChangeAct.ConfirmWindow,
                new(asker, now, code),
                (c, around) => ChangeLife.ConfirmWindow(c, asker.Name, now, ChangeLife.Changed(c, around)),
                ct
            );

    /// <summary>Remarks on it, on a step or on a value of a step.</summary>
    public Task RemarkAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        string? remark,
        int? step,
        string? value,
        CancellationToken ct
    )
    {
        if (string.IsNullOrWhiteSpace(remark) || remark.Length > 2000)
            throw ProblemException.Field("remark", "the remark is missing", "a remark of at most 2,000 characters");
        return DoAsync(
            ChangeAct.Remark,
            new(asker, now, code),
            (c, _) => ChangeLife.Remarked(c, asker.Name, now, remark, step is { } n ? KeyOf(c, n) : null, value),
            ct
        );
    }

    /// <summary>Makes the plan anew.</summary>
    public Task RecomputeAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        DoAsync(
            ChangeAct.Recompute,
            new(asker, now, code),
            (c, around) =>
                ChangeLife.Recompute(
                    c,
                    ChangeDrafting.PlanOf(around, c.Request, now, asker.Scope, ct),
                    asker.Name,
                    now,
                    "recomputed because records behind it had changed",
                    ChangeLife.Changed(c, around)
                ),
            ct
        );

    /// <summary>Takes corrections that were made meanwhile into it.</summary>
    public Task TakeInAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        DoAsync(
            ChangeAct.TakeIn,
            new(asker, now, code),
            (c, around) => ChangeLife.TakeIn(c, around, asker.Name, now),
            ct,
            said: "take in corrections"
        );

    /// <summary>Gives it up before it was begun.</summary>
    public Task DropAsync(Asker asker, DateTimeOffset now, string code, string? remark, CancellationToken ct) =>
        EndAsync(
            ChangeAct.Drop,
            "drop",
            new(asker, now, code),
            (c, around) => ChangeLife.Drop(c, around, asker.Name, now, remark),
            ct
        );

    /// <summary>Gives up the work.</summary>
    public Task BackOutAsync(Asker asker, DateTimeOffset now, string code, string? remark, CancellationToken ct) =>
        EndAsync(
            ChangeAct.BackOut,
            "back out",
            new(asker, now, code),
            (c, around) => ChangeLife.BackOut(c, around, asker.Name, now, remark),
            ct
        );

    /// <summary>Closes it: the inventory becomes what was built.</summary>
    public Task CloseAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        EndAsync(
            ChangeAct.Close,
            "close",
            new(asker, now, code),
            (c, around) => ChangeLife.Close(c, around, asker.Name, now),
            ct
        );

    /// <summary>Ends a change, and writes the records that this brings about.</summary>
    private async Task EndAsync(
        ChangeAct act,
        string said,
        Acting acting,
        Func<Change, Inventory, Next<Closed>> end,
        CancellationToken ct
    )
    {
        var asker = acting.Asker;
        var id = await IdAsync(asker, acting.Code, ct);
        await keeper.WriteAsync(
            new(asker.Name, acting.Now, said, null, id),
            async (writing, reader) =>
            {
                var kept = (await reader.ByIdAsync<Change>(asker.Scope, id, ct))!;
                Need(asker, act, kept.Record);
                NeedVersion(kept);
                var around = await ChangeGround.AroundAsync(reader, kept.Record.Request, ct);
                var (ended, refused) = end(kept.Record, around);
                if (ended is null)
                    throw ChangeProblems.Refuse(refused!, asker.Scope);
                writing.Put(ended.Change, kept.Version);
                foreach (var record in ended.AsBuilt)
                    writing.Put(record);
                if (act == ChangeAct.Close)
                    writing.Beside(context => Keys.KeyWork.ClosedAsync(context, ended.Change, ended.AsBuilt, ct));
                return true;
            },
            ct
        );
    }

    private async Task<string> IdAsync(Asker asker, string code, CancellationToken ct)
    {
        await using var context = databases.Open();
        return (await Find.ChangeAsync(new(context), asker.Scope, code, ct)).Record.Id;
    }

    private Task DoAsync(
        ChangeAct act,
        Acting acting,
        Func<Change, Inventory, Next<Change>> next,
        CancellationToken ct,
        string? said = null,
        Func<KeepContext, Change, Task>? beside = null
    ) => DoAsync(act, acting, (c, ground) => Task.FromResult(next(c, ground.Around)), ct, said, beside);

    /// <summary>Does one act, by whoever may, on the version that was read.</summary>
    /// <param name="said">What the history says of it; the act's own word when left out.</param>
    private async Task DoAsync(
        ChangeAct act,
        Acting acting,
        Func<Change, Ground, Task<Next<Change>>> next,
        CancellationToken ct,
        string? said = null,
        Func<KeepContext, Change, Task>? beside = null
    )
    {
        var asker = acting.Asker;
        var id = await IdAsync(asker, acting.Code, ct);
        await keeper.WriteAsync(
            new(asker.Name, acting.Now, said ?? ChangeActs.Of(act).Word, null, id),
            async (writing, reader) =>
            {
                var kept = (await reader.ByIdAsync<Change>(asker.Scope, id, ct))!;
                Need(asker, act, kept.Record);
                NeedVersion(kept);
                var around = await ChangeGround.AroundAsync(reader, kept.Record.Request, ct);
                var made = await Keys.KeyWork.MadeAsync(writing.Read, kept.Record, ct);
                var (change, refused) = await next(kept.Record, new(around, reader, made));
                writing.Put(change ?? throw ChangeProblems.Refuse(refused!, asker.Scope), kept.Version);
                if (beside is not null)
                    writing.Beside(context => beside(context, change));
                return true;
            },
            ct
        );
    }

    private void NeedVersion(Kept<Change> kept)
    {
        if (expected is { } version && version != kept.Version)
            throw new ConflictException(kept.Record.Id, version, kept.Version);
    }

    /// <summary>Whether somebody has one of the roles of an act for everybody whom the change is about.</summary>
    internal static bool May(Asker asker, ActRule rule, Change change) =>
        rule.Roles.Any(role => change.AllCustomers.All(owner => asker.Is(role, owner)));

    private static void Need(Asker asker, ChangeAct act, Change change)
    {
        var rule = ChangeActs.Of(act);
        if (!May(asker, rule, change))
            foreach (var owner in change.AllCustomers)
                asker.Need(rule.Roles[0], owner, change.Code);
    }

    private static string KeyOf(Change c, int number) =>
        number >= 1 && number <= c.Plan.Steps.Length
            ? c.Plan.Steps[number - 1].Key
            : throw ProblemException.Field("step", $"{c.Code} has no step {number}", $"1 to {c.Plan.Steps.Length}");
}

using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>The change as it then is, or why not.</summary>
/// <param name="Value">The change as it then is; null when it cannot be done.</param>
/// <param name="Refused">Why it cannot be done; null when it can.</param>
public sealed record Next<T>(T? Value, Refused? Refused)
    where T : class;

/// <summary>
/// The life of a change: draft, in review, approved, under way, done or backed out; dropped from draft, review or
/// approval. Pure functions from one state to the next; who acts and when are arguments. What may be done when, and by
/// whom, is the table of <see cref="ChangeActs"/>.
/// </summary>
public static partial class ChangeLife
{
    /// <summary>Sends it for review.</summary>
    public static Next<Change> Submit(Change c, string by, DateTimeOffset at, IReadOnlyList<RestsOn> changed) =>
        Stop(ChangeAct.Submit, c, by, changed) ?? Go(ChangeAct.Submit, c, by, at, null);

    /// <summary>
    /// Approves. The author cannot approve, and a change whose ground has changed is recomputed first. What the plan
    /// leaves unknown is approved only with a remark on it.
    /// </summary>
    public static Next<Change> Approve(
        Change c,
        string by,
        DateTimeOffset at,
        string? remark,
        IReadOnlyList<RestsOn> changed
    ) =>
        Stop(ChangeAct.Approve, c, by, changed)
        ?? LeavesUnknown(c, remark)
        ?? Yes(Pass(c, ChangeState.Approved, by, at, remark) with { Approval = new(by, at) });

    private static Next<Change>? LeavesUnknown(Change c, string? remark)
    {
        if (c.Plan.Unknown.IsEmpty || !string.IsNullOrWhiteSpace(remark))
            return null;
        var named = c.Plan.Unknown.Take(3).Select(u => $"{u.What} of {u.TunnelCode} at {u.End}");
        var more = c.Plan.Unknown.Length - 3;
        return No(
            PlanCheck.LeavesUnknown.Code,
            $"{c.Code} leaves unknown: {Say.And(named):w}{(more > 0 ? $" and {more} more" : ""):w}.",
            $"Approve it with a remark that says why that may be, or return it."
        );
    }

    /// <summary>Sends it back to its author with a remark, on a step or on the whole.</summary>
    public static Next<Change> Return(Change c, string by, DateTimeOffset at, string remark, string? stepKey)
    {
        if (Stop(ChangeAct.Return, c, by) is { } stopped)
            return stopped;
        if (stepKey is not null && c.Plan.StepOf(stepKey) is null)
            return No(null, $"{c.Code} has no step {stepKey}.", $"Use a step number of the change.");
        return Yes(
            Pass(c, ChangeState.Draft, by, at, remark) with
            {
                Remarks = c.Remarks.Add(new(by, at, remark, stepKey)),
            }
        );
    }

    /// <summary>
    /// Begins. When a value that approval rests on has changed, approval has lapsed: the change goes back to review and
    /// says what changed.
    /// </summary>
    /// <param name="c">The change as it stands.</param>
    /// <param name="by">The sign-in name of who acts.</param>
    /// <param name="at">When, with its distance from UTC.</param>
    /// <param name="changed">The values that approval rests on and that no longer stand.</param>
    /// <param name="made">The versions of keys that exist: what makes them is done.</param>
    /// <param name="reason">Why it begins outside its window; needed there.</param>
    public static Next<Change> Begin(
        Change c,
        string by,
        DateTimeOffset at,
        IReadOnlyList<RestsOn> changed,
        IReadOnlySet<VersionOfKey> made,
        string? reason = null
    ) =>
        Stop(ChangeAct.Begin, c, by, changed)
        ?? OutsideUnsaid(c, at, reason)
        ?? Yes(SeenDone(Begun(c, by, at, Trimmed(reason), reason), by, at, made));

    /// <summary>
    /// Takes up a plan that was computed anew. Progress stay; approval does not, and the change goes back to review
    /// when it had been there.
    /// </summary>
    public static Next<Change> Recompute(
        Change c,
        Plan plan,
        string by,
        DateTimeOffset at,
        string? remark,
        IReadOnlyList<RestsOn> changed
    ) =>
        Stop(ChangeAct.Recompute, c, by, changed)
        ?? Yes(
            (c.State == ChangeState.Draft ? c : Pass(c, ChangeState.InReview, by, at, remark)) with
            {
                Plan = plan.Numbered(NumbersOf(c)),
                Approval = null,
            }
        );

    /// <summary>Gives it up before it was begun; what was filled in is pending again.</summary>
    public static Next<Closed> Drop(Change c, Inventory now, string by, DateTimeOffset at, string? remark) =>
        ChangeActs.Stops(ChangeAct.Drop, c, by, []) is { } stopped
            ? new(null, stopped.Why)
            : GivenUp(Pass(c, ChangeState.Dropped, by, at, remark), now);

    /// <summary>
    /// Gives up the work, with a reason; the inventory stays as it was, and what was filled in is pending again, where
    /// nobody altered it since.
    /// </summary>
    public static Next<Closed> BackOut(Change c, Inventory now, string by, DateTimeOffset at, string? remark)
    {
        if (ChangeActs.Stops(ChangeAct.BackOut, c, by, []) is { } stopped)
            return new(null, stopped.Why);
        return string.IsNullOrWhiteSpace(remark)
            ? new(null, new(null, $"{c.Code}: the reason for backing out is missing.", $"Enter the reason."))
            : GivenUp(Pass(c, ChangeState.BackedOut, by, at, remark), now);
    }

    private static Next<Closed> GivenUp(Change c, Inventory now)
    {
        var (restored, stays) = TakenBack(c, now);
        return new(new(c with { Filled = stays }, restored), null);
    }

    /// <summary>A remark on the whole, on a step or on a value of it, without moving the change.</summary>
    public static Next<Change> Remarked(
        Change c,
        string by,
        DateTimeOffset at,
        string remark,
        string? stepKey,
        string? value = null
    )
    {
        if (Stop(ChangeAct.Remark, c, by) is { } stopped)
            return stopped;
        var step = stepKey is null ? null : c.Plan.StepOf(stepKey);
        var named = string.IsNullOrWhiteSpace(value) ? null : value.Trim();
        var meant = named is null || step is null ? null : Deviations.ValueOf(step, named);
        if (named is not null && meant is null)
            return No(
                null,
                $"{(step is null ? "No step is named" : $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} has no {named}"):w}.",
                $"Name a step and a value that it enters: "
                    + $"{(step is null ? "its label" : Say.And(step.Enter.Select(v => v.Label).Distinct())):w}."
            );
        return Yes(c with { Remarks = c.Remarks.Add(new(by, at, remark.Trim(), stepKey, meant?.Label)) });
    }

    /// <summary>
    /// Which of the values that approval rests on no longer stand; of a change that is under way, which of the values
    /// that closing would write over.
    /// </summary>
    public static ImmutableArray<RestsOn> Changed(Change c, Inventory now) =>
        c.State == ChangeState.UnderWay
            ? [.. Moved(c, now).Select(e => new RestsOn(e.At, e.Before))]
            :
            [
                .. c.Plan.RestsOn.Where(r =>
                    FormOf(r.At, now) is not { } form || !Node.Same(Edits.Find(form, r.At.Path), r.Value)
                ),
            ];

    /// <summary>
    /// The edits at whose places the records have something else than the plan found, and than it leaves there. A later
    /// stage finds what the first one wrote.
    /// </summary>
    private static Edit[] Moved(Change c, Inventory now) =>
        [
            .. c
                .Plan.Edits.GroupBy(e => e.At)
                .Where(at =>
                    FormOf(at.Key, now) is { } form
                    && AsBuilt.Moved(form, at.First())
                    && !at.Any(e => Node.Same(Edits.Find(form, at.Key.Path), e.After))
                )
                .Select(at => at.First()),
        ];

    private static MapNode? FormOf(Place at, Inventory now) =>
        at.Kind == RecordKind.Tunnel
            ? now.Find<Tunnel>(at.RecordId) is { } tunnel
                ? WrittenTunnel.Form.Write(tunnel, IdNames.Instance)
                : null
            : now.Find<Gateway>(at.RecordId) is { } gateway
                ? WrittenGateway.Form.Write(gateway, IdNames.Instance)
                : null;

    private static Next<Change>? Stop(ChangeAct act, Change c, string by, IReadOnlyList<RestsOn>? changed = null) =>
        ChangeActs.Stops(act, c, by, changed ?? []) is { } stopped ? new(null, stopped.Why) : null;

    private static Next<Change> No(string? code, Sentence wrong, Sentence right) => new(null, new(code, wrong, right));

    private static Next<Change> Yes(Change change) => new(change, null);

    private static Next<Change> Go(ChangeAct act, Change c, string by, DateTimeOffset at, string? remark) =>
        Yes(Pass(c, ChangeActs.Of(act).To!.Value, by, at, remark));

    private static Change Pass(Change c, ChangeState to, string by, DateTimeOffset at, string? remark) =>
        c with
        {
            State = to,
            StatusHistory = c.StatusHistory.Add(new(to, by, at, remark)),
            UrgentAsked = null,
            WindowAsked = null,
        };

    private static string? Trimmed(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}

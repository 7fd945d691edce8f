using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>The lists on the page of a change.</summary>
public static partial class ChangePages
{
    // What is not there any more is not known to be the asker's.
    private static bool MaySee(string tunnelId, Inventory around, Scope scope) =>
        scope.All || (around.Find<Tunnel>(tunnelId) is { } t && scope.Sees(t.CustomerId));

    private static IReadOnlyList<FindingPage> Findings(ImmutableArray<FindingOn> list, Inventory around, Scope scope) =>
        [
            .. list.Where(f => MaySee(f.TunnelId, around, scope))
                .Select(f =>
                    f.Finding.Show(f.TunnelCode, scope.Sees) with
                    {
                        Was = f.Was is { } was ? Severities.Words.Of(was) : null,
                    }
                ),
        ];

    private static IReadOnlyList<PlanFindingLine> OfPlan(IEnumerable<PlanFinding> found, Scope scope) =>
        [
            .. found.Select(f => new PlanFindingLine(
                f.Code,
                Severities.Words.Of(f.Severity),
                f.What.Show(scope.Sees),
                f.Do.Show(scope.Sees)
            )),
        ];

    private static IReadOnlyList<BeforeAfterLine> Differs(Change c) =>
        [.. c.Plan.Differs.Select(d => new BeforeAfterLine(d.End?.ToString(), d.What, d.Before, d.After, d.Added))];

    /// <summary>The way back: of what was done so far once the work has begun, of the whole plan before.</summary>
    private static IReadOnlyList<WayBackStep> WayBack(Change c, Dictionary<string, int> numbers, Scope scope)
    {
        var begun = c.State is ChangeState.UnderWay or ChangeState.BackedOut or ChangeState.Done;
        var steps = c.Plan.WayBack(
            begun ? s => c.LastAttempt(s.Key)?.Outcome is AttemptOutcome.Done or AttemptOutcome.Failed : null
        );
        return [.. steps.Select(s => new WayBackStep(numbers[s.Key], s.Where.ToString(), s.Undo!.Show(scope.Sees)))];
    }

    private static IReadOnlyList<RemarkLine> RemarksOn(Change c, Dictionary<string, int> numbers) =>
        [
            .. c.Remarks.Select(r => new RemarkLine(
                r.By,
                r.At,
                r.Text,
                r.StepKey is { } key && numbers.TryGetValue(key, out var n) ? n : null,
                r.Value
            )),
        ];

    private static IReadOnlyList<PendingLine> Pending(Change c, Dictionary<string, int> numbers) =>
        [
            .. c.Plan.Pending.Select(p => new PendingLine(
                p.Number,
                p.At.Label,
                p.At.WhoKnows,
                p.At.By is { } by ? Scalars.Write(by) : null,
                [.. p.Steps.Where(numbers.ContainsKey).Select(k => numbers[k])]
            )),
        ];

    private static IReadOnlyList<TouchedLine> Touches(Change c, Inventory around, Scope scope) =>
        [
            .. c
                .Plan.Touches.Where(t => MaySee(t.TunnelId, around, scope))
                .Select(t => new TouchedLine(t.TunnelCode, t.How.Show(scope.Sees))),
        ];

    private static IReadOnlyList<TranslatedLine> Translations(Change c, Scope scope) =>
        [
            .. c.Plan.Translations.Select(t => new TranslatedLine(
                t.TunnelCode,
                t.End.ToString(),
                t.What,
                t.Before,
                t.After,
                t.Carries.ToString().ToLowerInvariant(),
                t.Why.Show(scope.Sees)
            )),
        ];

    private static IReadOnlyList<ChangeKeyLine> KeysOf(
        Change c,
        Inventory around,
        IReadOnlyDictionary<(string Tunnel, int Version), (string State, string CheckCode)> keys
    ) =>
        [
            .. c.Plan.Keys.Select(k => new ChangeKeyLine(
                around.Find<Tunnel>(k.TunnelId)?.Code ?? "gone",
                k.Version,
                k.Replaces,
                keys.TryGetValue((k.TunnelId, k.Version), out var made) ? made.State : "not made",
                made.CheckCode
            )),
        ];

    private static UrgentLine? UrgentOf(Change c, DateTimeOffset now) =>
        c.Urgent is not { } u
            ? null
            : new(
                u.Reviewer,
                u.Reason,
                u.ReviewBy,
                u.ReviewedBy,
                u.ReviewedAt,
                u.ReviewedBy is null && u.ReviewBy < now
            );

    /// <summary>The steps of a closed change that were skipped, but for those that only prepare.</summary>
    private static Step[] LeftOut(Change c) =>
        c.State is not ChangeState.Done
            ? []
            :
            [
                .. c.Plan.Steps.Where(s =>
                    c.LastAttempt(s.Key)?.Outcome == AttemptOutcome.Skipped && s.Part is not Part.Prepare
                ),
            ];

    private static IReadOnlyList<FreeStepGiven> LeftSteps(Step[] left, Scope scope) =>
        [
            .. left.Select(s => new FreeStepGiven(
                s.Part.ToString().ToLowerInvariant(),
                s.Where == Where.Us ? "us" : s.Where.ToString(),
                Whole(s, scope),
                s.Minutes,
                s.Stops?.Show(scope.Sees).Text,
                s.Undo?.Show(scope.Sees).Text
            )),
        ];
}

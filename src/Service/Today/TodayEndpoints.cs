using Vellumkeep.Service.Changes;

namespace Vellumkeep.Service.Today;

/// <summary>What waits for the asker.</summary>
public static class TodayEndpoints
{
    public static void MapToday(this RouteGroupBuilder api) =>
        api.MapGet("/today", async (Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            {
                await using var context = databases.Open();
                return await PageAsync(context, http.Asker(), clock.GetUtcNow(), ct);
            })
            .For(Role.Reader)
            .WithName("today")
            .WithSummary("Reviews, work under way, windows, and what blocks");

    private static async Task<TodayPage> PageAsync(
        KeepContext context,
        Asker asker,
        DateTimeOffset now,
        CancellationToken ct
    )
    {
        var names = new StoredNames(context, Scope.Everything);
        var open = await ChangesAsync(context, asker, Change.OpenStates, int.MaxValue, ct);
        var ended = await ChangesAsync(context, asker, [ChangeState.Done, ChangeState.BackedOut], 100, ct);
        // Urgent work owes its review whether or not it has ended since.
        Change[] owed = [.. open.Concat(ended).Where(c => c.Urgent is { ReviewedBy: null })];
        IReadOnlyList<ChangeSummary> Those(Func<Change, bool> which) =>
            [
                .. open.Where(which)
                    .OrderBy(c => c.Window?.Start ?? DateTimeOffset.MaxValue)
                    .Select(c => ChangeEndpoints.Summary(c, names)),
            ];
        // Who was asked to let urgent work begin reads it before anything else.
        IReadOnlyList<ChangeSummary> review =
        [
            .. Those(c => c.UrgentAsked?.Reviewer == asker.Name),
            .. Those(c =>
                c.State == ChangeState.InReview && c.UrgentAsked?.Reviewer != asker.Name && MayReview(asker, c)
            ),
            .. owed.Where(c => MayReview(asker, c)).Select(c => ChangeEndpoints.Summary(c, names)),
        ];
        var windows = Those(c => c.State == ChangeState.Approved);
        var blocking = await new FindingList(context).FindingsAsync(asker.Scope, null, null, null, "blocks", 40, ct);
        var (tunnels, stopped, risks) = await new TunnelList(context).CountsAsync(asker.Scope, ct);
        return new(
            Verdict(open, owed, asker.Name, review.Count, windows.Count, stopped, tunnels, now).Show(asker.Scope.Sees),
            review,
            Those(c => c.State == ChangeState.UnderWay),
            windows,
            Those(c => c.Author == asker.Name && c.State is ChangeState.Draft or ChangeState.InReview),
            [.. blocking.Select(f => f.Finding.Show(f.TunnelCode, asker.Scope.Sees, f.Since))],
            risks,
            tunnels
        );
    }

    private static async Task<Change[]> ChangesAsync(
        KeepContext context,
        Asker asker,
        ImmutableArray<ChangeState> states,
        int most,
        CancellationToken ct
    ) => [.. (await new ChangeList(context).ChangesAsync(asker.Scope, states, null, most, ct)).Select(c => c.Record)];

    private static bool MayReview(Asker asker, Change c) =>
        c.Author != asker.Name && c.AllCustomers.All(o => asker.Is(Role.Reviewer, o));

    private static IEnumerable<VerdictPart> Verdict(
        Change[] open,
        Change[] owed,
        string me,
        int review,
        int windows,
        int stopped,
        int tunnels,
        DateTimeOffset now
    )
    {
        var waits = new List<string>();
        if (review > 0)
            waits.Add($"{Say.Count(review, "change")} to review");
        if (windows > 0)
            waits.Add($"{Say.Count(windows, "change")} approved");
        yield return new(
            Tone.Plain,
            waits.Count == 0 ? Sentence.Of($"Nothing waits for you.") : Sentence.Of($"{Say.Capital(Say.And(waits)):w}.")
        );
        foreach (var c in open.Where(c => c.UrgentAsked?.Reviewer == me))
            yield return new(
                Tone.Stops,
                Sentence.Of(
                    $"{c.UrgentAsked!.By:w} asks you to confirm that {c.Code} begins as urgent: "
                        + $"{c.UrgentAsked.Reason:w}. Read it, then confirm or decline."
                )
            );
        foreach (var c in open.Where(c => c.State == ChangeState.UnderWay))
        {
            var failed = c
                .Plan.Steps.Select((s, i) => (s.Key, Number: i + 1))
                .Where(s => c.LastAttempt(s.Key)?.Outcome == AttemptOutcome.Failed)
                .Select(s => s.Number)
                .ToArray();
            if (failed.Length > 0)
                yield return new(Tone.Stops, Sentence.Of($"{c.Code} is under way; step {failed[0]} failed."));
        }

        foreach (var c in owed)
            yield return new(
                Tone.Weak,
                Sentence.Of(
                    $"{c.Code} began as urgent, confirmed by {c.Urgent!.Reviewer:w}. Review it by "
                        + $"{WallTime.Said(c.Urgent.ReviewBy, TimeZoneInfo.Utc, now):w} UTC."
                )
            );
        if (tunnels == 0)
            yield break;
        yield return stopped == 0
            ? new(Tone.Plain, Sentence.Of($"None of {tunnels} tunnels has a finding that blocks."))
            : new(Tone.Weak, Sentence.Of($"{stopped} of {tunnels} tunnels have a finding that blocks."));
    }
}

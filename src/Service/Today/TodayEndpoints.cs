using Vellumkeep.Service.Changes;

namespace Vellumkeep.Service.Today;

/// <summary>What waits for the asker.</summary>
public static class TodayEndpoints
{
    public static void MapToday(this RouteGroupBuilder api) =>
        api.MapGet("/today", async (Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            {
                var asker = http.Asker();
                await using var context = databases.Open();
                var names = new StoredNames(context, Scope.Everything);
                var open = (
                    await new ChangeList(context).ChangesAsync(asker.Scope, Change.OpenStates, null, int.MaxValue, ct)
                )
                    .Select(c => c.Record)
                    .ToArray();
                IReadOnlyList<ChangeSummary> Those(Func<Change, bool> which) =>
                    [
                        .. open.Where(which)
                            .OrderBy(c => c.Window?.Start ?? DateTimeOffset.MaxValue)
                            .Select(c => ChangeEndpoints.Summary(c, names)),
                    ];
                var review = Those(c =>
                    c.State == ChangeState.InReview
                    && c.Author != asker.Name
                    && c.AllCustomers.All(o => asker.Is(Role.Reviewer, o))
                );
                // Who was asked to let urgent work begin reads it before anything else.
                review =
                [
                    .. Those(c => c.UrgentAsked?.Reviewer == asker.Name),
                    .. review.Where(r => open.All(c => c.Code != r.Code || c.UrgentAsked?.Reviewer != asker.Name)),
                ];
                // Urgent work owes its review whether or not it has ended since.
                Change[] owed =
                [
                    .. open.Concat(
                            (
                                await new ChangeList(context).ChangesAsync(
                                    asker.Scope,
                                    [ChangeState.Done, ChangeState.BackedOut],
                                    null,
                                    100,
                                    ct
                                )
                            ).Select(c => c.Record)
                        )
                        .Where(c => c.Urgent is { ReviewedBy: null }),
                ];
                review =
                [
                    .. review,
                    .. owed.Where(c => c.Author != asker.Name && c.AllCustomers.All(o => asker.Is(Role.Reviewer, o)))
                        .Select(c => ChangeEndpoints.Summary(c, names)),
                ];
                var underWay = Those(c => c.State == ChangeState.UnderWay);
                var windows = Those(c => c.State == ChangeState.Approved);
                var mine = Those(c =>
                    c.Author == asker.Name
                    && c.State is ChangeState.Draft or ChangeState.InReview
                    && c.Author == asker.Name
                );
                var blocking = await new FindingList(context).FindingsAsync(
                    asker.Scope,
                    null,
                    null,
                    null,
                    "blocks",
                    40,
                    ct
                );
                var (tunnels, stopped, risks) = await new TunnelList(context).CountsAsync(asker.Scope, ct);
                return new TodayPage(
                    Verdict(open, owed, asker.Name, review.Count, windows.Count, stopped, tunnels, clock.GetUtcNow())
                        .Show(asker.Scope.Sees),
                    review,
                    underWay,
                    windows,
                    mine,
                    [.. blocking.Select(f => f.Finding.Show(f.TunnelCode, asker.Scope.Sees, f.Since))],
                    risks,
                    tunnels
                );
            })
            .For(Role.Reader)
            .WithName("today")
            .WithSummary("Reviews, work under way, windows, and what blocks");

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

using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings;

/// <summary>
/// The one result of looking at a tunnel, from which verdict, findings, drawing, lists and exit status come. The checks
/// and the negotiation are brought together here: what the negotiation meets is a finding, and what a check says stops
/// traffic is in the outcome. No outcome other than up is without a finding that blocks, degrades it in part or says
/// undetermined; no finding blocks that does not show in the outcome, or later.
/// </summary>
internal sealed record Analysis(ImmutableArray<Finding> Findings, Rehearsal FromA, Rehearsal FromB)
{
    /// <summary>
    /// Codes whose weight the negotiation decides: what it does not meet under one of these does not stop the tunnel.
    /// </summary>
    private static readonly ImmutableHashSet<string> Negotiated =
    [
        "PAIR-01",
        "PAIR-02",
        "PAIR-03",
        "PAIR-04",
        "PAIR-05",
        "PAIR-06",
        "PAIR-07",
        "PAIR-08",
        "PAIR-09",
        "PAIR-10",
        "PAIR-11",
        "PAIR-13",
        "PAIR-14",
        "PAIR-16",
        "PAIR-18",
        "PAIR-22",
        "PATH-11",
        "KEY-07",
        "KEY-08",
        "KEY-09",
        "KEY-10",
    ];

    /// <summary>Runs every check and brings its findings together with the negotiation from either side.</summary>
    internal static Analysis Of(Checked about)
    {
        Finding[] found = [.. Checks.All.SelectMany(c => c.Run(about))];
        var hindered = found.Where(f => f.Severity == Severity.Blocks && f.After is null && !IsNegotiated(f)).ToArray();
        var (a, b) = (With(about, EndName.A, hindered), With(about, EndName.B, hindered));
        var settled = found.Select(f => Weighed(f, a, b)).ToList();
        settled.AddRange(Missing(about, settled, a, b));
        return new([.. settled], a, b);
    }

    private static bool IsNegotiated(Finding f) => Negotiated.Contains(f.Code);

    /// <summary>The negotiation with what hinders traffic once the SAs are up.</summary>
    private static Rehearsal With(Checked about, EndName initiator, Finding[] hindered)
    {
        var r = about.Negotiated(initiator);
        var wanted = about.View.Tunnel.Agreed.Pairs;
        var at = r.Exchanges.FirstOrDefault(x => x.Message == Message.Esp)?.Number ?? r.Exchanges.Length;
        return r.Hindered(
            wanted,
            [
                .. hindered.Select(f => new Obstacle(
                    Stage.Traffic,
                    at,
                    null,
                    "no traffic",
                    f.Code,
                    f.RowKey,
                    new Hindered(f.What),
                    f.Pairs.IsEmpty ? wanted : f.Pairs
                )),
            ]
        );
    }

    /// <summary>
    /// What blocks by its check, and lets the tunnel come up whole from one side, degrades it: it stops the other side, or
    /// nothing.
    /// </summary>
    private static Finding Weighed(Finding f, Rehearsal a, Rehearsal b) =>
        f is { Severity: Severity.Blocks, After: null } && IsNegotiated(f) && Best(a, b).Outcome == Outcome.Up
            ? f with
            {
                Severity = Severity.Degrades,
            }
            : f;

    /// <summary>The rehearsal that gets further.</summary>
    private static Rehearsal Best(Rehearsal a, Rehearsal b) => Rank(a) <= Rank(b) ? a : b;

    // What nobody knows may still come up, what is refused does not.
    private static int Rank(Rehearsal r) =>
        r.Outcome switch
        {
            Outcome.Up => 0,
            Outcome.UpWithFewerPairs => 1,
            Outcome.Undetermined => 2,
            Outcome.NothingPasses => 3,
            Outcome.IkeOnly => 4,
            Outcome.Down => 5,
            _ => 6,
        };

    /// <summary>Findings of what the negotiation met and no check found.</summary>
    private static IEnumerable<Finding> Missing(Checked about, List<Finding> found, Rehearsal a, Rehearsal b)
    {
        var best = Best(a, b);
        var comesUp = best.ComesUp;
        var blocks = found.Any(f => f.Severity == Severity.Blocks && f.After is null);
        var untold =
            from r in new[] { a, b }
            from o in r
                .Obstacles.Where(o => o.Cause is not (DoesNotStart or Hindered) && found.All(f => !Says(f, o)))
                .DistinctBy(o => (o.Code, o.RowKey))
            select (Rehearsal: r, Obstacle: o);
        foreach (var (r, o) in untold.ToArray())
        {
            var stops = !comesUp && r.Outcome != Outcome.DoesNotStart;
            blocks |= stops;
            yield return Of(about, r, o, stops ? Severity.Blocks : Severity.Degrades);
        }

        if (comesUp || blocks)
            yield break;
        if (best.Outcome == Outcome.Undetermined)
            yield return Undetermined(about, best);
        else if (best.Stop is { } stop)
            yield return Of(about, best, stop, Severity.Blocks);
    }

    /// <summary>Whether a finding tells of an obstacle; PAIR-16 tells of what its selectors come to.</summary>
    private static bool Says(Finding f, Obstacle o) => f.Code == o.Code || (f.Code == "PAIR-16" && o.Code == "PAIR-06");

    private static Finding Of(Checked about, Rehearsal r, Obstacle o, Severity severity)
    {
        var what = FindingText.Why(about, r, o);
        var row = o.RowKey is { } key ? about.Row(key) : null;
        Sentence answer =
            o.RefusedBy is { } by && o.Notify is not ("no response" or "not sent" or "narrowed")
                ? Sentence.Of($"{by} answers {o.Notify:w}")
                : Sentence.Of($"The answer is: {o.Notify:w}");
        return new()
        {
            Code = o.Code,
            Severity = severity,
            Subject = $"{r.Initiator}:{o.Stage}",
            RowKey = o.RowKey,
            Pairs = o.Pairs,
            What = what,
            Why = $"Rehearsed as {r.Initiator} initiates. {answer}.",
            Do = row is null
                ? Sentence.Of($"Compare both ends, and rehearse it again as {r.Initiator} initiates.")
                : Sentence.Of(
                    $"Make {row.Label:w} fit: {row.A.Text ?? "unknown"} at {EndName.A}, {row.B.Text ?? "unknown"} at "
                        + $"{EndName.B}."
                ),
            Consequence = what,
            Evidence = Checked.Of(row),
        };
    }

    private static Finding Undetermined(Checked about, Rehearsal r)
    {
        var asked = r.Open.DistinctBy(q => (q.At, q.What)).ToArray();
        var first = FindingText.FindOut(about, asked[0]);
        Sentence more =
            asked.Length > 1
                ? Sentence.Of($" {Say.Capital(Say.Count(asked.Length - 1, "more question")):w} open.")
                : Sentence.Plain("");
        return new()
        {
            Code = "PAIR-19",
            Severity = Severity.Note,
            Subject = "outcome",
            What = $"Undetermined whether the tunnel comes up. {first}{more}",
            Why = $"Vellumkeep does not guess, and counts nothing unknown as up.",
            Do = $"Find it out and record it, then rehearse it again.",
            Evidence = [.. asked.Select(q => new Evidence(q.At, q.What, "unknown", "unknown"))],
        };
    }
}

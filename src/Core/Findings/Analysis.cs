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
    /// <summary>Runs every check and brings its findings together with the negotiation from either side.</summary>
    internal static Analysis Of(Checked about)
    {
        var all = Checks.All.SelectMany(c => c.Run(about).Select(f => new Told(c, f))).ToArray();
        Finding[] hindered =
        [
            .. all.Where(t => !t.By.IsNegotiated && (t.By.StopsPackets || t.Finding.Severity == Severity.Blocks))
                .Select(t => t.Finding)
                .Where(f => f.After is null),
        ];
        var (a, b) = (With(about, EndName.A, hindered), With(about, EndName.B, hindered));
        var weighed = all.Select(t => t with { Finding = Weighed(t, a, b) }).ToArray();
        var settled = weighed.Select(t => t.Finding).ToList();
        settled.AddRange(Missing(about, weighed, a, b));
        foreach (var r in new[] { a, b })
            FailsLater(about, r, settled);
        return new([.. settled], a, b);
    }

    /// <summary>A finding with the check that it comes from.</summary>
    private sealed record Told(Check By, Finding Finding);

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
                    f.RowKey,
                    new Hindered(f.Code, f.What),
                    f.Pairs.IsEmpty ? wanted : f.Pairs
                )),
            ]
        );
    }

    /// <summary>
    /// What blocks by its check, and lets the tunnel come up whole from one side, degrades it: it stops the other side,
    /// or nothing.
    /// </summary>
    private static Finding Weighed(Told told, Rehearsal a, Rehearsal b) =>
        told is { By.IsNegotiated: true, Finding: { Severity: Severity.Blocks, After: null } }
        && Best(a, b).Outcome == Outcome.Up
            ? told.Finding with
            {
                Severity = Severity.Degrades,
            }
            : told.Finding;

    /// <summary>
    /// What is refused only later has a finding that says when. Under IKEv1 it is what the other end would be refused at
    /// once, and is found as such: that finding tells when.
    /// </summary>
    private static void FailsLater(Checked about, Rehearsal up, List<Finding> found)
    {
        if (!up.ComesUp || !up.FailsLater || found.Any(f => f.After is not null))
            return;
        var later = up.Later!;
        var met = about
            .Negotiated(later.Asks)
            .Obstacles.Where(o => later.OfIke ? o.Stage <= Stage.AtInitiator : o.Stage > Stage.AtInitiator)
            .SelectMany(o => Checks.All.Where(c => c.Code == Checks.CodeOf(o) || c.Meets(o.Cause)))
            .Select(c => c.Code)
            .ToHashSet();
        if (found.FindIndex(f => met.Contains(f.Code)) is >= 0 and var at)
            found[at] = found[at] with { After = later.Lost?.To ?? 0 };
    }

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
    private static IEnumerable<Finding> Missing(Checked about, Told[] found, Rehearsal a, Rehearsal b)
    {
        var best = Best(a, b);
        var comesUp = best.ComesUp;
        var blocks = found.Any(t => t.Finding is { Severity: Severity.Blocks, After: null });
        var untold =
            from r in new[] { a, b }
            from o in r
                .Obstacles.Where(o => o.Cause is not (DoesNotStart or Hindered) && !found.Any(t => t.By.Meets(o.Cause)))
                .DistinctBy(o => (Checks.CodeOf(o), o.RowKey))
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

    private static Finding Of(Checked about, Rehearsal r, Obstacle o, Severity severity)
    {
        var what = FindingText.Why(about, r, o);
        var row = o.RowKey is { } key ? about.Row(key) : null;
        Sentence answer = o is { RefusedBy: { } by, Kind: ObstacleKind.Refused }
            ? Sentence.Of($"{by} answers {o.Notify:w}")
            : Sentence.Of($"The answer is: {o.Notify:w}");
        return new()
        {
            Code = Checks.CodeOf(o),
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
            Code = Pair.LeftUndetermined.Check.Code,
            Severity = Severity.Note,
            Subject = Finding.OfOutcome,
            What = $"Undetermined whether the tunnel comes up. {first}{more}",
            Why = $"Vellumkeep does not guess, and counts nothing unknown as up.",
            Do = $"Find it out and record it, then rehearse it again.",
            Evidence = [.. asked.Select(q => new Evidence(q.At, q.What, "unknown", "unknown"))],
        };
    }
}

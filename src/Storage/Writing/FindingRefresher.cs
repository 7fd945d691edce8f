using System.Text.Json;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Storage.Writing;

/// <summary>Checks tunnels again and works out the rows that their findings, verdicts and words will be.</summary>
internal static class FindingRefresher
{
    private const int AtOnce = 500;

    public static async Task<(List<PreparedTunnel> Tunnels, List<FindingChange> Changes)> RunAsync(
        KeepContext context,
        RecordReader reader,
        IReadOnlyCollection<string> tunnels,
        DateTimeOffset at,
        IProgress<Progressed>? progress,
        CancellationToken ct
    )
    {
        var (prepared, changes) = (new List<PreparedTunnel>(tunnels.Count), new List<FindingChange>());
        foreach (var some in tunnels.Chunk(AtOnce))
        {
            ct.ThrowIfCancellationRequested();
            // Of a tunnel that is new nothing is kept.
            var kept = some.Where(id => !reader.IsNew(id)).ToArray();
            var known = (
                await context.Findings.AsNoTracking().Where(f => kept.Contains(f.TunnelId)).ToListAsync(ct)
            ).ToLookup(f => f.TunnelId);
            var rows = await context
                .Tunnels.AsNoTracking()
                .Where(t => kept.Contains(t.Id))
                .ToDictionaryAsync(t => t.Id, ct);
            var words = (
                await context
                    .Words.AsNoTracking()
                    .Where(w => kept.Contains(w.RecordId) && w.Field == SearchWords.Around)
                    .Select(w => new { w.RecordId, w.Word })
                    .ToListAsync(ct)
            ).ToLookup(w => w.RecordId, w => w.Word);
            var inventory = await reader.AroundAsync(some, wholeGateways: false, ct);
            var day = DateOnly.FromDateTime(at.UtcDateTime);
            foreach (
                var (one, changed) in InParallel.Select(
                    some,
                    id => One(new(inventory, inventory.Get<Tunnel>(id), day), [.. known[id]], at),
                    ct
                )
            )
            {
                changes.AddRange(changed);
                prepared.Add(Differing(one, [.. known[one.Id]], rows.GetValueOrDefault(one.Id), [.. words[one.Id]]));
            }

            progress?.Report(new("tunnels checked", prepared.Count, tunnels.Count));
        }

        return (prepared, changes);
    }

    private static (PreparedTunnel Tunnel, List<FindingChange> Changes) One(
        TunnelView view,
        FindingRow[] known,
        DateTimeOffset at
    )
    {
        var id = view.Tunnel.Id;
        var about = new Checked(view);
        var findings = Checks.Run(about);
        var before = known.ToDictionary(f => (f.Code, f.Subject));
        var now = findings.Select(f => (f.Code, f.Subject)).ToHashSet();
        FindingChange Changed(bool added, Finding f) => new(added, id, f.Code, f.Severity, f.What);
        List<FindingChange> changes =
        [
            .. findings
                .Where(f => f.Severity != Severity.Note && !before.ContainsKey((f.Code, f.Subject)))
                .Select(f => Changed(true, f)),
            .. known
                .Where(f => f.Severity != (int)Severity.Note && !now.Contains((f.Code, f.Subject)))
                .Select(f => Changed(false, JsonSerializer.Deserialize<Finding>(f.Body, RecordBody.Json)!)),
        ];
        var moment = at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);
        var rows = findings
            .DistinctBy(f => (f.Code, f.Subject))
            .Select(
                (f, place) =>
                    new FindingRow
                    {
                        Place = place,
                        TunnelId = id,
                        Code = f.Code,
                        Subject = f.Subject,
                        Severity = (int)f.Severity,
                        Digest = f.Digest,
                        Since =
                            before.TryGetValue((f.Code, f.Subject), out var earlier) && earlier.Digest == f.Digest
                                ? earlier.Since
                                : moment,
                        Body = JsonSerializer.SerializeToUtf8Bytes(f, RecordBody.Json),
                        CodeKey = view.Tunnel.Code.ToUpperInvariant(),
                        OwnerId = view.Tunnel.CustomerId,
                    }
            );
        var row = new TunnelRow
        {
            Id = id,
            // What was accepted counts no longer, unless it blocks.
            Worst = findings
                .Where(f => f.Accepted is null || f.Severity == Severity.Blocks)
                .Select(f => (int)f.Severity)
                .DefaultIfEmpty(4)
                .Min(),
            CheckAgainOn = NextDay(view) is { } next ? Scalars.Write(next) : null,
            CheckedBy = Checks.Version,
            Verdict = JsonSerializer.SerializeToUtf8Bytes(Verdict.Of(about, findings), RecordBody.Json),
            EndA = view.A.Site.Name,
            EndB = view.B.Site.Name,
        };
        return (new(id, row, [.. rows], [.. SearchWords.AroundOf(view)]), changes);
    }

    /// <summary>Leaves out what stands already.</summary>
    private static PreparedTunnel Differing(
        PreparedTunnel tunnel,
        FindingRow[] findings,
        TunnelRow? row,
        HashSet<string> words
    ) =>
        tunnel with
        {
            Row = row is not null && Same(row, tunnel.Row!) ? null : tunnel.Row,
            Findings = Same(findings, tunnel.Findings!) ? null : tunnel.Findings,
            Words = words.SetEquals(tunnel.Words!.Select(w => w.Word)) ? null : tunnel.Words,
        };

    private static bool Same(TunnelRow a, TunnelRow b) =>
        a.Worst == b.Worst
        && a.CheckAgainOn == b.CheckAgainOn
        && a.CheckedBy == b.CheckedBy
        && a.EndA == b.EndA
        && a.EndB == b.EndB
        && a.Verdict.AsSpan().SequenceEqual(b.Verdict);

    private static bool Same(IReadOnlyCollection<FindingRow> a, IReadOnlyCollection<FindingRow> b)
    {
        var known = a.ToDictionary(f => (f.Code, f.Subject));
        return a.Count == b.Count
            && b.All(f =>
                known.TryGetValue((f.Code, f.Subject), out var was)
                && was.Severity == f.Severity
                && was.Digest == f.Digest
                && was.Place == f.Place
                && was.CodeKey == f.CodeKey
                && was.OwnerId == f.OwnerId
                && was.Body.AsSpan().SequenceEqual(f.Body)
            );
    }

    /// <summary>The next day on which a date in these records is passed.</summary>
    private static DateOnly? NextDay(TunnelView view) =>
        view
            .Ends.SelectMany(e =>
                new[]
                {
                    e.Platform.SupportEnds,
                    e.Platform.SupportEnds?.AddDays(-183),
                    e.End.Certificate?.From,
                    e.End.Certificate?.Until?.AddDays(1),
                    e.End.Certificate?.Until?.AddDays(-30),
                    e.PeerAddress.ForNow?.Deadline.AddDays(1),
                }.Concat(Settings.All.Select(s => s.Until(e)?.AddDays(1)))
            )
            .Concat(view.Tunnel.Accepted.Select(a => (DateOnly?)a.Until.AddDays(1)))
            .Where(d => d > view.Today)
            .Min();
}

using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>The findings that a change adds, removes and leaves, and what its tunnels do before and after.</summary>
internal sealed record PlanOutcome(
    ImmutableArray<FindingOn> Added,
    ImmutableArray<FindingOn> Removed,
    ImmutableArray<FindingOn> Standing,
    ImmutableArray<Rehearsed> Rehearsals
)
{
    public static PlanOutcome Of(
        Inventory before,
        Inventory after,
        IReadOnlyList<TunnelStages> tunnels,
        CancellationToken ct
    )
    {
        var local = tunnels.Select(t => t.Was.Tunnel.Id).ToHashSet();
        var others = Neighbours(before, tunnels, local);
        var today = tunnels[0].Was.Today;

        (ImmutableArray<FindingOn> Findings, ImmutableArray<VerdictPart> Verdict) Look(Inventory inventory, string id)
        {
            var about = new Checked(new(inventory, inventory.Get<Tunnel>(id), today));
            var found = Checks.Run(about);
            return (
                [
                    .. found
                        .Where(f => local.Contains(id) || f.Severity <= Severity.Degrades)
                        .Select(f => new FindingOn(id, about.View.Tunnel.Code, f)),
                ],
                local.Contains(id) ? Verdict.Of(about, found) : []
            );
        }

        var looked = local
            .Concat(others)
            .AsParallel()
            .AsOrdered()
            .WithCancellation(ct)
            .WithDegreeOfParallelism(Math.Max(1, Environment.ProcessorCount / 2))
            .Select(id => (Id: id, Was: Look(before, id), Then: Look(after, id)))
            .ToArray();
        static (string, string, string) About(FindingOn f) => (f.TunnelId, f.Finding.Code, f.Finding.Subject);
        static ((string, string, string), Severity) Same(FindingOn f) => (About(f), f.Finding.Severity);
        // What is entered under a change is confirmed when its step is done: that nobody confirmed it yet (PAIR-19,
        // PAIR-20) is no news of it.
        static bool Counts(FindingOn f) =>
            f.Finding.Code != Findings.Pair.LeftUndetermined.Check.Code
            && f.Finding.Code != Findings.Pair.NeverConfirmed.Check.Code;
        var was = looked.SelectMany(l => l.Was.Findings).ToArray();
        var then = looked.SelectMany(l => l.Then.Findings).ToArray();
        var (had, has) = (was.Select(Same).ToHashSet(), then.Select(About).ToHashSet());
        var grave = was.GroupBy(About).ToDictionary(g => g.Key, g => g.Min(f => f.Finding.Severity));
        return new(
            [
                .. then.Where(f => Counts(f) && !had.Contains(Same(f)))
                    .Select(f => f with { Was = grave.TryGetValue(About(f), out var before) ? before : null }),
            ],
            [.. was.Where(f => Counts(f) && !has.Contains(About(f)))],
            [.. then.Where(f => had.Contains(Same(f)) && local.Contains(f.TunnelId))],
            [
                .. looked
                    .Where(l => local.Contains(l.Id))
                    .Select(l => new Rehearsed(l.Id, before.Get<Tunnel>(l.Id).Code, l.Was.Verdict, l.Then.Verdict)),
            ]
        );
    }

    /// <summary>
    /// The tunnels of the same gateways that can notice: what they send or are found by meets, before or after, what
    /// these have there, or they use one of the same shared entries.
    /// </summary>
    private static string[] Neighbours(Inventory before, IReadOnlyList<TunnelStages> tunnels, HashSet<string> local)
    {
        var found = new HashSet<string>();
        foreach (var (end, far) in tunnels.SelectMany(t => t.Was.Ends.Concat(t.Then.Ends)).Select(e => (e, e.Other)))
        {
            var remotes = end.Tunnel.Tunnel.Agreed.Pairs.Select(p => p.On(far.Name)).Distinct().ToArray();
            var remote = end.PeerAddress.Value;
            string?[] held = [end.End.Subnets?.LocalFrom, end.End.Subnets?.RemoteFrom, end.End.ProposalsFrom];
            foreach (var (other, at) in before.On(end.Gateway.Id).Where(o => !local.Contains(o.Tunnel.Id)))
            {
                var theirs = other.End(at);
                if (
                    other.Agreed.Pairs.Any(p => remotes.Any(r => r.Overlaps(p.On(at.Other()))))
                    || (
                        remote is not null
                        && (
                            theirs.PeerAddress?.Value == remote
                            || (
                                theirs.PeerAddress is null
                                && before
                                    .Find<Gateway>(other.End(at.Other()).GatewayId)
                                    ?.Uplinks.Any(u => u.Outer is { } o && o == remote.Address) == true
                            )
                        )
                    )
                    || (end.End.InterfaceAddress is { } inner && theirs.InterfaceAddress?.Address == inner.Address)
                    || held.Any(h =>
                        h is not null
                        && (
                            h == theirs.Subnets?.LocalFrom
                            || h == theirs.Subnets?.RemoteFrom
                            || h == theirs.ProposalsFrom
                        )
                    )
                )
                    found.Add(other.Id);
            }
        }

        return [.. found.Order(StringComparer.Ordinal)];
    }
}

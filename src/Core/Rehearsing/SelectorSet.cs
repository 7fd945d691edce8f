using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>
/// The traffic selectors of one child SA (RFC 7296 section 3.13): every prefix of one side with every one of the other.
/// Always as the initiator has it: <paramref name="Local"/> is the initiator's side, and so are near ports.
/// </summary>
internal sealed record SelectorSet(ImmutableArray<Prefix> Local, ImmutableArray<Prefix> Remote, Traffic Traffic)
{
    private static readonly ImmutableArray<Prefix> Anything =
    [
        Prefix.Parse("0.0.0.0/0").Value,
        Prefix.Parse("::/0").Value,
    ];

    /// <summary>Whether it is one prefix on either side.</summary>
    internal bool IsSinglePair => Local.Length == 1 && Remote.Length == 1;

    /// <summary>
    /// What an end has entered, as <paramref name="initiator"/> sees it: a set for each child SA that it would make.
    /// Null when its subnets are not known. What no wanted pair needs is left out.
    /// </summary>
    internal static ImmutableArray<SelectorSet>? EnteredAt(
        EndView end,
        EndName initiator,
        ImmutableArray<SubnetPair> wanted
    )
    {
        if (Entered(end) is not { } entered)
            return null;
        var seen =
            end.Name == initiator ? entered : entered.Select(s => new SelectorSet(s.Remote, s.Local, s.Traffic.Turned));
        var needed = wanted.Select(p => Of(p, initiator)).ToArray();
        return
        [
            .. seen.Select(s => (Set: s, First: Array.FindIndex(needed, n => n.Meets(s))))
                .Where(x => x.First >= 0)
                .OrderBy(x => x.First)
                .ThenByDescending(x => x.Set.Local[0].Length + x.Set.Remote[0].Length)
                .Select(x => x.Set),
        ];
    }

    /// <summary>A wanted pair as the initiator sees it.</summary>
    internal static SelectorSet Of(SubnetPair pair, EndName initiator) =>
        new([pair.On(initiator)], [pair.On(initiator.Other())], pair.TrafficAt(initiator));

    private static IEnumerable<SelectorSet>? Entered(EndView end)
    {
        if (end.AnyToAny)
            return [new(Anything, Anything, Traffic.All)];
        // Quick mode has room for one pair (RFC 2409 section 5.5).
        var each =
            end.Tunnel.Version == IkeVersion.IKEv1 || end.Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.One;
        if (end.End.Subnets?.Pairs is { } pairs)
        {
            var singles = pairs
                .Where(p => p.Local.Family == p.Remote.Family)
                .Select(p => new SelectorSet([p.Local], [p.Remote], p.Traffic));
            return each ? singles : Joined(singles);
        }

        if (end.LocalSubnets.Value is not { } local || end.RemoteSubnets.Value is not { } remote)
            return null;
        if (!each)
            return local.Items.IsEmpty || remote.Items.IsEmpty ? [] : [new(local.Items, remote.Items, Traffic.All)];
        return from l in local.Items
            from r in remote.Items
            where l.Family == r.Family
            select new SelectorSet([l], [r], Traffic.All);
    }

    /// <summary>
    /// Pairs joined as far as they are a whole cross product: A1 with B1 and A2 with B2 stay two sets, because one
    /// child SA would carry A1 with B2 too.
    /// </summary>
    private static IEnumerable<SelectorSet> Joined(IEnumerable<SelectorSet> pairs) =>
        pairs
            .GroupBy(p => (Local: p.Local[0], p.Traffic))
            .Select(g =>
                (g.Key.Local, g.Key.Traffic, Remote: g.Select(p => p.Remote[0]).Distinct().Order().ToImmutableArray())
            )
            .GroupBy(x => (string.Join(' ', x.Remote), x.Traffic))
            .Select(g => new SelectorSet([.. g.Select(x => x.Local)], g.First().Remote, g.Key.Traffic));

    /// <summary>Whether both hold the same addresses: a /24 is the same as its two halves.</summary>
    internal bool SameAs(SelectorSet other) =>
        Traffic == other.Traffic && Same(Local, other.Local) && Same(Remote, other.Remote);

    /// <summary>Whether it has all of the other.</summary>
    internal bool Holds(SelectorSet other) =>
        Traffic.Contains(other.Traffic)
        && Prefixes.Subtract(other.Local, Local).IsEmpty
        && Prefixes.Subtract(other.Remote, Remote).IsEmpty;

    /// <summary>Whether they have a pair of addresses in common.</summary>
    internal bool Meets(SelectorSet other) =>
        Traffic.Overlaps(other.Traffic) && Meet(Local, other.Local) && Meet(Remote, other.Remote);

    /// <summary>What both have (RFC 7296 section 2.9); null when that is nothing.</summary>
    internal SelectorSet? Intersect(SelectorSet other) =>
        Meets(other)
            ? new(Common(Local, other.Local), Common(Remote, other.Remote), Traffic.Common(other.Traffic))
            : null;

    /// <summary>What of a pair this set carries.</summary>
    internal IEnumerable<SubnetPair> PartsOf(SubnetPair pair, EndName initiator) =>
        Intersect(Of(pair, initiator)) is { } common
            ? from l in common.Local
            from r in common.Remote
            select SubnetPair.Of(initiator, l, r, common.Traffic)
            : [];

    /// <summary>What of some pairs is left without what this set carries.</summary>
    internal IEnumerable<SubnetPair> LeftOf(IEnumerable<SubnetPair> pairs, EndName initiator)
    {
        foreach (var pair in pairs)
        {
            var wanted = Of(pair, initiator);
            if (!wanted.Meets(this))
            {
                yield return pair;
                continue;
            }

            var (local, remote) = (pair.On(initiator), pair.On(initiator.Other()));
            foreach (var l in Prefixes.Subtract([local], Local))
                yield return SubnetPair.Of(initiator, l, remote, wanted.Traffic);
            foreach (var l in Common([local], Local))
            {
                foreach (var r in Prefixes.Subtract([remote], Remote))
                    yield return SubnetPair.Of(initiator, l, r, wanted.Traffic);
                foreach (var r in Common([remote], Remote))
                foreach (var rest in wanted.Traffic.Beside(Traffic))
                    yield return SubnetPair.Of(initiator, l, r, rest);
            }
        }
    }

    private static bool Same(ImmutableArray<Prefix> one, ImmutableArray<Prefix> other) =>
        one.SequenceEqual(other) || Prefixes.Merge(one).SequenceEqual(Prefixes.Merge(other));

    private static bool Meet(ImmutableArray<Prefix> one, ImmutableArray<Prefix> other) =>
        one.Any(p => other.Any(p.Overlaps));

    private static ImmutableArray<Prefix> Common(ImmutableArray<Prefix> one, ImmutableArray<Prefix> other) =>
        [.. (from p in one from q in other where p.Overlaps(q) select p.Length >= q.Length ? p : q).Distinct()];

    /// <summary>By what it holds, in the order in which it stands.</summary>
    public bool Equals(SelectorSet? other) =>
        other is not null
        && Traffic == other.Traffic
        && Local.SequenceEqual(other.Local)
        && Remote.SequenceEqual(other.Remote);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Local.Length, Remote.Length);
}

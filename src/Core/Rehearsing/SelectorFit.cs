using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>What becomes of a wanted pair when one end offers its selectors and the other answers.</summary>
internal enum Fit
{
    Whole,
    Part,
    NotOffered,
    None,
    OnlyEqual,
    Unknown,
}

/// <summary>
/// Selectors of two ends against each other, pair by pair (RFC 7296 section 2.9; RFC 2409 section 5.5).
/// </summary>
internal static class SelectorFit
{
    private static readonly ImmutableArray<Prefix> Anything =
    [
        Prefix.Parse("0.0.0.0/0").Value,
        Prefix.Parse("::/0").Value,
    ];

    internal static Fit Of(EndView starter, EndView answerer, SubnetPair pair, SelectorRule? rule)
    {
        Prefix own = pair.On(starter.Name),
            peer = pair.On(answerer.Name);
        var offered = Entry(starter, own, peer);
        var taken = Entry(answerer, peer, own);
        if (offered is null || taken is null)
            return Fit.Unknown;
        if (offered is not { Found: true } o)
            return Fit.NotOffered;
        if (taken is not { Found: true } t)
            return Fit.None;
        var equal = o.Own == t.Peer && o.Peer == t.Own;
        if (!equal)
        {
            if (rule is null)
                return Fit.Unknown;
            // IKEv1 has no answer with a part: a wider offer is refused whatever the rule.
            if (
                rule == SelectorRule.MustBeEqual
                || (starter.Tunnel.Version == IkeVersion.IKEv1 && !(t.Peer.Contains(o.Own) && t.Own.Contains(o.Peer)))
            )
                return Fit.OnlyEqual;
        }

        return o.Own.Contains(own) && o.Peer.Contains(peer) && t.Own.Contains(peer) && t.Peer.Contains(own)
            ? Fit.Whole
            : Fit.Part;
    }

    /// <summary>
    /// The selector of an end that serves a pair: the one that contains it, else one that overlaps it. Null when the
    /// end's selectors are not known.
    /// </summary>
    private static (bool Found, Prefix Own, Prefix Peer)? Entry(EndView end, Prefix own, Prefix peer)
    {
        if (end.AnyToAny)
            return (true, Anything.First(p => p.Family == own.Family), Anything.First(p => p.Family == peer.Family));
        if (end.End.Subnets?.Pairs is { } pairs)
        {
            var found = pairs
                .Where(p => p.Own.Overlaps(own) && p.Peer.Overlaps(peer))
                .OrderByDescending(p => p.Own.Contains(own) && p.Peer.Contains(peer))
                .ThenByDescending(p => p.Own.Length + p.Peer.Length)
                .FirstOrDefault();
            return found is null ? (false, default, default) : (true, found.Own, found.Peer);
        }

        if (end.OwnSubnets.Value is not { } owns || end.PeerSubnets.Value is not { } peers)
            return null;
        return Best(owns.Items, own) is { } o && Best(peers.Items, peer) is { } p
            ? (true, o, p)
            : (false, default, default);
    }

    private static Prefix? Best(ImmutableArray<Prefix> list, Prefix wanted)
    {
        Prefix? best = null;
        foreach (var p in list)
            if (
                p.Overlaps(wanted)
                && (
                    best is not { } b
                    || (p.Contains(wanted) && (!b.Contains(wanted) || p.Length > b.Length))
                    || (!b.Contains(wanted) && p.Length < b.Length)
                )
            )
                best = p;
        return best;
    }
}

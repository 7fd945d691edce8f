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

    internal static Fit Of(EndView initiator, EndView responder, SubnetPair pair, SelectorRule? rule)
    {
        Prefix local = pair.On(initiator.Name),
            remote = pair.On(responder.Name);
        var offered = Entry(initiator, local, remote);
        var taken = Entry(responder, remote, local);
        if (offered is null || taken is null)
            return Fit.Unknown;
        if (offered is not { Found: true } o)
            return Fit.NotOffered;
        if (taken is not { Found: true } t)
            return Fit.None;
        var equal = o.Local == t.Remote && o.Remote == t.Local;
        if (!equal)
        {
            if (rule is null)
                return Fit.Unknown;
            // IKEv1 has no answer with a part: a wider offer is refused whatever the rule.
            if (
                rule == SelectorRule.MustBeEqual
                || (
                    initiator.Tunnel.Version == IkeVersion.IKEv1
                    && !(t.Remote.Contains(o.Local) && t.Local.Contains(o.Remote))
                )
            )
                return Fit.OnlyEqual;
        }

        return
            o.Local.Contains(local) && o.Remote.Contains(remote) && t.Local.Contains(remote) && t.Remote.Contains(local)
            ? Fit.Whole
            : Fit.Part;
    }

    /// <summary>
    /// The selector of an end that serves a pair: the one that contains it, else one that overlaps it. Null when the
    /// end's selectors are not known.
    /// </summary>
    private static (bool Found, Prefix Local, Prefix Remote)? Entry(EndView end, Prefix local, Prefix remote)
    {
        if (end.AnyToAny)
            return (
                true,
                Anything.First(p => p.Family == local.Family),
                Anything.First(p => p.Family == remote.Family)
            );
        if (end.End.Subnets?.Pairs is { } pairs)
        {
            var found = pairs
                .Where(p => p.Local.Overlaps(local) && p.Remote.Overlaps(remote))
                .OrderByDescending(p => p.Local.Contains(local) && p.Remote.Contains(remote))
                .ThenByDescending(p => p.Local.Length + p.Remote.Length)
                .FirstOrDefault();
            return found is null ? (false, default, default) : (true, found.Local, found.Remote);
        }

        if (end.LocalSubnets.Value is not { } owns || end.RemoteSubnets.Value is not { } peers)
            return null;
        return Best(owns.Items, local) is { } o && Best(peers.Items, remote) is { } p
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

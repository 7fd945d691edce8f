using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>Child SAs: sequence numbers, selectors, PFS, and what passes (RFC 7296 sections 1.3 and 2.9).</summary>
public sealed partial class Rehearse
{
    /// <summary>
    /// Extended sequence numbers are a transform of the proposal: the sets of the two have to meet (RFC 7296 section
    /// 3.3.2).
    /// </summary>
    private void SequenceNumbers(Stage stage, int at, string notify)
    {
        var (s, a) = (
            initiator.Get(Settings.ExtendedSequence).Value?.Value,
            responder.Get(Settings.ExtendedSequence).Value?.Value
        );
        if (s == Extended.Either || a == Extended.Either || (s == a && s is not null))
            return;
        if (s is not null && a is not null)
            Stops(stage, at, responder.Name, notify, Settings.ExtendedSequence, new SequenceNumbersMismatch());
        else if (s is not null || a is not null)
            Asks(stage, s is null ? initiator.Name : responder.Name, "its extended sequence numbers");
        else if (!Old)
            assumed.Add((initiator.Name, Assumption.SequenceNumbersAlike));
    }

    /// <summary>
    /// Tunnel or transport mode. IKEv1 negotiates it; under IKEv2 the initiator asks for transport mode and gets tunnel
    /// mode where the other end does not take it (RFC 7296 section 1.3.1). Where neither says, it is tunnel mode.
    /// </summary>
    private void Modes(Stage stage, int at, string notify)
    {
        var asked = initiator.Get(Settings.EspMode).Value?.Value;
        var taken = responder.Get(Settings.EspMode).Value?.Value;
        if (asked == taken || (asked ?? taken) == EspMode.Tunnel && (asked is null || taken is null))
            return;
        if (asked is not { } wants || taken is not { } has)
            Asks(stage, asked is null ? initiator.Name : responder.Name, "its ESP mode (tunnel or transport)");
        else if (Old)
            Stops(stage, at, responder.Name, notify, Settings.EspMode, new EspModesMismatch(wants, has));
        else if (wants == EspMode.Transport)
            Asks(stage, initiator.Name, "whether it accepts tunnel mode where it asked for transport mode");
        else
            Asks(stage, responder.Name, "whether it accepts tunnel mode, though it is set to transport mode");
    }

    /// <summary>The wanted pairs that these child SAs carry whole; those stopped, cut or open are noted.</summary>
    private List<SubnetPair> SelectorsAt(SelectorTalk talk, Func<SubnetPair, int> at, string notify)
    {
        var fits = talk.With(talk.Children).ToArray();
        // The request holds other pairs that are answered: what is left out is narrowed away, and nothing is refused
        // (RFC 7296 section 2.9).
        var away = fits.Where(f => f.Fit == SelectorFit.None && talk.IsNarrowedAway(f.Pair)).ToArray();
        foreach (
            var group in fits.Except(away)
                .Where(f => f.Fit is SelectorFit.NotOffered or SelectorFit.None or SelectorFit.OnlyEqual)
                .GroupBy(f => f.Fit)
        )
        {
            ImmutableArray<SubnetPair> pairs = [.. group.Select(g => g.Pair)];
            Stops(
                Stage.Selectors,
                at(pairs[0]),
                group.Key == SelectorFit.NotOffered ? initiator.Name : responder.Name,
                group.Key == SelectorFit.NotOffered ? "not sent" : notify,
                RowOf(pairs[0]),
                new SelectorsRefused(group.Key == SelectorFit.NotOffered, group.Key == SelectorFit.OnlyEqual),
                pairs
            );
        }

        foreach (var part in fits.Where(f => f.Fit == SelectorFit.Part).Concat(away))
        {
            Stops(
                Stage.Selectors,
                at(part.Pair),
                responder.Name,
                "narrowed",
                RowOf(part.Pair),
                new SelectorsNarrowed(part.Lost),
                part.Pair
            );
            if (part.Carried.IsEmpty)
                continue;
            narrowed.Add(part.Pair);
            parts.AddRange(part.Carried);
        }

        ImmutableArray<SubnetPair> unknown = [.. fits.Where(f => f.Fit == SelectorFit.Unknown).Select(f => f.Pair)];
        if (!unknown.IsEmpty)
        {
            var blank = view.Ends.FirstOrDefault(e => !e.AnyToAny && (!e.LocalSubnets.Known || !e.RemoteSubnets.Known));
            Asks(
                Stage.Selectors,
                blank?.Name ?? responder.Name,
                blank is null ? "whether it narrows selectors that are not equal" : "its subnets",
                blank is null,
                unknown
            );
        }

        List<SubnetPair> agreed = [.. fits.Where(f => f.Fit == SelectorFit.Whole).Select(f => f.Pair)];
        SelectsElsewhere(at, notify, agreed);
        return agreed;
    }

    /// <summary>The row of the comparison in which the two ends' selectors for a pair differ.</summary>
    private RowKey RowOf(SubnetPair pair)
    {
        foreach (var owner in view.Ends)
            if (
                owner.LocalSubnets.Value is { } own
                && owner.Other.RemoteSubnets.Value is { } mirrored
                && !own
                    .Items.Where(p => p.Overlaps(pair.On(owner.Name)))
                    .ToHashSet()
                    .SetEquals(mirrored.Items.Where(p => p.Overlaps(pair.On(owner.Name))))
            )
                return RowKey.SubnetsOf(owner.Name);
        return RowKey.SubnetsOf(initiator.Name);
    }

    /// <summary>Whether the packets of standing SAs reach either end.</summary>
    private List<SubnetPair> Pass(List<SubnetPair> pairs)
    {
        if (pairs.Count + narrowed.Count == 0)
            return pairs;
        var at = Send(Message.Esp, initiator.Name);
        if (encapsulated)
            return pairs;
        if (NatTraversalUnknown())
        {
            foreach (var end in view.Ends.Where(e => !e.Get(Settings.NatTraversal).Known))
                Asks(Stage.Traffic, end.Name, "whether it uses NAT traversal", false, [.. pairs, .. narrowed]);
            narrowed.Clear();
            return [];
        }

        foreach (var end in new[] { responder, initiator })
            if (end.Uplinks.FirstOrDefault() is { } uplink && uplink.Reached(Inbound.Esp) is { } reached)
            {
                if (!reached)
                {
                    // Behind NAPT plain ESP has no port to be mapped by.
                    var off = view.Ends.Any(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never);
                    Stops(
                        Stage.Traffic,
                        at,
                        null,
                        Silence,
                        Settings.NatTraversal,
                        new PacketsLost(end.Name, off, Mapped: uplink.Nat?.Type == NatKind.Napt),
                        [.. pairs, .. narrowed]
                    );
                    narrowed.Clear();
                    return [];
                }
            }
            else if (end.Uplinks.FirstOrDefault() is { Nat: { Type: NatKind.StaticNat, Forwards: null } })
                assumed.Add((end.Name, Assumption.StaticNatForwards));
        return pairs;
    }

    /// <summary>
    /// Whether an end does not say if it uses NAT traversal where it matters: a NAT is in the way that plain ESP does
    /// not pass.
    /// </summary>
    private bool NatTraversalUnknown()
    {
        var set = view.Ends.Select(e => e.Get(Settings.NatTraversal).Value?.Value).ToArray();
        var uplinks = view.Ends.Select(e => e.Uplinks.FirstOrDefault()).OfType<Uplink>().ToArray();
        return set.Contains(null)
            && !set.Contains(NatTraversal.Never)
            && uplinks.Any(u => u.Nat is not null)
            && uplinks.Any(u => u.Reached(Inbound.Esp) == false);
    }

    /// <summary>
    /// The pairs whose child SAs are answered with the PFS that they have: each by that of its selector, where the
    /// platform has it for each.
    /// </summary>
    private HashSet<SubnetPair> Secrecy(Stage stage, int at, string notify, IEnumerable<SubnetPair> pairs)
    {
        var groups = view.PfsGroups(pairs).ToArray();
        // Without a wanted pair the ends still have what they have.
        if (groups.Length == 0)
            groups = [new(view.A.Get(Settings.Pfs).Value, view.B.Get(Settings.Pfs).Value, [])];
        var answered = new HashSet<SubnetPair>();
        foreach (var group in groups)
        {
            // What stops every pair stops it at its stage; what stops some is met pair by pair.
            var where = groups.Length == 1 ? stage : Stage.FurtherPairs;
            ImmutableArray<SubnetPair> about = groups.Length == 1 && stage == Stage.Child ? [] : group.Pairs;
            if (SecrecyOf(group, where, at, notify, about) == true)
                answered.UnionWith(group.Pairs);
        }

        return answered;
    }

    /// <summary>Whether child SAs of one PFS are answered; null when that is open.</summary>
    private bool? SecrecyOf(PfsOfPairs group, Stage stage, int at, string notify, ImmutableArray<SubnetPair> pairs)
    {
        if (group.At(initiator.Name) is not { } s || group.At(responder.Name) is not { } a)
        {
            foreach (var end in new[] { initiator, responder })
                if (group.At(end.Name) is null)
                    Asks(stage, end.Name, "its PFS setting", false, pairs);
            return null;
        }

        var fits = Choice.PfsFits(s, a, KeyExchange, version);
        if (fits == true)
            pfs ??= Choice.Pfs(s, a, KeyExchange, version).Group;
        else if (fits == false)
            Stops(stage, at, responder.Name, notify, Settings.Pfs, new PfsMismatch(s, a), pairs);
        else
            Asks(stage, null, "the DH group of the IKE SA, on which PFS depends", false, pairs);
        return fits;
    }
}

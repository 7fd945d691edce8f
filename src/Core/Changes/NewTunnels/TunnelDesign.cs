using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.NewTunnels;

/// <summary>
/// Works out a planned tunnel between two gateways: the newest IKE version and the strongest proposals that both can do
/// and no standard advises against, one key, the initiator, identities, the form, and tunnel addresses from the pools.
/// </summary>
public static partial class TunnelDesign
{
    /// <summary>Eight hours, in seconds: how long an IKE SA usually lives.</summary>
    private const long UsualIkeLife = 28_800;

    /// <summary>One hour, in seconds: how long a child SA usually lives.</summary>
    private const long UsualEspLife = 3_600;

    /// <summary>The tunnel that is worked out, or why there is none.</summary>
    /// <param name="inventory">The records to look among.</param>
    /// <param name="idea">What is wanted.</param>
    /// <param name="today">The day on which it is asked.</param>
    /// <param name="id">The id that it gets.</param>
    public static (Tunnel? Tunnel, ImmutableArray<Refusal> Refused) Of(
        Inventory inventory,
        string id,
        TunnelOutline idea,
        DateOnly today
    )
    {
        var (a, b) = (DesignedEnd.Of(inventory, idea.A), DesignedEnd.Of(inventory, idea.B));
        var protection = idea.SuiteId is null ? Protection.Of(a.Platform, b.Platform) : null;
        var refused = Refusals(inventory, idea, a, b).Concat(protection?.Refused ?? []).ToArray();
        if (refused.Length > 0)
            return (null, [.. refused.DistinctBy(r => (r.Code, r.Wrong.ToString()))]);
        if (Unreachable(a, b) is { } apart)
            return (null, [apart]);
        var form = FormOf(a.Platform, b.Platform);
        var (innerA, innerB) =
            form == TunnelForm.RouteBased ? TunnelAddresses(inventory, a.Gateway, b.Gateway, idea.Used) : (null, null);
        return Checked(
            new()
            {
                Id = id,
                Code = idea.Code,
                CustomerId = idea.CustomerId,
                Name = idea.Name,
                State = TunnelState.Planned,
                Since = today,
                Form = form,
                Agreed = Agreed(idea, a, b, form, protection),
                A = new()
                {
                    GatewayId = a.Gateway.Id,
                    Uplinks = idea.A.Uplinks,
                    PeerAddress = PeerOf(b),
                    TunnelAddress = innerA,
                },
                B = new()
                {
                    GatewayId = b.Gateway.Id,
                    Uplinks = idea.B.Uplinks,
                    PeerAddress = PeerOf(a),
                    TunnelAddress = innerB,
                },
            }
        );
    }

    /// <summary>What was given is read by the rules of the form, as a tunnel that somebody typed.</summary>
    private static (Tunnel?, ImmutableArray<Refusal>) Checked(Tunnel designed)
    {
        var reading = new Reading(IdNames.Instance);
        var form = WrittenTunnel.Form.Write(designed, IdNames.Instance);
        return WrittenTunnel.Form.Read(designed.Id, new Fields(form, "", reading)) is { } tunnel
            ? (tunnel, [])
            : (
                null,
                [
                    .. reading.Problems.Select(p => new Refusal(
                        null,
                        p.Field,
                        Sentence.Plain(p.Wrong),
                        Sentence.Plain(p.Right)
                    )),
                ]
            );
    }

    private static IEnumerable<Refusal> Refusals(Inventory inventory, TunnelOutline idea, DesignedEnd a, DesignedEnd b)
    {
        if (a.Gateway.Id == b.Gateway.Id)
            yield return new(null, "b", $"Both ends are {a.Gateway.Code}.", $"Choose two different gateways.");
        if (idea.Pairs.IsEmpty)
            yield return new(
                null,
                "pairs",
                $"No subnet pair is given.",
                $"Give at least one, such as 10.50.0.0/24 - 10.51.0.0/24."
            );
        foreach (var pair in idea.Pairs)
        {
            if (pair.A.Overlaps(pair.B))
                yield return new(
                    Findings.Addresses.SidesOverlap.Check.Code,
                    "pairs",
                    $"{pair.A} behind A overlaps {pair.B} behind B.",
                    $"Present one of them as another prefix of the same length (1:1 NAT)."
                );
            foreach (var taken in Taken(inventory, a.Gateway, EndName.A, pair.B))
                yield return taken;
            foreach (var taken in Taken(inventory, b.Gateway, EndName.B, pair.A))
                yield return taken;
        }
    }

    /// <summary>Why neither end could find the other by its address; null when one can.</summary>
    private static Refusal? Unreachable(DesignedEnd a, DesignedEnd b)
    {
        if (a.IsDynamic && b.IsDynamic)
            return new(
                Findings.Pair.PeerAddressWrong.Check.Code,
                "uplinkB",
                $"Neither {a.Gateway.Code} at {EndName.A} nor {b.Gateway.Code} at {EndName.B} has a fixed outer "
                    + $"address or a name.",
                $"Give one of them a fixed address, or a name that follows its address."
            );
        if (!a.IsDynamic && !b.IsDynamic)
            return null;
        var (unfixed, stays, name) = a.IsDynamic ? (a, b, EndName.B) : (b, a, EndName.A);
        return stays.Platform.LooksUpBy is { } by && !by.Contains(Lookup.Any)
            ? new(
                Findings.Pair.PeerAddressWrong.Check.Code,
                $"uplink{name.Other()}",
                $"The outer address of {unfixed.Gateway.Code} at {name.Other()} is dynamic, and "
                    + $"{stays.Platform.Title:w} at {name} selects a peer by "
                    + $"{Say.And(by.Select(Platform.Lookups.Of)):w} only.",
                $"Give {name.Other()} a fixed address or a name that follows it, or plan another platform at {name}."
            )
            : null;
    }

    /// <summary>
    /// What is entered as the address of a peer with a dynamic address: any; null for its recorded address.
    /// </summary>
    private static Recorded<PeerAddress>? PeerOf(DesignedEnd peer) =>
        peer.IsDynamic ? Recorded<PeerAddress>.Known(PeerAddress.Any) : null;

    /// <summary>The tunnels of a gateway that already send there.</summary>
    private static IEnumerable<Refusal> Taken(Inventory inventory, Gateway gateway, EndName end, Prefix remote) =>
        from use in inventory.On(gateway.Id)
        where use.Tunnel.End(use.End).ProtectedVrf == "main" && use.Tunnel.State != TunnelState.Planned
        from taken in use.Tunnel.Agreed.Pairs.Select(p => p.On(use.End.Other())).Distinct()
        where taken.Overlaps(remote)
        select new Refusal(
            Findings.Addresses.ClaimedTwice.Check.Code,
            "pairs",
            $"{remote} overlaps {Argument.Of(use.Tunnel, taken)} of {use.Tunnel}, which {gateway.Code} at {end} "
                + $"already has there.",
            $"Use another prefix, or another VRF on {gateway.Code}."
        );

    private static TunnelForm FormOf(Platform a, Platform b)
    {
        bool Both(TunnelForm form) => a.Forms.Contains(form) && b.Forms.Contains(form);
        return !Both(TunnelForm.RouteBased) && Both(TunnelForm.PolicyBased)
            ? TunnelForm.PolicyBased
            : TunnelForm.RouteBased;
    }

    private static Agreed Agreed(
        TunnelOutline idea,
        DesignedEnd a,
        DesignedEnd b,
        TunnelForm form,
        Protection? protection
    )
    {
        var both = SettingSet.Empty.WithKnown(
            Settings.Authentication,
            new Word<Authentication>(Authentication.PreSharedKey, WordsOf.Authentications)
        );
        if (protection is not null)
            both = protection.In(both, a.Platform, b.Platform);
        if (
            form == TunnelForm.RouteBased
            && new[] { a, b }.All(e => e.Platform.PairsPerChildren?.Contains(PairsPerChild.AnyToAny) == true)
        )
            both = both.WithKnown(
                Settings.PairsPerChild,
                new Word<PairsPerChild>(PairsPerChild.AnyToAny, WordsOf.PairsPerChild)
            );
        // Whoever can be reached at a known address answers; whoever cannot has to start.
        return new(
            idea.SuiteId,
            both,
            Starting(!b.IsDynamic),
            Starting(b.IsDynamic),
            a.Identity,
            b.Identity,
            idea.Pairs
        );
    }

    private static SettingSet Starting(bool always) =>
        SettingSet.Empty.WithKnown(
            Settings.Initiation,
            new Word<Initiation>(always ? Initiation.Always : Initiation.RespondsOnly, WordsOf.Initiations)
        );

    /// <summary>The first free /30 of the pool of either gateway; none where the pool is used up.</summary>
    private static (Recorded<TunnelAddress>? A, Recorded<TunnelAddress>? B) TunnelAddresses(
        Inventory inventory,
        Gateway a,
        Gateway b,
        IEnumerable<Prefix> used
    )
    {
        if ((a.TunnelPool ?? b.TunnelPool) is not { Family: Family.IPv4 } pool || pool.Length > 30)
            return (null, null);
        var onGateways = new[] { a, b }
            .SelectMany(g => inventory.On(g.Id).Select(o => o.Tunnel.End(o.End).InterfaceAddress?.Network))
            .OfType<Prefix>();
        var taken = new PrefixIndex<int>(used.Concat(onGateways).Distinct().Select(p => (p, 0)));
        return taken.Free(pool, 30, 1).Select(p => (Prefix?)p).FirstOrDefault() is { } free
            ? (At(free, 1), At(free, 2))
            : (null, null);

        static Recorded<TunnelAddress> At(Prefix net, int host) =>
            Recorded<TunnelAddress>.Known(new(Address.Of(net.Family, net.First.Bits + (UInt128)host), 30));
    }
}

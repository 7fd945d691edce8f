using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Changes.Strengthening;

namespace Vellumkeep.Core.Changes.NewTunnels;

/// <summary>
/// Works out a planned tunnel between two gateways: the newest IKE version and the strongest proposals that both can do
/// and no standard advises against, one key, the initiator, identities, the form, and tunnel addresses from the pools.
/// </summary>
public static class TunnelDesign
{
    /// <summary>Eight hours, in seconds: how long an IKE SA usually lives.</summary>
    private const long UsualIkeLife = 28_800;

    /// <summary>One hour, in seconds: how long a child SA usually lives.</summary>
    private const long UsualEspLife = 3_600;

    /// <summary>The tunnel that is worked out, or why there is none.</summary>
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
            form == TunnelForm.RouteBased ? TunnelAddresses(inventory, a.Gateway, b.Gateway) : (null, null);
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
                    "ADR-04",
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
                "PAIR-08",
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
                "PAIR-08",
                $"uplink{name.Other()}",
                $"The outer address of {unfixed.Gateway.Code} at {name.Other()} is dynamic, and "
                    + $"{stays.Platform.Title:w} at {name} selects a peer by "
                    + $"{Say.And(by.Select(Platform.Lookups.Of)):w} only.",
                $"Give {name.Other()} a fixed address or a name that follows it, or plan another platform at {name}."
            )
            : null;
    }

    /// <summary>What is entered as the address of a peer with a dynamic address: any; null for its recorded address.</summary>
    private static Recorded<PeerAddress>? PeerOf(DesignedEnd peer) =>
        peer.IsDynamic ? Recorded<PeerAddress>.Known(PeerAddress.Any) : null;

    /// <summary>The tunnels of a gateway that already send there.</summary>
    private static IEnumerable<Refusal> Taken(Inventory inventory, Gateway gateway, EndName end, Prefix remote) =>
        from use in inventory.On(gateway.Id)
        where use.Tunnel.End(use.End).ProtectedVrf == "main" && use.Tunnel.State != TunnelState.Planned
        from taken in use.Tunnel.Agreed.Pairs.Select(p => p.On(use.End.Other())).Distinct()
        where taken.Overlaps(remote)
        select new Refusal(
            "ADR-03",
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

    /// <summary>The first free /30 of the pool of either gateway.</summary>
    private static (Recorded<TunnelAddress>? A, Recorded<TunnelAddress>? B) TunnelAddresses(
        Inventory inventory,
        Gateway a,
        Gateway b
    )
    {
        if ((a.TunnelPool ?? b.TunnelPool) is not { Family: Family.IPv4 } pool || pool.Length > 30)
            return (null, null);
        var taken = new[] { a, b }
            .SelectMany(g => inventory.On(g.Id).Select(o => o.Tunnel.End(o.End).TunnelAddress?.Value?.Address))
            .OfType<Address>()
            .ToHashSet();
        for (var at = pool.First.Bits; at + 3 <= pool.Last.Bits; at += 4)
        {
            var (x, y) = (Address.Of(pool.Family, at + 1), Address.Of(pool.Family, at + 2));
            if (!taken.Contains(x) && !taken.Contains(y))
                return (Recorded<TunnelAddress>.Known(new(x, 30)), Recorded<TunnelAddress>.Known(new(y, 30)));
        }

        return (null, null);
    }

    /// <summary>One end of the design, with what it follows from.</summary>
    /// <param name="IsDynamic">Whether its outer address is not fixed, so that nobody can reach it there.</param>
    private sealed record DesignedEnd(Gateway Gateway, Site Site, Platform Platform, Uplink? Uplink, bool IsDynamic)
    {
        public static DesignedEnd Of(Inventory inventory, EndOutline idea)
        {
            var gateway = inventory.Get<Gateway>(idea.GatewayId);
            var uplink = gateway.Uplinks.FirstOrDefault(u => idea.Uplinks.IsEmpty || idea.Uplinks.Contains(u.Label));
            var isDynamic =
                uplink is not null
                && (uplink.Address.Value?.IsDynamic == true || uplink.Nat is { PublicAddress: null });
            return new(
                gateway,
                inventory.Get<Site>(gateway.SiteId),
                inventory.Get<Platform>(gateway.PlatformId),
                uplink,
                isDynamic
            );
        }

        /// <summary>The outer address where it is fixed; else a name of the site; null while it is pending.</summary>
        public Identity? Identity
        {
            get
            {
                if (IsDynamic)
                    return new(
                        IdentityKind.Fqdn,
                        $"{Gateway.Code.ToLowerInvariant()}.{Site.Code.ToLowerInvariant()}.example"
                    );
                return Uplink?.Outer is { } outer ? new(IdentityKind.Address, outer.ToString()) : null;
            }
        }
    }

    /// <summary>The strongest protection that two platforms can do, or what they lack.</summary>
    private sealed record Protection(IkeVersion? Version, IkeProposal? Proposal, EspProposal? Esp)
    {
        public ImmutableArray<Refusal> Refused { get; private init; } = [];

        public static Protection Of(Platform a, Platform b)
        {
            var version = WantedProtection.NewestOfBoth(a, b);
            var ike = version is { } v1 ? CommonGround.Strongest(a, b, v1) : null;
            var esp = version is { } v2 ? WantedProtection.StrongestEsp(a, b, v2) : null;
            return new(version, ike, esp)
            {
                Refused = WantedProtection.NothingInCommon(
                    version,
                    ike,
                    esp,
                    $"{a.Title:w} and {b.Title:w} have no proposal in common that is still acceptable.",
                    $"Choose a suite that both support, or first plan another platform."
                ),
            };
        }

        public SettingSet In(SettingSet both, Platform a, Platform b)
        {
            both = both.WithKnown(Settings.IkeVersions, new Several<IkeVersion>([Version!.Value]))
                .WithKnown(Settings.IkeProposals, new Several<IkeProposal>([Proposal!]))
                .WithKnown(Settings.EspProposals, new Several<EspProposal>([Esp!]))
                .WithKnown(Settings.Pfs, Pfs.Insisting(Proposal!.Group));
            if (Life(a.IkeLifetimes, b.IkeLifetimes, UsualIkeLife) is { } ike)
                both = both.WithKnown(Settings.IkeLifetime, ike);
            if (Life(a.EspLifetimes, b.EspLifetimes, UsualEspLife) is { } esp)
                both = both.WithKnown(Settings.EspLifetime, esp);
            return both;
        }

        /// <summary>The usual lifetime, as near to it as both take; null when there is none that both take.</summary>
        /// <param name="usual">In seconds.</param>
        private static Life? Life(LifeRange? a, LifeRange? b, long usual)
        {
            var least = Math.Max(a?.Least.InSeconds ?? 0, b?.Least.InSeconds ?? 0);
            var most = Math.Min(a?.Most.InSeconds ?? long.MaxValue, b?.Most.InSeconds ?? long.MaxValue);
            return least > most ? null : new Life(Lifetime.Parse($"{Math.Clamp(usual, least, most)} s").Value!);
        }
    }
}

using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Changes.Strengthening;

namespace Vellumkeep.Core.Changes.NewTunnels;

/// <summary>What each end brings, and how both are protected.</summary>
public static partial class TunnelDesign
{
    /// <summary>One end of the design, with what it follows from.</summary>
    /// <param name="Gateway">The device.</param>
    /// <param name="Site">Where it stands.</param>
    /// <param name="Platform">Its profile.</param>
    /// <param name="Uplink">The way out that it uses; null when it has none yet.</param>
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
            if (WantedProtection.UnknownIn(a, b) is { } unknown)
                return new(null, null, null) { Refused = [unknown] };
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
        /// <param name="a">What end A has.</param>
        /// <param name="b">What end B has.</param>
        /// <param name="usual">In seconds.</param>
        private static Life? Life(LifeRange? a, LifeRange? b, long usual)
        {
            var least = Math.Max(a?.Least.InSeconds ?? 0, b?.Least.InSeconds ?? 0);
            var most = Math.Min(a?.Most.InSeconds ?? long.MaxValue, b?.Most.InSeconds ?? long.MaxValue);
            return least > most ? null : new Life(Lifetime.Parse($"{Math.Clamp(usual, least, most)} s").Value!);
        }
    }
}

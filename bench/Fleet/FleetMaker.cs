using System.Collections.Immutable;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Proposals;
using Vellumkeep.Core.Quantities;
using Vellumkeep.Core.Records;

namespace Vellumkeep.Fleet;

/// <summary>How large a fleet is made.</summary>
public sealed record FleetSize(int Customers, int Gateways, int Tunnels, int Pairs)
{
    /// <summary>The size that the product is built for.</summary>
    public static readonly FleetSize Whole = new(3_000, 20_000, 50_000, 400_000);

    public FleetSize Over(int parts) =>
        new(
            Math.Max(3, Customers / parts),
            Math.Max(12, Gateways / parts),
            Math.Max(30, Tunnels / parts),
            Math.Max(240, Pairs / parts)
        );
}

/// <summary>
/// Makes a provider's fleet from a seed: customers with a hub and branches, tunnels from each branch to its hub and to
/// the provider's own hubs, eight pairs a tunnel on average, most of them sound, some with each of the usual faults.
/// The same seed and size give the same records.
/// </summary>
public static class FleetMaker
{
    private static readonly string[] Faults =
    [
        "ikeProposals",
        "espProposals",
        "pfs",
        "identity",
        "key",
        "start",
        "subnet",
        "peer",
        "lifetime",
        "rule",
    ];

    /// <param name="platforms">Profiles to choose from, by the demo's codes.</param>
    public static IEnumerable<IRecord> Make(IReadOnlyList<Platform> platforms, FleetSize size, int seed)
    {
        var random = new Random(seed);
        var large = platforms.First(p => p.Name == "alderquay-major");
        var small = platforms.First(p => p.Name == "teasel-minor");
        var old = platforms.First(p => p.Name == "brackwater-two");
        foreach (var p in platforms)
            yield return p;
        var suite = new Suite(
            "suite:house",
            "HOUSE",
            1,
            "the house's usual",
            SettingSet
                .Empty.With(Settings.IkeVersions, Recorded<Several<IkeVersion>>.Known(new([IkeVersion.IKEv2])))
                .With(
                    Settings.IkeProposals,
                    Recorded<Several<IkeProposal>>.Known(new([IkeProposal.Parse("AES-256-CBC + SHA256 + DH 14").Value]))
                )
                .With(Settings.IkeLifetime, Recorded<Life>.Known(new(Lifetime.Of(8, TimeUnit.Hours))))
                .With(
                    Settings.EspProposals,
                    Recorded<Several<EspProposal>>.Known(new([EspProposal.Parse("AES-256-CBC + SHA256").Value]))
                )
                .With(Settings.Pfs, Recorded<Pfs>.Known(Pfs.Parse("required DH 14").Value))
                .With(Settings.EspLifetime, Recorded<Life>.Known(new(Lifetime.Of(3600, TimeUnit.Seconds))))
        );
        yield return suite;

        // The provider's own hubs carry a monitoring tunnel to every tenth customer: gateways with hundreds of tunnels.
        var house = new Customer
        {
            Id = "customer:HOUSE",
            Code = "HOUSE",
            Name = "The provider",
        };
        yield return house;
        var hubSite = new Site
        {
            Id = "site:HUB",
            Code = "HUB",
            CustomerId = house.Id,
            Name = "Hub",
            GatewayIsDefaultRouter = true,
            Networks = [new(Net(10, 250, 0, 24), "monitoring", null, null, [])],
        };
        yield return hubSite;
        var hubs = Enumerable
            .Range(0, 4)
            .Select(i => Gateway($"HUB-{i}", hubSite.Id, large, Address.Of(Family.IPv4, 0xC000_0200u + (uint)i + 1)))
            .ToArray();
        foreach (var hub in hubs)
            yield return hub;

        var (gateways, tunnels, pairsLeft) = (hubs.Length, 0, size.Pairs);
        for (var c = 0; c < size.Customers && tunnels < size.Tunnels; c++)
        {
            var customer = new Customer
            {
                Id = $"customer:{c}",
                Code = $"C{c:0000}",
                Name = $"Customer {c}",
            };
            yield return customer;
            var left = size.Customers - c;
            var branches = Math.Max(1, ((size.Gateways - gateways) / left) - 1);
            // Every customer lives in the same private space: spaces meet only on shared gateways.
            var tunnelsHere = Math.Max(1, (size.Tunnels - tunnels) / left);
            var mainNets = Enumerable
                .Range(0, 8 * Math.Clamp((tunnelsHere / branches) + 1, 1, 30))
                .Select(i => Net(10, c % 200, i, 24))
                .ToArray();
            var main = new Site
            {
                Id = $"site:{c}-0",
                Code = $"C{c:0000}-MAIN",
                CustomerId = customer.Id,
                Name = $"Main {c}",
                GatewayIsDefaultRouter = true,
                Networks = [.. mainNets.Select((n, i) => new Network(n, $"lan {i}", null, null, []))],
            };
            yield return main;
            var hub = Gateway($"C{c:0000}-GW0", main.Id, large, Outer(gateways));
            gateways++;
            yield return hub;
            var sites = new List<(Gateway Gateway, Prefix Net)>();
            for (var b = 1; b <= branches; b++)
            {
                var net = Net(10, 200 + (b % 50), c % 250, 24);
                var site = new Site
                {
                    Id = $"site:{c}-{b}",
                    Code = $"C{c:0000}-B{b}",
                    CustomerId = customer.Id,
                    Name = $"Branch {b} of {c}",
                    GatewayIsDefaultRouter = true,
                    Networks = [new(net, "branch", null, null, [])],
                };
                yield return site;
                var gateway = Gateway($"C{c:0000}-GW{b}", site.Id, random.Next(20) == 0 ? old : small, Outer(gateways));
                gateways++;
                yield return gateway;
                sites.Add((gateway, net));
            }

            for (var t = 0; t < tunnelsHere; t++, tunnels++)
            {
                var pairs = Math.Clamp(pairsLeft / Math.Max(1, size.Tunnels - tunnels), 1, 8 * 64);
                pairsLeft -= pairs;
                var fault = random.Next(8) == 0 ? Faults[random.Next(Faults.Length)] : null;
                if (t == tunnelsHere - 1 && c % 10 == 0)
                    yield return Tunnel(
                        $"C{c:0000}-MON",
                        customer,
                        suite,
                        hubs[c / 10 % hubs.Length],
                        hub,
                        [new(Net(10, 250, 0, 24), mainNets[0])],
                        null,
                        $"c{c}",
                        large
                    );
                else
                {
                    var (gateway, net) = sites[t % sites.Count];
                    // A second tunnel between the same two carries the next part of the branch.
                    var round = t / sites.Count;
                    yield return Tunnel(
                        $"C{c:0000}-T{t}",
                        customer,
                        suite,
                        hub,
                        gateway,
                        [
                            .. Enumerable
                                .Range(0, pairs)
                                .Select(i => new SubnetPair(
                                    mainNets[((8 * round) + (i % 8)) % mainNets.Length],
                                    Part(net, round, i / 8)
                                )),
                        ],
                        fault,
                        "main",
                        gateway.PlatformId == old.Id ? old : small
                    );
                }
            }
        }
    }

    private static Tunnel Tunnel(
        string code,
        Customer customer,
        Suite suite,
        Gateway a,
        Gateway b,
        ImmutableArray<SubnetPair> pairs,
        string? fault,
        string protectedVrf,
        Platform at
    )
    {
        var old = !at.IkeVersions.Contains(IkeVersion.IKEv2);
        Identity Name(string of) => new(IdentityKind.Fqdn, $"{of}.{code.ToLowerInvariant()}.example");
        var both = SettingSet.Empty.With(
            Settings.Authentication,
            Recorded<Word<Authentication>>.Known(new(Authentication.PreSharedKey, WordsOf.Authentications))
        );
        if (old)
            both = both.With(Settings.IkeVersions, Recorded<Several<IkeVersion>>.Known(new([IkeVersion.IKEv1])))
                .With(
                    Settings.ExchangeMode,
                    Recorded<Word<ExchangeMode>>.Known(new(ExchangeMode.Main, WordsOf.ExchangeModes))
                )
                .With(
                    Settings.IkeProposals,
                    Recorded<Several<IkeProposal>>.Known(new([IkeProposal.Parse("AES-128-CBC + SHA1 + DH 5").Value]))
                )
                .With(
                    Settings.EspProposals,
                    Recorded<Several<EspProposal>>.Known(new([EspProposal.Parse("AES-128-CBC + SHA1").Value]))
                )
                .With(Settings.Pfs, Recorded<Pfs>.Known(Pfs.Refused));
        Recorded<Word<Initiation>> Starts(Initiation s) =>
            Recorded<Word<Initiation>>.Known(new(s, WordsOf.Initiations));
        var local = pairs.Select(p => p.B).Distinct().ToImmutableArray();
        var remote = pairs.Select(p => p.A).Distinct().ToImmutableArray();
        var set = SettingSet.Empty;
        if (fault == "ikeProposals")
            set = set.With(
                Settings.IkeProposals,
                Recorded<Several<IkeProposal>>.Known(new([IkeProposal.Parse("AES-128-CBC + SHA256 + DH 14").Value]))
            );
        if (fault == "espProposals")
            set = set.With(
                Settings.EspProposals,
                Recorded<Several<EspProposal>>.Known(new([EspProposal.Parse("AES-128-CBC + SHA1").Value]))
            );
        if (fault == "pfs")
            set = set.With(Settings.Pfs, Recorded<Pfs>.Known(Pfs.Parse("required DH 16").Value));
        if (fault == "lifetime")
            set = set.With(Settings.EspLifetime, Recorded<Life>.Known(new(Lifetime.Of(3600, TimeUnit.Minutes))));
        var seen = new Confirmation(ConfirmedHow.Read, new(2026, 10, 1), "maker");
        var plain = pairs.Select(p => new LocalRemote(p.B, p.A)).ToImmutableArray();
        var rules = pairs
            .Select(p => new Rule(RuleDirection.Both, p.B, p.A))
            .Skip(fault == "rule" ? 1 : 0)
            .ToImmutableArray();
        return new()
        {
            Id = $"tunnel:{code}",
            Code = code,
            CustomerId = customer.Id,
            Name = $"Tunnel {code}",
            State = TunnelState.InService,
            Since = new DateOnly(2026, 1, 1),
            Form = TunnelForm.PolicyBased,
            Agreed = new(
                suite.Id,
                both,
                SettingSet.Empty.With(Settings.Initiation, Starts(Initiation.RespondsOnly)),
                SettingSet.Empty.With(
                    Settings.Initiation,
                    Starts(fault == "start" ? Initiation.RespondsOnly : Initiation.Always)
                ),
                Name("a"),
                Name("b"),
                pairs
            ),
            A = new TunnelEnd
            {
                GatewayId = a.Id,
                ProtectedVrf = protectedVrf,
                KeyHeld = new([1], [1]),
                Subnets = new(remote, null, fault == "subnet" ? local[..^1] : local, null, null, seen),
            },
            B = new TunnelEnd
            {
                GatewayId = b.Id,
                KeyHeld = fault == "key" ? new([2], [2]) : new([1], [1]),
                Subnets = new(local, null, remote, null, null, seen),
                PeerAddress =
                    fault == "peer"
                        ? Recorded<PeerAddress>.Known(new(Address.Of(Family.IPv4, 0xC633_6401u), null))
                        : null,
                IdentitySent = fault == "identity" ? Recorded<Identity>.Known(Name("x")) : null,
                Set = set,
                Rules = Recorded<Several<Rule>>.Known(new(rules), seen),
                NoNat = Recorded<Several<LocalRemote>>.Known(new(plain), seen),
            },
        };
    }

    private static Gateway Gateway(string code, string site, Platform platform, Address outer) =>
        new()
        {
            Id = $"gateway:{code}",
            Code = code,
            SiteId = site,
            PlatformId = platform.Id,
            Uplinks = [new("line", Recorded<UplinkAddress>.Known(new(outer, null)), 1500, null)],
        };

    private static Prefix Net(int a, int b, int c, int length) =>
        Prefix.Around(Address.Of(Family.IPv4, ((uint)a << 24) | ((uint)b << 16) | ((uint)c << 8)), length);

    /// <summary>
    /// A /28 of a branch for each round and block, so that tunnels of one gateway do not claim each other's.
    /// </summary>
    private static Prefix Part(Prefix net, int round, int block) =>
        Prefix.Around(Address.Of(Family.IPv4, net.Network.Bits + (UInt128)((((round * 4) + block) % 16) * 16)), 28);

    /// <summary>
    /// Documentation space is too small for a fleet; the fleet's outer addresses lie in 2001:db8::/32 (RFC 3849).
    /// </summary>
    private static Address Outer(int n) => Address.Of(Family.IPv6, new UInt128(0x2001_0db8_0000_0000, (ulong)n + 1));
}

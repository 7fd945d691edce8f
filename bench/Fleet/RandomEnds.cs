using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Algorithms;
using Vellumkeep.Core.Proposals;
using Vellumkeep.Core.Quantities;
using Vellumkeep.Core.Records;

namespace Vellumkeep.Fleet;

/// <summary>
/// Tunnels whose two ends have random values, many of them absurd together: every one can be built, so every one has to
/// be rehearsed and checked.
/// </summary>
public static class RandomEnds
{
    /// <summary>An endless run of tunnels on the gateways of an inventory; the same seed gives the same run.</summary>
    public static IEnumerable<Tunnel> Tunnels(Inventory around, int seed)
    {
        var random = new Random(seed);
        var templates = around.Tunnels.ToArray();
        var gateways = around.All.OfType<Gateway>().ToArray();
        for (var n = 0; ; n++)
        {
            var t = templates[random.Next(templates.Length)];
            yield return t with
            {
                Id = "random",
                Code = "RANDOM",
                State = Pick(random, Enum.GetValues<TunnelState>()),
                Form = Pick(random, Enum.GetValues<TunnelForm>()),
                Throughput = Maybe(random) ? random.Next(1, 10_000) : null,
                Importance = Maybe(random) ? Pick(random, Enum.GetValues<Importance>()) : null,
                Fallback = Maybe(random) ? new("ORDER", random.Next(1, 4)) : null,
                Agreed = t.Agreed with
                {
                    Both = Set(random),
                    OnlyA = Set(random),
                    Pairs = [.. Enumerable.Range(0, random.Next(0, 5)).Select(_ => Pair(random)).Distinct()],
                    IdentityA = Maybe(random) ? Name(random) : null,
                },
                A = End(random, t.A, gateways),
                B = End(random, t.B, gateways),
            };
        }
    }

    private static TunnelEnd End(Random r, TunnelEnd end, Gateway[] gateways)
    {
        var gateway = Maybe(r) ? Pick(r, gateways) : gateways.First(g => g.Id == end.GatewayId);
        return end with
        {
            GatewayId = gateway.Id,
            Uplinks = Maybe(r) ? [] : [Pick(r, gateway.Uplinks.ToArray()).Label],
            Set = Set(r),
            KeyHeld = Maybe(r) ? new([.. Versions(r)], [.. Versions(r)]) : null,
            Subnets = r.Next(4) switch
            {
                0 => null,
                1 => new(
                    null,
                    null,
                    null,
                    null,
                    [.. Enumerable.Range(0, r.Next(3)).Select(_ => new LocalRemote(Net(r), Net(r)))],
                    null
                ),
                _ => new([.. Nets(r)], null, [.. Nets(r)], null, null, null),
            },
            PeerAddress = r.Next(4) switch
            {
                0 => null,
                1 => Recorded<PeerAddress>.Known(PeerAddress.Any),
                2 => Recorded<PeerAddress>.NotYet(new(null, null)),
                _ => Recorded<PeerAddress>.Known(Maybe(r) ? new(Host(r), null) : new(null, "peer.brindle.example")),
            },
            IdentitySent = Maybe(r) ? Recorded<Identity>.Known(Name(r)) : null,
            IdentityExpected = Maybe(r) ? Recorded<Identity>.Known(Name(r)) : null,
            Rules = Maybe(r)
                ? null
                : Recorded<Several<Rule>>.Known(
                    new([
                        .. Enumerable
                            .Range(0, r.Next(3))
                            .Select(_ => new Rule(Pick(r, Enum.GetValues<RuleDirection>()), Net(r), Net(r))),
                    ])
                ),
            Routes = Maybe(r)
                ? null
                : Recorded<Several<Route>>.Known(
                    new([.. Enumerable.Range(0, r.Next(3)).Select(_ => new Route(Net(r), Maybe(r)))])
                ),
            KeyFor =
                Maybe(r) ? null
                : Maybe(r) ? PeerAddress.Any
                : new(Host(r), null),
            TunnelAddress = Maybe(r) ? null : Recorded<TunnelAddress>.Known(new(Host(r), r.Next(8, 33))),
            Certificate = Maybe(r)
                ? null
                : new(
                    [.. Enumerable.Range(0, r.Next(3)).Select(_ => Name(r))],
                    "ca",
                    Day(r),
                    Day(r),
                    Maybe(r) ? null : Maybe(r)
                ),
            Anchors =
                Maybe(r) ? null
                : Maybe(r) ? []
                : ["ca"],
            Routing = Maybe(r)
                ? null
                : new("BGP", "1", r.Next(3).ToString(), Host(r), [.. Nets(r)], [.. Nets(r)], null),
            ProposalsFrom = Maybe(r) ? null : "lar-strict",
        };
    }

    private static SettingSet Set(Random r)
    {
        var set = SettingSet.Empty;
        void Put<T>(Setting<T> setting, Func<T> make)
            where T : class
        {
            if (r.Next(3) == 0)
                set = set.With(
                    setting,
                    r.Next(8) switch
                    {
                        0 => Recorded<T>.NotYet(new("somebody", Day(r))),
                        1 => Recorded<T>.ForNow(make(), new(make(), "bring-up", Day(r) ?? new(2026, 1, 1))),
                        _ => Recorded<T>.Known(make()),
                    }
                );
        }

        Word<T> W<T>(Words<T> words)
            where T : struct, Enum => new(Pick(r, Enum.GetValues<T>()), words);
        Put(Settings.IkeVersions, () => new(
                r.Next(3) switch
                {
                    0 => [IkeVersion.IKEv1],
                    1 => [IkeVersion.IKEv2],
                    _ => [IkeVersion.IKEv2, IkeVersion.IKEv1],
                }
            ));
        Put(Settings.ExchangeMode, () => W(WordsOf.ExchangeModes));
        Put(Settings.IkeProposals, () => new([.. Enumerable.Range(0, r.Next(1, 4)).Select(_ => Ike(r))]));
        Put(Settings.EspProposals, () => new([.. Enumerable.Range(0, r.Next(1, 4)).Select(_ => Esp(r))]));
        Put(Settings.IkeLifetime, () => Life(r));
        Put(Settings.EspLifetime, () => Life(r));
        Put(Settings.Reauthentication, () => new Every(Maybe(r) ? null : Time(r)));
        Put(Settings.Pfs, () => Pfs.Parse(
                r.Next(4) switch
                {
                    0 => "refused",
                    1 => "required DH of IKE",
                    2 => $"optional {Group(r)}",
                    _ => $"required {Group(r)}, {Group(r)}",
                }
            ).Value);
        Put(Settings.Authentication, () => W(WordsOf.Authentications));
        Put(Settings.PairsPerChild, () => W(WordsOf.PairsPerChild));
        Put(Settings.Initiation, () => W(WordsOf.Initiations));
        Put(Settings.NatTraversal, () => W(WordsOf.NatTraversals));
        Put(Settings.ExtendedSequence, () => W(WordsOf.Extendeds));
        Put(Settings.Dpd, () =>
            Maybe(r) ? Dpd.Off : new(Time(r), r.Next(1, 9), Pick(r, Enum.GetValues<DeadPeerAction>()))
        );
        Put(Settings.Keepalive, () => Maybe(r) ? KeepaliveTarget.None : new(new PeerAddress(Host(r), null)));
        Put(Settings.EspMode, () => W(WordsOf.EspModes));
        Put(Settings.InterfaceEncapsulation, () => W(WordsOf.InterfaceEncapsulations));
        Put(Settings.PeerAuthentication, () => W(WordsOf.Authentications));
        Put(Settings.Signatures, () => new Several<Word<SignatureMethod>>([W(WordsOf.SignatureMethods)]));
        Put(Settings.NatKeepalive, () => Maybe(r) ? Every.Off : new(Time(r)));
        Put(Settings.MssClamp, () => new Clamp(Maybe(r) ? null : r.Next(500, 1500)));
        return set;
    }

    private static bool Maybe(Random r) => r.Next(2) == 0;

    private static T Pick<T>(Random r, T[] from) => from[r.Next(from.Length)];

    private static IEnumerable<int> Versions(Random r) =>
        Enumerable.Range(0, r.Next(3)).Select(_ => r.Next(1, 4)).Distinct();

    private static DateOnly? Day(Random r) => Maybe(r) ? null : new DateOnly(2026, 1, 1).AddDays(r.Next(700));

    private static Lifetime Time(Random r) =>
        Lifetime.Of(
            r.Next(1, 5000),
            Pick(r, Enum.GetValues<TimeUnit>()) is var unit && unit == TimeUnit.Days ? TimeUnit.Hours : unit
        );

    private static Life Life(Random r) =>
        new(
            Time(r),
            Maybe(r) ? null : DataAmount.Parse($"{r.Next(1, 9999)} MB").Value,
            r.Next(3) switch
            {
                0 => null,
                1 => new Margin(r.Next(0, 91), null),
                _ => new Margin(null, Time(r)),
            }
        );

    private static DhGroup Group(Random r) => AlgorithmTable.Groups[r.Next(AlgorithmTable.Groups.Length)];

    private static IkeProposal Ike(Random r)
    {
        // The last is NULL, which no IKE SA can have.
        var e = AlgorithmTable.Encryptions[r.Next(AlgorithmTable.Encryptions.Length - 1)];
        return IkeProposal
            .Of(
                e,
                e.Combined ? null : AlgorithmTable.Integrities[r.Next(AlgorithmTable.Integrities.Length)],
                AlgorithmTable.Prfs[r.Next(AlgorithmTable.Prfs.Length)],
                Group(r)
            )
            .Value;
    }

    private static EspProposal Esp(Random r)
    {
        var e = AlgorithmTable.Encryptions[r.Next(AlgorithmTable.Encryptions.Length)];
        return EspProposal
            .Of(e, e.Combined ? null : AlgorithmTable.Integrities[r.Next(AlgorithmTable.Integrities.Length)])
            .Value;
    }

    private static Identity Name(Random r) =>
        Identity
            .Parse(
                r.Next(5) switch
                {
                    0 => "address 10.0.0.1",
                    1 => "address 203.0.113.9",
                    2 => "fqdn a.brindle.example",
                    3 => "fqdn A.brindle.example",
                    _ => "fqdn \"a.brindle.example \"",
                }
            )
            .Value;

    private static Address Host(Random r) =>
        r.Next(6) == 0
            ? Address.Of(Family.IPv6, new UInt128(0x2001_0db8_0000_0000, (ulong)r.Next()))
            : Address.Of(Family.IPv4, 0x0a00_0000u + (uint)r.Next(1 << 10));

    private static Prefix Net(Random r) => Prefix.Around(Host(r), r.Next(0, 33));

    private static IEnumerable<Prefix> Nets(Random r) => Enumerable.Range(0, r.Next(4)).Select(_ => Net(r));

    private static SubnetPair Pair(Random r)
    {
        var a = Net(r);
        while (true)
        {
            var b = Net(r);
            if (b.Family == a.Family)
                return new(a, b);
        }
    }
}

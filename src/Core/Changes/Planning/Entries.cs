using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// Everything that has to stand on a device for one end of a tunnel. Two lists of it, before and after, are what a plan
/// is made of.
/// </summary>
public static partial class Entries
{
    private static readonly ImmutableHashSet<string> Protection =
    [
        Settings.IkeVersions.Key,
        Settings.ExchangeMode.Key,
        Settings.IkeProposals.Key,
        Settings.IkeLifetime.Key,
        Settings.Reauthentication.Key,
        Settings.EspProposals.Key,
        Settings.Pfs.Key,
        Settings.EspLifetime.Key,
        Settings.ExtendedSequence.Key,
        Settings.EspMode.Key,
        Settings.Authentication.Key,
        Settings.PeerAuthentication.Key,
        Settings.Signatures.Key,
    ];

    /// <summary>Whether a setting is part of how the tunnel is protected.</summary>
    internal static bool Protects(Setting setting) => Protection.Contains(setting.Key);

    /// <summary>
    /// What is entered on an end now: nothing while the tunnel is only planned, and nothing after it was retired.
    /// </summary>
    public static ImmutableArray<Entry> Of(EndView end) =>
        end.Tunnel.Tunnel.State is TunnelState.Planned or TunnelState.Retired ? [] : [.. All(end).OrderBy(e => e.Work)];

    private static IEnumerable<Entry> All(EndView end) =>
        [
            .. Peer(end),
            .. Keys(end),
            .. Settings.All.Select(s => OfSetting(end, s)).OfType<Entry>(),
            .. Selectors(end),
            .. Rules(end),
            .. NoNat(end),
            .. Routes(end),
            .. Interface(end),
            .. Routing(end),
        ];

    private static EndPaths Paths(EndView end) => TunnelPaths.Of(end.Name);

    private static Place At(EndView end, FieldPath path) => Place.On(end.Tunnel.Tunnel, path);

    private static IEnumerable<Entry> Peer(EndView end)
    {
        var paths = Paths(end);
        if (end.PeerAddress is { } remote && (remote.Known || remote.Pending is not null))
            yield return new(
                Work.Peer,
                "peer",
                "peer address",
                (end.End.PeerAddress?.Value ?? remote.Value)?.ToString() ?? "pending"
            )
            {
                At = At(end, paths.PeerAddress),
                Pending = remote.Known ? null : PendingPeer(end),
                OnlyUntil = UntilOf(remote),
            };
        if (!end.End.FurtherPeers.IsEmpty)
            yield return new(Work.Peer, "further", "then, in this order", List(end.End.FurtherPeers))
            {
                At = At(end, paths.FurtherPeers),
            };
        // What the platform does automatically is not entered.
        if (end.IdentitySent is { Known: true, Source: not Source.Default } sent)
            yield return new(Work.Peer, Entry.Sends, "local identity", sent.Value!.ToString())
            {
                At = At(end, paths.IdentitySent),
                OnlyUntil = UntilOf(sent),
            };
        if (end.IdentityExpected is { Known: true, Source: not Source.Default } expected)
            yield return new(Work.Peer, Entry.Expects, "remote identity", expected.Value!.ToString())
            {
                At = At(end, paths.IdentityExpected),
                OnlyUntil = UntilOf(expected),
            };
        if (end.End.KeyFor is { } keyFor)
            yield return new(Work.Peer, Entry.KeyFor, "PSK is for", keyFor.ToString()) { At = At(end, paths.KeyFor) };
    }

    private static PendingAt PendingPeer(EndView end)
    {
        var other = end.Other;
        if (end.End.PeerAddress is { Value: null } local)
            return new(
                At(end, Paths(end).PeerAddress),
                $"peer address at {end.Name}",
                local.Pending?.WhoKnows,
                local.Pending?.By
            );
        var uplink = other.Uplinks.First();
        return new(
            Place.On(other.Gateway, GatewayPaths.Address(uplink.Label)),
            $"outer address of {other.Gateway.Code} {uplink.Label}",
            uplink.Address.Pending?.WhoKnows,
            uplink.Address.Pending?.By
        );
    }

    private static IEnumerable<Entry> Keys(EndView end)
    {
        var paths = Paths(end);
        var method = end.Get(Settings.Authentication).Value?.Value;
        var theirs = end.Get(Settings.PeerAuthentication).Value?.Value ?? method;
        var byKey = method != Authentication.Certificate || theirs != Authentication.Certificate;
        if (byKey && end.End.KeyHeld is { } held)
        {
            Entry Key(string key, string label, KeyHeld versions, string place) =>
                new(Work.Key, key, label, versions.ToString())
                {
                    At = At(end, paths.KeyHeld.Key(place)),
                    Versions = [.. versions.Send.Union(versions.Receive)],
                };
            if (held.OneForBoth)
                yield return Key("key", "pre-shared key", held, "both");
            else
            {
                yield return Key("key-send", "key for sending", new(held.Send, held.Send), "send");
                yield return Key("key-receive", "key for receiving", new(held.Receive, held.Receive), "receive");
            }
        }

        if (method == Authentication.Certificate && end.End.Certificate is { } certificate)
            yield return new(Work.Key, "certificate", "certificate", $"{List(certificate.Names)}, CA {certificate.Ca}")
            {
                At = At(end, paths.Certificate),
                Parts =
                [
                    new(List(certificate.Names), At(end, paths.Certificate.Key("names"))),
                    new(certificate.Ca, At(end, paths.Certificate.Key("ca"))),
                ],
            };
        if (theirs == Authentication.Certificate && end.End.Anchors is { } anchors)
            yield return new(Work.Key, "anchors", "trust anchors", List(anchors)) { At = At(end, paths.Anchors) };
    }

    private static Entry? OfSetting(EndView end, Setting setting)
    {
        var resolved = setting.On(end);
        if (resolved.Any is null || resolved.Source is not (Source.Set or Source.Agreed))
            return null;
        // Where there is only one way, nothing is entered; and main or aggressive is a word of IKEv1.
        if (setting == Settings.PairsPerChild && end.Platform.PairsPerChildren is { Length: 1 })
            return null;
        if (
            setting == Settings.ExchangeMode
            && end.Get(Settings.IkeVersions).Value?.Items.Contains(IkeVersion.IKEv1) == false
        )
            return null;
        var text =
            resolved.Any is Life life ? InUnit(life, end.Platform)
            : resolved.Any is Several<IkeVersion> versions
                ? string.Join(", ", versions.Items.Select(WordsOf.IkeVersions.Of))
            : resolved.Any.ToString()!;
        if (resolved.Source == Source.Set && resolved.Via is { } held)
            text = $"shared proposals {held}: {text}";
        return new(Protection.Contains(setting.Key) ? Work.Proposals : Work.Options, setting.Key, setting.Label, text)
        {
            At = At(end, Paths(end).Setting(setting)),
            OnlyUntil = UntilOf(resolved),
        };
    }

    private static string? UntilOf(IResolved value) =>
        value.Until is { } until ? $"temporary: {until.Final} by {Scalars.Write(until.Deadline)}" : null;

    /// <summary>A lifetime as it is typed on a platform: in its unit, where it is a whole number of it.</summary>
    public static string InUnit(Life life, Platform platform)
    {
        var time = platform.LifetimeUnit is { } unit && life.Time.In(unit) is { } typed ? typed : life.Time;
        return new Life(time, life.Data, life.Margin).ToString();
    }

    private static IEnumerable<Entry> Selectors(EndView end)
    {
        if (end.AnyToAny)
            return [];
        if (end.End.Subnets?.Pairs is { } pairs)
            return pairs.Select(p => SelectorPair(end, p, recorded: true));
        if (end.End.Subnets is null && end.Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.One)
            return Wanted(end).Select(p => SelectorPair(end, p, recorded: false));
        return new[] { SelectorList(end, local: true), SelectorList(end, local: false) }.OfType<Entry>();
    }

    private static Entry SelectorPair(EndView end, LocalRemote pair, bool recorded)
    {
        var path = Paths(end).SubnetPair(pair);
        return new(
            Work.Selectors,
            $"pair {pair.Local} - {pair.Remote}{(pair.Only is { } key ? $" {key.AtEnd}" : "")}",
            "local, remote",
            $"{pair.Local}, {pair.Remote}{(pair.Only is { } only ? $", {only.AtEnd}" : "")}"
                + $"{(pair.Pfs is { } pfs ? $", PFS {pfs}" : "")}"
        )
        {
            At = recorded ? At(end, path) : null,
            Parts = recorded ? Sides(end, path, pair) : [],
            Pair = pair,
        };
    }

    private static Entry? SelectorList(EndView end, bool local)
    {
        var resolved = local ? end.LocalSubnets : end.RemoteSubnets;
        if (!resolved.Known)
            return null;
        var subnets = end.End.Subnets;
        var held = local ? subnets?.LocalFrom : subnets?.RemoteFrom;
        var written = (local ? subnets?.Local : subnets?.Remote) is not null;
        var list = local ? Paths(end).LocalSubnets : Paths(end).RemoteSubnets;
        Place? at =
            held is not null ? Place.On(end.Gateway, GatewayPaths.SharedEntry(held).Key("members"))
            : written ? At(end, list)
            : null;
        var prefixes = resolved.Value!.Items;
        return new(
            Work.Selectors,
            local ? Entry.LocalSubnets : "remote",
            local ? "local subnets" : "remote subnets",
            held is null ? List(prefixes) : $"shared list {held}: {List(prefixes)}"
        )
        {
            At = at,
            Parts = Items(at, prefixes),
            Prefixes = prefixes,
            SharedList = held,
        };
    }

    private static LocalRemote[] Wanted(EndView end) => [.. end.Tunnel.Tunnel.Agreed.Pairs.Select(p => p.At(end.Name))];

    /// <summary>The own and the peer side of what stands at a place.</summary>
    private static ImmutableArray<ValuePart> Sides(EndView end, FieldPath path, LocalRemote pair) =>
        [
            new(pair.Local.ToString(), At(end, path.Key("local"))),
            new(pair.Remote.ToString(), At(end, path.Key("remote"))),
        ];

    /// <summary>The prefixes of the list that stands at a place.</summary>
    private static ImmutableArray<ValuePart> Items(Place? at, IEnumerable<Prefix> prefixes) =>
        at is null
            ? []
            : [.. prefixes.Select(p => new ValuePart(p.ToString(), at with { Path = at.Path.Item(p.ToString()) }))];

    private static string List<T>(IEnumerable<T> items) => string.Join(", ", items);
}

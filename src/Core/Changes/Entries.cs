using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes;

/// <summary>
/// What kind of work on a device an entry belongs to, in the order in which the work is safe: what stops nothing first,
/// what carries traffic last.
/// </summary>
public enum Work
{
    Rules,
    NoTranslation,
    Discard,
    Interface,
    Proposals,
    Peer,
    Key,
    Options,
    Selectors,
    Routing,
    Routes,
}

/// <summary>The order of work on one end; what stands together is one step.</summary>
internal static class Order
{
    private static readonly Work[][] Entering = [.. Enum.GetValues<Work>().Select(w => new[] { w })];

    // What is taken out is taken out the other way round, what carries traffic first.
    private static readonly Work[][] TakingOut = [.. Entering.Reverse()];

    // Of a tunnel that goes, the tunnel itself goes in one piece.
    private static readonly Work[][] Going =
    [
        [Work.Routes],
        [Work.Selectors, Work.Routing, Work.Options, Work.Key, Work.Peer, Work.Proposals, Work.Interface],
        [Work.Discard],
        [Work.NoTranslation],
        [Work.Rules],
    ];

    public static Work[][] Of(bool onlyTaken, bool everythingGoes) =>
        everythingGoes ? Going
        : onlyTaken ? TakingOut
        : Entering;
}

/// <summary>
/// One thing that is entered on the device of an end for a tunnel, spelled as the platform there takes it.
/// </summary>
/// <param name="Key">What identifies it on that end: the same key with another text is the same thing altered.</param>
/// <param name="Pending">The path and the record of the value that it waits for; null when it can be entered.</param>
/// <param name="Path">Where the inventory keeps it, on the tunnel.</param>
public sealed record Entry(
    Work Work,
    string Key,
    string Label,
    string Text,
    string? Path = null,
    PendingAt? Pending = null
);

/// <summary>A value that nobody knows yet: where it will be recorded, who will know it, and by when.</summary>
public sealed record PendingAt(
    string RecordId,
    RecordKind Kind,
    string Path,
    string Label,
    string? WhoKnows,
    DateOnly? By
);

/// <summary>
/// Everything that has to stand on a device for one end of a tunnel. Two lists of it, before and after, are what a plan
/// is made of.
/// </summary>
public static class Entries
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
        Settings.Authentication.Key,
    ];

    internal static bool Protects(string key) => Protection.Contains(key);

    /// <summary>
    /// What is entered on an end now: nothing while the tunnel is only planned, and nothing after it was retired.
    /// </summary>
    public static ImmutableArray<Entry> Of(EndView end) =>
        end.Tunnel.Tunnel.State is TunnelState.Planned or TunnelState.Retired ? [] : [.. All(end).OrderBy(e => e.Work)];

    private static IEnumerable<Entry> All(EndView end)
    {
        var e = end.Name.Key();
        var tunnel = end.Tunnel.Tunnel;
        if (end.PeerAddress is { } peer && (peer.Known || peer.Pending is not null))
            yield return new(
                Work.Peer,
                "peer",
                "peer address",
                peer.Value?.ToString() ?? "pending",
                $"{e}.peerAddress",
                peer.Known ? null : PendingPeer(end)
            );
        // What the platform does by itself is not entered.
        if (end.IdentitySent is { Known: true, Source: not Source.Default } sent)
            yield return new(Work.Peer, "sends", "own identity", sent.Value!.ToString(), $"{e}.identitySent");
        if (end.IdentityExpected is { Known: true, Source: not Source.Default } expected)
            yield return new(
                Work.Peer,
                "expects",
                "identity of the peer",
                expected.Value!.ToString(),
                $"{e}.identityExpected"
            );
        if (end.End.KeyFor is { } keyFor)
            yield return new(Work.Peer, "keyFor", "the key is for", keyFor.ToString(), $"{e}.keyFor");
        foreach (var entry in Keys(end))
            yield return entry;
        foreach (var setting in Settings.All)
            if (OfSetting(end, setting) is { } entry)
                yield return entry;
        foreach (var entry in Selectors(end))
            yield return entry;
        foreach (var entry in Around(end))
            yield return entry;
        if (end.End.TunnelAddress is { } inner)
            yield return new(
                Work.Interface,
                "interface",
                "tunnel address",
                inner.Value?.ToString() ?? "pending",
                $"{e}.tunnelAddress",
                inner.Value is null
                    ? new(
                        tunnel.Id,
                        RecordKind.Tunnel,
                        $"{e}.tunnelAddress",
                        $"tunnel address of {tunnel.Code} at {end.Name}",
                        inner.Pending?.WhoKnows,
                        inner.Pending?.By
                    )
                    : null
            );
        if (end.End.Routing is { } routing)
        {
            yield return new(
                Work.Routing,
                "routing",
                routing.Protocol,
                $"own {routing.Own ?? "not said"}, neighbour {routing.PeerAddress?.ToString() ?? "not said"} in {routing.Peer ?? "not said"}",
                $"{e}.routing"
            );
            yield return new(Work.Routing, "announces", "announces", List(routing.Announces), $"{e}.routing");
            yield return new(Work.Routing, "accepts", "accepts only", List(routing.Accepts), $"{e}.routing");
            if (routing.Hold is { } hold)
                yield return new(Work.Routing, "hold", "hold time", hold.ToString(), $"{e}.routing");
        }
    }

    private static PendingAt PendingPeer(EndView end)
    {
        var other = end.Other;
        if (end.End.PeerAddress is { Value: null } own)
            return new(
                end.Tunnel.Tunnel.Id,
                RecordKind.Tunnel,
                $"{end.Name.Key()}.peerAddress",
                $"peer address at {end.Name}",
                own.Pending?.WhoKnows,
                own.Pending?.By
            );
        var uplink = other.Uplinks.First();
        return new(
            other.Gateway.Id,
            RecordKind.Gateway,
            $"uplinks[{uplink.Label}].address",
            $"outer address of {other.Gateway.Code} {uplink.Label}",
            uplink.Address.Pending?.WhoKnows,
            uplink.Address.Pending?.By
        );
    }

    private static IEnumerable<Entry> Keys(EndView end)
    {
        var e = end.Name.Key();
        var method = end.Get(Settings.Authentication).Value?.Value;
        if (method != Authentication.Certificate && end.End.KeyHeld is { } held)
        {
            if (held.OneForBoth)
                yield return new(Work.Key, "key", "pre-shared key", held.ToString(), $"{e}.keyHeld");
            else
            {
                yield return new(
                    Work.Key,
                    "key-send",
                    "key for sending",
                    new KeyHeld(held.Send, held.Send).ToString(),
                    $"{e}.keyHeld"
                );
                yield return new(
                    Work.Key,
                    "key-receive",
                    "key for receiving",
                    new KeyHeld(held.Receive, held.Receive).ToString(),
                    $"{e}.keyHeld"
                );
            }
        }

        if (method == Authentication.Certificate && end.End.Certificate is { } certificate)
            yield return new(
                Work.Key,
                "certificate",
                "certificate",
                $"{List(certificate.Names)}, issued by {certificate.Issuer}",
                $"{e}.certificate"
            );
        if (method == Authentication.Certificate && end.End.Anchors is { } anchors)
            yield return new(Work.Key, "anchors", "anchors", List(anchors), $"{e}.anchors");
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
            text = $"the set {held}: {text}";
        return new(
            Protection.Contains(setting.Key) ? Work.Proposals : Work.Options,
            setting.Key,
            setting.Label,
            text,
            $"{end.Name.Key()}.set.{setting.Key}"
        );
    }

    /// <summary>A lifetime as it is typed on a platform: in its unit, where it is a whole number of it.</summary>
    public static string InUnit(Life life, Platform platform)
    {
        var time = platform.LifetimeUnit is { } unit && life.Time.In(unit) is { } typed ? typed : life.Time;
        return new Life(time, life.Data, life.Margin).ToString();
    }

    private static IEnumerable<Entry> Selectors(EndView end)
    {
        var (e, other) = (end.Name.Key(), end.Name.Other());
        if (end.AnyToAny)
            yield break;
        var subnets = end.End.Subnets;
        if (subnets?.Pairs is { } pairs)
        {
            foreach (var p in pairs)
                yield return new(
                    Work.Selectors,
                    $"pair {p.Own} - {p.Peer}",
                    "own, peer",
                    $"{p.Own}, {p.Peer}",
                    $"{e}.subnets"
                );
        }
        else if (subnets is null && end.Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.One)
        {
            foreach (var p in end.Tunnel.Tunnel.Agreed.Pairs)
                yield return new(
                    Work.Selectors,
                    $"pair {p.On(end.Name)} - {p.On(other)}",
                    "own, peer",
                    $"{p.On(end.Name)}, {p.On(other)}",
                    $"{e}.subnets"
                );
        }
        else
        {
            if (end.OwnSubnets is { Known: true } own)
                yield return new(
                    Work.Selectors,
                    "own",
                    "own subnets",
                    subnets?.OwnFrom is { } from
                        ? $"the list {from}: {List(own.Value!.Items)}"
                        : List(own.Value!.Items),
                    $"{e}.subnets"
                );
            if (end.PeerSubnets is { Known: true } peers)
                yield return new(
                    Work.Selectors,
                    "theirs",
                    "peer subnets",
                    subnets?.PeerFrom is { } from
                        ? $"the list {from}: {List(peers.Value!.Items)}"
                        : List(peers.Value!.Items),
                    $"{e}.subnets"
                );
        }
    }

    /// <summary>
    /// What has to stand beside the tunnel: as recorded; as the wanted pairs need it where nobody recorded it and the
    /// platform makes it by hand.
    /// </summary>
    private static IEnumerable<Entry> Around(EndView end)
    {
        var (e, other) = (end.Name.Key(), end.Name.Other());
        var wanted = end.Tunnel.Tunnel.Agreed.Pairs.Select(p => (Own: p.On(end.Name), Peer: p.On(other))).ToArray();
        var rules = end.End.Rules?.Value?.Items.Select(r => (r.Way, r.Own, r.Peer))
            ?? (
                end.Platform.MadeByHand("rules") == true
                    ? wanted.SelectMany(w => new[] { (RuleWay.In, w.Own, w.Peer), (RuleWay.Out, w.Own, w.Peer) })
                    : []
            );
        foreach (var (way, own, peer) in rules)
            yield return new(
                Work.Rules,
                $"rule {Rule.Ways.Of(way)} {own} - {peer}",
                way switch
                {
                    RuleWay.In => "let in",
                    RuleWay.Out => "let out",
                    _ => "let both ways",
                },
                way == RuleWay.In ? $"from {peer} to {own}, any service"
                    : way == RuleWay.Out ? $"from {own} to {peer}, any service"
                    : $"between {own} and {peer}, any service",
                $"{e}.rules"
            );
        var plain = end.End.NoTranslation?.Value?.Items.Select(p => (p.Own, p.Peer))
            ?? (end.Platform.MadeByHand("no-translation") == true ? wanted : []);
        foreach (var (own, peer) in plain)
            yield return new(
                Work.NoTranslation,
                $"untranslated {own} - {peer}",
                "leave untranslated",
                $"{own} to {peer}",
                $"{e}.noTranslation"
            );
        var routed = end.Tunnel.Tunnel.Form == TunnelForm.RouteBased;
        // Who learns its routes from a neighbour gets none by hand beside them.
        var byHand = new[] { false, true }
            .Where(d =>
                end.Platform.MadeByHand(d ? "discard route" : "route") == true && (d || end.End.Routing is null)
            )
            .ToArray();
        var routes = end.End.Routes?.Value?.Items.Select(r => (r.To, r.Discard))
            ?? (
                routed
                    ? wanted.Select(w => w.Peer).Distinct().SelectMany(p => byHand.Select(d => (To: p, Discard: d)))
                    : []
            );
        foreach (var (to, discard) in routes)
            yield return discard
                ? new(Work.Discard, $"discard {to}", "discard route to", $"{to}", $"{e}.routes")
                : new(Work.Routes, $"route {to}", "route into the tunnel to", $"{to}", $"{e}.routes");
    }

    private static string List<T>(IEnumerable<T> items) => string.Join(", ", items);
}

/// <summary>What is entered on an end that was not, or not so; and what is taken out.</summary>
public sealed record EndDifference(ImmutableArray<(Entry? Before, Entry After)> Enter, ImmutableArray<Entry> TakeOut)
{
    public static EndDifference Between(IEnumerable<Entry> before, IEnumerable<Entry> after)
    {
        var was = before.DistinctBy(e => e.Key).ToDictionary(e => e.Key);
        var then = after.DistinctBy(e => e.Key).ToArray();
        var keys = then.Select(e => e.Key).ToHashSet();
        return new(
            [
                .. then.Where(e => !was.TryGetValue(e.Key, out var b) || b.Text != e.Text)
                    .Select(e => (was.GetValueOrDefault(e.Key), e)),
            ],
            [.. was.Values.Where(b => !keys.Contains(b.Key)).OrderBy(b => b.Work)]
        );
    }

    public bool IsEmpty => Enter.IsEmpty && TakeOut.IsEmpty;
}

namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a tunnel, as settled keepfiles have it.</summary>
public static class WrittenTunnel
{
    public static Tunnel? Read(string id, Fields f)
    {
        var code = f.Code("code", "code, such as BRI-ASHLOW");
        var customer = f.Reference("customer", "code of the customer it belongs to", RecordKind.Customer, true);
        var name = f.Text("name", "name");
        var purpose = f.OptionalText("purpose", "what it is for");
        var state = f.Word("state", "planned, building, in service, suspended or retired", WordsOf.States, true);
        var since = f.Value("since", "date since which it is in that state", t =>
            Scalars.Date(t).To(d => (DateOnly?)d)
        );
        var form = f.Word("form", "policy-based or route-based", WordsOf.Forms, true);
        var tags = f.Values("tags", "words to find it by", t =>
            t.Length <= 40
                ? Parsed<string>.Of(t)
                : Parsed<string>.Fail($"'{Typed.Short(t)}' is too long", "at most 40 characters")
        );
        var contacts = f.Maps("contacts", "people at the other party", c =>
        {
            var who = c.Text("name", "name");
            var role = c.OptionalText("role", "what they do");
            var reach = c.OptionalText("reach", "how to reach them");
            return c.Build(() => new Contact(who, role, reach));
        });
        var importance = f.Word("importance", "low, normal or high", WordsOf.Importances);
        var throughput = f.Value("throughput", "expected Mbit/s, 1 to 400000", t =>
            Scalars.Number(t, 1, 400_000, "a throughput in Mbit/s").To(n => (int?)n)
        );
        var fallback = f.Map("fallback", "place in a fallback order: {order: MOS-STORE, place: 1}", o =>
        {
            var order = o.Code("order", "name of the order");
            var place = o.Value(
                "place",
                "1 carries the traffic first",
                t => Scalars.Number(t, 1, 99, "a place").To(n => (int?)n),
                true
            );
            return o.Build(() => new FallbackPlace(order, place!.Value));
        });
        var agreed = f.Map("agreed", "what both parties agreed", ReadAgreed, true);
        var a = f.Map("a", "end A", ReadEnd, true);
        var b = f.Map("b", "end B", ReadEnd, true);
        var accepted = f.Maps("accepted", "findings accepted, each with a reason and an end date", x =>
        {
            var finding = x.Text("code", "code of the finding");
            var subject = x.OptionalText("subject", "what of the tunnel it is about") ?? "";
            var digest = x.Text("digest", "digest of the values it rests on");
            var reason = x.Text("reason", "why it is accepted", 400);
            var until = x.Value(
                "until",
                "last day on which it is accepted",
                t => Scalars.Date(t).To(d => (DateOnly?)d),
                true
            );
            var by = x.Text("by", "who accepted it");
            var on = x.Value("on", "day on which it was accepted", t => Scalars.Date(t).To(d => (DateOnly?)d), true);
            return x.Build(() => new Acceptance(finding, subject, digest, reason, until!.Value, by, on!.Value));
        });
        var notes = f.OptionalText("notes", "anything else", 4000);
        return f.Build(() =>
            new Tunnel(
                id,
                code,
                customer!,
                name,
                purpose,
                state!.Value,
                since,
                form!.Value,
                tags,
                contacts,
                agreed!,
                a!,
                b!,
                notes
            )
            {
                Importance = importance,
                Throughput = throughput,
                Fallback = fallback,
                Accepted = accepted,
            }
        );
    }

    public static MapNode Write(Tunnel t, INames names) =>
        new MapWriter()
            .Add("code", t.Code)
            .Add("customer", names.TextOf(RecordKind.Customer, t.CustomerId))
            .Add("name", t.Name)
            .Add("purpose", t.Purpose)
            .Add("state", WordsOf.States.Of(t.State))
            .Add("since", t.Since is { } s ? Scalars.Write(s) : null)
            .Add("form", WordsOf.Forms.Of(t.Form))
            .Texts("tags", t.Tags)
            .List("contacts", t.Contacts, c =>
                new MapWriter().Add("name", c.Name).Add("role", c.Role).Add("reach", c.Reach).Done()
            )
            .Add("importance", t.Importance is { } i ? WordsOf.Importances.Of(i) : null)
            .Add("throughput", t.Throughput?.ToString(CultureInfo.InvariantCulture))
            .Add(
                "fallback",
                t.Fallback is { } o
                    ? new MapWriter()
                        .Add("order", o.Order)
                        .Add("place", o.Place.ToString(CultureInfo.InvariantCulture))
                        .Done()
                    : null
            )
            .Always("agreed", WriteAgreed(t.Agreed, names))
            .Add("a", WriteEnd(t.A, names))
            .Add("b", WriteEnd(t.B, names))
            .List("accepted", t.Accepted, x =>
                new MapWriter()
                    .Add("code", x.Code)
                    .Add("subject", x.Subject.Length == 0 ? null : x.Subject)
                    .Add("digest", x.Digest)
                    .Add("reason", x.Reason)
                    .Add("until", Scalars.Write(x.Until))
                    .Add("by", x.By)
                    .Add("on", Scalars.Write(x.On))
                    .Done()
            )
            .Add("notes", t.Notes)
            .Done();

    private static Agreed? ReadAgreed(Fields f)
    {
        var suite = f.Reference("suite", "suite with its version, such as BRI-STANDARD@3", RecordKind.Suite);
        // A setting that is each end's own may be agreed once for both, or for each end: {a: ..., b: ...}.
        SettingSet both = SettingSet.Empty,
            onlyA = SettingSet.Empty,
            onlyB = SettingSet.Empty;
        var split = new Dictionary<EndName, MapWriter> { [EndName.A] = new(), [EndName.B] = new() };
        var shared = new MapWriter();
        foreach (var setting in Settings.All)
            f.Raw(
                setting.Key,
                setting.About + (setting.Likeness == Likeness.EachEndsOwn ? "; or {a: ..., b: ...}" : ""),
                (node, path, problems) =>
                {
                    if (
                        setting.Likeness == Likeness.EachEndsOwn
                        && node is MapNode map
                        && map.Entries.Length > 0
                        && map.Entries.All(e => e.Key is "a" or "b")
                    )
                        foreach (var end in Enum.GetValues<EndName>())
                            split[end].Add(setting.Key, map.Find(end.Key()));
                    else
                        shared.Add(setting.Key, node);
                    return "";
                }
            );
        SettingSet Sub(MapNode map, string suffix)
        {
            var set = SettingSet.Empty;
            foreach (var (key, node) in map.Entries)
            {
                var reading = new Reading(IdNames.Instance);
                var one = SettingSet.Read(new Fields(new MapNode([new(key, node)]), "", reading));
                foreach (var p in reading.Problems)
                    f.Refuse(p with { Field = p.Field + suffix });
                set = reading.Problems.Count == 0 ? Merge(set, one) : set;
            }

            return set;
        }

        both = Sub(shared.Done(), "");
        onlyA = Sub(split[EndName.A].Done(), ".a");
        onlyB = Sub(split[EndName.B].Done(), ".b");
        Identity? identityA = null,
            identityB = null;
        f.Map("identities", "who each end says it is", i =>
        {
            identityA = i.Value("a", "identity A sends, such as: fqdn churn.brindle.example", Identity.Parse);
            identityB = i.Value("b", "identity B sends", Identity.Parse);
            return i.Build(() => "");
        });
        var pairs = f.Maps("pairs", "subnet pairs wanted, as seen inside the tunnel", p =>
        {
            var left = p.Value("a", "A-side prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
            var right = p.Value("b", "B-side prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
            if (left is { } l && right is { } r && l.Family != r.Family)
                p.Refuse("b", $"{l} and {r} are of different families", "two IPv4 or two IPv6 prefixes");
            return p.Build(() => new PairBox(new(left!.Value, right!.Value)));
        });
        foreach (var twice in pairs.GroupBy(p => p.Pair).Where(g => g.Count() > 1))
            f.Refuse("pairs", $"the pair {twice.Key} stands twice", "each pair once");
        return f.Build(() =>
            new Agreed(suite, both, onlyA, onlyB, identityA, identityB, [.. pairs.Select(p => p.Pair)])
        );
    }

    private sealed record PairBox(SubnetPair Pair);

    private static SettingSet Merge(SettingSet into, SettingSet one)
    {
        var writer = new MapWriter();
        into.Write(writer);
        one.Write(writer);
        return SettingSet.Read(new Fields(writer.Done(), "", new Reading(IdNames.Instance)));
    }

    private static MapNode WriteAgreed(Agreed a, INames names)
    {
        var writer = new MapWriter().Add("suite", a.SuiteId is null ? null : names.TextOf(RecordKind.Suite, a.SuiteId));
        foreach (var setting in Settings.All)
        {
            if (a.Both.GetRaw(setting) is { } both)
                writer.Add(setting.Key, setting.WriteRecorded(both));
            var onA = a.OnlyA.GetRaw(setting);
            var onB = a.OnlyB.GetRaw(setting);
            if (onA is not null || onB is not null)
                writer.Add(
                    setting.Key,
                    new MapWriter()
                        .Add("a", onA is null ? null : setting.WriteRecorded(onA))
                        .Add("b", onB is null ? null : setting.WriteRecorded(onB))
                        .Done()
                );
        }

        return writer
            .Add(
                "identities",
                new MapWriter().Add("a", a.IdentityA?.ToString()).Add("b", a.IdentityB?.ToString()).Done()
            )
            .List("pairs", a.Pairs, p => new MapWriter().Add("a", p.A.ToString()).Add("b", p.B.ToString()).Done())
            .Done();
    }

    private static TunnelEnd? ReadEnd(Fields f)
    {
        var gateway = f.Reference("gateway", "code of the gateway", RecordKind.Gateway, true);
        var uplinks = f.Values(
            "uplinks",
            "labels of the uplinks it may use, preferred first; all when left out",
            Parsed<string>.Of
        );
        var inside = f.OptionalText("inside", "routing instance on the protected side; main when left out", 40);
        var key = f.Map("keyHeld", "key versions held: {both: [4]}, or {send: [4], receive: [4]}", k =>
        {
            ImmutableArray<int> Versions(string name) =>
                k.Values(name, "version numbers from 1", t => Scalars.Number(t, 1, 9999, "a key version"));
            var both = Versions("both");
            var send = Versions("send");
            var receive = Versions("receive");
            if (k.Has("both") && (k.Has("send") || k.Has("receive")))
                k.Refuse("both", "'both' cannot stand beside 'send' or 'receive'", "one of the two forms");
            return k.Build(() => k.Has("both") ? new KeyHeld(both, both) : new KeyHeld(send, receive));
        });
        var subnets = f.Map(
            "subnets",
            "selectors as entered: own and peer lists (or ownFrom, peerFrom: a held part), or pairs",
            s =>
            {
                bool ownSaid = s.Has("own"),
                    peerSaid = s.Has("peer"),
                    pairsSaid = s.Has("pairs");
                var own = s.Values("own", "own prefixes", Prefix.Parse);
                var ownFrom = s.OptionalText("ownFrom", "held part with the own prefixes");
                var peer = s.Values("peer", "peer prefixes", Prefix.Parse);
                var peerFrom = s.OptionalText("peerFrom", "held part with the peer prefixes");
                var pairs = s.Maps("pairs", "pairs, where the platform takes pairs", ReadOwnPeer);
                var seen = s.Value("seen", "how, when and by whom: read 2026-11-03 by tomas", Seen.Parse);
                if (ownSaid && ownFrom is not null)
                    s.Refuse("own", "'own' cannot stand beside 'ownFrom'", "one of the two");
                if (peerSaid && peerFrom is not null)
                    s.Refuse("peer", "'peer' cannot stand beside 'peerFrom'", "one of the two");
                if (pairsSaid && (ownSaid || peerSaid || ownFrom is not null || peerFrom is not null))
                    s.Refuse("pairs", "'pairs' cannot stand beside lists", "pairs, or own and peer");
                return s.Build(() =>
                    new EnteredSubnets(
                        ownSaid ? own : null,
                        ownFrom,
                        peerSaid ? peer : null,
                        peerFrom,
                        pairsSaid ? pairs : null,
                        seen
                    )
                );
            }
        );
        var peerAddress = Recorded(
            f,
            "peerAddress",
            "address of the other end as entered here: an address, a name, or any",
            PeerAddress.Parse
        );
        var sent = Recorded(f, "identitySent", "identity this end sends", Identity.Parse);
        var expected = Recorded(f, "identityExpected", "identity this end expects of the other", Identity.Parse);
        var set = f.Map("set", "settings recorded on this end", s =>
        {
            var read = SettingSet.Read(s);
            return s.Build(() => read);
        });
        var rules = RecordedList(f, "rules", "firewall rules: {way: both, own: prefix, peer: prefix}", r =>
        {
            var way = r.Word("way", "both, in or out", Rule.Ways, true);
            var own = r.Value("own", "own prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
            var peer = r.Value("peer", "peer prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
            return r.Build(() => new Rule(way!.Value, own!.Value, peer!.Value));
        });
        var noTranslation = RecordedList(
            f,
            "noTranslation",
            "no-translation rules: {own: prefix, peer: prefix}",
            ReadOwnPeer
        );
        var routes = RecordedList(f, "routes", "routes: {to: prefix, into: tunnel} or {to: prefix, into: discard}", r =>
        {
            var to = r.Value("to", "prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
            var into = r.Value(
                "into",
                "tunnel or discard",
                t =>
                    Typed.OneOf(
                        t,
                        new Dictionary<string, string> { ["tunnel"] = "tunnel", ["discard"] = "discard" },
                        "where a route leads"
                    ),
                true,
                ["tunnel", "discard"]
            );
            return r.Build(() => new Route(to!.Value, into == "discard"));
        });
        var proposalsFrom = f.OptionalText("proposalsFrom", "held part with the IKE and ESP proposals", 60);
        var keyFor = f.Value(
            "keyFor",
            "what the key is entered for, where that is not the peer entry: an address, a name, or any",
            PeerAddress.Parse
        );
        var tunnelAddress = Recorded(
            f,
            "tunnelAddress",
            "address on the tunnel interface, such as 169.254.10.1/30",
            TunnelAddress.Parse
        );
        var certificate = f.Map("certificate", "the certificate this end authenticates with", c =>
        {
            var names = c.Values("names", "names it bears, such as: fqdn gw.larkfell.example", Identity.Parse);
            var issuer = c.Text("issuer", "who issued it");
            var from = c.Value("from", "first day of validity", t => Scalars.Date(t).To(d => (DateOnly?)d));
            var until = c.Value("until", "last day of validity", t => Scalars.Date(t).To(d => (DateOnly?)d));
            var may = c.Value(
                "mayAuthenticate",
                "yes or no: whether its usage allows it",
                t => Scalars.YesNo(t).To(b => (bool?)b),
                words: ["yes", "no"]
            );
            return c.Build(() => new Certificate(names, issuer, from, until, may));
        });
        var anchors = f.Values("anchors", "issuers whose certificates this end takes", Parsed<string>.Of);
        var relaxed = f.Values(
            "relaxedChecks",
            "certificate checks that were switched off: name, usage, dates, revocation",
            Parsed<string>.Of
        );
        var routing = f.Map("routing", "a dynamic routing protocol through the tunnel", r =>
        {
            var protocol = r.Text("protocol", "which protocol", 20);
            var own = r.OptionalText("own", "own number or area", 20);
            var peer = r.OptionalText("peer", "number or area expected of the other end", 20);
            var peerAt = r.Value("peerAddress", "address of the other end's neighbour", t =>
                Address.Parse(t).To(a => (Address?)a)
            );
            var announces = r.Values("announces", "prefixes it announces", Prefix.Parse);
            var accepts = r.Values("accepts", "prefixes it takes", Prefix.Parse);
            var hold = r.Value("hold", "how long a silent neighbour is kept", Lifetime.Parse);
            return r.Build(() => new DynamicRouting(protocol, own, peer, peerAt, announces, accepts, hold));
        });
        var prefixNames = f.Maps("prefixNames", "what prefixes are called on this device", p =>
        {
            var prefix = p.Value("prefix", "prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
            var called = p.Text("name", "name on the device", 60);
            return p.Build(() => new NamedPrefix(prefix!.Value, called));
        });
        var hasAnchors = f.Has("anchors");
        var ticks = f.Map("ticks", "entered, active, saved", t =>
        {
            DateOnly? Day(string name) =>
                t.Value(name, "date on which it was done", x => Scalars.Date(x).To(d => (DateOnly?)d));
            var entered = Day("entered");
            var active = Day("active");
            var saved = Day("saved");
            return t.Build(() => new Ticks(entered, active, saved));
        });
        return f.Build(() =>
            new TunnelEnd(
                gateway!,
                uplinks,
                inside ?? "main",
                key,
                subnets,
                peerAddress,
                sent,
                expected,
                set ?? SettingSet.Empty,
                rules,
                noTranslation,
                routes,
                ticks ?? Ticks.None
            )
            {
                ProposalsFrom = proposalsFrom,
                KeyFor = keyFor,
                TunnelAddress = tunnelAddress,
                Certificate = certificate,
                Anchors = hasAnchors ? anchors : null,
                RelaxedChecks = relaxed,
                Routing = routing,
                PrefixNames = prefixNames,
            }
        );
    }

    private static MapNode WriteEnd(TunnelEnd e, INames names) =>
        new MapWriter()
            .Add("gateway", names.TextOf(RecordKind.Gateway, e.GatewayId))
            .Texts("uplinks", e.Uplinks)
            .Add("inside", e.Inside == "main" ? null : e.Inside)
            .Add(
                "keyHeld",
                e.KeyHeld is null ? null
                    : e.KeyHeld.OneForBoth ? new MapWriter().Always("both", ListNode.OfTexts(e.KeyHeld.Send)).Done()
                    : new MapWriter()
                        .Always("send", ListNode.OfTexts(e.KeyHeld.Send))
                        .Always("receive", ListNode.OfTexts(e.KeyHeld.Receive))
                        .Done()
            )
            .Add("subnets", WriteSubnets(e.Subnets))
            .Add("peerAddress", e.PeerAddress?.Write(a => a.ToString()))
            .Add("identitySent", e.IdentitySent?.Write(i => i.ToString()))
            .Add("identityExpected", e.IdentityExpected?.Write(i => i.ToString()))
            .Add("set", e.Set.Write())
            .Always("rules", e.Rules?.Write(l => ListNode.Of(l.Items.Select(Write))))
            .Always("noTranslation", e.NoTranslation?.Write(l => ListNode.Of(l.Items.Select(Write))))
            .Always("routes", e.Routes?.Write(l => ListNode.Of(l.Items.Select(Write))))
            .Add("proposalsFrom", e.ProposalsFrom)
            .Add("keyFor", e.KeyFor?.ToString())
            .Add("tunnelAddress", e.TunnelAddress?.Write(a => a.ToString()))
            .Add(
                "certificate",
                e.Certificate is not { } c
                    ? null
                    : new MapWriter()
                        .Texts("names", c.Names)
                        .Add("issuer", c.Issuer)
                        .Add("from", Day(c.From))
                        .Add("until", Day(c.Until))
                        .Add("mayAuthenticate", c.MayAuthenticate is { } may ? Scalars.Write(may) : null)
                        .Done()
            )
            .Always("anchors", e.Anchors is { } anchors ? ListNode.OfTexts(anchors) : null)
            .Texts("relaxedChecks", e.RelaxedChecks)
            .Add(
                "routing",
                e.Routing is not { } r
                    ? null
                    : new MapWriter()
                        .Add("protocol", r.Protocol)
                        .Add("own", r.Own)
                        .Add("peer", r.Peer)
                        .Add("peerAddress", r.PeerAddress?.ToString())
                        .Texts("announces", r.Announces)
                        .Texts("accepts", r.Accepts)
                        .Add("hold", r.Hold is { } h ? $"{h.Amount} {Lifetime.Word(h.Unit)}" : null)
                        .Done()
            )
            .List("prefixNames", e.PrefixNames, n =>
                new MapWriter().Add("prefix", n.Prefix.ToString()).Add("name", n.Name).Done()
            )
            .Add(
                "ticks",
                new MapWriter()
                    .Add("entered", Day(e.Ticks.Entered))
                    .Add("active", Day(e.Ticks.Active))
                    .Add("saved", Day(e.Ticks.Saved))
                    .Done()
            )
            .Done();

    public static MapNode? WriteSubnets(EnteredSubnets? s) =>
        s is null
            ? null
            : new MapWriter()
                .Always("own", s.Own is { } own ? ListNode.OfTexts(own) : null)
                .Add("ownFrom", s.OwnFrom)
                .Always("peer", s.Peer is { } peer ? ListNode.OfTexts(peer) : null)
                .Add("peerFrom", s.PeerFrom)
                .Always("pairs", s.Pairs is { } pairs ? ListNode.Of(pairs.Select(Write)) : null)
                .Add("seen", s.Seen?.ToString())
                .Done();

    public static Node Write(Rule r) =>
        new MapWriter()
            .Add("way", Rule.Ways.Of(r.Way))
            .Add("own", r.Own.ToString())
            .Add("peer", r.Peer.ToString())
            .Done();

    public static Node Write(OwnPeer r) =>
        new MapWriter().Add("own", r.Own.ToString()).Add("peer", r.Peer.ToString()).Done();

    public static Node Write(Route r) =>
        new MapWriter().Add("to", r.To.ToString()).Add("into", r.Discard ? "discard" : "tunnel").Done();

    private static string? Day(DateOnly? day) => day is { } d ? Scalars.Write(d) : null;

    private static OwnPeer? ReadOwnPeer(Fields f)
    {
        var own = f.Value("own", "own prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
        var peer = f.Value("peer", "peer prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
        return f.Build(() => new OwnPeer(own!.Value, peer!.Value));
    }

    private static Recorded<T>? Recorded<T>(Fields f, string key, string about, Func<string, Parsed<T>> parse)
        where T : class =>
        f.Raw(key, about, (n, p, x) =>
            Records.Recorded<T>.Read(n, p, x, (n2, p2, x2) => Scalars.TextsOf(n2, parse, p2, x2).FirstOrDefault())
        );

    private static Recorded<Several<T>>? RecordedList<T>(Fields f, string key, string about, Func<Fields, T?> read)
        where T : class =>
        f.Raw(key, about, (n, p, x) => Records.Recorded<Several<T>>.Read(n, p, x, (list, at, problems) =>
            {
                var reading = new Reading(IdNames.Instance);
                // The list is read as a field of its own, so that its items are named by the path of the list.
                var items = new Fields(new MapNode([new(at, list)]), "", reading).Maps(at, about, read);
                problems.AddRange(reading.Problems);
                return reading.Problems.Count == 0 ? new Several<T>(items) : null;
            }));
}

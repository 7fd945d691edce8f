namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a tunnel, as settled keepfiles have it.</summary>
public static partial class WrittenTunnel
{
    private const string OnlyAtEnd =
        "protocol and ports, such as tcp 443 remote, tcp 22 local, icmp; all when left out";

    private static Codec<Traffic> TrafficAtEnd => new(Traffic.ParseAtEnd, t => t.AtEnd);

    private static readonly Form<Rule> OfRule = new Form<Rule>(() => new(default, default, default))
        .Needs(r => r.Way, "way", "both, in or out", Codecs.Word(Rule.Ways))
        .Needs(r => r.Local, "local", "local prefix", Codecs.Prefix)
        .Needs(r => r.Remote, "remote", "remote prefix", Codecs.Prefix)
        .Value(r => r.Only, "only", OnlyAtEnd, TrafficAtEnd)
        .Named("protocol and ports");

    private static Form<LocalRemote> OfLocalRemote =>
        new Form<LocalRemote>(() => new(default, default))
            .Needs(r => r.Local, "local", "local prefix", Codecs.Prefix)
            .Needs(r => r.Remote, "remote", "remote prefix", Codecs.Prefix);

    private static readonly Form<LocalRemote> OfNoNat = OfLocalRemote;

    private static readonly Form<LocalRemote> OfSelector = OfLocalRemote
        .Value(r => r.Only, "only", OnlyAtEnd, TrafficAtEnd)
        .Named("protocol and ports")
        .Value(
            r => r.Pfs,
            "pfs",
            "PFS of its child SA, such as required DH 14; that of the end when left out",
            Codecs.Of(Pfs.Parse)
        )
        .Named("PFS of its child SA");

    private static readonly Form<Route> OfRoute = new Form<Route>(() => new(default, false))
        .Needs(r => r.To, "to", "prefix", Codecs.Prefix)
        .Needs(
            r => r.Discard,
            "into",
            "tunnel or discard",
            Codecs.Either("discard", "tunnel", "a target of a route") with
            {
                Words = ["tunnel", "discard"],
            }
        );

    private static readonly Form<FallbackPlace> OfFallback = new Form<FallbackPlace>(() => new("", 0))
        .Code(o => o.Order, "order", "name of the order")
        .Needs(o => o.Place, "place", "1 carries the traffic first", Codecs.Number(1, 99, "a place"));

    private static readonly Form<Acceptance> OfAcceptance = new Form<Acceptance>(() =>
        new("", "", "", "", default, "", default)
    )
        .Text(x => x.Code, "code", "code of the finding", required: true)
        .Text(x => x.Subject, "subject", "which part of the tunnel", unsaid: "")
        .Text(x => x.Digest, "digest", "digest of its evidence", required: true)
        .Text(x => x.Reason, "reason", "why it is accepted", 400, required: true)
        .Needs(x => x.Until, "until", "last day on which it is accepted", Codecs.Day)
        .Text(x => x.By, "by", "who accepted it", required: true)
        .Needs(x => x.On, "on", "day on which it was accepted", Codecs.Day);

    private static readonly Form<Certificate> OfCertificate = new Form<Certificate>(() => new([], "", null, null, null))
        .Values(
            c => c.Names,
            "names",
            "subject and subject alternative names (SAN), such as: fqdn gw.larkfell.example",
            Codecs.Of(Identity.Parse)
        )
        .Text(c => c.Ca, "ca", "CA that issued it", required: true)
        .Named("CA")
        .Value(c => c.From, "from", "first day of validity", Codecs.Day)
        .Value(c => c.Until, "until", "last day of validity", Codecs.Day)
        .Value(
            c => c.MayAuthenticate,
            "mayAuthenticate",
            "yes or no: whether its key usage allows authentication",
            Codecs.YesNo
        )
        .Named("key usage allows authentication");

    private static readonly Form<DynamicRouting> OfRouting = new Form<DynamicRouting>(() =>
        new("", null, null, null, [], [], null)
    )
        .Text(r => r.Protocol, "protocol", "which protocol", 20, required: true)
        .Text(r => r.LocalAs, "localAs", "local AS number, or area", 20)
        .Named("local AS")
        .Text(r => r.RemoteAs, "remoteAs", "AS number expected of the neighbour, or area", 20)
        .Named("remote AS")
        .Value(r => r.PeerAddress, "peerAddress", "address of the other end's neighbour", Codecs.Address)
        .Values(r => r.Announces, "announces", "prefixes it announces", Codecs.Prefix)
        .Values(r => r.Accepts, "accepts", "prefixes that it accepts", Codecs.Prefix)
        .Named("accepts as responder")
        .Value(r => r.Hold, "hold", "hold time of the neighbour", Codecs.Lifetime);

    private static readonly Form<NamedPrefix> OfPrefixName = new Form<NamedPrefix>(() => new(default, ""))
        .Needs(p => p.Prefix, "prefix", "prefix", Codecs.Prefix)
        .Text(p => p.Name, "name", "name on the device", 60, required: true);

    private static readonly Form<Progress> OfProgress = new Form<Progress>(() => Progress.None with { })
        .Value(t => t.Entered, "entered", "date on which it was done", Codecs.Day)
        .Value(t => t.Active, "active", "date on which it was done", Codecs.Day)
        .Value(t => t.Saved, "saved", "date on which it was done", Codecs.Day);

    /// <summary>Every field of an end of a tunnel.</summary>
    internal static readonly Form<TunnelEnd> OfEnd = new Form<TunnelEnd>(() => new())
        .Reference(e => e.GatewayId, "gateway", "code of the gateway", RecordKind.Gateway, required: true)
        .Values(
            e => e.Uplinks,
            "uplinks",
            "labels of the uplinks it may use, preferred first; all when left out",
            Codecs.Line
        )
        .Named("uplinks", "uplink")
        .Text(e => e.ProtectedVrf, "protectedVrf", "VRF on the protected side; main when left out", 40, unsaid: "main")
        .Named("protected VRF")
        .Map(
            e => e.KeyHeld,
            "keyHeld",
            "key versions: {both: [4]}, or {send: [4], receive: [4]}",
            ReadKeyHeld,
            WriteKeyHeld
        )
        .Named("key version")
        .Grained(Grain.Whole)
        .NotCopied()
        .Map(
            e => e.Subnets,
            "subnets",
            "selectors as entered: local and remote lists, written out or from a shared entry, or pairs",
            ReadSubnets,
            (subnets, _) => WriteSubnets(subnets)!
        )
        .Grained(Grain.Parts)
        .NotCopied()
        .Recorded(
            e => e.PeerAddress,
            "peerAddress",
            "address of the other end as entered here: an address, a name, or any",
            Codecs.Of(PeerAddress.Parse)
        )
        .NotCopied()
        .Values(
            e => e.FurtherPeers,
            "furtherPeers",
            "further addresses of the other end, in the order in which the device tries them",
            Codecs.Of(PeerAddress.ParseOne)
        )
        .Named("further peer addresses")
        .NotCopied()
        .Recorded(e => e.IdentitySent, "identitySent", "identity this end sends", Codecs.Of(Identity.Parse))
        .NotCopied()
        .Recorded(
            e => e.IdentityExpected,
            "identityExpected",
            "identity this end expects of the other",
            Codecs.Of(Identity.Parse)
        )
        .NotCopied()
        .Settings(e => e.Set, "set", "settings recorded on this end")
        .Named("settings recorded on this end")
        .RecordedList(e => e.Rules, "rules", "firewall rules: {way: both, local: prefix, remote: prefix}", OfRule)
        .Named("firewall rules", "rule")
        .NotCopied()
        .RecordedList(e => e.NoNat, "noNat", "no-NAT rules: {local: prefix, remote: prefix}", OfNoNat)
        .Named("no-NAT rules", "no-NAT rule")
        .NotCopied()
        .RecordedList(
            e => e.Routes,
            "routes",
            "routes: {to: prefix, into: tunnel} or {to: prefix, into: discard}",
            OfRoute
        )
        .Named("routes", "route")
        .NotCopied()
        .Text(e => e.ProposalsFrom, "proposalsFrom", "shared entry with the IKE and ESP proposals", 60)
        .Named("proposals from a shared entry")
        .Value(
            e => e.KeyFor,
            "keyFor",
            "the address that the PSK is entered for, if not the peer address: an address, a name, or any",
            Codecs.Of(PeerAddress.Parse)
        )
        .Named("PSK entered for")
        .Recorded(
            e => e.TunnelAddress,
            "tunnelAddress",
            "address on the tunnel interface, such as 10.255.10.0/31",
            Codecs.Of(TunnelAddress.Parse)
        )
        .NotCopied()
        .Map(e => e.Certificate, "certificate", "the certificate this end authenticates with", OfCertificate)
        .Grained(Grain.Whole)
        .NotCopied()
        .KnownValues(e => e.Anchors, "anchors", "trust anchors: CAs whose certificates this end accepts", Codecs.Line)
        .Named("trust anchors")
        .Values(
            e => e.RelaxedChecks,
            "relaxedChecks",
            "disabled certificate checks: name, usage, dates, revocation",
            Codecs.Line
        )
        .Named("disabled certificate checks")
        .Map(e => e.Routing, "routing", "a dynamic routing protocol through the tunnel", OfRouting)
        .Maps(e => e.PrefixNames, "prefixNames", "names of prefixes on this device", OfPrefixName)
        .Named("prefix names", "name")
        .NotCopied()
        .Map(e => e.Progress, "progress", "entered, active, saved", OfProgress)
        .NotCopied();

    /// <summary>Every field of a tunnel, declared once for reading, writing and the schema.</summary>
    public static readonly Form<Tunnel> Form = new Form<Tunnel>(() => new())
        .Id(t => t.Id)
        .Code(t => t.Code, "code", "code, such as BRI-ASHLOW")
        .Describing()
        .Reference(
            t => t.CustomerId,
            "customer",
            "code of the customer it belongs to",
            RecordKind.Customer,
            required: true
        )
        .Text(t => t.Name, "name", "name", required: true)
        .Describing()
        .Text(t => t.Purpose, "purpose", "what it is for")
        .NotCopied()
        .Describing()
        .Needs(
            t => t.State,
            "state",
            "planned, building, in service, suspended or retired",
            Codecs.Word(WordsOf.States)
        )
        .Value(t => t.Since, "since", "date since which it is in that state", Codecs.Day)
        .NotCopied()
        .Describing()
        .Needs(t => t.Form, "form", "policy-based or route-based", Codecs.Word(WordsOf.Forms))
        .Values(t => t.Tags, "tags", "words to find it by", new Codec<string>(Tag, tag => tag))
        .Describing()
        .Maps(t => t.Contacts, "contacts", "people at the other party", WrittenCustomer.OfContact)
        .Named("contacts", "contact")
        .Describing()
        .Value(t => t.Importance, "importance", "low, normal or high", Codecs.Word(WordsOf.Importances))
        .Describing()
        .Value(
            t => t.Throughput,
            "throughput",
            "expected Mbit/s, 1 to 400000",
            Codecs.Number(1, 400_000, "a throughput in Mbit/s")
        )
        .Describing()
        .Map(t => t.Fallback, "fallback", "place in a fallback order: {order: MOS-STORE, place: 1}", OfFallback)
        .NotCopied()
        .Map(t => t.Agreed, "agreed", "what both parties agreed", ReadAgreed, WriteAgreed, required: true)
        .Map(t => t.A, "a", "end A", OfEnd, required: true)
        .Named("A")
        .Map(t => t.B, "b", "end B", OfEnd, required: true)
        .Named("B")
        .Maps(t => t.Accepted, "accepted", "findings accepted, each with a reason and an end date", OfAcceptance)
        .Named("accepted", "accepted finding")
        .NotCopied()
        .Describing()
        .Text(t => t.Notes, "notes", "anything else", 4000)
        .NotCopied()
        .Describing();

    private static Parsed<string> Tag(string text) =>
        text.Length <= 40
            ? Parsed<string>.Of(text)
            : Parsed<string>.Fail($"'{Typed.Short(text)}' is too long", "at most 40 characters");

    private static KeyHeld? ReadKeyHeld(Fields k)
    {
        ImmutableArray<int> Versions(string name) => k.Values(name, "version numbers from 1", Scalars.KeyVersion);
        var both = Versions("both");
        var send = Versions("send");
        var receive = Versions("receive");
        if (k.Has("both") && (k.Has("send") || k.Has("receive")))
            k.Refuse("both", "'both' cannot go with 'send' or 'receive'", "one of the two forms");
        return k.Build(() => k.Has("both") ? new KeyHeld(both, both) : new KeyHeld(send, receive));
    }
}

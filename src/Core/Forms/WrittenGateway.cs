namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a gateway: its uplinks, and what it holds for several tunnels.</summary>
public static class WrittenGateway
{
    private static readonly Form<Nat> OfNat = new Form<Nat>(() => new(default, null))
        .Needs(t => t.Type, "kind", "1:1 or NAPT", Codecs.Word(Nat.Kinds))
        .Value(t => t.PublicAddress, "publicAddress", "the address it shows; leave out when not known", Codecs.Address)
        .KnownValues(t => t.Forwards, "forwards", "what it forwards inwards: IKE, ESP", Codecs.Word(Nat.Forwardable));

    private static readonly Form<Uplink> OfUplink = new Form<Uplink>(() => new("", null!, null, null))
        .Text(u => u.Label, "label", "label", 40, required: true)
        .Recorded(
            u => u.Address,
            "address",
            "the address on the device: an address, a name, dynamic, or {pending: who will know, by: date}",
            Codecs.Of(UplinkAddress.Parse),
            required: true
        )
        .Value(u => u.Mtu, "mtu", "octets, 576 to 9216", Codecs.Number(576, 9216, "an MTU in octets"))
        .Named("MTU")
        .Map(u => u.Nat, "nat", "a NAT in front of it", OfNat)
        .Named("NAT")
        .KnownValues(
            u => u.AllowsInbound,
            "allowsInbound",
            "what is allowed inbound: IKE, ESP",
            Codecs.Word(Nat.Forwardable)
        )
        .Named("allowed inbound")
        .Text(u => u.OuterVrf, "outerVrf", "VRF on the outer side; outside when left out", 40, unsaid: "outside")
        .Named("outer VRF")
        .Value(u => u.Subnet, "subnet", "subnet of the uplink", Codecs.Prefix)
        .Value(
            u => u.NamesReliable,
            "namesReliable",
            "yes or no: whether name resolution over it is reliable",
            Codecs.YesNo
        )
        .Named("name resolution is reliable");

    private static readonly Form<SharedEntry> OfSharedEntry = new Form<SharedEntry>(() => new("", null, []))
        .Text(h => h.Name, "name", "name on the device", 60, required: true)
        .Text(h => h.Called, "what", "what it is; subnet list when left out", 40)
        .Values(h => h.Members, "members", "prefixes in it", Codecs.Prefix)
        .Values(h => h.IkeProposals, "ikeProposals", "IKE proposals in it", Codecs.Of(IkeProposal.Parse))
        .Named("IKE proposals")
        .Values(h => h.EspProposals, "espProposals", "ESP proposals in it", Codecs.Of(EspProposal.Parse))
        .Named("ESP proposals");

    private static readonly Form<ManagementAccess> OfManagementAccess = new Form<ManagementAccess>(() => new())
        .Reference(w => w.TunnelId, "tunnel", "code of the tunnel that it is managed through", RecordKind.Tunnel)
        .Text(w => w.Uplink, "uplink", "label of its uplink that it is managed over", 40)
        .Text(w => w.Otherwise, "by", "how, in words, when it is neither a tunnel nor an uplink of its own")
        .Text(w => w.OutOfBand, "outOfBand", "out-of-band access")
        .Named("out-of-band access")
        .Value(
            w => w.RevertsAutomatically,
            "revertsAutomatically",
            "yes or no: whether it undoes a change when contact is lost",
            Codecs.YesNo
        )
        .Rule(
            (f, w) =>
            {
                string[] said =
                [
                    .. new[] { ("tunnel", w.TunnelId), ("uplink", w.Uplink), ("by", w.Otherwise) }
                        .Where(x => x.Item2 is not null)
                        .Select(x => x.Item1),
                ];
                if (said.Length != 1)
                    f.Refuse(
                        said.Length == 0 ? "by" : said[1],
                        said.Length == 0
                            ? "nothing says what it is managed through"
                            : $"{Say.And(said)} stand beside each other, and it is managed through one of them",
                        "exactly one of tunnel, uplink and by"
                    );
            }
        );

    /// <summary>Every field of a gateway, declared once for reading, writing and the schema.</summary>
    public static readonly Form<Gateway> Form = new Form<Gateway>(() => new())
        .Id(g => g.Id)
        .Code(g => g.Code, "code", "code, such as churn-gw1")
        .Describing()
        .Reference(g => g.SiteId, "site", "code of the site", RecordKind.Site, required: true)
        .Reference(
            g => g.PlatformId,
            "platform",
            "platform profile with its version, such as alderquay-major@1",
            RecordKind.Platform,
            required: true
        )
        .Otherwise(
            g => g.RunBy,
            "runBy",
            "us, customer or other party; us when left out",
            Codecs.Word(WordsOf.RunBys),
            written: true
        )
        .Maps(
            g => g.Uplinks,
            "uplinks",
            "ways out, preferred first",
            OfUplink,
            atLeast: "at least one, with label and address"
        )
        .Named("uplinks", "uplink")
        .Maps(g => g.SharedEntries, "sharedEntries", "named parts on the device that tunnels may share", OfSharedEntry)
        .Named("shared entries", "shared entry")
        .Map(g => g.ManagementAccess, "managementAccess", "how it is managed", OfManagementAccess)
        .Describing()
        .Value(g => g.TunnelPool, "tunnelPool", "prefix its tunnel addresses are taken from", Codecs.Prefix)
        .Text(g => g.Notes, "notes", "anything else", 4000)
        .Describing()
        .Value(g => g.Retired, "retired", "date on which it was retired", Codecs.Day)
        .Rule(
            (f, g) =>
            {
                foreach (var twice in g.SharedEntries.GroupBy(h => h.Name).Where(n => n.Count() > 1))
                    f.Refuse("sharedEntries", $"'{twice.Key}' is entered twice", "one shared entry for each name");
                if (g.ManagementAccess?.Uplink is { } over && g.Uplinks.All(u => u.Label != over))
                    f.Refuse(
                        "managementAccess.uplink",
                        $"it has no uplink '{over}'",
                        string.Join(", ", g.Uplinks.Select(u => u.Label))
                    );
            }
        );
}

namespace Vellumkeep.Core.Records;

public enum TranslatorKind
{
    OneToOne,
    PortSharing,
}

/// <summary>
/// A translator in front of an uplink, with the public address it shows; null when that is not known.
/// </summary>
/// <param name="Forwards">What it forwards inwards: IKE (UDP 500 and 4500), ESP; null when not known.</param>
public sealed record Translator(TranslatorKind Type, Address? PublicAddress, ImmutableArray<string>? Forwards = null)
{
    internal static readonly string[] Forwardable = ["IKE", "ESP"];

    public static readonly Words<TranslatorKind> Kinds = new(
        "a kind of translator",
        (TranslatorKind.OneToOne, "one-to-one"),
        (TranslatorKind.PortSharing, "port-sharing")
    );
}

/// <summary>The address on the device: fixed, by name, or dynamic.</summary>
public sealed record UplinkAddress(Address? Fixed, string? Name)
{
    public static readonly UplinkAddress Dynamic = new(null, null);

    public bool IsDynamic => Fixed is null && Name is null;

    public static Parsed<UplinkAddress> Parse(string text) =>
        text.Equals("dynamic", StringComparison.OrdinalIgnoreCase) ? Parsed<UplinkAddress>.Of(Dynamic)
        : PeerAddress.Parse(text) is { Ok: true, Value.IsAny: false } read
            ? Parsed<UplinkAddress>.Of(new(read.Value.Address, read.Value.Name))
        : Parsed<UplinkAddress>.Fail(
            $"'{Typed.Short(text)}' is not an outer address",
            "an address such as 198.51.100.10, a name such as gw.brindle.example, or dynamic"
        );

    public override string ToString() => Fixed?.ToString() ?? Name ?? "dynamic";
}

/// <summary>
/// One way out of a gateway. The outer address that a peer sees is derived from the address on the device and the
/// translator.
/// </summary>
/// <param name="LetsIn">What is let in on it: IKE (UDP 500 and 4500), ESP; null when not known.</param>
public sealed record Uplink(
    string Label,
    Recorded<UplinkAddress> Address,
    int? Mtu,
    Translator? Translator,
    ImmutableArray<string>? LetsIn = null
)
{
    /// <summary>The routing instance on the outer side.</summary>
    public string Instance { get; init; } = "outside";

    /// <summary>The subnet of the uplink.</summary>
    public Prefix? Subnet { get; init; }

    /// <summary>Whether names are resolved reliably over it; null when nobody said.</summary>
    public bool? NamesReliable { get; init; }

    /// <summary>
    /// Whether <paramref name="what"/> (IKE or ESP) from outside reaches the device: let in, and forwarded by the
    /// translator; null when not known.
    /// </summary>
    public bool? Reached(string what)
    {
        var let = LetsIn is { } l ? l.Contains(what) : (bool?)null;
        // A port-sharing translator forwards inwards only what it was told to; a one-to-one translator stands for its
        // address.
        var forwarded =
            Translator is null ? true
            : Translator.Forwards is { } f ? f.Contains(what)
            : Translator.Type == TranslatorKind.PortSharing ? false
            : (bool?)null;
        return let == false || forwarded == false ? false
            : let == true && forwarded == true ? true
            : null;
    }

    /// <summary>What the other end sees; null while it is pending or not fixed.</summary>
    public Address? Outer => Translator is null ? Address.Value?.Fixed : Translator.PublicAddress;

    /// <summary>For reading: the outer address, a name, <c>dynamic</c>, or <c>pending</c>.</summary>
    public string OuterText =>
        Outer?.ToString()
        ?? (
            Address.Value is null ? "pending"
            : Translator is not null ? "dynamic"
            : Address.Value.ToString()
        );
}

/// <summary>
/// Something named on a gateway that several of its tunnels may share: a subnet list, a proposal set, a key entry.
/// </summary>
public sealed record HeldPart(string Name, string What, ImmutableArray<Prefix> Members)
{
    public ImmutableArray<IkeProposal> IkeProposals { get; init; } = [];

    public ImmutableArray<EspProposal> EspProposals { get; init; } = [];
}

/// <summary>How a gateway is managed.</summary>
public sealed record WayIn(string By, string? OtherWay, bool? UndoesByItself);

/// <summary>A device at a site that ends tunnels.</summary>
public sealed record Gateway(
    string Id,
    string Code,
    string SiteId,
    string PlatformId,
    RunBy RunBy,
    ImmutableArray<Uplink> Uplinks,
    ImmutableArray<HeldPart> HeldParts,
    WayIn? WayIn,
    string? Notes
) : IRecord
{
    /// <summary>Where its tunnel addresses are taken from.</summary>
    public Prefix? TunnelPool { get; init; }

    public RecordKind Kind => RecordKind.Gateway;

    public DateOnly? Retired { get; init; }

    public HeldPart? Held(string name) => HeldParts.FirstOrDefault(h => h.Name == name);

    public static Gateway? Read(string id, Fields f)
    {
        var code = f.Code("code", "code, such as churn-gw1");
        var site = f.Reference("site", "code of the site", RecordKind.Site, true);
        var platform = f.Reference(
            "platform",
            "platform profile with its version, such as alderquay-major@1",
            RecordKind.Platform,
            true
        );
        var runBy = f.Word("runBy", "us, customer or other party; us when left out", WordsOf.RunBys);
        var uplinks = f.Maps("uplinks", "ways out, preferred first", u =>
        {
            var label = u.Text("label", "label", 40);
            var address = u.Raw(
                "address",
                "the address on the device: an address, a name, dynamic, or {pending: who will know, by: date}",
                (n, p, x) =>
                    Recorded<UplinkAddress>.Read(n, p, x, (n2, p2, x2) =>
                        Scalars.TextsOf(n2, UplinkAddress.Parse, p2, x2).FirstOrDefault()
                    ),
                true
            );
            var mtu = u.Value("mtu", "octets, 576 to 9216", t =>
                Scalars.Number(t, 576, 9216, "an MTU in octets").To(n => (int?)n)
            );
            var translator = u.Map("translator", "a translator in front", t =>
            {
                var kind = t.Word("kind", "one-to-one or port-sharing", Records.Translator.Kinds, true);
                var shown = t.Value("publicAddress", "the address it shows; leave out when not known", x =>
                    Addressing.Address.Parse(x).To(a => (Address?)a)
                );
                var forwardsSaid = t.Has("forwards");
                var forwards = t.Values(
                    "forwards",
                    "what it forwards inwards: IKE, ESP",
                    x => Typed.OneOf(x, Records.Translator.Forwardable.ToDictionary(w => w), "something forwarded"),
                    Records.Translator.Forwardable
                );
                return t.Build(() => new Translator(kind!.Value, shown, forwardsSaid ? forwards : null));
            });
            var letsSaid = u.Has("letsIn");
            var lets = u.Values(
                "letsIn",
                "what is let in: IKE, ESP",
                x => Typed.OneOf(x, Records.Translator.Forwardable.ToDictionary(w => w), "something let in"),
                Records.Translator.Forwardable
            );
            var instance = u.OptionalText("instance", "routing instance on the outer side; outside when left out", 40);
            var subnet = u.Value("subnet", "subnet of the uplink", t => Prefix.Parse(t).To(x => (Prefix?)x));
            var reliable = u.Value(
                "namesReliable",
                "yes or no: whether names are resolved reliably over it",
                t => Scalars.YesNo(t).To(b => (bool?)b),
                words: ["yes", "no"]
            );
            return u.Build(() =>
                new Uplink(label, address!, mtu, translator, letsSaid ? lets : null)
                {
                    Instance = instance ?? "outside",
                    Subnet = subnet,
                    NamesReliable = reliable,
                }
            );
        });
        if (!f.Describing && uplinks.IsEmpty && !f.Has("uplinks"))
            f.Refuse("uplinks", "'uplinks' is missing", "at least one, with label and address");
        var held = f.Maps("heldParts", "named parts on the device that tunnels may share", h =>
        {
            var name = h.Text("name", "name on the device", 60);
            var what = h.OptionalText("what", "what it is; subnet list when left out", 40);
            var members = h.Values("members", "prefixes in it", Prefix.Parse);
            var ike = h.Values("ikeProposals", "IKE proposals in it", IkeProposal.Parse);
            var esp = h.Values("espProposals", "ESP proposals in it", EspProposal.Parse);
            return h.Build(() =>
                new HeldPart(name, what ?? (ike.IsEmpty && esp.IsEmpty ? "subnet list" : "proposal set"), members)
                {
                    IkeProposals = ike,
                    EspProposals = esp,
                }
            );
        });
        foreach (var twice in held.GroupBy(h => h.Name).Where(g => g.Count() > 1))
            f.Refuse("heldParts", $"'{twice.Key}' stands twice", "one held part for each name");
        var wayIn = f.Map("wayIn", "how it is managed", w =>
        {
            var by = w.Text("by", "over which uplink or tunnel");
            var other = w.OptionalText("otherWay", "another way in");
            var undoes = w.Value(
                "undoesByItself",
                "yes or no: whether it undoes a change when contact is lost",
                t => Scalars.YesNo(t).To(b => (bool?)b),
                words: ["yes", "no"]
            );
            return w.Build(() => new WayIn(by, other, undoes));
        });
        var notes = f.OptionalText("notes", "anything else", 4000);
        var pool = f.Value("tunnelPool", "prefix its tunnel addresses are taken from", t =>
            Prefix.Parse(t).To(x => (Prefix?)x)
        );
        var retired = f.Value("retired", "date on which it was taken out of use", t =>
            Scalars.Date(t).To(d => (DateOnly?)d)
        );
        return f.Build(() =>
            new Gateway(id, code, site!, platform!, runBy ?? RunBy.Us, uplinks, held, wayIn, notes)
            {
                TunnelPool = pool,
                Retired = retired,
            }
        );
    }

    public MapNode Write(INames names) =>
        new MapWriter()
            .Add("code", Code)
            .Add("site", names.TextOf(RecordKind.Site, SiteId))
            .Add("platform", names.TextOf(RecordKind.Platform, PlatformId))
            .Add("runBy", WordsOf.RunBys.Of(RunBy))
            .List("uplinks", Uplinks, u =>
                new MapWriter()
                    .Add("label", u.Label)
                    .Add("address", u.Address.Write(a => a.ToString()))
                    .Add("mtu", u.Mtu?.ToString(CultureInfo.InvariantCulture))
                    .Add(
                        "translator",
                        u.Translator is null
                            ? null
                            : new MapWriter()
                                .Add("kind", Translator.Kinds.Of(u.Translator.Type))
                                .Add("publicAddress", u.Translator.PublicAddress?.ToString())
                                .Always(
                                    "forwards",
                                    u.Translator.Forwards is { } forwards ? ListNode.OfTexts(forwards) : null
                                )
                                .Done()
                    )
                    .Always("letsIn", u.LetsIn is { } lets ? ListNode.OfTexts(lets) : null)
                    .Add("instance", u.Instance == "outside" ? null : u.Instance)
                    .Add("subnet", u.Subnet?.ToString())
                    .Add("namesReliable", u.NamesReliable is { } reliable ? Scalars.Write(reliable) : null)
                    .Done()
            )
            .List("heldParts", HeldParts, h =>
                new MapWriter()
                    .Add("name", h.Name)
                    .Add("what", h.What is "subnet list" or "proposal set" ? null : h.What)
                    .Texts("members", h.Members)
                    .Texts("ikeProposals", h.IkeProposals)
                    .Texts("espProposals", h.EspProposals)
                    .Done()
            )
            .Add(
                "wayIn",
                WayIn is null
                    ? null
                    : new MapWriter()
                        .Add("by", WayIn.By)
                        .Add("otherWay", WayIn.OtherWay)
                        .Add("undoesByItself", WayIn.UndoesByItself is { } u ? Scalars.Write(u) : null)
                        .Done()
            )
            .Add("tunnelPool", TunnelPool?.ToString())
            .Add("notes", Notes)
            .Add("retired", Retired is { } day ? Scalars.Write(day) : null)
            .Done();
}

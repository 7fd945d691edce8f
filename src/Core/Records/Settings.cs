namespace Vellumkeep.Core.Records;

/// <summary>Every setting of a tunnel, in the order in which they are shown.</summary>
public static class Settings
{
    /// <summary>The IKE versions that an end takes, preferred first.</summary>
    public static readonly Setting<Several<IkeVersion>> IkeVersions = Listed(
        "ikeVersions",
        "IKE version",
        Likeness.Alike,
        "IKEv1, IKEv2",
        true,
        WordsOf.IkeVersions.Parse,
        write: WordsOf.IkeVersions.Of
    );

    /// <summary>Main or aggressive mode (IKEv1, RFC 2409 section 5).</summary>
    public static readonly Setting<Word<ExchangeMode>> ExchangeMode = OfWord(
        "exchangeMode",
        "Exchange mode",
        Likeness.Alike,
        WordsOf.ExchangeModes
    );

    /// <summary>The proposals for the IKE SA, preferred first (RFC 7296 section 2.7).</summary>
    public static readonly Setting<Several<IkeProposal>> IkeProposals = Listed(
        "ikeProposals",
        "IKE proposals",
        Likeness.Alike,
        "one proposal a line, preferred first",
        true,
        IkeProposal.Parse,
        IkeProposal.ParseAll
    );

    /// <summary>How long an IKE SA lives.</summary>
    public static readonly Setting<Life> IkeLifetime = OfLife("ikeLifetime", "IKE lifetime");

    /// <summary>The proposals for child SAs, preferred first.</summary>
    public static readonly Setting<Several<EspProposal>> EspProposals = Listed(
        "espProposals",
        "ESP proposals",
        Likeness.Alike,
        "one proposal a line, preferred first",
        true,
        EspProposal.Parse,
        EspProposal.ParseAll
    );

    /// <summary>Perfect forward secrecy of child SAs (RFC 7296 section 1.3.1).</summary>
    public static readonly Setting<Pfs> Pfs = One(
        "pfs",
        "PFS",
        Likeness.Alike,
        "required DH 14, optional DH 14, accepts only DH 14, required DH of IKE, or refused",
        true,
        Proposals.Pfs.Parse
    );

    /// <summary>How long a child SA lives.</summary>
    public static readonly Setting<Life> EspLifetime = OfLife("espLifetime", "ESP lifetime");

    /// <summary>By key or by certificate (RFC 7296 section 2.15).</summary>
    public static readonly Setting<Word<Authentication>> Authentication = OfWord(
        "authentication",
        "Authentication",
        Likeness.Alike,
        WordsOf.Authentications
    );

    /// <summary>
    /// How an end wants the other to authenticate, where that is not the method it uses itself: IKEv2 leaves each end
    /// its own (RFC 7296 section 2.15).
    /// </summary>
    public static readonly Setting<Word<Authentication>> PeerAuthentication = OfWord(
        "peerAuthentication",
        "Authentication of the peer",
        Likeness.EachEndsOwn,
        WordsOf.Authentications
    );

    /// <summary>How an end signs and which signatures it takes, preferred first (RFC 7427 section 4).</summary>
    public static readonly Setting<Several<Word<SignatureMethod>>> Signatures = Listed(
        "signatures",
        "Signatures",
        Likeness.Alike,
        string.Join(", ", WordsOf.SignatureMethods.All),
        true,
        t => WordsOf.SignatureMethods.Parse(t).To(m => new Word<SignatureMethod>(m, WordsOf.SignatureMethods))
    );

    /// <summary>Tunnel or transport mode (RFC 4301 section 4.1).</summary>
    public static readonly Setting<Word<EspMode>> EspMode = OfWord(
        "espMode",
        "ESP mode",
        Likeness.Alike,
        WordsOf.EspModes
    );

    /// <summary>What the tunnel interface puts around a packet before ESP does.</summary>
    public static readonly Setting<Word<InterfaceEncapsulation>> InterfaceEncapsulation = OfWord(
        "interfaceEncapsulation",
        "Interface encapsulation",
        Likeness.Alike,
        WordsOf.InterfaceEncapsulations
    );

    /// <summary>How often an end behind a NAT sends one octet so that the mapping stays (RFC 3948 section 4).</summary>
    public static readonly Setting<Every> NatKeepalive = One(
        "natKeepalive",
        "NAT keepalive",
        Likeness.EachEndsOwn,
        "a length of time such as 20 s; or off",
        false,
        Every.Parse
    );

    /// <summary>How pairs are put into child SAs (RFC 7296 section 2.9).</summary>
    public static readonly Setting<Word<PairsPerChild>> PairsPerChild = OfWord(
        "pairsPerChild",
        "Pairs per child SA",
        Likeness.EachEndsOwn,
        WordsOf.PairsPerChild
    );

    /// <summary>When an end initiates.</summary>
    public static readonly Setting<Word<Initiation>> Initiation = OfWord(
        "initiation",
        "Initiation",
        Likeness.EachEndsOwn,
        WordsOf.Initiations
    );

    /// <summary>NAT traversal (RFC 7296 section 2.23, RFC 3947).</summary>
    public static readonly Setting<Word<NatTraversal>> NatTraversal = OfWord(
        "natTraversal",
        "NAT traversal",
        Likeness.EachEndsOwn,
        WordsOf.NatTraversals
    );

    /// <summary>Dead peer detection (RFC 7296 section 2.4, RFC 3706).</summary>
    public static readonly Setting<Dpd> Dpd = One(
        "dpd",
        "DPD",
        Likeness.EachEndsOwn,
        "20 s x 5, try again; or off",
        false,
        Records.Dpd.Parse
    );

    /// <summary>The window against replay, in packets (RFC 4303 section 3.4.3).</summary>
    public static readonly Setting<Number> ReplayWindow = One(
        "replayWindow",
        "Replay window",
        Likeness.EachEndsOwn,
        "packets, 0 to 4096",
        false,
        t => Scalars.Number(t, 0, 4096, "a replay window").To(n => new Number(n))
    );

    /// <summary>The address that is asked so that the tunnel stays up.</summary>
    public static readonly Setting<KeepaliveTarget> Keepalive = One(
        "keepalive",
        "Keepalive",
        Likeness.EachEndsOwn,
        "the target's address or name; or none",
        false,
        KeepaliveTarget.Parse
    );

    /// <summary>How often it is asked.</summary>
    public static readonly Setting<Every> KeepaliveInterval = One(
        "keepaliveInterval",
        "Keepalive interval",
        Likeness.EachEndsOwn,
        "a length of time such as 10 s; or off",
        false,
        Every.Parse
    );

    /// <summary>How often an end reauthenticates (RFC 4478).</summary>
    public static readonly Setting<Every> Reauthentication = One(
        "reauthentication",
        "Reauthentication",
        Likeness.EachEndsOwn,
        "a length of time such as 24 h; or off",
        false,
        Every.Parse
    );

    /// <summary>Extended sequence numbers (RFC 4303 section 2.2.1).</summary>
    public static readonly Setting<Word<Extended>> ExtendedSequence = OfWord(
        "extendedSequence",
        "Extended sequence numbers",
        Likeness.Alike,
        WordsOf.Extendeds
    );

    /// <summary>The DF bit of the outer header (RFC 4301 section 8.1).</summary>
    public static readonly Setting<Word<DontFragment>> DontFragment = OfWord(
        "dontFragment",
        "Don't-fragment bit",
        Likeness.EachEndsOwn,
        WordsOf.DontFragments
    );

    /// <summary>The MTU of the tunnel interface, in octets.</summary>
    public static readonly Setting<Number> Mtu = One(
        "mtu",
        "MTU",
        Likeness.EachEndsOwn,
        "octets, 576 to 9216",
        false,
        t => Scalars.Number(t, 576, 9216, "an MTU in octets").To(n => new Number(n))
    );

    /// <summary>The largest segment that TCP is told (RFC 9293 section 3.7.1), in octets.</summary>
    public static readonly Setting<Clamp> MssClamp = One(
        "mssClamp",
        "MSS clamp",
        Likeness.EachEndsOwn,
        "octets, 500 to 9176; or off",
        false,
        Clamp.Parse
    );

    /// <summary>Every setting, in the order of the comparison.</summary>
    public static readonly ImmutableArray<Setting> All =
    [
        IkeVersions,
        ExchangeMode,
        IkeProposals,
        IkeLifetime,
        Reauthentication,
        EspProposals,
        Pfs,
        EspLifetime,
        ExtendedSequence,
        EspMode,
        Authentication,
        PeerAuthentication,
        Signatures,
        PairsPerChild,
        Initiation,
        NatTraversal,
        NatKeepalive,
        Dpd,
        ReplayWindow,
        Keepalive,
        KeepaliveInterval,
        Mtu,
        MssClamp,
        DontFragment,
        InterfaceEncapsulation,
    ];

    /// <summary>The setting with a key; null when there is none.</summary>
    public static Setting? Find(string key) =>
        All.FirstOrDefault(s => s.Key.Equals(key, StringComparison.OrdinalIgnoreCase));

    private static TextSetting<T> One<T>(
        string key,
        string label,
        Likeness likeness,
        string about,
        bool negotiated,
        Func<string, Parsed<T>> parse
    )
        where T : class => new(key, label, likeness, about, negotiated, parse);

    private static TextSetting<Word<T>> OfWord<T>(string key, string label, Likeness likeness, Words<T> words)
        where T : struct, Enum =>
        One(key, label, likeness, string.Join(", ", words.All), false, t =>
            words.Parse(t).To(v => new Word<T>(v, words))
        );

    private static ListSetting<T> Listed<T>(
        string key,
        string label,
        Likeness likeness,
        string about,
        bool negotiated,
        Func<string, Parsed<T>> parse,
        Func<string, Parsed<ImmutableArray<T>>>? parseAll = null,
        Func<T, string>? write = null
    ) =>
        new(key, label, likeness, about, negotiated, parse, write ?? (item => item!.ToString()!))
        {
            ParseAll = parseAll,
        };

    private static LifeSetting OfLife(string key, string label) =>
        new(
            key,
            label,
            Likeness.EachEndsOwn,
            "time with its unit, optionally data and margin: {time: 3600 s, data: 4 GB, margin: 20 %}",
            true
        );
}

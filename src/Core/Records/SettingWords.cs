namespace Vellumkeep.Core.Records;

/// <summary>The version of the key exchange.</summary>
public enum IkeVersion
{
    /// <summary>IKE (RFC 2409).</summary>
    IKEv1 = 1,

    /// <summary>IKEv2 (RFC 7296).</summary>
    IKEv2 = 2,
}

/// <summary>How IKEv1 phase 1 is exchanged.</summary>
public enum ExchangeMode
{
    /// <summary>Main mode, six messages (RFC 2409 section 5).</summary>
    Main,

    /// <summary>Aggressive mode, three messages.</summary>
    Aggressive,
}

/// <summary>How an end proves who it is.</summary>
public enum Authentication
{
    /// <summary>By a pre-shared key.</summary>
    PreSharedKey,

    /// <summary>By a certificate.</summary>
    Certificate,
}

/// <summary>When an end initiates.</summary>
public enum Initiation
{
    /// <summary>It initiates always, and again after a failure.</summary>
    Always,

    /// <summary>It begins when there is traffic.</summary>
    OnTraffic,

    /// <summary>It never begins.</summary>
    RespondsOnly,
}

/// <summary>How subnet pairs are put into child SAs.</summary>
public enum PairsPerChild
{
    /// <summary>A child SA for each pair.</summary>
    One,

    /// <summary>One child SA for all pairs.</summary>
    AllInOne,

    /// <summary>One child SA from any to any; routes decide.</summary>
    AnyToAny,
}

/// <summary>When ESP goes in UDP (RFC 3948).</summary>
public enum NatTraversal
{
    /// <summary>When a NAT is detected (RFC 7296 section 2.23).</summary>
    WhenDetected,

    /// <summary>Always.</summary>
    Always,

    /// <summary>Never.</summary>
    Never,
}

/// <summary>Extended sequence numbers (RFC 4304, RFC 7296 transform type 5): what an end offers and takes.</summary>
public enum Extended
{
    /// <summary>They are used.</summary>
    On,

    /// <summary>They are not used.</summary>
    Off,

    /// <summary>They are used when the other end does.</summary>
    Either,
}

/// <summary>What an end does with the don't-fragment bit of the outer header (RFC 4301 section 8.1).</summary>
public enum DontFragment
{
    /// <summary>That of the inner header.</summary>
    Copy,

    /// <summary>Never set.</summary>
    Clear,

    /// <summary>Always set.</summary>
    Set,
}

/// <summary>What ESP protects of a packet (RFC 4301 section 4.1).</summary>
public enum EspMode
{
    /// <summary>The whole packet, behind an outer header of its own.</summary>
    Tunnel,

    /// <summary>What is behind its own header.</summary>
    Transport,
}

/// <summary>What the tunnel interface puts around a packet before ESP does.</summary>
public enum InterfaceEncapsulation
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>GRE (RFC 2784): a header of 4 octets, and a delivery header.</summary>
    Gre,

    /// <summary>GRE with a key (RFC 2890): a header of 8 octets, and a delivery header.</summary>
    GreWithKey,

    /// <summary>IP in IP (RFC 2003): a delivery header.</summary>
    IpInIp,
}

/// <summary>
/// A way of signing, and the hash that goes with it (RFC 7427 section 4; for IKEv1 and older IKEv2 RFC 7296 section 3.8).
/// </summary>
public enum SignatureMethod
{
    /// <summary>RSASSA-PKCS1-v1_5 with SHA-1.</summary>
    RsaSha1,

    /// <summary>RSASSA-PKCS1-v1_5 with SHA2-256.</summary>
    RsaSha256,

    /// <summary>RSASSA-PKCS1-v1_5 with SHA2-384.</summary>
    RsaSha384,

    /// <summary>RSASSA-PKCS1-v1_5 with SHA2-512.</summary>
    RsaSha512,

    /// <summary>RSASSA-PSS with SHA2-256.</summary>
    PssSha256,

    /// <summary>RSASSA-PSS with SHA2-384.</summary>
    PssSha384,

    /// <summary>RSASSA-PSS with SHA2-512.</summary>
    PssSha512,

    /// <summary>ECDSA with SHA2-256 on the P-256 curve.</summary>
    EcdsaSha256,

    /// <summary>ECDSA with SHA2-384 on the P-384 curve.</summary>
    EcdsaSha384,

    /// <summary>ECDSA with SHA2-512 on the P-521 curve.</summary>
    EcdsaSha512,

    /// <summary>Ed25519, which hashes by itself (RFC 8420).</summary>
    Ed25519,

    /// <summary>Ed448, which hashes by itself (RFC 8420).</summary>
    Ed448,
}

/// <summary>How much hangs on a tunnel.</summary>
public enum Importance
{
    /// <summary>Little.</summary>
    Low,

    /// <summary>As on most.</summary>
    Normal,

    /// <summary>Much: a failure has to be noticed soon.</summary>
    High,
}

/// <summary>What decides which traffic goes in.</summary>
public enum TunnelForm
{
    /// <summary>Selectors.</summary>
    PolicyBased,

    /// <summary>Routes to a tunnel interface.</summary>
    RouteBased,
}

/// <summary>Where a tunnel stands.</summary>
public enum TunnelState
{
    /// <summary>Nothing of it was entered yet.</summary>
    Planned,

    /// <summary>It is being built.</summary>
    Building,

    /// <summary>It carries traffic.</summary>
    InService,

    /// <summary>It stands on the devices and carries nothing for now.</summary>
    Suspended,

    /// <summary>It is gone from the devices.</summary>
    Retired,
}

/// <summary>What an end does when the peer does not answer.</summary>
public enum DeadPeerAction
{
    /// <summary>It takes the tunnel down.</summary>
    GiveUp,

    /// <summary>It begins again when there is traffic.</summary>
    WaitForTraffic,

    /// <summary>It begins again at once.</summary>
    TryAgain,
}

/// <summary>Who runs a gateway.</summary>
public enum RunBy
{
    /// <summary>We do.</summary>
    Us,

    /// <summary>The customer does.</summary>
    Customer,

    /// <summary>Another party does.</summary>
    OtherParty,
}

/// <summary>The words of the closed sets above.</summary>
public static class WordsOf
{
    /// <summary>The words of the versions.</summary>
    public static readonly Words<IkeVersion> IkeVersions = new(
        "a key exchange version",
        (IkeVersion.IKEv1, "IKEv1"),
        (IkeVersion.IKEv2, "IKEv2")
    );

    /// <summary>The words of the exchange modes.</summary>
    public static readonly Words<ExchangeMode> ExchangeModes = new(
        "an exchange mode",
        (ExchangeMode.Main, "main"),
        (ExchangeMode.Aggressive, "aggressive")
    );

    /// <summary>The words of the methods.</summary>
    public static readonly Words<Authentication> Authentications = new(
        "an authentication method",
        (Authentication.PreSharedKey, "PSK"),
        (Authentication.Certificate, "certificate")
    );

    /// <summary>The words of who begins.</summary>
    public static readonly Words<Initiation> Initiations = new(
        "an initiation setting",
        (Initiation.Always, "always"),
        (Initiation.OnTraffic, "on traffic"),
        (Initiation.RespondsOnly, "responds only")
    );

    /// <summary>The words of how pairs are put into child SAs.</summary>
    public static readonly Words<PairsPerChild> PairsPerChild = new(
        "a number of pairs per child SA",
        (Records.PairsPerChild.One, "one"),
        (Records.PairsPerChild.AllInOne, "all in one"),
        (Records.PairsPerChild.AnyToAny, "any to any")
    );

    /// <summary>The words of NAT traversal.</summary>
    public static readonly Words<NatTraversal> NatTraversals = new(
        "a NAT traversal setting",
        (NatTraversal.WhenDetected, "when detected"),
        (NatTraversal.Always, "always"),
        (NatTraversal.Never, "never")
    );

    /// <summary>The words of extended sequence numbers.</summary>
    public static readonly Words<Extended> Extendeds = new(
        "a setting for extended sequence numbers",
        (Extended.On, "on"),
        (Extended.Off, "off"),
        (Extended.Either, "either")
    );

    /// <summary>The words of the DF bit.</summary>
    public static readonly Words<DontFragment> DontFragments = new(
        "a way with the don't-fragment bit",
        (DontFragment.Copy, "copy"),
        (DontFragment.Clear, "clear"),
        (DontFragment.Set, "set")
    );

    /// <summary>The words of the modes of ESP.</summary>
    public static readonly Words<EspMode> EspModes = new(
        "a mode of ESP",
        (EspMode.Tunnel, "tunnel"),
        (EspMode.Transport, "transport")
    );

    /// <summary>The words of what the tunnel interface adds.</summary>
    public static readonly Words<InterfaceEncapsulation> InterfaceEncapsulations = new(
        "an encapsulation of the tunnel interface",
        (InterfaceEncapsulation.None, "none"),
        (InterfaceEncapsulation.Gre, "GRE"),
        (InterfaceEncapsulation.GreWithKey, "GRE with key"),
        (InterfaceEncapsulation.IpInIp, "IP in IP")
    );

    /// <summary>The words of the signature methods.</summary>
    public static readonly Words<SignatureMethod> SignatureMethods = new(
        "a signature method",
        (SignatureMethod.RsaSha1, "RSA with SHA1"),
        (SignatureMethod.RsaSha256, "RSA with SHA2-256"),
        (SignatureMethod.RsaSha384, "RSA with SHA2-384"),
        (SignatureMethod.RsaSha512, "RSA with SHA2-512"),
        (SignatureMethod.PssSha256, "RSASSA-PSS with SHA2-256"),
        (SignatureMethod.PssSha384, "RSASSA-PSS with SHA2-384"),
        (SignatureMethod.PssSha512, "RSASSA-PSS with SHA2-512"),
        (SignatureMethod.EcdsaSha256, "ECDSA with SHA2-256"),
        (SignatureMethod.EcdsaSha384, "ECDSA with SHA2-384"),
        (SignatureMethod.EcdsaSha512, "ECDSA with SHA2-512"),
        (SignatureMethod.Ed25519, "Ed25519"),
        (SignatureMethod.Ed448, "Ed448")
    );

    /// <summary>The words of importance.</summary>
    public static readonly Words<Importance> Importances = new(
        "an importance",
        (Importance.Low, "low"),
        (Importance.Normal, "normal"),
        (Importance.High, "high")
    );

    /// <summary>The words of the forms.</summary>
    public static readonly Words<TunnelForm> Forms = new(
        "a form of tunnel",
        (TunnelForm.PolicyBased, "policy-based"),
        (TunnelForm.RouteBased, "route-based")
    );

    /// <summary>The words of the states.</summary>
    public static readonly Words<TunnelState> States = new(
        "a state of a tunnel",
        (TunnelState.Planned, "planned"),
        (TunnelState.Building, "building"),
        (TunnelState.InService, "in service"),
        (TunnelState.Suspended, "suspended"),
        (TunnelState.Retired, "retired")
    );

    /// <summary>The words of what follows a dead peer.</summary>
    public static readonly Words<DeadPeerAction> DeadPeerActions = new(
        "an action after a dead peer",
        (DeadPeerAction.GiveUp, "give up"),
        (DeadPeerAction.WaitForTraffic, "wait for traffic"),
        (DeadPeerAction.TryAgain, "try again")
    );

    /// <summary>The words of who runs a gateway.</summary>
    public static readonly Words<RunBy> RunBys = new(
        "who runs a gateway",
        (RunBy.Us, "us"),
        (RunBy.Customer, "customer"),
        (RunBy.OtherParty, "other party")
    );
}

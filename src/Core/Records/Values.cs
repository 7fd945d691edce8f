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

/// <summary>When an end begins the negotiation by itself.</summary>
public enum Start
{
    /// <summary>It begins by itself and begins again.</summary>
    Always,

    /// <summary>It begins when there is traffic.</summary>
    OnTraffic,

    /// <summary>It never begins.</summary>
    OnlyAnswer,
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
    /// <summary>When a translator is detected (RFC 7296 section 2.23).</summary>
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
    public static readonly Words<Start> Starts = new(
        "a way to start",
        (Start.Always, "always"),
        (Start.OnTraffic, "on traffic"),
        (Start.OnlyAnswer, "only answer")
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
        "an answer for extended sequence numbers",
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
        "what to do after a dead peer",
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

/// <summary>A closed word as a setting's value, so that it has the one shape that settings have.</summary>
public sealed record Word<T>(T Value, Words<T> Set)
    where T : struct, Enum
{
    /// <inheritdoc/>
    public bool Equals(Word<T>? other) => other is not null && EqualityComparer<T>.Default.Equals(Value, other.Value);

    /// <inheritdoc/>
    public override int GetHashCode() => Value.GetHashCode();

    /// <inheritdoc/>
    public override string ToString() => Set.Of(Value);
}

/// <summary>A whole number as a setting's value.</summary>
public sealed record Number(int Value)
{
    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>The TCP segment size an end clamps to, in octets; null when it clamps nothing.</summary>
public sealed record Clamp(int? Octets)
{
    /// <summary>Reads <c>1360</c> (500 to 9,176) or <c>off</c>.</summary>
    public static Parsed<Clamp> Parse(string text) =>
        text.Equals("off", StringComparison.OrdinalIgnoreCase)
            ? Parsed<Clamp>.Of(new((int?)null))
            : Scalars.Number(text, 500, 9176, "an MSS in octets").To(n => new Clamp(n));

    /// <inheritdoc/>
    public override string ToString() => Octets?.ToString(CultureInfo.InvariantCulture) ?? "off";
}

/// <summary>Something done again after a length of time, or never (off).</summary>
public sealed record Every(Lifetime? Time)
{
    /// <summary>Never.</summary>
    public static readonly Every Off = new((Lifetime?)null);

    /// <summary>Reads an interval such as <c>10 s</c>, or <c>off</c>.</summary>
    public static Parsed<Every> Parse(string text) =>
        text.Equals("off", StringComparison.OrdinalIgnoreCase)
            ? Parsed<Every>.Of(Off)
            : Lifetime.Parse(text).To(t => new Every(t));

    /// <inheritdoc/>
    public override string ToString() => Time?.ToString() ?? "off";
}

/// <summary>A list as a setting's value, equal when the members are equal and in the same order.</summary>
public sealed record Several<T>(ImmutableArray<T> Items)
{
    /// <inheritdoc/>
    public bool Equals(Several<T>? other) => other is not null && Items.SequenceEqual(other.Items);

    /// <inheritdoc/>
    public override int GetHashCode() => Items.Length;

    /// <inheritdoc/>
    public override string ToString() => string.Join(", ", Items);
}

/// <summary>Before its hard end a lifetime is renewed: a part of it in percent (0 to 90), or a time.</summary>
public sealed record Margin(int? Percent, Lifetime? Time)
{
    /// <summary>Reads <c>20 %</c> or <c>5 min</c>.</summary>
    public static Parsed<Margin> Parse(string text) =>
        text.EndsWith('%')
            ? Scalars.Number(text[..^1].Trim(), 0, 90, "a margin in percent").To(p => new Margin(p, null))
            : Lifetime.Parse(text).To(t => new Margin(null, t));

    /// <summary>The margin of a lifetime, in seconds, never more than the lifetime itself.</summary>
    public long Of(Lifetime lifetime) =>
        Math.Min(lifetime.InSeconds, Percent is { } p ? lifetime.InSeconds * p / 100 : Time!.InSeconds);

    /// <inheritdoc/>
    public override string ToString() => Percent is { } p ? $"{p} %" : Time!.ToString();
}

/// <summary>How long an association lives: time, optionally data, and how long before the end it is renewed.</summary>
public sealed record Life(Lifetime Time, DataAmount? Data = null, Margin? Margin = null)
{
    /// <inheritdoc/>
    public override string ToString() =>
        string.Join(" or ", new[] { Time.ToString(), Data?.ToString() }.Where(t => t is not null))
        + (Margin is null ? "" : $", renewed {Margin} before");
}

/// <summary>Dead peer detection: interval of 1 s to a day, 1 to 60 tries, what follows; or off.</summary>
public sealed record Dpd(Lifetime? Interval, int Retries, DeadPeerAction Action)
{
    /// <summary>The peer is not asked.</summary>
    public static readonly Dpd Off = new(null, 0, DeadPeerAction.GiveUp);

    /// <summary>Reads <c>20 s x 5, try again</c> or <c>off</c>.</summary>
    public static Parsed<Dpd> Parse(string text)
    {
        if (text.Equals("off", StringComparison.OrdinalIgnoreCase))
            return Parsed<Dpd>.Of(Off);
        const string right = "interval x tries, what then: 20 s x 5, try again; or off";
        var comma = text.IndexOf(',');
        var times = text.IndexOf(" x ", StringComparison.Ordinal);
        if (comma < 0 || times < 0 || times > comma)
            return Parsed<Dpd>.Fail($"'{Typed.Short(text)}' is not a DPD setting", right);
        return Lifetime
            .Parse(text[..times])
            .Then(interval =>
                Scalars
                    .Number(text[(times + 3)..comma].Trim(), 1, 60, "a number of tries")
                    .Then(tries =>
                        WordsOf
                            .DeadPeerActions.Parse(text[(comma + 1)..])
                            .To(action => new Dpd(interval, tries, action))
                    )
            );
    }

    /// <inheritdoc/>
    public override string ToString() =>
        Interval is null ? "off" : $"{Interval} x {Retries}, {WordsOf.DeadPeerActions.Of(Action)}";
}

/// <summary>The kinds of identity (RFC 7296 section 3.5).</summary>
public enum IdentityKind
{
    /// <summary>ID_IPV4_ADDR or ID_IPV6_ADDR.</summary>
    Address,

    /// <summary>ID_FQDN.</summary>
    Fqdn,

    /// <summary>ID_RFC822_ADDR.</summary>
    Email,

    /// <summary>ID_DER_ASN1_DN.</summary>
    DistinguishedName,

    /// <summary>ID_KEY_ID.</summary>
    KeyId,
}

/// <summary>
/// An identity as it is sent or expected (RFC 7296 section 3.5): its kind, and its value exactly as typed, blanks at
/// the ends included.
/// </summary>
public sealed record Identity(IdentityKind Type, string Value)
{
    /// <summary>The words of the kinds.</summary>
    public static readonly Words<IdentityKind> Kinds = new(
        "a kind of identity",
        (IdentityKind.Address, "address"),
        (IdentityKind.Fqdn, "fqdn"),
        (IdentityKind.Email, "e-mail"),
        (IdentityKind.DistinguishedName, "dn"),
        (IdentityKind.KeyId, "key-id")
    );

    /// <summary>
    /// Reads the kind and the value, parted by a blank; a value with blanks at its ends stands in quotes: <c>fqdn
    /// "gw.example "</c>.
    /// </summary>
    public static Parsed<Identity> Parse(string text)
    {
        var t = text.TrimStart();
        var cut = t.IndexOf(' ');
        const string right =
            "the kind and the value, such as: fqdn churn.brindle.example, address 192.0.2.10, e-mail gw@brindle.example, dn CN=churn, key-id 4711";
        if (cut < 0)
            return Parsed<Identity>.Fail($"'{Typed.Short(t)}' is not an identity", right);
        var kind = Kinds.Parse(t[..cut]);
        if (!kind.Ok)
            return Parsed<Identity>.Fail(kind.Wrong!, kind.Right!);
        var value = t[(cut + 1)..].TrimStart();
        value = value is ['"', .., '"'] && value.Length > 1 ? value[1..^1] : value.TrimEnd();
        if (value.Length is 0 or > 255)
            return Parsed<Identity>.Fail($"'{Typed.Short(t)}' has no value after the kind", right);
        if (kind.Value != IdentityKind.Address)
            return Parsed<Identity>.Of(new(kind.Value, value));
        var address = Addressing.Address.Parse(value);
        return address.Ok
            ? Parsed<Identity>.Of(new(kind.Value, address.Value.ToString()))
            : Parsed<Identity>.Fail(address.Wrong!, address.Right!);
    }

    /// <inheritdoc/>
    public override string ToString() => $"{Kinds.Of(Type)} {(Value != Value.Trim() ? $"\"{Value}\"" : Value)}";
}

/// <summary>What is entered as the peer's address: an address, a name, or any.</summary>
public sealed record PeerAddress(Address? Address, string? Name)
{
    /// <summary>Whatever address it comes from.</summary>
    public static readonly PeerAddress Any = new(null, null);

    /// <summary>Whether any address will do.</summary>
    public bool IsAny => Address is null && Name is null;

    /// <summary>Reads an address, a name, or <c>any</c>.</summary>
    public static Parsed<PeerAddress> Parse(string text) =>
        text.Equals("any", StringComparison.OrdinalIgnoreCase) ? Parsed<PeerAddress>.Of(Any)
        : text.Any(char.IsLetter)
        && !text.Contains(':')
        && text.Contains('.')
        && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '.' or '-')
            ? Parsed<PeerAddress>.Of(new(null, text.ToLowerInvariant()))
        : Addressing.Address.Parse(text).Then(a => Parsed<PeerAddress>.Of(new(a, null))) is { Ok: true } ok ? ok
        : Parsed<PeerAddress>.Fail(
            $"'{Typed.Short(text)}' is not a peer address",
            "an address such as 203.0.113.77, a name such as ashlow.brindle.example, or any"
        );

    /// <inheritdoc/>
    public override string ToString() => Address?.ToString() ?? Name ?? "any";
}

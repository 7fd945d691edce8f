namespace Vellumkeep.Core.Records;

/// <summary>What a change of one kind does to traffic on a platform.</summary>
public enum Disturbance
{
    Nothing,
    ThatPair,
    TunnelRestarts,
    GatewayRestarts,
    UplinkBounces,
}

/// <summary>A disturbance and how long it lasts in seconds; null when the profile does not say.</summary>
public sealed record Cost(Disturbance What, int? Seconds)
{
    public static readonly Words<Disturbance> Kinds = new(
        "what a change disturbs",
        (Disturbance.Nothing, "nothing"),
        (Disturbance.ThatPair, "that pair"),
        (Disturbance.TunnelRestarts, "tunnel restarts"),
        (Disturbance.GatewayRestarts, "every tunnel restarts"),
        (Disturbance.UplinkBounces, "uplink bounces")
    );

    /// <summary>Reads <c>tunnel restarts, 20 s</c> or <c>nothing</c>.</summary>
    public static Parsed<Cost> Parse(string text)
    {
        var comma = text.IndexOf(',');
        var what = Kinds.Parse(comma < 0 ? text : text[..comma]);
        return !what.Ok ? Parsed<Cost>.Fail(what.Wrong!, what.Right!)
            : comma < 0 ? Parsed<Cost>.Of(new(what.Value, null))
            : Lifetime.Parse(text[(comma + 1)..]).To(t => new Cost(what.Value, (int)t.InSeconds));
    }

    public override string ToString() => Kinds.Of(What) + (Seconds is { } s ? $", {s} s" : "");
}

/// <summary>How what is entered takes effect.</summary>
public enum Effect
{
    AtOnce,
    OnActivation,
    OnRequest,
}

/// <summary>How an IKEv1 lifetime that is not equal is answered.</summary>
public enum LifetimeAnswer
{
    MustBeEqual,
    LowerWinsSilently,
    LowerWinsAndSaysSo,
    InitiatorWins,
}

/// <summary>By what a platform finds the peer entry for a message.</summary>
public enum Lookup
{
    Address,
    Name,
    Any,
}

/// <summary>What an end takes when it answers.</summary>
public enum Answering
{
    /// <summary>Only what is in its own list, whole.</summary>
    SameList,

    /// <summary>Any combination of the members of its list.</summary>
    AnyCombination,
}

/// <summary>Whose order decides when several proposals are acceptable.</summary>
public enum OrderOf
{
    Initiator,
    Responder,
}

/// <summary>Whether selectors that are not equal are taken when answering.</summary>
public enum SelectorRule
{
    MustBeEqual,

    /// <summary>Narrower ones are taken, and wider ones answered with a part (RFC 7296 section 2.9).</summary>
    Narrowed,
}

/// <summary>What a platform does when a rekey of a child SA is refused.</summary>
public enum AfterRefusal
{
    AuthenticatesAfresh,
    GoesDown,
}

/// <summary>What a pre-shared key has to be on a platform; null where the profile does not say.</summary>
public sealed record KeyLimits(int? Shortest, int? Longest, string? Refused, bool? OneEachWay, bool? HoldsTwo);

/// <summary>
/// Retransmission of an unanswered request: after the first wait, each next one longer by the factor; tries counts the
/// sends after the first.
/// </summary>
public sealed record Retransmission(decimal FirstSeconds, decimal Factor, int Tries)
{
    /// <summary>
    /// Seconds from the first send until the peer counts as dead: the wait after the last try included.
    /// </summary>
    public decimal Total
    {
        get
        {
            decimal sum = 0,
                wait = FirstSeconds;
            for (var i = 0; i <= Tries; i++, wait *= Factor)
                sum += wait;
            return sum;
        }
    }

    /// <summary>Reads <c>4 s x 2, 5 tries</c>: first wait of 1 to 60 s, factor of 1 to 10, 1 to 12 tries.</summary>
    public static Parsed<Retransmission> Parse(string text)
    {
        var parts = text.Replace(" ", "").Replace("tries", "").Split(['x', ',']);
        return
            parts
                is [['1' or '2' or '3' or '4' or '5' or '6' or '7' or '8' or '9', .., 's'] first, var factor, var tries]
            && decimal.TryParse(first[..^1], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var f)
            && f is >= 1 and <= 60
            && decimal.TryParse(factor, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var x)
            && x is >= 1 and <= 10
            && int.TryParse(tries, NumberStyles.None, CultureInfo.InvariantCulture, out var n)
            && n is >= 1 and <= 12
            ? Parsed<Retransmission>.Of(new(f, x, n))
            : Parsed<Retransmission>.Fail(
                $"'{Typed.Short(text)}' is not a retransmission schedule",
                "first wait, factor and tries, such as: 4 s x 2, 5 tries"
            );
    }

    public override string ToString() =>
        string.Create(CultureInfo.InvariantCulture, $"{FirstSeconds:0.##} s x {Factor:0.##}, {Tries} tries");
}

/// <summary>Least and most of a lifetime; both included.</summary>
public sealed record LifeRange(Lifetime Least, Lifetime Most)
{
    public bool Takes(Lifetime time) => time.InSeconds >= Least.InSeconds && time.InSeconds <= Most.InSeconds;

    /// <summary>Reads <c>120 s to 86400 s</c>.</summary>
    public static Parsed<LifeRange> Parse(string text)
    {
        var cut = text.IndexOf(" to ", StringComparison.Ordinal);
        return cut < 0
            ? Parsed<LifeRange>.Fail(
                $"'{Typed.Short(text)}' is not a range of lifetimes",
                "least and most, such as: 120 s to 86400 s"
            )
            : Lifetime
                .Parse(text[..cut])
                .Then(least =>
                    Lifetime
                        .Parse(text[(cut + 4)..])
                        .Then(most =>
                            most.InSeconds >= least.InSeconds
                                ? Parsed<LifeRange>.Of(new(least, most))
                                : Parsed<LifeRange>.Fail(
                                    $"'{Typed.Short(text)}' ends before it begins",
                                    $"{most} to {least}"
                                )
                        )
                );
    }

    public override string ToString() => $"{Least} to {Most}";
}

/// <summary>
/// What one make, model and version can do and does by default. Data, not code; anything may be unknown (null).
/// </summary>
public sealed record Platform : IRecord
{
    public string Id { get; init; } = "";

    public string Name { get; init; } = "";

    public int Version { get; init; }

    public string Title { get; init; } = "";

    public string Family { get; init; } = "";

    public ImmutableArray<IkeVersion> IkeVersions { get; init; } = [];

    public ImmutableArray<Encryption> Encryptions { get; init; } = [];

    public ImmutableArray<Integrity> Integrities { get; init; } = [];

    public ImmutableArray<DhGroup> Groups { get; init; } = [];

    /// <summary>What it accepts when it answers; null when not known.</summary>
    public Answering? Answers { get; init; }

    /// <summary>Whether identities that differ only in case differ; null when not known.</summary>
    public bool? ComparesNamesByOctet { get; init; }

    public ImmutableArray<TunnelForm> Forms { get; init; } = [];

    /// <summary>The unit the operator types; null when not known.</summary>
    public TimeUnit? LifetimeUnit { get; init; }

    public LifetimeAnswer? LifetimeAnswer { get; init; }

    /// <summary>What has to be made by hand beside the tunnel; null when not known.</summary>
    public ImmutableArray<string>? ByHand { get; init; }

    public Cost? SubnetsCost { get; init; }

    public Effect? Effect { get; init; }

    public int? EffectSeconds { get; init; }

    /// <summary>Whether saving is an act of its own; null when not known.</summary>
    public bool? SavedApart { get; init; }

    public int? NameLimit { get; init; }

    public DateOnly? SupportEnds { get; init; }

    /// <summary>Whether the identity is the address on the device, and the one expected the peer address, when nobody says; null when not known.</summary>
    public bool? SendsAddressByDefault { get; init; }

    public SettingSet Defaults { get; init; } = SettingSet.Empty;

    public string? Notes { get; init; }

    public ImmutableArray<Authentication>? Methods { get; init; }

    public ImmutableArray<IdentityKind>? IdentityKinds { get; init; }

    public ImmutableArray<ExchangeMode>? ExchangeModes { get; init; }

    /// <summary>Whether it answers main and aggressive mode alike, whatever is set; null when not known.</summary>
    public bool? AnswersEitherMode { get; init; }

    /// <summary>
    /// By what it finds the peer entry; null when not known. A name is known from IKE_AUTH, message 5 of main mode, or
    /// message 1 of aggressive mode on.
    /// </summary>
    public ImmutableArray<Lookup>? LooksUpBy { get; init; }

    public ImmutableArray<Prf> Prfs { get; init; } = [];

    public OrderOf? OrderWins { get; init; }

    /// <summary>Algorithms that it does under IKEv1 only, by canonical name.</summary>
    public ImmutableArray<string> Ikev1Only { get; init; } = [];

    public ImmutableArray<PfsStance>? PfsStances { get; init; }

    public ImmutableArray<PairsPerChild>? PairsPerChildren { get; init; }

    public int? MostPairs { get; init; }

    /// <summary>How many proposals of a layer one tunnel can hold; null when the profile does not say.</summary>
    public int? MostProposals { get; init; }

    public SelectorRule? Ikev1Selectors { get; init; }

    public SelectorRule? Ikev2Selectors { get; init; }

    public KeyLimits? Keys { get; init; }

    public LifeRange? IkeLifetimes { get; init; }

    public LifeRange? EspLifetimes { get; init; }

    /// <summary>By how much of the lifetime a rekey may come earlier still, at random, in percent (0 to 50).</summary>
    public int? Jitter { get; init; }

    public AfterRefusal? WhenRekeyRefused { get; init; }

    /// <summary>
    /// Whether it answers a refused phase 1 of IKEv1 with an error; they are optional and unauthenticated (RFC 2408
    /// section 5). Null when not known.
    /// </summary>
    public bool? SaysWhyInPhase1 { get; init; }

    public Retransmission? Retransmits { get; init; }

    /// <summary>Whether its outer address is known only after it was created.</summary>
    public bool? AddressLater { get; init; }

    /// <summary>How many endpoints come together; null or 1 when it is one.</summary>
    public int? Endpoints { get; init; }

    public SelectorRule? SelectorsOf(IkeVersion? version) =>
        version == IkeVersion.IKEv1 ? Ikev1Selectors : Ikev2Selectors;

    /// <summary>
    /// Whether it can do an algorithm under a version, by canonical name; null when the profile lists none of that
    /// type.
    /// </summary>
    public bool? Can(string algorithm, IkeVersion? version)
    {
        if (version == IkeVersion.IKEv2 && Ikev1Only.Contains(algorithm))
            return false;
        static bool? In<T>(ImmutableArray<T> list, string name) =>
            list.IsEmpty ? null : list.Any(x => x!.ToString() == name);
        return algorithm.StartsWith("DH ", StringComparison.Ordinal) ? In(Groups, algorithm)
            : algorithm.StartsWith("PRF-", StringComparison.Ordinal)
                ? In(Prfs, algorithm)
                    ?? (Integrities.IsEmpty ? null : Integrities.Any(i => AlgorithmTable.PrfOf(i).Name == algorithm))
            : algorithm.StartsWith("HMAC-", StringComparison.Ordinal) ? In(Integrities, algorithm)
            : In(Encryptions, algorithm);
    }

    public static readonly Words<Answering> Answerings = new(
        "a way of answering",
        (Answering.SameList, "same list"),
        (Answering.AnyCombination, "any combination")
    );
    public static readonly Words<Effect> Effects = new(
        "how entries take effect",
        (Records.Effect.AtOnce, "at once"),
        (Records.Effect.OnActivation, "on activation"),
        (Records.Effect.OnRequest, "on request")
    );
    public static readonly Words<LifetimeAnswer> LifetimeAnswers = new(
        "an answer to an IKEv1 lifetime",
        (Records.LifetimeAnswer.MustBeEqual, "must be equal"),
        (Records.LifetimeAnswer.LowerWinsSilently, "lower wins silently"),
        (Records.LifetimeAnswer.LowerWinsAndSaysSo, "lower wins and says so"),
        (Records.LifetimeAnswer.InitiatorWins, "initiator wins")
    );

    public static readonly Words<Lookup> Lookups = new(
        "a way of finding the peer entry",
        (Lookup.Address, "address"),
        (Lookup.Name, "name"),
        (Lookup.Any, "any")
    );
    public static readonly Words<OrderOf> Orders = new(
        "whose order wins",
        (OrderOf.Initiator, "initiator"),
        (OrderOf.Responder, "responder")
    );
    public static readonly Words<SelectorRule> SelectorRules = new(
        "a rule for selectors",
        (SelectorRule.MustBeEqual, "must be equal"),
        (SelectorRule.Narrowed, "narrowed")
    );
    public static readonly Words<AfterRefusal> AfterRefusals = new(
        "what follows a refused rekey",
        (AfterRefusal.AuthenticatesAfresh, "authenticates afresh"),
        (AfterRefusal.GoesDown, "goes down")
    );
    public static readonly Words<PfsStance> PfsStanceWords = new(
        "a stance on PFS",
        (PfsStance.Required, "required"),
        (PfsStance.Optional, "optional"),
        (PfsStance.Refused, "refused")
    );

    public static readonly Words<TimeUnit> Units = new(
        "a unit of time",
        (TimeUnit.Seconds, "seconds"),
        (TimeUnit.Minutes, "minutes"),
        (TimeUnit.Hours, "hours")
    );
    public static readonly ImmutableArray<string> HandWork = ["rules", "no-translation", "route", "discard route"];

    public RecordKind Kind => RecordKind.Platform;

    public DateOnly? Retired { get; init; }

    public string Code => $"{Name}@{Version}";

    /// <summary>
    /// Whether <paramref name="work"/> (rules, no-translation, route, discard route) is made by hand; null when not
    /// known.
    /// </summary>
    public bool? MadeByHand(string work) => ByHand is { } list ? list.Contains(work) : null;
}

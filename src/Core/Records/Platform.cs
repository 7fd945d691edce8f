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
/// <param name="Refused">Characters it does not take.</param>
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
/// <param name="Answers">What it accepts when it answers; null when not known.</param>
/// <param name="ComparesNamesByOctet">Whether identities that differ only in case differ; null when not known.</param>
/// <param name="SendsAddressByDefault">Whether the identity is the address on the device, and the one expected the peer
/// address, when nobody says; null when not known.</param>
/// <param name="LifetimeUnit">The unit the operator types; null when not known.</param>
/// <param name="ByHand">What has to be made by hand beside the tunnel; null when not known.</param>
/// <param name="SavedApart">Whether saving is an act of its own; null when not known.</param>
public sealed record Platform(
    string Id,
    string Name,
    int Version,
    string Title,
    string Family,
    ImmutableArray<IkeVersion> IkeVersions,
    ImmutableArray<Encryption> Encryptions,
    ImmutableArray<Integrity> Integrities,
    ImmutableArray<DhGroup> Groups,
    Answering? Answers,
    bool? ComparesNamesByOctet,
    ImmutableArray<TunnelForm> Forms,
    TimeUnit? LifetimeUnit,
    LifetimeAnswer? LifetimeAnswer,
    ImmutableArray<string>? ByHand,
    Cost? SubnetsCost,
    Effect? Effect,
    int? EffectSeconds,
    bool? SavedApart,
    int? NameLimit,
    DateOnly? SupportEnds,
    bool? SendsAddressByDefault,
    SettingSet Defaults,
    string? Notes
) : IRecord
{
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

    private static readonly Words<TimeUnit> Units = new(
        "a unit of time",
        (TimeUnit.Seconds, "seconds"),
        (TimeUnit.Minutes, "minutes"),
        (TimeUnit.Hours, "hours")
    );
    private static readonly string[] HandWork = ["rules", "no-translation", "route", "discard route"];

    public RecordKind Kind => RecordKind.Platform;

    public DateOnly? Retired { get; init; }

    public string Code => $"{Name}@{Version}";

    /// <summary>
    /// Whether <paramref name="work"/> (rules, no-translation, route, discard route) is made by hand; null when not
    /// known.
    /// </summary>
    public bool? MadeByHand(string work) => ByHand is { } list ? list.Contains(work) : null;

    public static Platform? Read(string id, Fields f)
    {
        var name = f.Code("code", "code, such as teasel-minor");
        var version = f.Value(
            "version",
            "whole number from 1",
            t => Scalars.Number(t, 1, 9999, "a version").To(n => (int?)n),
            true
        );
        var title = f.Text("name", "make and model");
        var family = f.OptionalText("family", "small router, large firewall, hosted ...");
        var ike = f.Values("ikeVersions", "IKEv1, IKEv2", WordsOf.IkeVersions.Parse);
        var encryptions = f.Values("encryption", "ciphers with key length", AlgorithmTable.Encryption);
        var integrities = f.Values("integrity", "integrity algorithms", AlgorithmTable.Integrity);
        var groups = f.Values("groups", "DH groups", AlgorithmTable.Group);
        var answers = f.Word("answers", "what it accepts when it answers: same list, or any combination", Answerings);
        var octet = f.Value(
            "namesCompared",
            "by octet, or ignoring case",
            t =>
                t.ToLowerInvariant() switch
                {
                    "by octet" => Parsed<bool?>.Of(true),
                    "ignoring case" => Parsed<bool?>.Of(false),
                    _ => Parsed<bool?>.Fail(
                        $"'{Typed.Short(t)}' is not a way of comparing names",
                        "by octet, or ignoring case"
                    ),
                },
            words: ["by octet", "ignoring case"]
        );
        var forms = f.Values("forms", "policy-based, route-based", WordsOf.Forms.Parse);
        var unit = f.Word("lifetimeUnit", "the unit the operator types: seconds, minutes or hours", Units);
        var lifetimeAnswer = f.Word(
            "ikev1LifetimeAnswer",
            "how an IKEv1 lifetime that is not equal is answered",
            LifetimeAnswers
        );
        var handSaid = f.Has("byHand");
        var byHand = f.Values(
            "byHand",
            string.Join(", ", HandWork),
            t => Typed.OneOf(t, HandWork.ToDictionary(h => h), "work done by hand"),
            HandWork
        );
        var cost = f.Value(
            "changingSubnets",
            "what changing subnets disturbs, such as: tunnel restarts, 20 s",
            Cost.Parse
        );
        var effect = f.Word("takesEffect", "at once, on activation, or on request", Effects);
        var seconds = f.Value("takesEffectIn", "how long that takes, such as 2 min", Lifetime.Parse);
        var savedApart = f.Value(
            "savedApart",
            "yes or no: whether saving is an act of its own",
            t => Scalars.YesNo(t).To(b => (bool?)b),
            words: ["yes", "no"]
        );
        var limit = f.Value("nameLimit", "most characters in a name on the device", t =>
            Scalars.Number(t, 4, 255, "a name limit").To(n => (int?)n)
        );
        var ends = f.Value("supportEnds", "date on which support ends", t => Scalars.Date(t).To(d => (DateOnly?)d));
        var sends = f.Value(
            "defaultIdentity",
            "address, when the identity sent and expected is the address unless somebody says otherwise; or none",
            t =>
                t switch
                {
                    "address" => Parsed<bool?>.Of(true),
                    "none" => Parsed<bool?>.Of(false),
                    _ => Parsed<bool?>.Fail($"'{Typed.Short(t)}' is not a default identity", "address, or none"),
                },
            words: ["address", "none"]
        );
        var defaults = f.Map("defaults", "what it does when nobody says otherwise", d =>
        {
            var set = SettingSet.Read(d);
            return d.Build(() => set);
        });
        ImmutableArray<T>? Listed<T>(string key, string about, Words<T> words)
            where T : struct, Enum
        {
            var said = f.Has(key);
            var list = f.Values(key, about, words.Parse, words.All);
            return said ? list : null;
        }

        bool? Said(string key, string about) =>
            f.Value(key, about, t => Scalars.YesNo(t).To(b => (bool?)b), words: ["yes", "no"]);
        var methods = Listed("authentication", "PSK, certificate", WordsOf.Authentications);
        var kinds = Listed("identityKinds", "kinds of identity it can send", Identity.Kinds);
        var modes = Listed("exchangeModes", "main, aggressive", WordsOf.ExchangeModes);
        var either = Said("answersEitherMode", "yes or no: whether it answers main and aggressive mode alike");
        var lookups = Listed("looksUpBy", "by what it finds the peer entry: address, name, any", Lookups);
        var prfs = f.Values("prfs", "PRFs, when they are not those of the integrity algorithms", AlgorithmTable.Prf);
        var order = f.Word(
            "orderWins",
            "whose order decides between acceptable proposals: initiator or responder",
            Orders
        );
        var oldOnly = f.Values("ikev1Only", "algorithms it does under IKEv1 only", AlgorithmTable.AnyName);
        var stances = Listed(
            "pfsStances",
            "required, optional, refused: what it can be told about PFS",
            PfsStanceWords
        );
        var perChild = Listed("pairsPerChild", "what it can do: one, all in one, any to any", WordsOf.PairsPerChild);
        var mostPairs = f.Value("mostPairs", "most pairs in one tunnel", t =>
            Scalars.Number(t, 1, 100_000, "a number of pairs").To(n => (int?)n)
        );
        var mostProposals = f.Value("mostProposals", "how many proposals one tunnel can hold", t =>
            Scalars.Number(t, 1, 100, "a number of proposals").To(n => (int?)n)
        );
        var oldSelectors = f.Word("ikev1Selectors", "must be equal, or narrowed", SelectorRules);
        var newSelectors = f.Word("ikev2Selectors", "must be equal, or narrowed", SelectorRules);
        var keys = f.Map("keys", "what a pre-shared key has to be", k =>
        {
            var shortest = k.Value("shortest", "fewest characters", t =>
                Scalars.Number(t, 1, 4096, "a length").To(n => (int?)n)
            );
            var longest = k.Value("longest", "most characters", t =>
                Scalars.Number(t, 1, 4096, "a length").To(n => (int?)n)
            );
            var refused = k.OptionalText("refused", "characters it does not take", 40);
            var eachWay = k.Value(
                "oneEachWay",
                "yes or no: whether there can be one for each direction",
                t => Scalars.YesNo(t).To(b => (bool?)b),
                words: ["yes", "no"]
            );
            var two = k.Value(
                "holdsTwo",
                "yes or no: whether two can be held while one is replaced",
                t => Scalars.YesNo(t).To(b => (bool?)b),
                words: ["yes", "no"]
            );
            return k.Build(() => new KeyLimits(shortest, longest, refused, eachWay, two));
        });
        var ikeRange = f.Value("ikeLifetimes", "least and most, such as: 120 s to 86400 s", LifeRange.Parse);
        var espRange = f.Value("espLifetimes", "least and most, such as: 120 s to 86400 s", LifeRange.Parse);
        var jitter = f.Value("rekeyJitter", "by how much a rekey may come earlier still, such as 5 %", t =>
            Scalars.Number(t.TrimEnd('%', ' '), 0, 50, "a jitter in percent").To(n => (int?)n)
        );
        var after = f.Word("whenRekeyRefused", "authenticates afresh, or goes down", AfterRefusals);
        var saysWhy = Said("saysWhyInPhase1", "yes or no: whether it answers a refused phase 1 of IKEv1 with an error");
        var retransmits = f.Value(
            "retransmits",
            "first wait, factor and tries, such as: 4 s x 2, 5 tries",
            Retransmission.Parse
        );
        var later = Said("addressLater", "yes or no: whether its outer address is known only after it was created");
        var endpoints = f.Value("endpoints", "how many endpoints come together", t =>
            Scalars.Number(t, 1, 8, "a number of endpoints").To(n => (int?)n)
        );
        var notes = f.OptionalText("notes", "anything else", 4000);
        var retired = f.Value("retired", "date on which it was taken out of use", t =>
            Scalars.Date(t).To(d => (DateOnly?)d)
        );
        return f.Build(() =>
            new Platform(
                id,
                name,
                version!.Value,
                title,
                family ?? "",
                ike,
                encryptions,
                integrities,
                groups,
                answers,
                octet,
                forms,
                unit,
                lifetimeAnswer,
                handSaid ? byHand : null,
                cost,
                effect,
                (int?)seconds?.InSeconds,
                savedApart,
                limit,
                ends,
                sends,
                defaults ?? SettingSet.Empty,
                notes
            )
            {
                Methods = methods,
                IdentityKinds = kinds,
                ExchangeModes = modes,
                AnswersEitherMode = either,
                LooksUpBy = lookups,
                Prfs = prfs,
                OrderWins = order,
                Ikev1Only = oldOnly,
                PfsStances = stances,
                PairsPerChildren = perChild,
                MostPairs = mostPairs,
                MostProposals = mostProposals,
                Ikev1Selectors = oldSelectors,
                Ikev2Selectors = newSelectors,
                Keys = keys,
                IkeLifetimes = ikeRange,
                EspLifetimes = espRange,
                Jitter = jitter,
                WhenRekeyRefused = after,
                SaysWhyInPhase1 = saysWhy,
                Retransmits = retransmits,
                AddressLater = later,
                Endpoints = endpoints,
                Retired = retired,
            }
        );
    }

    public MapNode Write() =>
        new MapWriter()
            .Add("code", Name)
            .Add("version", Version.ToString(CultureInfo.InvariantCulture))
            .Add("name", Title)
            .Add("family", Family.Length == 0 ? null : Family)
            .Texts("ikeVersions", IkeVersions)
            .Texts("encryption", Encryptions)
            .Texts("integrity", Integrities)
            .Texts("groups", Groups)
            .Add("answers", Answers is { } a ? Answerings.Of(a) : null)
            .Add(
                "namesCompared",
                ComparesNamesByOctet is { } o
                    ? o
                        ? "by octet"
                        : "ignoring case"
                    : null
            )
            .Texts("forms", Forms.Select(WordsOf.Forms.Of))
            .Add("lifetimeUnit", LifetimeUnit is { } u ? Units.Of(u) : null)
            .Add("ikev1LifetimeAnswer", LifetimeAnswer is { } l ? LifetimeAnswers.Of(l) : null)
            .Always("byHand", ByHand is { } hand ? ListNode.OfTexts(hand) : null)
            .Add("changingSubnets", SubnetsCost?.ToString())
            .Add("takesEffect", Effect is { } e ? Effects.Of(e) : null)
            .Add("takesEffectIn", EffectSeconds is { } s ? $"{s} s" : null)
            .Add("savedApart", SavedApart is { } sa ? Scalars.Write(sa) : null)
            .Add("nameLimit", NameLimit?.ToString(CultureInfo.InvariantCulture))
            .Add("supportEnds", SupportEnds is { } d ? Scalars.Write(d) : null)
            .Add(
                "defaultIdentity",
                SendsAddressByDefault is { } sends
                    ? sends
                        ? "address"
                        : "none"
                    : null
            )
            .Always("authentication", Words(Methods, WordsOf.Authentications))
            .Always("identityKinds", Words(IdentityKinds, Identity.Kinds))
            .Always("exchangeModes", Words(ExchangeModes, WordsOf.ExchangeModes))
            .Add("answersEitherMode", YesNo(AnswersEitherMode))
            .Always("looksUpBy", Words(LooksUpBy, Lookups))
            .Texts("prfs", Prfs)
            .Add("orderWins", OrderWins is { } w ? Orders.Of(w) : null)
            .Texts("ikev1Only", Ikev1Only)
            .Always("pfsStances", Words(PfsStances, PfsStanceWords))
            .Always("pairsPerChild", Words(PairsPerChildren, WordsOf.PairsPerChild))
            .Add("mostPairs", MostPairs?.ToString(CultureInfo.InvariantCulture))
            .Add("mostProposals", MostProposals?.ToString(CultureInfo.InvariantCulture))
            .Add("ikev1Selectors", Ikev1Selectors is { } s1 ? SelectorRules.Of(s1) : null)
            .Add("ikev2Selectors", Ikev2Selectors is { } s2 ? SelectorRules.Of(s2) : null)
            .Add(
                "keys",
                Keys is not { } k
                    ? null
                    : new MapWriter()
                        .Add("shortest", k.Shortest?.ToString(CultureInfo.InvariantCulture))
                        .Add("longest", k.Longest?.ToString(CultureInfo.InvariantCulture))
                        .Add("refused", k.Refused)
                        .Add("oneEachWay", YesNo(k.OneEachWay))
                        .Add("holdsTwo", YesNo(k.HoldsTwo))
                        .Done()
            )
            .Add("ikeLifetimes", Plain(IkeLifetimes))
            .Add("espLifetimes", Plain(EspLifetimes))
            .Add("rekeyJitter", Jitter is { } j ? $"{j} %" : null)
            .Add("whenRekeyRefused", WhenRekeyRefused is { } r ? AfterRefusals.Of(r) : null)
            .Add("saysWhyInPhase1", YesNo(SaysWhyInPhase1))
            .Add("retransmits", Retransmits?.ToString())
            .Add("addressLater", YesNo(AddressLater))
            .Add("endpoints", Endpoints?.ToString(CultureInfo.InvariantCulture))
            .Add("defaults", Defaults.Write())
            .Add("notes", Notes)
            .Add("retired", Retired is { } day ? Scalars.Write(day) : null)
            .Done();

    private static string? YesNo(bool? yes) => yes is { } y ? Scalars.Write(y) : null;

    private static string? Plain(LifeRange? range) =>
        range is null
            ? null
            : $"{range.Least.Amount} {Lifetime.Word(range.Least.Unit)} to {range.Most.Amount} {Lifetime.Word(range.Most.Unit)}";

    private static ListNode? Words<T>(ImmutableArray<T>? list, Words<T> words)
        where T : struct, Enum => list is { } l ? ListNode.OfTexts(l.Select(words.Of)) : null;
}

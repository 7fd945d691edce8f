namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a platform profile; whatever is left out is not known.</summary>
public static class WrittenPlatform
{
    private static readonly Form<KeyLimits> OfKeys = new Form<KeyLimits>(() => new(null, null, null, null, null))
        .Value(k => k.Shortest, "shortest", "fewest characters", Codecs.Number(1, 4096, "a length"))
        .Value(k => k.Longest, "longest", "most characters", Codecs.Number(1, 4096, "a length"))
        .Text(k => k.Refused, "refused", "characters it does not take", 40)
        .Value(k => k.OneEachWay, "oneEachWay", "yes or no: whether there can be one for each direction", Codecs.YesNo)
        .Value(k => k.HoldsTwo, "holdsTwo", "yes or no: whether two can be held while one is replaced", Codecs.YesNo);

    private static readonly Codec<int> Seconds = new(
        text => Lifetime.Parse(text).To(time => (int)time.InSeconds),
        seconds => $"{seconds} s"
    );

    private static readonly Codec<int> Percent = new(
        text => Scalars.Number(text.TrimEnd('%', ' '), 0, 50, "a jitter in percent"),
        percent => $"{percent} %"
    );

    private static readonly Codec<LifeRange> Range = new(LifeRange.Parse, range =>
        $"{Codecs.Lifetime.Write(range.Least)} to {Codecs.Lifetime.Write(range.Most)}"
    );

    /// <summary>Every field of a platform profile, declared once for reading, writing and the schema.</summary>
    public static readonly Form<Platform> Form = new Form<Platform>(() => new())
        .Id(p => p.Id)
        .Code(p => p.Name, "code", "code, such as teasel-minor")
        .Describing()
        .Needs(p => p.Version, "version", "whole number from 1", Codecs.Number(1, 9999, "a version"))
        .Text(p => p.Title, "name", "make and model", required: true)
        .Describing()
        .Text(p => p.Family, "family", "small router, large firewall, hosted ...", unsaid: "")
        .Describing()
        .Values(p => p.IkeVersions, "ikeVersions", "IKEv1, IKEv2", Word(WordsOf.IkeVersions))
        .Values(p => p.Encryptions, "encryption", "ciphers with key length", Codecs.Of(AlgorithmTable.Encryption))
        .Values(p => p.Integrities, "integrity", "integrity algorithms", Codecs.Of(AlgorithmTable.Integrity))
        .Values(p => p.Groups, "groups", "DH groups", Codecs.Of(AlgorithmTable.Group))
        .Value(
            p => p.Answers,
            "accepts",
            "what it accepts as responder: same list, or any combination",
            Codecs.Word(Platform.Answerings)
        )
        .Value(
            p => p.ComparesNamesByOctet,
            "namesCompared",
            "by octet, or ignoring case",
            Codecs.Either("by octet", "ignoring case", "a way of comparing names")
        )
        .Values(p => p.Forms, "forms", "policy-based, route-based", Word(WordsOf.Forms))
        .Value(
            p => p.LifetimeUnit,
            "lifetimeUnit",
            "the unit the operator types: seconds, minutes or hours",
            Codecs.Word(Platform.Units)
        )
        .Value(
            p => p.LifetimeRule,
            "ikev1LifetimeRule",
            "how an IKEv1 lifetime that is not equal is answered",
            Codecs.Word(Platform.LifetimeRules)
        )
        .KnownValues(
            p => p.Manual,
            "manual",
            string.Join(", ", Platform.ManualWorks.All),
            Codecs.Word(Platform.ManualWorks)
        )
        .Value(
            p => p.SubnetsCost,
            "changingSubnets",
            "what changing subnets disturbs, such as: tunnel restarts, 20 s",
            Codecs.Of(Cost.Parse)
        )
        .Value(p => p.Effect, "takesEffect", "at once, on activation, or on request", Codecs.Word(Platform.Effects))
        .Value(p => p.EffectSeconds, "takesEffectIn", "how long that takes, such as 2 min", Seconds)
        .Value(
            p => p.SavedSeparately,
            "savedSeparately",
            "yes or no: whether saving is an act of its own",
            Codecs.YesNo
        )
        .Value(
            p => p.NameLimit,
            "nameLimit",
            "most characters in a name on the device",
            Codecs.Number(4, 255, "a name limit")
        )
        .Value(p => p.SupportEnds, "supportEnds", "date on which support ends", Codecs.Day)
        .Value(
            p => p.SendsAddressByDefault,
            "defaultIdentity",
            "address, when the identity sent and expected is the address unless somebody says otherwise; or none",
            Codecs.Either("address", "none", "a default identity")
        )
        .KnownValues(p => p.Methods, "authentication", "PSK, certificate", Codecs.Word(WordsOf.Authentications))
        .KnownValues(
            p => p.IdentityKinds,
            "identityKinds",
            "kinds of identity it can send",
            Codecs.Word(Identity.Kinds)
        )
        .KnownValues(p => p.ExchangeModes, "exchangeModes", "main, aggressive", Codecs.Word(WordsOf.ExchangeModes))
        .Value(
            p => p.FallsBackToIkev1,
            "fallsBackToIkev1",
            "yes or no: whether it tries IKEv1 when IKEv2 is not answered",
            Codecs.YesNo
        )
        .Value(
            p => p.AcceptsEitherMode,
            "acceptsEitherMode",
            "yes or no: whether it accepts both main and aggressive mode",
            Codecs.YesNo
        )
        .KnownValues(
            p => p.LooksUpBy,
            "looksUpBy",
            "by what it finds the peer entry: address, name, any",
            Codecs.Word(Platform.Lookups)
        )
        .Values(
            p => p.Prfs,
            "prfs",
            "PRFs, when they are not those of the integrity algorithms",
            Codecs.Of(AlgorithmTable.Prf)
        )
        .Value(
            p => p.OrderWins,
            "orderWins",
            "whose order decides between acceptable proposals: initiator or responder",
            Codecs.Word(Platform.Orders)
        )
        .Values(p => p.Ikev1Only, "ikev1Only", "algorithms it does under IKEv1 only", Codecs.Of(AlgorithmTable.AnyName))
        .KnownValues(
            p => p.PfsStances,
            "pfsStances",
            "required, optional, refused: its possible PFS settings",
            Codecs.Word(Platform.PfsStanceWords)
        )
        .KnownValues(
            p => p.PairsPerChildren,
            "pairsPerChild",
            "what it can do: one, all in one, any to any",
            Codecs.Word(WordsOf.PairsPerChild)
        )
        .Value(
            p => p.InsistsOnSinglePair,
            "insistsOnSinglePair",
            "yes or no: whether it answers several pairs with SINGLE_PAIR_REQUIRED instead of narrowing to the first",
            Codecs.YesNo
        )
        .Value(
            p => p.MostPairs,
            "mostPairs",
            "most pairs in one tunnel",
            Codecs.Number(1, 100_000, "a number of pairs")
        )
        .Value(
            p => p.MostProposals,
            "mostProposals",
            "how many proposals one tunnel can hold",
            Codecs.Number(1, 100, "a number of proposals")
        )
        .Value(
            p => p.Ikev1Selectors,
            "ikev1Selectors",
            "must be equal, or narrowed",
            Codecs.Word(Platform.SelectorRules)
        )
        .Value(
            p => p.Ikev2Selectors,
            "ikev2Selectors",
            "must be equal, or narrowed",
            Codecs.Word(Platform.SelectorRules)
        )
        .Map(p => p.Keys, "keys", "its limits for pre-shared keys", OfKeys)
        .Value(p => p.IkeLifetimes, "ikeLifetimes", "least and most, such as: 120 s to 86400 s", Range)
        .Value(p => p.EspLifetimes, "espLifetimes", "least and most, such as: 120 s to 86400 s", Range)
        .Value(p => p.Jitter, "rekeyJitter", "by how much a rekey may come earlier still, such as 5 %", Percent)
        .Value(
            p => p.WhenRekeyRefused,
            "whenRekeyRefused",
            "reauthenticates, or goes down",
            Codecs.Word(Platform.AfterRefusals)
        )
        .Value(
            p => p.NotifiesInPhase1,
            "notifiesInPhase1",
            "yes or no: whether it sends a notify when it refuses phase 1 of IKEv1",
            Codecs.YesNo
        )
        .Value(
            p => p.Retransmits,
            "retransmits",
            "first wait, factor and tries, such as: 4 s x 2, 5 tries",
            Codecs.Of(Retransmission.Parse)
        )
        .Value(p => p.CreationSeconds, "createdIn", "how long creating it takes, such as 25 min", Seconds)
        .Value(
            p => p.AddressLater,
            "addressLater",
            "yes or no: whether its outer address is known only after it was created",
            Codecs.YesNo
        )
        .Value(
            p => p.Endpoints,
            "endpoints",
            "how many endpoints come together",
            Codecs.Number(1, 8, "a number of endpoints")
        )
        .Settings(p => p.Defaults, "defaults", "what it does when nobody says otherwise")
        .Text(p => p.Notes, "notes", "anything else", 4000)
        .Describing()
        .Value(p => p.Retired, "retired", "date on which it was retired", Codecs.Day);

    // Lists that are always known name no words in the schema: the first of them says what there is.
    private static Codec<T> Word<T>(Words<T> words)
        where T : struct, Enum => Codecs.Word(words) with { Words = [] };
}

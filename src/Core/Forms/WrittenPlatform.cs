namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a platform profile; whatever is left out is not known.</summary>
public static class WrittenPlatform
{
    private static readonly Form<KeyLimits> OfKeys = new Form<KeyLimits>(() => new(null, null, null, null, null))
        .Value(k => k.Shortest, "shortest", "fewest characters", Codecs.Number(1, 4096, "a length"))
        .Value(k => k.Longest, "longest", "most characters", Codecs.Number(1, 4096, "a length"))
        .Text(k => k.Refused, "refused", "characters it does not take", 40)
        .Value(k => k.OneEachWay, "oneEachWay", "yes or no: whether there can be one for each direction", Codecs.YesNo)
        .Named("can hold one key for each direction")
        .Value(k => k.HoldsTwo, "holdsTwo", "yes or no: whether two can be held while one is replaced", Codecs.YesNo)
        .Named("holds two keys while one is replaced");

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
        .Named("IKE versions")
        .Values(p => p.Encryptions, "encryption", "ciphers with key length", Codecs.Of(AlgorithmTable.Encryption))
        .Named("encryption algorithms")
        .Values(p => p.Integrities, "integrity", "integrity algorithms", Codecs.Of(AlgorithmTable.Integrity))
        .Named("integrity algorithms")
        .Values(p => p.Groups, "groups", "DH groups", Codecs.Of(AlgorithmTable.Group))
        .Named("DH groups")
        .Value(
            p => p.Answers,
            "accepts",
            "what it accepts as responder: same list, or any combination",
            Codecs.Word(Platform.Answerings)
        )
        .Named("accepts as responder")
        .Value(
            p => p.Offers,
            "offers",
            "how ticked algorithms go out: one proposal with several transforms, or several proposals",
            Codecs.Word(Platform.Offerings)
        )
        .Named("offers as initiator")
        .Value(
            p => p.WritesNames,
            "nameOrder",
            "order in which it writes a distinguished name: most general first (C=, O=, CN=), or most specific first",
            Codecs.Word(Platform.NameOrders)
        )
        .Named("writes distinguished names")
        .Value(
            p => p.ComparesNamesByOctet,
            "namesCompared",
            "by octet, or ignoring case",
            Codecs.Either("by octet", "ignoring case", "a way of comparing names")
        )
        .Named("compares names")
        .Values(p => p.Forms, "forms", "policy-based, route-based", Word(WordsOf.Forms))
        .Named("policy-based or route-based")
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
        .Named("answer to an unequal IKEv1 lifetime")
        .KnownValues(
            p => p.Manual,
            "manual",
            string.Join(", ", Platform.ManualWorks.All),
            Codecs.Word(Platform.ManualWorks)
        )
        .Named("entered manually for each pair")
        .Value(
            p => p.SubnetsCost,
            "changingSubnets",
            "what changing subnets disturbs, such as: tunnel restarts, 20 s",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing subnets disturbs")
        .Value(
            p => p.RulesCost,
            "changingRules",
            "what changing rules disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing rules disturbs")
        .Value(
            p => p.RoutesCost,
            "changingRoutes",
            "what changing routes disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing routes disturbs")
        .Value(
            p => p.ProposalsCost,
            "changingProposals",
            "what changing proposals disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing proposals disturbs")
        .Value(
            p => p.LifetimesCost,
            "changingLifetimes",
            "what changing lifetimes disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing lifetimes disturbs")
        .Value(
            p => p.KeyCost,
            "changingKey",
            "what changing the pre-shared key disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing the pre-shared key disturbs")
        .Value(
            p => p.CertificateCost,
            "changingCertificate",
            "what changing the certificate disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing the certificate disturbs")
        .Value(
            p => p.IdentityCost,
            "changingIdentity",
            "what changing identities disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing identities disturbs")
        .Value(
            p => p.PeerAddressCost,
            "changingPeerAddress",
            "what changing the peer address disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing the peer address disturbs")
        .Value(
            p => p.InterfaceCost,
            "changingInterface",
            "what changing the tunnel interface disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing the tunnel interface disturbs")
        .Value(
            p => p.UplinkCost,
            "changingUplink",
            "what changing the uplink disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing the uplink disturbs")
        .Value(
            p => p.OptionsCost,
            "changingOptions",
            "what changing any other setting disturbs, such as: nothing",
            Codecs.Of(Cost.Parse)
        )
        .Named("changing any other setting disturbs")
        .Value(p => p.Effect, "takesEffect", "at once, on activation, or on request", Codecs.Word(Platform.Effects))
        .Named("a change takes effect")
        .Value(p => p.EffectSeconds, "takesEffectIn", "how long that takes, such as 2 min", Seconds)
        .Named("takes effect within")
        .Value(
            p => p.SavedSeparately,
            "savedSeparately",
            "yes or no: whether saving is an act of its own",
            Codecs.YesNo
        )
        .Named("saving is an act of its own")
        .Value(
            p => p.NameLimit,
            "nameLimit",
            "most characters in a name on the device",
            Codecs.Number(4, 255, "a name limit")
        )
        .Named("longest name, in characters")
        .Value(p => p.SupportEnds, "supportEnds", "date on which support ends", Codecs.Day)
        .Value(
            p => p.SendsAddressByDefault,
            "defaultIdentity",
            "address, when the identity sent and expected is the address unless somebody says otherwise; or none",
            Codecs.Either("address", "none", "a default identity")
        )
        .Named("identity by default")
        .KnownValues(p => p.Methods, "authentication", "PSK, certificate", Codecs.Word(WordsOf.Authentications))
        .KnownValues(
            p => p.IdentityKinds,
            "identityKinds",
            "kinds of identity it can send",
            Codecs.Word(Identity.Kinds)
        )
        .Named("identity types it can send")
        .KnownValues(p => p.ExchangeModes, "exchangeModes", "main, aggressive", Codecs.Word(WordsOf.ExchangeModes))
        .Named("IKEv1 exchange modes")
        .Value(
            p => p.FallsBackToIkev1,
            "fallsBackToIkev1",
            "yes or no: whether it tries IKEv1 when IKEv2 is not answered",
            Codecs.YesNo
        )
        .Named("falls back to IKEv1")
        .Value(
            p => p.AcceptsEitherMode,
            "acceptsEitherMode",
            "yes or no: whether it accepts both main and aggressive mode",
            Codecs.YesNo
        )
        .Named("accepts main and aggressive mode")
        .KnownValues(
            p => p.LooksUpBy,
            "looksUpBy",
            "by what it finds the peer entry: address, name, any",
            Codecs.Word(Platform.Lookups)
        )
        .Named("finds the peer entry by")
        .Values(
            p => p.Prfs,
            "prfs",
            "PRFs, when they are not those of the integrity algorithms",
            Codecs.Of(AlgorithmTable.Prf)
        )
        .Named("PRFs")
        .Value(
            p => p.OrderWins,
            "orderWins",
            "whose order decides between acceptable proposals: initiator or responder",
            Codecs.Word(Platform.Orders)
        )
        .Named("whose order decides")
        .Values(p => p.Ikev1Only, "ikev1Only", "algorithms it does under IKEv1 only", Codecs.Of(AlgorithmTable.AnyName))
        .Named("algorithms under IKEv1 only")
        .KnownValues(
            p => p.PfsStances,
            "pfsStances",
            "required, optional, refused: its possible PFS settings",
            Codecs.Word(Platform.PfsStanceWords)
        )
        .Named("PFS settings")
        .KnownValues(
            p => p.PairsPerChildren,
            "pairsPerChild",
            "what it can do: one, all in one, any to any",
            Codecs.Word(WordsOf.PairsPerChild)
        )
        .Named("pairs in one child SA")
        .Value(
            p => p.InsistsOnSinglePair,
            "insistsOnSinglePair",
            "yes or no: whether it answers several pairs with SINGLE_PAIR_REQUIRED instead of narrowing to the first",
            Codecs.YesNo
        )
        .Named("answers several pairs with SINGLE_PAIR_REQUIRED")
        .Value(
            p => p.MostPairs,
            "mostPairs",
            "most pairs in one tunnel",
            Codecs.Number(1, 100_000, "a number of pairs")
        )
        .Named("most pairs in one tunnel")
        .Value(
            p => p.MostProposals,
            "mostProposals",
            "how many proposals one tunnel can hold",
            Codecs.Number(1, 100, "a number of proposals")
        )
        .Named("most proposals in one tunnel")
        .Value(
            p => p.Ikev1Selectors,
            "ikev1Selectors",
            "must be equal, or narrowed",
            Codecs.Word(Platform.SelectorRules)
        )
        .Named("IKEv1 selectors")
        .Value(
            p => p.Ikev2Selectors,
            "ikev2Selectors",
            "must be equal, or narrowed",
            Codecs.Word(Platform.SelectorRules)
        )
        .Named("IKEv2 selectors")
        .Map(p => p.Keys, "keys", "its limits for pre-shared keys", OfKeys)
        .Named("PSK limits")
        .Value(p => p.IkeLifetimes, "ikeLifetimes", "least and most, such as: 120 s to 86400 s", Range)
        .Named("IKE lifetimes, least and most")
        .Value(p => p.EspLifetimes, "espLifetimes", "least and most, such as: 120 s to 86400 s", Range)
        .Named("ESP lifetimes, least and most")
        .Value(p => p.Jitter, "rekeyJitter", "by how much a rekey may come earlier still, such as 5 %", Percent)
        .Named("rekey jitter")
        .Value(
            p => p.WhenRekeyRefused,
            "whenRekeyRefused",
            "reauthenticates, or goes down",
            Codecs.Word(Platform.AfterRefusals)
        )
        .Named("when a rekey is refused")
        .Value(
            p => p.NotifiesInPhase1,
            "notifiesInPhase1",
            "yes or no: whether it sends a notify when it refuses phase 1 of IKEv1",
            Codecs.YesNo
        )
        .Named("notifies when it refuses phase 1")
        .Value(
            p => p.Retransmits,
            "retransmits",
            "first wait, factor and tries, such as: 4 s x 2, 5 tries",
            Codecs.Of(Retransmission.Parse)
        )
        .Named("retransmission")
        .Value(p => p.CreationSeconds, "createdIn", "how long creating it takes, such as 25 min", Seconds)
        .Named("created in")
        .Value(
            p => p.AddressLater,
            "addressLater",
            "yes or no: whether its outer address is known only after it was created",
            Codecs.YesNo
        )
        .Named("address known only after it was created")
        .Value(
            p => p.Endpoints,
            "endpoints",
            "how many endpoints come together",
            Codecs.Number(1, 8, "a number of endpoints")
        )
        .Named("endpoints that come together")
        .Settings(p => p.Defaults, "defaults", "what it does when nobody says otherwise")
        .Named("defaults")
        .Text(p => p.Notes, "notes", "anything else", 4000)
        .Describing()
        .Value(p => p.Retired, "retired", "date on which it was retired", Codecs.Day);

    // Lists that are always known name no words in the schema: the first of them says what there is.
    private static Codec<T> Word<T>(Words<T> words)
        where T : struct, Enum => Codecs.Word(words) with { Words = [] };
}

namespace Vellumkeep.Core.Records;

/// <summary>
/// What one make, model and version can do and does by default. Data, not code; anything may be unknown (null).
/// </summary>
public sealed record Platform : IRecord
{
    /// <summary>What identifies it; never shown.</summary>
    public string Id { get; init; } = "";

    /// <summary>Its name in codes, such as <c>alderquay-major</c>.</summary>
    public string Name { get; init; } = "";

    /// <summary>The version of the profile, from 1.</summary>
    public int Version { get; init; }

    /// <summary>Its name in sentences.</summary>
    public string Title { get; init; } = "";

    /// <summary>What it is a kind of.</summary>
    public string Family { get; init; } = "";

    /// <summary>The IKE versions that it speaks; none when not known.</summary>
    public ImmutableArray<IkeVersion> IkeVersions { get; init; } = [];

    /// <summary>The ciphers that it can do; none when not known.</summary>
    public ImmutableArray<Encryption> Encryptions { get; init; } = [];

    /// <summary>The integrity algorithms that it can do; none when not known.</summary>
    public ImmutableArray<Integrity> Integrities { get; init; } = [];

    /// <summary>The key exchange groups that it can do; none when not known.</summary>
    public ImmutableArray<DhGroup> Groups { get; init; } = [];

    /// <summary>What it accepts when it answers; null when not known.</summary>
    public Answering? Answers { get; init; }

    /// <summary>In what form its algorithms go out when it initiates; null when not known.</summary>
    public Offering? Offers { get; init; }

    /// <summary>In which order it writes distinguished names; null when not known.</summary>
    public NameOrder? WritesNames { get; init; }

    /// <summary>Whether identities that differ only in case differ; null when not known.</summary>
    public bool? ComparesNamesByOctet { get; init; }

    /// <summary>Route-based, policy-based or both; none when not known.</summary>
    public ImmutableArray<TunnelForm> Forms { get; init; } = [];

    /// <summary>The unit the operator types; null when not known.</summary>
    public TimeUnit? LifetimeUnit { get; init; }

    /// <summary>How it answers an IKEv1 lifetime that is not equal; null when the profile does not say.</summary>
    public LifetimeRule? LifetimeRule { get; init; }

    /// <summary>What is manual beside the tunnel; null when not known.</summary>
    public ImmutableArray<ManualWork>? Manual { get; init; }

    /// <summary>What adding a subnet disturbs; null when the profile does not say.</summary>
    public Cost? SubnetsCost { get; init; }

    /// <summary>What altering rules disturbs; null when the profile does not say.</summary>
    public Cost? RulesCost { get; init; }

    /// <summary>What altering routes disturbs; null when the profile does not say.</summary>
    public Cost? RoutesCost { get; init; }

    /// <summary>What altering proposals disturbs; null when the profile does not say.</summary>
    public Cost? ProposalsCost { get; init; }

    /// <summary>What altering lifetimes disturbs; null when the profile does not say.</summary>
    public Cost? LifetimesCost { get; init; }

    /// <summary>What altering the pre-shared key disturbs; null when the profile does not say.</summary>
    public Cost? KeyCost { get; init; }

    /// <summary>What altering the certificate disturbs; null when the profile does not say.</summary>
    public Cost? CertificateCost { get; init; }

    /// <summary>What altering identities disturbs; null when the profile does not say.</summary>
    public Cost? IdentityCost { get; init; }

    /// <summary>What altering the peer address disturbs; null when the profile does not say.</summary>
    public Cost? PeerAddressCost { get; init; }

    /// <summary>What altering the tunnel interface disturbs; null when the profile does not say.</summary>
    public Cost? InterfaceCost { get; init; }

    /// <summary>What altering the uplink disturbs; null when the profile does not say.</summary>
    public Cost? UplinkCost { get; init; }

    /// <summary>What altering any other setting disturbs; null when the profile does not say.</summary>
    public Cost? OptionsCost { get; init; }

    /// <summary>When entries take effect; null when the profile does not say.</summary>
    public Effect? Effect { get; init; }

    /// <summary>How long taking effect lasts, in seconds; null when the profile does not say.</summary>
    public int? EffectSeconds { get; init; }

    /// <summary>Whether saving is an act of its own; null when not known.</summary>
    public bool? SavedSeparately { get; init; }

    /// <summary>Characters of a name on the device, at most; null when the profile does not say.</summary>
    public int? NameLimit { get; init; }

    /// <summary>The last day of its support; null when the profile does not say.</summary>
    public DateOnly? SupportEnds { get; init; }

    /// <summary>
    /// Whether the identity is the address on the device, and the one expected the peer address, when nobody says;
    /// null when not known.
    /// </summary>
    public bool? SendsAddressByDefault { get; init; }

    /// <summary>What it does where nothing is set.</summary>
    public SettingSet Defaults { get; init; } = SettingSet.Empty;

    /// <summary>Anything else.</summary>
    public string? Notes { get; init; }

    /// <summary>The methods by which it authenticates; null when the profile does not say.</summary>
    public ImmutableArray<Authentication>? Methods { get; init; }

    /// <summary>The kinds of identity that it can send; null when the profile does not say.</summary>
    public ImmutableArray<IdentityKind>? IdentityKinds { get; init; }

    /// <summary>The exchange modes of IKEv1 that it does; null when the profile does not say.</summary>
    public ImmutableArray<ExchangeMode>? ExchangeModes { get; init; }

    /// <summary>
    /// Whether it begins again with IKEv1 when nobody answers its IKEv2, which no standard asks for; null when not
    /// known.
    /// </summary>
    public bool? FallsBackToIkev1 { get; init; }

    /// <summary>Whether it answers main and aggressive mode alike, whatever is set; null when not known.</summary>
    public bool? AcceptsEitherMode { get; init; }

    /// <summary>
    /// By what it finds the peer entry; null when not known. A name is known from IKE_AUTH, message 5 of main mode, or
    /// message 1 of aggressive mode on.
    /// </summary>
    public ImmutableArray<Lookup>? LooksUpBy { get; init; }

    /// <summary>The pseudorandom functions that it can do; none when not known.</summary>
    public ImmutableArray<Prf> Prfs { get; init; } = [];

    /// <summary>
    /// Whose order decides when several proposals are acceptable; null when the profile does not say.
    /// </summary>
    public OrderOf? OrderWins { get; init; }

    /// <summary>Algorithms that it does under IKEv1 only, by canonical name.</summary>
    public ImmutableArray<string> Ikev1Only { get; init; } = [];

    /// <summary>What it can be told of PFS; null when the profile does not say.</summary>
    public ImmutableArray<PfsStance>? PfsStances { get; init; }

    /// <summary>How it puts pairs into child SAs; null when the profile does not say.</summary>
    public ImmutableArray<PairsPerChild>? PairsPerChildren { get; init; }

    /// <summary>
    /// Where it takes one pair for each child SA: whether it refuses a request for more with SINGLE_PAIR_REQUIRED, or
    /// answers with the first (RFC 7296 section 2.9); null when the profile does not say.
    /// </summary>
    public bool? InsistsOnSinglePair { get; init; }

    /// <summary>How many pairs one tunnel can hold; null when the profile does not say.</summary>
    public int? MostPairs { get; init; }

    /// <summary>How many proposals of a layer one tunnel can hold; null when the profile does not say.</summary>
    public int? MostProposals { get; init; }

    /// <summary>
    /// How it answers selectors under IKEv1 (RFC 2409 section 5.5); null when the profile does not say.
    /// </summary>
    public SelectorRule? Ikev1Selectors { get; init; }

    /// <summary>
    /// How it answers selectors under IKEv2 (RFC 7296 section 2.9); null when the profile does not say.
    /// </summary>
    public SelectorRule? Ikev2Selectors { get; init; }

    /// <summary>What a pre-shared key has to be; null when the profile does not say.</summary>
    public KeyLimits? Keys { get; init; }

    /// <summary>The lifetimes of an IKE SA that it takes; null when the profile does not say.</summary>
    public LifeRange? IkeLifetimes { get; init; }

    /// <summary>The lifetimes of a child SA that it takes; null when the profile does not say.</summary>
    public LifeRange? EspLifetimes { get; init; }

    /// <summary>By how much of the lifetime a rekey may come earlier still, at random, in percent (0 to 50).</summary>
    public int? Jitter { get; init; }

    /// <summary>What it does when a rekey of a child SA is refused; null when the profile does not say.</summary>
    public AfterRefusal? WhenRekeyRefused { get; init; }

    /// <summary>
    /// Whether it answers a refused phase 1 of IKEv1 with an error; they are optional and unauthenticated (RFC 2408
    /// section 5). Null when not known.
    /// </summary>
    public bool? NotifiesInPhase1 { get; init; }

    /// <summary>How it repeats a request that is not answered; null when the profile does not say.</summary>
    public Retransmission? Retransmits { get; init; }

    /// <summary>How long creating it takes, in seconds; null when the profile does not say.</summary>
    public int? CreationSeconds { get; init; }

    /// <summary>Whether its outer address is known only after it was created.</summary>
    public bool? AddressLater { get; init; }

    /// <summary>How many endpoints come together; null or 1 when it is one.</summary>
    public int? Endpoints { get; init; }

    /// <summary>What altering something disturbs; null when the profile does not say.</summary>
    public Cost? CostOf(Altering what) =>
        what switch
        {
            Altering.Subnets => SubnetsCost,
            Altering.Rules => RulesCost,
            Altering.Routes => RoutesCost,
            Altering.Proposals => ProposalsCost,
            Altering.Lifetimes => LifetimesCost,
            Altering.Key => KeyCost,
            Altering.Certificate => CertificateCost,
            Altering.Identity => IdentityCost,
            Altering.PeerAddress => PeerAddressCost,
            Altering.Interface => InterfaceCost,
            Altering.Uplink => UplinkCost,
            _ => OptionsCost,
        };

    /// <summary>The words of what is altered.</summary>
    public static readonly Words<Altering> Alterings = new(
        "what is altered",
        (Altering.Subnets, "subnets"),
        (Altering.Rules, "rules"),
        (Altering.Routes, "routes"),
        (Altering.Proposals, "proposals"),
        (Altering.Lifetimes, "lifetimes"),
        (Altering.Key, "the pre-shared key"),
        (Altering.Certificate, "the certificate"),
        (Altering.Identity, "identities"),
        (Altering.PeerAddress, "the peer address"),
        (Altering.Interface, "the tunnel interface"),
        (Altering.Uplink, "the uplink"),
        (Altering.Options, "any other setting")
    );

    /// <summary>How it answers selectors under a version; null when the profile does not say.</summary>
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
        bool Is(string type) => algorithm.StartsWith(type, StringComparison.Ordinal);
        if (Is("DH "))
            return In(Groups, algorithm);
        // A profile that lists no PRF means those of its integrity algorithms.
        if (Is("PRF-"))
            return Prfs.IsEmpty
                ? In([.. Integrities.Select(i => AlgorithmTable.PrfOf(i).Name)], algorithm)
                : In(Prfs, algorithm);
        return Is("HMAC-") ? In(Integrities, algorithm) : In(Encryptions, algorithm);
    }

    /// <summary>Whether it speaks a version; null when the profile names none.</summary>
    public bool? Speaks(IkeVersion version) => IkeVersions.IsEmpty ? null : IkeVersions.Contains(version);

    /// <summary>What the profile does not say that a proposal is made of, in words; empty when it says all.</summary>
    public ImmutableArray<string> UnsaidOfProposals =>
        [
            .. new[]
            {
                (IkeVersions.IsEmpty, "IKE versions"),
                (Encryptions.IsEmpty, "encryption"),
                (Integrities.IsEmpty, "integrity"),
                (Groups.IsEmpty, "DH groups"),
            }
                .Where(x => x.Item1)
                .Select(x => x.Item2),
        ];

    /// <summary>The words of how its algorithms go out.</summary>
    public static readonly Words<Offering> Offerings = new(
        "a way of offering proposals",
        (Offering.OneProposal, "one proposal"),
        (Offering.SeveralProposals, "several proposals")
    );

    /// <summary>The words of the orders of a distinguished name.</summary>
    public static readonly Words<NameOrder> NameOrders = new(
        "an order of distinguished names",
        (NameOrder.GeneralFirst, "most general first"),
        (NameOrder.SpecificFirst, "most specific first")
    );

    /// <summary>The words of what it takes.</summary>
    public static readonly Words<Answering> Answerings = new(
        "a way of accepting proposals",
        (Answering.SameList, "same list"),
        (Answering.AnyCombination, "any combination")
    );

    /// <summary>The words of how entries take effect.</summary>
    public static readonly Words<Effect> Effects = new(
        "how entries take effect",
        (Records.Effect.AtOnce, "at once"),
        (Records.Effect.OnActivation, "on activation"),
        (Records.Effect.OnRequest, "on request")
    );

    /// <summary>The words of how lifetimes are answered.</summary>
    public static readonly Words<LifetimeRule> LifetimeRules = new(
        "a treatment of IKEv1 lifetimes",
        (Records.LifetimeRule.MustBeEqual, "equal only"),
        (Records.LifetimeRule.LowerWinsSilently, "the lower, no notify"),
        (Records.LifetimeRule.LowerWinsAndSaysSo, "the lower, with notify"),
        (Records.LifetimeRule.InitiatorWins, "the initiator's")
    );

    /// <summary>The words of how peers are found.</summary>
    public static readonly Words<Lookup> Lookups = new(
        "a way of selecting the peer entry",
        (Lookup.Address, "address"),
        (Lookup.Name, "name"),
        (Lookup.Any, "any")
    );

    /// <summary>The words of whose order decides.</summary>
    public static readonly Words<OrderOf> Orders = new(
        "order of proposals",
        (OrderOf.Initiator, "initiator"),
        (OrderOf.Responder, "responder")
    );

    /// <summary>The words of how selectors are answered.</summary>
    public static readonly Words<SelectorRule> SelectorRules = new(
        "a rule for selectors",
        (SelectorRule.MustBeEqual, "must be equal"),
        (SelectorRule.Narrowed, "narrowed")
    );

    /// <summary>The words of what follows a refused rekey.</summary>
    public static readonly Words<AfterRefusal> AfterRefusals = new(
        "what follows a refused rekey",
        (AfterRefusal.Reauthenticates, "reauthenticates"),
        (AfterRefusal.GoesDown, "goes down")
    );

    /// <summary>The words of PFS.</summary>
    public static readonly Words<PfsStance> PfsStanceWords = new(
        "a PFS setting",
        (PfsStance.Required, "required"),
        (PfsStance.Optional, "optional"),
        (PfsStance.Accepts, "accepts only"),
        (PfsStance.Refused, "refused")
    );

    /// <summary>The words of units.</summary>
    public static readonly Words<TimeUnit> Units = new(
        "a unit of time",
        (TimeUnit.Seconds, "seconds"),
        (TimeUnit.Minutes, "minutes"),
        (TimeUnit.Hours, "hours")
    );

    /// <summary>What can be manual beside a tunnel, in words.</summary>
    public static readonly Words<ManualWork> ManualWorks = new(
        "manual work",
        (ManualWork.Rules, "rules"),
        (ManualWork.NoNat, "no-NAT"),
        (ManualWork.Route, "route"),
        (ManualWork.DiscardRoute, "discard route")
    );

    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Platform;

    /// <inheritdoc/>
    public DateOnly? Retired { get; init; }

    /// <summary>The name with the version, such as <c>alderquay-major@1</c>.</summary>
    public string Code => $"{Name}@{Version}";

    /// <summary>Whether <paramref name="work"/> is manual; null when not known.</summary>
    public bool? IsManual(ManualWork work) => Manual is { } list ? list.Contains(work) : null;
}

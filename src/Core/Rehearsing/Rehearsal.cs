namespace Vellumkeep.Core.Rehearsing;

/// <summary>What comes of a rehearsal.</summary>
public enum Outcome
{
    /// <summary>Every pair is up.</summary>
    Up,

    /// <summary>Some pairs are up.</summary>
    UpWithFewerPairs,

    /// <summary>The child SAs are up, and no packet of a wanted pair passes.</summary>
    NothingPasses,

    /// <summary>The IKE SA is up, and no child SA.</summary>
    IkeOnly,

    /// <summary>Nothing is up.</summary>
    Down,

    /// <summary>A value that decides it is not known.</summary>
    Undetermined,

    /// <summary>This end does not begin, or cannot.</summary>
    DoesNotStart,
}

/// <summary>The kinds of message, by version.</summary>
public enum Message
{
    /// <summary>IKE_SA_INIT request (RFC 7296 section 1.2).</summary>
    InitRequest,

    /// <summary>INVALID_KE_PAYLOAD (RFC 7296 section 1.2).</summary>
    InvalidKe,

    /// <summary>IKE_SA_INIT request with the group that is wanted.</summary>
    InitAgain,

    /// <summary>IKE_SA_INIT response.</summary>
    InitResponse,

    /// <summary>IKE_AUTH request.</summary>
    AuthRequest,

    /// <summary>IKE_AUTH response.</summary>
    AuthResponse,

    /// <summary>An error notification.</summary>
    Refusal,

    /// <summary>CREATE_CHILD_SA request (RFC 7296 section 1.3).</summary>
    ChildRequest,

    /// <summary>CREATE_CHILD_SA response with INVALID_KE_PAYLOAD (RFC 7296 section 1.3).</summary>
    ChildInvalidKe,

    /// <summary>CREATE_CHILD_SA request with the group that is wanted.</summary>
    ChildAgain,

    /// <summary>CREATE_CHILD_SA response.</summary>
    ChildResponse,

    /// <summary>Main mode, message 1 (RFC 2409 section 5).</summary>
    Main1,

    /// <summary>Main mode, message 2 (RFC 2409 section 5).</summary>
    Main2,

    /// <summary>Main mode, message 3 (RFC 2409 section 5).</summary>
    Main3,

    /// <summary>Main mode, message 4 (RFC 2409 section 5).</summary>
    Main4,

    /// <summary>Main mode, message 5 (RFC 2409 section 5).</summary>
    Main5,

    /// <summary>Main mode, message 6 (RFC 2409 section 5).</summary>
    Main6,

    /// <summary>Aggressive mode, message 1.</summary>
    Aggressive1,

    /// <summary>Aggressive mode, message 2.</summary>
    Aggressive2,

    /// <summary>Aggressive mode, message 3.</summary>
    Aggressive3,

    /// <summary>Quick mode, message 1 (RFC 2409 section 5.5).</summary>
    Quick1,

    /// <summary>Quick mode, message 2 (RFC 2409 section 5.5).</summary>
    Quick2,

    /// <summary>Quick mode, message 3 (RFC 2409 section 5.5).</summary>
    Quick3,

    /// <summary>A packet of traffic (RFC 4303).</summary>
    Esp,
}

/// <summary>One message of the exchange.</summary>
/// <param name="Number">From 1, in the order in which messages are sent.</param>
/// <param name="Message">Which message it is.</param>
/// <param name="From">The end that sends it.</param>
/// <param name="Pair">The pair it is about, for further child SAs and quick modes.</param>
/// <param name="More">How many further child SAs it also stands for.</param>
public sealed record Exchange(int Number, Message Message, EndName From, SubnetPair? Pair = null, int More = 0)
{
    /// <summary>The notify that it carries beside its answer (RFC 7296 section 2.9); null when none.</summary>
    public string? Notify { get; init; }

    /// <summary>The traffic selectors that it carries (RFC 7296 section 3.13); null where it carries none.</summary>
    public SentSelectors? Selectors { get; init; }
}

/// <summary>Traffic selectors in a message.</summary>
/// <param name="Initiator">TSi.</param>
/// <param name="Responder">TSr.</param>
/// <param name="Traffic">Protocol and ports, the initiator's ports as near ones.</param>
public sealed record SentSelectors(ImmutableArray<Prefix> Initiator, ImmutableArray<Prefix> Responder, Traffic Traffic);

/// <summary>Something that stops the negotiation, or a part of its pairs.</summary>
/// <param name="Stage">How far the negotiation had come.</param>
/// <param name="Exchange">The message at which it shows; 0 before the first.</param>
/// <param name="RefusedBy">The end that refuses; null when nobody answers because nothing arrives.</param>
/// <param name="Notify">The standard's notify in the version's own spelling, or <c>no answer</c>.</param>
/// <param name="RowKey">The row of the comparison with both values; null where there is none.</param>
/// <param name="Cause">Why, typed.</param>
/// <param name="Pairs">The pairs it stops; empty when it stops all.</param>
public sealed record Obstacle(
    Stage Stage,
    int Exchange,
    EndName? RefusedBy,
    string Notify,
    RowKey? RowKey,
    Cause Cause,
    ImmutableArray<SubnetPair> Pairs
)
{
    /// <summary>In what way it stops.</summary>
    public ObstacleKind Kind =>
        Cause switch
        {
            SelectorsNarrowed => ObstacleKind.Narrowed,
            Hindered or PacketsLost => ObstacleKind.NoTraffic,
            DoesNotStart or NoFamilyInCommon or SelectorsRefused { NotOffered: true } => ObstacleKind.NotSent,
            _ when RefusedBy is null || Notify == Rehearse.Silence => ObstacleKind.NoResponse,
            _ => ObstacleKind.Refused,
        };
}

/// <summary>In what way an obstacle stops what was asked for.</summary>
public enum ObstacleKind
{
    /// <summary>The end that is asked answers with a notify.</summary>
    Refused,

    /// <summary>Nothing comes back.</summary>
    NoResponse,

    /// <summary>It is never asked for.</summary>
    NotSent,

    /// <summary>A part is answered, and nothing is refused.</summary>
    Narrowed,

    /// <summary>The SAs stand, and packets are lost.</summary>
    NoTraffic,
}

/// <summary>A question that has to be answered before the outcome can be told.</summary>
/// <param name="Stage">How far the negotiation had come.</param>
/// <param name="At">The end whose value or platform profile is silent; null when it concerns both.</param>
/// <param name="What">What has to be found out, as the end of a sentence.</param>
/// <param name="OfProfile">The platform profile is silent, not the record.</param>
/// <param name="Pairs">The pairs that hang on it; empty when all do.</param>
public sealed record OpenQuestion(
    Stage Stage,
    EndName? At,
    string What,
    bool OfProfile,
    ImmutableArray<SubnetPair> Pairs
);

/// <summary>Choices that standards leave to the implementation and nobody has said otherwise.</summary>
public enum Assumption
{
    /// <summary>IKE is allowed inbound; it is not recorded.</summary>
    LetIn,

    /// <summary>A 1:1 NAT forwards everything.</summary>
    StaticNatForwards,

    /// <summary>The name entered for the peer resolves to its outer address.</summary>
    NameResolves,

    /// <summary>Several peer entries match the source; the identity tells them apart.</summary>
    IdentitySeparates,

    /// <summary>Several peer entries match source and identity; authentication holds for each, and the selectors tell
    /// them apart.</summary>
    SelectorsSeparate,

    /// <summary>The responder takes the first acceptable offer in the initiator's order.</summary>
    InitiatorsOrder,

    /// <summary>Errors in phase 1 of IKEv1 are optional: none is sent.</summary>
    Silent,

    /// <summary>What was narrowed away is asked for again, pair by pair.</summary>
    AsksAgain,

    /// <summary>Offered several pairs, it answers with the first instead of refusing them.</summary>
    NarrowsToFirst,

    /// <summary>The initiator begins again with IKEv1, because its profile says so.</summary>
    FallsBack,

    /// <summary>Neither end's extended sequence numbers are known, and both are taken to have one in common.</summary>
    SequenceNumbersAlike,

    /// <summary>The two platforms write distinguished names in opposite order; neither profile says.</summary>
    NamesReversed,

    /// <summary>The verifier accepts the signature method of the other; one of the two is not known.</summary>
    SignatureTaken,

    /// <summary>Algorithms that are ticked one by one go out as recorded, each a proposal of its own.</summary>
    OfferedAsRecorded,

    /// <summary>How many pairs go into one child SA is not known, and every way of it comes up.</summary>
    PairsInAnyNumber,
}

/// <summary>
/// The computed negotiation of a tunnel with one end starting: deterministic, and never guessed. The first obstacle is
/// the stop; those after it are what would be met if it were fixed.
/// </summary>
public sealed record Rehearsal
{
    /// <summary>The end that begins.</summary>
    public required EndName Initiator { get; init; }

    /// <summary>The IKE version; that in which the initiator would begin where none is in common.</summary>
    public IkeVersion? Version { get; init; }

    /// <summary>The exchange mode of IKEv1; null under IKEv2, and where it is not known.</summary>
    public ExchangeMode? Mode { get; init; }

    /// <summary>How it ends.</summary>
    public required Outcome Outcome { get; init; }

    /// <summary>The messages, in the order in which they are sent.</summary>
    public ImmutableArray<Exchange> Exchanges { get; init; } = [];

    /// <summary>What stops it, in the order in which it would be met.</summary>
    public ImmutableArray<Obstacle> Obstacles { get; init; } = [];

    /// <summary>What has to be known before the outcome can be told.</summary>
    public ImmutableArray<OpenQuestion> Open { get; init; } = [];

    /// <summary>What was assumed, and at which end.</summary>
    public ImmutableArray<(EndName At, Assumption What)> Assumed { get; init; } = [];

    /// <summary>The proposal of the IKE SA; null when none was chosen.</summary>
    public IkeProposal? Ike { get; init; }

    /// <summary>The proposal of the first child SA; null when none was chosen.</summary>
    public EspProposal? Esp { get; init; }

    /// <summary>The group of PFS; null when there is none.</summary>
    public DhGroup? Pfs { get; init; }

    /// <summary>Whether ESP goes in UDP (RFC 3948).</summary>
    public bool Encapsulated { get; init; }

    /// <summary>The pairs that pass.</summary>
    public ImmutableArray<SubnetPair> Passing { get; init; } = [];

    /// <summary>The pairs of which a part passes: their selectors were narrowed (RFC 7296 section 2.9).</summary>
    public ImmutableArray<SubnetPair> Narrowed { get; init; } = [];

    /// <summary>The parts of narrowed pairs that pass.</summary>
    public ImmutableArray<SubnetPair> Parts { get; init; } = [];

    /// <summary>All that passes, the parts of narrowed pairs among it.</summary>
    public IEnumerable<SubnetPair> AllPassing => Passing.Concat(Parts);

    /// <summary>What of the wanted pairs does not pass.</summary>
    public IEnumerable<SubnetPair> Lost(IEnumerable<SubnetPair> wanted) =>
        AllPassing
            .Select(p => SelectorSet.Of(p, Initiator))
            .Aggregate(wanted, (left, passes) => passes.LeftOf(left, Initiator).ToArray());

    /// <summary>What fails later; null when nothing does.</summary>
    public Deferred? Later { get; init; }

    /// <summary>Whether it comes up and drops later, with no reauthentication that comes before.</summary>
    public bool FailsLater => Later is { HiddenBy: null };

    /// <summary>The first obstacle; null when there is none.</summary>
    public Obstacle? Stop => Obstacles.IsEmpty ? null : Obstacles[0];

    /// <summary>
    /// Whether it gets strictly further than <paramref name="before"/>: the stop is at a later stage or gone, or fewer
    /// pairs or obstacles are left at the same one.
    /// </summary>
    public bool Further(Rehearsal before) =>
        Stop is null
            ? before.Stop is not null
            : before.Stop is { } was
                && (
                    Stop.Stage > was.Stage
                    || (
                        Stop.Stage == was.Stage
                        && (
                            Obstacles.Length < before.Obstacles.Length
                            || (Obstacles.Length == before.Obstacles.Length && Stopped < before.Stopped)
                        )
                    )
                );

    /// <summary>The same with what hinders traffic once the SAs are up.</summary>
    internal Rehearsal Hindered(ImmutableArray<SubnetPair> wanted, ImmutableArray<Obstacle> more)
    {
        if (more.IsEmpty)
            return this;
        var lost = more.SelectMany(o => o.Pairs).ToHashSet();
        ImmutableArray<SubnetPair> passing = [.. Passing.Where(p => !lost.Contains(p))];
        ImmutableArray<SubnetPair> narrowed = [.. Narrowed.Where(p => !lost.Contains(p))];
        ImmutableArray<SubnetPair> parts =
        [
            .. Parts.Where(p => narrowed.Any(n => n.A.Contains(p.A) && n.B.Contains(p.B))),
        ];
        var all = Obstacles.AddRange(more);
        // Without a wanted pair there is nothing that could pass, and nothing that could be hindered.
        var outcome = wanted.IsEmpty ? Outcome : OutcomeRule.Of(new(wanted, all, Open, passing, narrowed));
        return this with { Obstacles = all, Passing = passing, Narrowed = narrowed, Parts = parts, Outcome = outcome };
    }

    private int Stopped => Obstacles.Sum(o => o.Pairs.Length);

    /// <summary>Whether at least a part of one pair passes.</summary>
    public bool ComesUp =>
        Outcome == Outcome.Up || (Outcome == Outcome.UpWithFewerPairs && !(Passing.IsEmpty && Narrowed.IsEmpty));
}

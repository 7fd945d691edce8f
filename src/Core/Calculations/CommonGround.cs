namespace Vellumkeep.Core.Calculations;

/// <summary>
/// Something that the two platforms do not do alike, so that a setting of one does not carry over to the other.
/// </summary>
/// <param name="What">The ability, such as "manual".</param>
/// <param name="A">What the platform at A does.</param>
/// <param name="B">What the platform at B does.</param>
/// <param name="Follows">What has to be done because they differ.</param>
public sealed record NotCommon(string What, string A, string B, string Follows);

/// <summary>What a profile does not say that the two have to have in common.</summary>
/// <param name="At">The end whose platform it is.</param>
/// <param name="What">Such as <c>DH groups</c>.</param>
public sealed record NotSaid(EndName At, ImmutableArray<string> What);

/// <summary>
/// What two platforms can both do under one IKE version: proposals, strongest first by the weakest member's strength,
/// then by what the standards ask of them. Empty lists under a version that one of them does not speak. Nothing is
/// assumed of a profile that lists no algorithms.
/// </summary>
/// <param name="Version">The IKE version that all of it is for.</param>
/// <param name="BothSpeak">Whether both profiles have that version; null when one does not say.</param>
/// <param name="Ike">IKE proposals that both support, strongest first.</param>
/// <param name="Esp">ESP proposals that both support, strongest first.</param>
/// <param name="Groups">DH groups that both support, for PFS.</param>
/// <param name="Differences">What one does otherwise than the other.</param>
public sealed record CommonGround(
    IkeVersion Version,
    bool? BothSpeak,
    ImmutableArray<Graded> Ike,
    ImmutableArray<Graded> Esp,
    ImmutableArray<string> Groups,
    ImmutableArray<NotCommon> Differences
)
{
    private const int Shown = 12;

    /// <summary>What a profile does not say: what else the two have in common is unknown, and not nothing.</summary>
    public ImmutableArray<NotSaid> Unknown { get; private init; } = [];

    /// <summary>What keeps two profiles from being compared, each end by itself; empty when both say all.</summary>
    public static ImmutableArray<NotSaid> UnknownOf(Platform a, Platform b) =>
        [
            .. new[] { (EndName.A, a), (EndName.B, b) }
                .Select(x => new NotSaid(x.Item1, x.Item2.UnsaidOfProposals))
                .Where(x => !x.What.IsEmpty),
        ];

    /// <param name="a">What end A has.</param>
    /// <param name="b">What end B has.</param>
    /// <param name="version">The IKE version under which it is asked.</param>
    /// <param name="most">How many proposals of each layer are given, the strongest; 12 when left out.</param>
    public static CommonGround Of(Platform a, Platform b, IkeVersion version, int most = Shown)
    {
        var unknown = UnknownOf(a, b);
        var speak = (a.Speaks(version), b.Speaks(version)) switch
        {
            (false, _) or (_, false) => false,
            (null, _) or (_, null) => (bool?)null,
            _ => true,
        };
        if (speak != true)
            return new(version, speak, [], [], [], []) { Unknown = speak is null ? unknown : [] };
        return new(
            version,
            true,
            [
                .. IkeProposals(a, b, version)
                    .Select(Graded.Of)
                    .OrderByDescending(g => g.Bits)
                    .ThenBy(g => g.Worst)
                    .Take(most),
            ],
            [
                .. EspProposals(a, b, version)
                    .Select(Graded.Of)
                    .OrderByDescending(g => g.Bits)
                    .ThenBy(g => g.Worst)
                    .Take(most),
            ],
            [
                .. AlgorithmTable
                    .Groups.Where(g => Both(g.Name) && g.CarriedBy(version))
                    .OrderByDescending(Strength.Of)
                    .Select(g => g.Name),
            ],
            [.. Compare(a, b, version)]
        )
        {
            Unknown = unknown,
        };

        bool Both(string name) => a.Can(name, version) == true && b.Can(name, version) == true;
    }

    /// <summary>
    /// Every IKE proposal that both can do, in the table's order. A plain cipher goes with the PRF of its integrity
    /// algorithm.
    /// </summary>
    public static IEnumerable<IkeProposal> IkeProposals(Platform a, Platform b, IkeVersion version)
    {
        bool Both(string name) => a.Can(name, version) == true && b.Can(name, version) == true;
        foreach (var e in AlgorithmTable.Encryptions.Where(e => Both(e.Name) && !e.IsNull && Carried.InIke(e, version)))
        foreach (var g in AlgorithmTable.Groups.Where(g => Both(g.Name) && g.CarriedBy(version)))
            if (e.Combined)
            {
                foreach (var p in AlgorithmTable.Prfs.Where(p => Both(p.Name)))
                    yield return IkeProposal.Of(e, null, p, g).Value;
            }
            else
            {
                foreach (
                    var i in AlgorithmTable.Integrities.Where(i => Both(i.Name) && Both(AlgorithmTable.PrfOf(i).Name))
                )
                    yield return IkeProposal.Of(e, i, AlgorithmTable.PrfOf(i), g).Value;
            }
    }

    /// <summary>Every ESP proposal that both can do, in the table's order.</summary>
    public static IEnumerable<EspProposal> EspProposals(Platform a, Platform b, IkeVersion version)
    {
        bool Both(string name) => a.Can(name, version) == true && b.Can(name, version) == true;
        foreach (var e in AlgorithmTable.Encryptions.Where(e => Both(e.Name) && Carried.InEsp(e, version)))
            if (e.Combined)
                yield return EspProposal.Of(e, null).Value;
            else
                foreach (var i in AlgorithmTable.Integrities.Where(i => Both(i.Name)))
                    yield return EspProposal.Of(e, i).Value;
    }

    /// <summary>
    /// The strongest IKE proposal that both can do and that no standard advises against; null when there is none.
    /// </summary>
    public static IkeProposal? Strongest(Platform a, Platform b, IkeVersion version) =>
        IkeProposals(a, b, version)
            .Where(p => Graded.Of(p).Worst < Requirement.ShouldNot)
            .MaxBy(p => Strength.Of(p).Bits);

    private static IEnumerable<NotCommon> Compare(Platform a, Platform b, IkeVersion version) =>
        [
            .. Traffic(a, b),
            .. Lifetimes(a, b, version),
            .. Secrecy(a, b),
            .. WhoTheyAre(a, b),
            .. Selectors(a, b, version),
            .. Keys(a, b),
            .. Manual(a, b),
        ];

    private static string List<T>(ImmutableArray<T> list, Func<T, string> word) =>
        list.IsEmpty ? "unknown" : string.Join(", ", list.Select(word));

    private static IEnumerable<NotCommon> Traffic(Platform a, Platform b)
    {
        if (!a.Forms.IsEmpty && !b.Forms.IsEmpty && !a.Forms.Intersect(b.Forms).Any())
            yield return new(
                "form",
                List(a.Forms, WordsOf.Forms.Of),
                List(b.Forms, WordsOf.Forms.Of),
                "one end uses routes, the other selectors: use any-to-any selectors at both ends, or the same single pairs"
            );
        if (a.PairsPerChildren is { } pa && b.PairsPerChildren is { } pb && !pa.Intersect(pb).Any())
            yield return new(
                "pairs per child SA",
                List(pa, WordsOf.PairsPerChild.Of),
                List(pb, WordsOf.PairsPerChild.Of),
                "the end with one pair per child SA gets one pair in each; every further pair is a child SA of its own"
            );
    }

    private static IEnumerable<NotCommon> Lifetimes(Platform a, Platform b, IkeVersion version)
    {
        if (a.LifetimeUnit is { } ua && b.LifetimeUnit is { } ub && ua != ub)
            yield return new(
                "unit of lifetimes",
                ua.ToString().ToLowerInvariant(),
                ub.ToString().ToLowerInvariant(),
                "the same number means another time: always state the unit"
            );
        if (Apart(a.IkeLifetimes, b.IkeLifetimes))
            yield return Lifetime("IKE lifetime", a.IkeLifetimes!, b.IkeLifetimes!, version);
        if (Apart(a.EspLifetimes, b.EspLifetimes))
            yield return Lifetime("ESP lifetime", a.EspLifetimes!, b.EspLifetimes!, version);
    }

    private static bool Apart(LifeRange? x, LifeRange? y) =>
        x is not null
        && y is not null
        && (x.Least.InSeconds > y.Most.InSeconds || y.Least.InSeconds > x.Most.InSeconds);

    private static NotCommon Lifetime(string name, LifeRange x, LifeRange y, IkeVersion version) =>
        new(
            name,
            x.ToString(),
            y.ToString(),
            version == IkeVersion.IKEv1
                ? "no value fits both, and IKEv1 negotiates it"
                : "each end has its own; the shorter one rekeys first"
        );

    private static IEnumerable<NotCommon> Secrecy(Platform a, Platform b)
    {
        if (a.PfsStances is not { } fa || b.PfsStances is not { } fb || fa.Intersect(fb).Any())
            yield break;
        var never = fa is [PfsStance.Refused] || fb is [PfsStance.Refused];
        var oneInsists = fa.Contains(PfsStance.Required) != fb.Contains(PfsStance.Required);
        yield return new(
            "PFS",
            List(fa, Platform.PfsStanceWords.Of),
            List(fb, Platform.PfsStanceWords.Of),
            oneInsists && never
                ? "one requires what the other does not support"
                : "change the end that can be set to match the other"
        );
    }

    private static IEnumerable<NotCommon> WhoTheyAre(Platform a, Platform b)
    {
        if (a.Methods is { } ma && b.Methods is { } mb && !ma.Intersect(mb).Any())
            yield return new(
                "authentication",
                List(ma, WordsOf.Authentications.Of),
                List(mb, WordsOf.Authentications.Of),
                "no method in common"
            );
        if (a.IdentityKinds is { } ia && b.IdentityKinds is { } ib && !ia.ToHashSet().SetEquals(ib))
        {
            var common = ia.Intersect(ib).Select(Identity.Kinds.Of).ToArray();
            yield return new(
                "identity types",
                List(ia, Identity.Kinds.Of),
                List(ib, Identity.Kinds.Of),
                common.Length > 0 ? $"use {Say.And(common)}" : "none in common"
            );
        }

        if (a.ComparesNamesByOctet is { } oa && b.ComparesNamesByOctet is { } ob && oa != ob)
            yield return new(
                "comparison of names",
                oa ? "by octet" : "ignoring case",
                ob ? "by octet" : "ignoring case",
                "use lower case for names at both ends"
            );
    }

    private static IEnumerable<NotCommon> Selectors(Platform a, Platform b, IkeVersion version)
    {
        if (a.SelectorsOf(version) is { } sa && b.SelectorsOf(version) is { } sb && sa != sb)
            yield return new(
                "selectors that are not equal",
                Platform.SelectorRules.Of(sa),
                Platform.SelectorRules.Of(sb),
                "enter exactly mirrored selectors, whichever end initiates"
            );
    }

    private static IEnumerable<NotCommon> Keys(Platform a, Platform b)
    {
        if (
            a.Keys is { } ka
            && b.Keys is { } kb
            && (ka.Longest != kb.Longest || ka.Shortest != kb.Shortest || ka.Refused != kb.Refused)
        )
            yield return new("pre-shared key", Told(ka), Told(kb), LengthsOf(ka, kb));
        if (a.Keys?.OneEachWay is { } da && b.Keys?.OneEachWay is { } db && da != db)
            yield return new(
                "one key for each direction",
                Scalars.Write(da),
                Scalars.Write(db),
                "use one key for both directions"
            );
    }

    private static string Told(KeyLimits k)
    {
        var shortest = k.Shortest?.ToString(CultureInfo.InvariantCulture) ?? "?";
        var longest = k.Longest?.ToString(CultureInfo.InvariantCulture) ?? "?";
        return $"{shortest} to {longest} characters{(k.Refused is { } refused ? $", not {refused}" : "")}";
    }

    /// <summary>The lengths of a key, in characters, that suit both.</summary>
    private static string LengthsOf(KeyLimits a, KeyLimits b)
    {
        var least = Math.Max(a.Shortest ?? 1, b.Shortest ?? 1);
        var most = Math.Min(a.Longest ?? int.MaxValue, b.Longest ?? int.MaxValue);
        if (least > most)
            return "no length fits both";
        return most == int.MaxValue ? $"at least {least} characters" : $"{least} to {most} characters";
    }

    private static IEnumerable<NotCommon> Manual(Platform a, Platform b)
    {
        if (a.Manual is { } ha && b.Manual is { } hb && !ha.ToHashSet().SetEquals(hb))
            yield return new(
                "manual",
                List(ha, Platform.ManualWorks.Of),
                List(hb, Platform.ManualWorks.Of),
                "each end needs its own manual entries"
            );
    }
}

namespace Vellumkeep.Core.Sums;

/// <summary>
/// Something that the two platforms do not do alike, so that a setting of one does not carry over to the other.
/// </summary>
public sealed record Untranslated(string What, string A, string B, string Follows);

/// <summary>
/// What two platforms can both do under one IKE version: proposals, strongest first by the weakest member's strength,
/// then by what the standards ask of them. Empty lists under a version that one of them does not speak. Nothing is
/// assumed of a profile that lists no algorithms.
/// </summary>
public sealed record CommonGround(
    IkeVersion Version,
    bool BothSpeak,
    ImmutableArray<Graded> Ike,
    ImmutableArray<Graded> Esp,
    ImmutableArray<string> Groups,
    ImmutableArray<Untranslated> Differences
)
{
    private const int Shown = 12;

    /// <param name="most">How many proposals of each layer are given, the strongest; 12 when left out.</param>
    public static CommonGround Of(Platform a, Platform b, IkeVersion version, int most = Shown)
    {
        var speak = a.IkeVersions.Contains(version) && b.IkeVersions.Contains(version);
        if (!speak)
            return new(version, false, [], [], [], []);
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
            [.. AlgorithmTable.Groups.Where(g => Both(g.Name)).OrderByDescending(Strength.Of).Select(g => g.Name)],
            [.. Compare(a, b, version)]
        );

        bool Both(string name) => a.Can(name, version) == true && b.Can(name, version) == true;
    }

    /// <summary>
    /// Every IKE proposal that both can do, in the table's order. A plain cipher goes with the PRF of its integrity
    /// algorithm.
    /// </summary>
    public static IEnumerable<IkeProposal> IkeProposals(Platform a, Platform b, IkeVersion version)
    {
        bool Both(string name) => a.Can(name, version) == true && b.Can(name, version) == true;
        foreach (
            var e in AlgorithmTable.Encryptions.Where(e =>
                Both(e.Name) && (version == IkeVersion.IKEv2 || e.Ikev1Number is not null)
            )
        )
        foreach (var g in AlgorithmTable.Groups.Where(g => Both(g.Name) && (version == IkeVersion.IKEv2 || g.InIkev1)))
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
        foreach (var e in AlgorithmTable.Encryptions.Where(e => Both(e.Name)))
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

    private static IEnumerable<Untranslated> Compare(Platform a, Platform b, IkeVersion version)
    {
        static string List<T>(ImmutableArray<T>? list, Func<T, string> word) =>
            list is { Length: > 0 } l ? string.Join(", ", l.Select(word)) : "not known";
        if (!a.Forms.IsEmpty && !b.Forms.IsEmpty && !a.Forms.Intersect(b.Forms).Any())
            yield return new(
                "form",
                List<TunnelForm>(a.Forms, WordsOf.Forms.Of),
                List<TunnelForm>(b.Forms, WordsOf.Forms.Of),
                "routes on one end answer to selectors on the other: the route-based end has to carry selectors from any to any, or the other particular ones"
            );
        if (a.PairsPerChildren is { } pa && b.PairsPerChildren is { } pb && !pa.Intersect(pb).Any())
            yield return new(
                "pairs per child SA",
                List<PairsPerChild>(pa, WordsOf.PairsPerChild.Of),
                List<PairsPerChild>(pb, WordsOf.PairsPerChild.Of),
                "who takes one pair gets the first; each further pair is a child SA of its own"
            );
        if (a.LifetimeUnit is { } ua && b.LifetimeUnit is { } ub && ua != ub)
            yield return new(
                "lifetimes are typed in",
                ua.ToString().ToLowerInvariant(),
                ub.ToString().ToLowerInvariant(),
                "the same number means another time: say the unit aloud"
            );
        foreach (
            var (name, x, y) in new[]
            {
                ("IKE lifetime", a.IkeLifetimes, b.IkeLifetimes),
                ("ESP lifetime", a.EspLifetimes, b.EspLifetimes),
            }
        )
            if (
                x is not null
                && y is not null
                && (x.Least.InSeconds > y.Most.InSeconds || y.Least.InSeconds > x.Most.InSeconds)
            )
                yield return new(
                    name,
                    x.ToString(),
                    y.ToString(),
                    version == IkeVersion.IKEv1
                        ? "no value suits both, and IKEv1 negotiates it"
                        : "each keeps its own; the shorter one sets the pace"
                );
        if (a.PfsStances is { } fa && b.PfsStances is { } fb && !fa.Intersect(fb).Any())
            yield return new(
                "PFS",
                List<PfsStance>(fa, Platform.PfsStanceWords.Of),
                List<PfsStance>(fb, Platform.PfsStanceWords.Of),
                fa.Contains(PfsStance.Required) != fb.Contains(PfsStance.Required)
                && (fa is [PfsStance.Refused] || fb is [PfsStance.Refused])
                    ? "one insists on what the other never does"
                    : "set the one that can be told to fit the other"
            );
        if (a.Methods is { } ma && b.Methods is { } mb && !ma.Intersect(mb).Any())
            yield return new(
                "authentication",
                List<Authentication>(ma, WordsOf.Authentications.Of),
                List<Authentication>(mb, WordsOf.Authentications.Of),
                "no method in common"
            );
        if (a.IdentityKinds is { } ia && b.IdentityKinds is { } ib && !ia.ToHashSet().SetEquals(ib))
            yield return new(
                "kinds of identity",
                List<IdentityKind>(ia, Identity.Kinds.Of),
                List<IdentityKind>(ib, Identity.Kinds.Of),
                ia.Intersect(ib).Any() ? $"use {Say.And(ia.Intersect(ib).Select(Identity.Kinds.Of))}" : "none in common"
            );
        if (a.ComparesNamesByOctet is { } oa && b.ComparesNamesByOctet is { } ob && oa != ob)
            yield return new(
                "names are compared",
                oa ? "by octet" : "ignoring case",
                ob ? "by octet" : "ignoring case",
                "write names in lower case at both ends"
            );
        if (a.SelectorsOf(version) is { } sa && b.SelectorsOf(version) is { } sb && sa != sb)
            yield return new(
                "selectors that are not equal",
                Platform.SelectorRules.Of(sa),
                Platform.SelectorRules.Of(sb),
                "make the selectors exact mirrors, whoever starts"
            );
        if (
            a.Keys is { } ka
            && b.Keys is { } kb
            && (ka.Longest != kb.Longest || ka.Shortest != kb.Shortest || ka.Refused != kb.Refused)
        )
        {
            static string Told(KeyLimits k) =>
                $"{k.Shortest?.ToString(CultureInfo.InvariantCulture) ?? "?"} to {k.Longest?.ToString(CultureInfo.InvariantCulture) ?? "?"} characters{(k.Refused is { } r ? $", none of {r}" : "")}";
            var (least, most) = (
                Math.Max(ka.Shortest ?? 1, kb.Shortest ?? 1),
                Math.Min(ka.Longest ?? int.MaxValue, kb.Longest ?? int.MaxValue)
            );
            yield return new(
                "pre-shared key",
                Told(ka),
                Told(kb),
                least > most ? "no length suits both"
                    : most == int.MaxValue ? $"at least {least} characters"
                    : $"{least} to {most} characters"
            );
        }

        if (a.Keys?.OneEachWay is { } da && b.Keys?.OneEachWay is { } db && da != db)
            yield return new(
                "one key each way",
                Scalars.Write(da),
                Scalars.Write(db),
                "use one key for both directions"
            );
        if (a.ByHand is { } ha && b.ByHand is { } hb && !ha.ToHashSet().SetEquals(hb))
            yield return new(
                "made by hand",
                List<string>(ha, w => w),
                List<string>(hb, w => w),
                "each end has work of its own beside the tunnel"
            );
    }
}

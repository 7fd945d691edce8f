namespace Vellumkeep.Core.Negotiation;

/// <summary>Two proposals that come nearest to each other, and the types in which they differ.</summary>
/// <param name="Offered">The proposal of the initiator.</param>
/// <param name="Accepted">The proposal of the responder.</param>
/// <param name="DiffersIn">The transform types in which they differ, in words.</param>
public sealed record NearestMiss(string Offered, string Accepted, ImmutableArray<string> DiffersIn);

/// <summary>The answer of choosing: the chosen proposal, or the nearest miss.</summary>
/// <param name="Proposal">What both use; null when nothing can be chosen.</param>
/// <param name="Miss">What came nearest; null when something is chosen or an end has nothing.</param>
public sealed record Chosen<T>(T? Proposal, NearestMiss? Miss)
    where T : class;

/// <summary>
/// The one function that chooses between what one end offers and what the other accepts (RFC 7296 section 2.7: a
/// proposal is taken whole). Used by comparison and by anything that rehearses.
/// </summary>
public static class Choice
{
    /// <summary>
    /// The offer that the other end takes: the first acceptable one in the offerer's order, or in the acceptor's when
    /// <paramref name="order"/> says so; otherwise the pair that differs in the fewest types. Under IKEv1 no transform
    /// carries a PRF: it is the HMAC of the hash (RFC 2409 section 4), and never keeps two ends apart.
    /// </summary>
    public static Chosen<IkeProposal> Ike(
        ImmutableArray<IkeProposal> offers,
        ImmutableArray<IkeProposal> accepts,
        Answering answering,
        IkeVersion? version,
        OrderOf? order = null
    )
    {
        var withPrf = version != IkeVersion.IKEv1;
        return Choose(
            offers,
            accepts,
            answering,
            order,
            (o, a) =>
                o.Encryption == a.Encryption
                && o.Integrity == a.Integrity
                && o.Group == a.Group
                && (!withPrf || o.Prf == a.Prf),
            (o, all) =>
                all.Any(a => a.Encryption == o.Encryption)
                && (o.Integrity is null || all.Any(a => a.Integrity == o.Integrity))
                && (!withPrf || all.Any(a => a.Prf == o.Prf))
                && all.Any(a => a.Group == o.Group),
            p =>
                [
                    Encrypting(p.Encryption),
                    new("integrity", p.Integrity?.Name),
                    new("PRF", withPrf ? p.Prf.Name : null),
                    new("DH group", p.Group.Name),
                ]
        );
    }

    /// <summary>The same for the proposals of ESP.</summary>
    public static Chosen<EspProposal> Esp(
        ImmutableArray<EspProposal> offers,
        ImmutableArray<EspProposal> accepts,
        Answering answering,
        OrderOf? order = null
    ) =>
        Choose(
            offers,
            accepts,
            answering,
            order,
            static (o, a) => o == a,
            static (o, all) =>
                all.Any(a => a.Encryption == o.Encryption)
                && (o.Integrity is null || all.Any(a => a.Integrity == o.Integrity)),
            static p => [Encrypting(p.Encryption), new("integrity", p.Integrity?.Name)]
        );

    /// <summary>
    /// Whether PFS fits when <paramref name="initiator"/> asks; null when that depends on the group of an IKE SA that
    /// is not known.
    /// </summary>
    public static bool? PfsFits(Pfs initiator, Pfs responder, DhGroup? dhOfIke, IkeVersion? version) =>
        initiator.Sends
        && responder.Stance != PfsStance.Refused
        && dhOfIke is null
        && initiator.GroupOfIke != responder.GroupOfIke
            ? null
            : Pfs(initiator, responder, dhOfIke, version).Fits;

    /// <summary>
    /// Whether the two fit when <paramref name="initiator"/> asks for a child SA of <paramref name="responder"/>, and
    /// with which group; a null group with <c>Fits</c> means a child SA without a fresh exchange. What is sent decides:
    /// a group that is sent and not accepted is refused, whether or not the responder would do without. Under IKEv1 the
    /// initiator sends its first group alone: every transform of a quick mode has the group of the one key exchange that
    /// goes with it (RFC 2409 section 5.5), and there is no asking again with another.
    /// </summary>
    public static (bool Fits, DhGroup? Group) Pfs(Pfs initiator, Pfs responder, DhGroup? dhOfIke, IkeVersion? version)
    {
        if (!initiator.Sends)
            return (responder.Stance != PfsStance.Required, null);
        if (responder.Stance == PfsStance.Refused)
            return (false, null);
        if (initiator.GroupOfIke && responder.GroupOfIke)
            return (true, dhOfIke);
        var sent = GroupsOf(initiator, dhOfIke);
        var common = (version == IkeVersion.IKEv1 ? sent.Take(1) : sent).FirstOrDefault(
            GroupsOf(responder, dhOfIke).Contains
        );
        return (common is not null, common);
    }

    private static ImmutableArray<DhGroup> GroupsOf(Pfs pfs, DhGroup? dhOfIke) =>
        !pfs.GroupOfIke ? pfs.Groups
        : dhOfIke is null ? []
        : [dhOfIke];

    private static Chosen<T> Choose<T>(
        ImmutableArray<T> offers,
        ImmutableArray<T> accepts,
        Answering answering,
        OrderOf? order,
        Func<T, T, bool> same,
        Func<T, ImmutableArray<T>, bool> isAccepted,
        Func<T, Member[]> members
    )
        where T : class
    {
        bool Taken(T offer) =>
            answering == Answering.AnyCombination ? isAccepted(offer, accepts) : accepts.Any(a => same(offer, a));
        if (order == OrderOf.Responder)
            foreach (var own in accepts)
                if (offers.FirstOrDefault(o => same(o, own)) is { } wanted)
                    return new(wanted, null);
        foreach (var offer in offers)
            if (Taken(offer))
                return new(offer, null);

        var near = (
            from o in offers
            from a in accepts
            let differs = members(o)
                .Zip(members(a))
                .Where(p => p.First.Name != p.Second.Name)
                .Select(p => p.First.DiffersFrom(p.Second))
                .ToImmutableArray()
            orderby differs.Length
            select new NearestMiss(o.ToString()!, a.ToString()!, differs)
        ).FirstOrDefault();
        return new(null, near);
    }

    /// <summary>One member of a proposal.</summary>
    /// <param name="Type">Its transform type, in words.</param>
    /// <param name="Name">The algorithm; null where there is none.</param>
    /// <param name="Family">Its number, where the key length is an attribute of its own (RFC 7296 section 3.3.5).</param>
    private sealed record Member(string Type, string? Name, int? Family = null)
    {
        internal string DiffersFrom(Member other) =>
            Family is { } number && other.Family == number ? "key length" : Type;
    }

    private static Member Encrypting(Encryption e) => new("encryption", e.Name, e.Number);
}

namespace Vellumkeep.Core.Negotiation;

/// <summary>What an end takes when it answers.</summary>
public enum Answering
{
    /// <summary>Only what is in its own list, whole.</summary>
    SameList,

    /// <summary>Any combination of the members of its list.</summary>
    AnyCombination,
}

/// <summary>Two proposals that come nearest to each other, and the types in which they differ.</summary>
public sealed record NearestMiss(string Offered, string Accepted, ImmutableArray<string> DiffersIn);

/// <summary>The answer of choosing: the chosen proposal, or the nearest miss.</summary>
public sealed record Chosen<T>(T? Proposal, NearestMiss? Miss)
    where T : class;

/// <summary>
/// The one function that chooses between what one end offers and what the other accepts (RFC 7296 section 2.7: a proposal is taken whole).
/// Used by comparison and by anything that rehearses.
/// </summary>
public static class Choice
{
    /// <summary>The first offer, in the offerer's order, that the other end takes; otherwise the pair that differs in the fewest types.</summary>
    public static Chosen<IkeProposal> Ike(ImmutableArray<IkeProposal> offers, ImmutableArray<IkeProposal> accepts, Answering answering) =>
        Choose(offers, accepts, answering, p => [("encryption", p.Encryption.Name), ("integrity", p.Integrity?.Name), ("PRF", p.Prf.Name), ("DH group", p.Group.Name)]);

    /// <inheritdoc cref="Ike"/>
    public static Chosen<EspProposal> Esp(ImmutableArray<EspProposal> offers, ImmutableArray<EspProposal> accepts, Answering answering) =>
        Choose(offers, accepts, answering, p => [("encryption", p.Encryption.Name), ("integrity", p.Integrity?.Name)]);

    /// <summary>
    /// Whether two PFS stances fit when <paramref name="starter"/> asks for a child SA of <paramref name="answerer"/>, and with which group;
    /// a null group with <c>Fits</c> means that both do without.
    /// </summary>
    public static (bool Fits, DhGroup? Group) Pfs(Pfs starter, Pfs answerer, DhGroup? dhOfIke)
    {
        var mine = starter.GroupOfIke ? dhOfIke is null ? [] : [dhOfIke] : starter.Groups;
        var theirs = answerer.GroupOfIke ? dhOfIke is null ? [] : [dhOfIke] : answerer.Groups;
        var common = starter.Stance == PfsStance.Refused || answerer.Stance == PfsStance.Refused ? null : mine.FirstOrDefault(theirs.Contains);
        if (common is not null)
            return (true, common);
        return (starter.Stance != PfsStance.Required && answerer.Stance != PfsStance.Required, null);
    }

    private static Chosen<T> Choose<T>(ImmutableArray<T> offers, ImmutableArray<T> accepts, Answering answering, Func<T, (string Type, string? Name)[]> members)
        where T : class
    {
        var ticked = answering == Answering.AnyCombination
            ? accepts.SelectMany(members).ToLookup(m => m.Type, m => m.Name)
            : null;
        T? Taken(T offer) => ticked is null
            ? accepts.FirstOrDefault(a => members(a).SequenceEqual(members(offer)))
            : members(offer).All(m => m.Name is null ? ticked["encryption"].Contains(members(offer)[0].Name) : ticked[m.Type].Contains(m.Name)) ? offer : null;

        foreach (var offer in offers)
            if (Taken(offer) is { } taken)
                return new(taken, null);

        var near = (from o in offers
                    from a in accepts
                    let differs = members(o).Zip(members(a)).Where(p => p.First.Name != p.Second.Name).Select(p => p.First.Type).ToImmutableArray()
                    orderby differs.Length
                    select new NearestMiss(o.ToString()!, a.ToString()!, differs)).FirstOrDefault();
        return new(null, near);
    }
}

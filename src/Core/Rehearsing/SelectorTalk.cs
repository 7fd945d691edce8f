using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>What becomes of a wanted pair when one end offers its selectors and the other answers.</summary>
internal enum SelectorFit
{
    /// <summary>All of it passes.</summary>
    Whole,

    /// <summary>The answer is narrower: a part of it passes.</summary>
    Part,

    /// <summary>The initiator has no selector for it.</summary>
    NotOffered,

    /// <summary>The responder has no selector for it.</summary>
    None,

    /// <summary>The responder has selectors that overlap and takes only equal ones.</summary>
    OnlyEqual,

    /// <summary>Neither the records nor the profile say.</summary>
    Unknown,
}

/// <summary>A wanted pair, what becomes of it, and the parts of it that do not pass and that do.</summary>
internal sealed record PairFit(
    SubnetPair Pair,
    SelectorFit Fit,
    ImmutableArray<SubnetPair> Lost,
    ImmutableArray<SubnetPair> Carried
);

/// <summary>
/// The selectors of two ends against each other: which child SAs come of them, and what each wanted pair gets (RFC 7296
/// section 2.9; RFC 2409 section 5.5).
/// </summary>
internal sealed class SelectorTalk
{
    private readonly EndView initiator;
    private readonly ImmutableArray<SubnetPair> wanted;
    private readonly ImmutableArray<SelectorSet>? offered;
    private readonly ImmutableArray<SelectorSet>? accepted;
    private readonly List<SelectorSet> children = [];
    private readonly List<SelectorSet> onlyEqual = [];
    private readonly List<SelectorSet> unknown = [];

    internal SelectorTalk(EndView initiator, ImmutableArray<SubnetPair> wanted)
    {
        this.initiator = initiator;
        this.wanted = wanted;
        var responder = initiator.Other;
        offered = SelectorSet.EnteredAt(initiator, initiator.Name, wanted);
        accepted = SelectorSet.EnteredAt(responder, initiator.Name, wanted);
        if (offered is null || accepted is null)
            return;
        var rule = responder.Platform.SelectorsOf(initiator.Tunnel.Version);
        foreach (var offer in offered)
            Answer(offer, rule);
    }

    /// <summary>The child SAs in the order in which they are asked for.</summary>
    internal IReadOnlyList<SelectorSet> Children => children;

    /// <summary>What the first request carries; null when nobody knows, or nothing fits.</summary>
    internal SentSelectors? FirstSent =>
        offered is [var first, ..] ? new(first.Local, first.Remote, first.Traffic) : null;

    /// <summary>What the first answer carries; null when there is none.</summary>
    internal SentSelectors? FirstAnswered =>
        children is [var first, ..] ? new(first.Local, first.Remote, first.Traffic) : null;

    /// <summary>The selectors of the first request hold more than one pair.</summary>
    internal bool OffersSeveral => offered is [{ IsSinglePair: false }, ..];

    /// <summary>Whether the initiator has to ask again for what the answers left out.</summary>
    internal bool AsksAgain { get; private set; }

    /// <summary>What each wanted pair gets when only these child SAs come up.</summary>
    internal IEnumerable<PairFit> With(IReadOnlyCollection<SelectorSet> up) =>
        wanted.Select(pair =>
        {
            if (offered is null || accepted is null)
                return new PairFit(pair, SelectorFit.Unknown, [], []);
            IEnumerable<SubnetPair> left = [pair];
            foreach (var child in up)
                left = child.LeftOf(left, initiator.Name).ToArray();
            ImmutableArray<SubnetPair> lost = [.. left];
            return new PairFit(
                pair,
                FitOf(pair, lost),
                lost,
                [.. up.SelectMany(child => child.PartsOf(pair, initiator.Name)).Distinct()]
            );
        });

    /// <summary>Whether a request that holds this pair is answered, though with nothing of the pair itself.</summary>
    internal bool IsNarrowedAway(SubnetPair pair)
    {
        var set = SelectorSet.Of(pair, initiator.Name);
        return offered!.Value.Any(o => o.Meets(set) && children.Any(o.Meets));
    }

    private SelectorFit FitOf(SubnetPair pair, ImmutableArray<SubnetPair> lost)
    {
        if (lost.IsEmpty)
            return SelectorFit.Whole;
        var set = SelectorSet.Of(pair, initiator.Name);
        if (unknown.Any(set.Meets))
            return SelectorFit.Unknown;
        if (lost is not [var all] || all != pair)
            return SelectorFit.Part;
        if (!offered!.Value.Any(set.Meets))
            return SelectorFit.NotOffered;
        return onlyEqual.Any(set.Meets) ? SelectorFit.OnlyEqual : SelectorFit.None;
    }

    private void Answer(SelectorSet offer, SelectorRule? rule)
    {
        if (accepted!.Value.Any(offer.SameAs))
        {
            children.Add(offer);
            return;
        }

        var near = accepted.Value.Where(offer.Meets).ToArray();
        if (near.Length == 0)
            return;
        if (rule is null)
            unknown.Add(offer);
        else if (initiator.Tunnel.Version == IkeVersion.IKEv1)
            Taken(offer, whole: rule == SelectorRule.Narrowed && near.Any(n => n.Holds(offer)));
        else if (rule == SelectorRule.MustBeEqual)
            Taken(offer, whole: false);
        else
            Narrowed(offer, near);
    }

    // IKEv1 has no answer with a part: a wider offer is refused whatever the rule.
    private void Taken(SelectorSet offer, bool whole) => (whole ? children : onlyEqual).Add(offer);

    private void Narrowed(SelectorSet offer, SelectorSet[] near)
    {
        var answers = near.Select(offer.Intersect).OfType<SelectorSet>().Distinct().ToArray();
        // The first answer holds the pair that was asked for first; the others have to be asked for.
        AsksAgain |= answers.Length > 1;
        children.AddRange(answers);
    }
}

using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>Whether something a pair needs is there on an end.</summary>
public enum Presence
{
    /// <summary>It is so.</summary>
    Yes,

    /// <summary>It is not so.</summary>
    No,

    /// <summary>A value that decides it is not known.</summary>
    Unknown,

    /// <summary>The platform does it automatically, or does not need it.</summary>
    NotNeeded,
}

/// <summary>What one end has for one wanted pair.</summary>
/// <param name="Selector">Whether its selectors carry the pair.</param>
/// <param name="RuleIn">Whether a firewall rule lets it in.</param>
/// <param name="RuleOut">Whether a firewall rule lets it out.</param>
/// <param name="NoNat">Whether a no-NAT rule keeps it untouched.</param>
/// <param name="Route">Whether a route leads it into the tunnel.</param>
public sealed record PairAtEnd(Presence Selector, Presence RuleIn, Presence RuleOut, Presence NoNat, Presence Route);

/// <summary>One wanted pair with what each end has for it.</summary>
/// <param name="Pair">The wanted pair.</param>
/// <param name="A">What A has for it.</param>
/// <param name="B">What B has for it.</param>
public sealed record PairState(SubnetPair Pair, PairAtEnd A, PairAtEnd B)
{
    /// <summary>How an end has the pair.</summary>
    public PairAtEnd At(EndName end) => end == EndName.A ? A : B;

    internal static PairState Of(TunnelView view, SubnetPair pair) =>
        new(pair, AtEnd(view.A, pair), AtEnd(view.B, pair));

    private static PairAtEnd AtEnd(EndView e, SubnetPair pair)
    {
        Prefix local = pair.On(e.Name),
            remote = pair.On(e.Name.Other());
        Presence Hand<T>(ManualWork work, Recorded<Several<T>>? recorded, Func<T, bool> covers)
        {
            if (recorded?.Value?.Items.Any(covers) == true)
                return Presence.Yes;
            if (e.Platform.IsManual(work) == false)
                return Presence.NotNeeded;
            return recorded?.Value is null ? Presence.Unknown : Presence.No;
        }

        return new(
            e.Selects(pair) switch
            {
                true => Presence.Yes,
                false => Presence.No,
                null => Presence.Unknown,
            },
            Hand(ManualWork.Rules, e.End.Rules, r => r.Lets(RuleDirection.In, pair, e.Name)),
            Hand(ManualWork.Rules, e.End.Rules, r => r.Lets(RuleDirection.Out, pair, e.Name)),
            Hand(ManualWork.NoNat, e.End.NoNat, r => r.Local.Contains(local) && r.Remote.Contains(remote)),
            Hand(ManualWork.Route, e.End.Routes, r => !r.Discard && r.To.Contains(remote))
        );
    }
}

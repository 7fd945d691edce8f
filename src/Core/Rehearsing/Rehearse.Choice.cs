using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>What the answering end chooses of what is offered, and whether a NAT is in the way.</summary>
public sealed partial class Rehearse
{
    // What both versions share

    private Answering Rule(EndView end) => end.Platform.Answers ?? Answering.SameList;

    /// <summary>
    /// Chooses by the responder's rule; where the profile is silent, only what every rule would decide alike is
    /// decided.
    /// </summary>
    private T? Chosen<T>(
        Setting<Several<T>> setting,
        Stage stage,
        int at,
        string notify,
        Func<EndView, ImmutableArray<T>> usable,
        Func<ImmutableArray<T>, ImmutableArray<T>, Answering, Chosen<T>> choose
    )
        where T : class
    {
        if (!initiator.Get(setting).Known || !responder.Get(setting).Known)
        {
            foreach (var end in new[] { initiator, responder })
                if (!end.Get(setting).Known)
                    Asks(stage, end.Name, $"its {setting.Label}", false);
            return null;
        }

        var (o, a) = (usable(initiator), usable(responder));
        var chosen = choose(o, a, Rule(responder));
        if (
            chosen.Proposal is null
            && responder.Platform.Answers is null
            && choose(o, a, Answering.AnyCombination).Proposal is not null
        )
        {
            Asks(stage, responder.Name, "whether it accepts any combination of its algorithms", true);
            return null;
        }

        if (chosen.Proposal is null)
            Stops(
                stage,
                at,
                responder.Name,
                notify,
                setting,
                new NothingChosen(setting == (Setting)Settings.EspProposals, chosen.Miss)
            );
        else if (o.Length > 1 && a.Length > 1 && responder.Platform.OrderWins is null)
            assumed.Add((responder.Name, Assumption.InitiatorsOrder));
        if (
            !Old
            && initiator.Platform is { Offers: null, Answers: Answering.AnyCombination }
            && initiator.Get(setting).Value!.Items.Length > 1
        )
            assumed.Add((initiator.Name, Assumption.OfferedAsRecorded));
        if (chosen.Proposal is { } taken)
            foreach (var end in new[] { initiator, responder })
                if (Usable.Unsure(end, setting, taken, version) is { IsEmpty: false } unsure)
                    Asks(stage, end.Name, $"whether it supports {Say.And(unsure)}", true);
        return chosen.Proposal;
    }

    private void DetectNat()
    {
        var nat = view.Ends.Any(e => e.Uplinks.FirstOrDefault()?.Nat is not null);
        var never = view.Ends.Any(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never);
        var always = view.Ends.Any(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Always);
        var unknown = view.Ends.Any(e => !e.Get(Settings.NatTraversal).Known);
        encapsulated = !never && (always || (nat && !unknown));
    }
}

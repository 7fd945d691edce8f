using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>The exchange of IKEv2 (RFC 7296 section 1.2).</summary>
public sealed partial class Rehearse
{
    // IKEv2

    private List<SubnetPair> First2()
    {
        var init = Send(Message.InitRequest, initiator.Name);
        Entry(init, nameKnown: false);
        ike = Chosen(
            Settings.IkeProposals,
            Stage.IkeProposal,
            init,
            "NO_PROPOSAL_CHOSEN",
            e => e == initiator ? Usable.IkeOffers(e, version) : Usable.Ike(e, version),
            (o, a, r) => Choice.Ike(o, a, r, version, responder.Platform.OrderWins)
        );
        if (ike is not null && Usable.IkeOffers(initiator, version)[0].Group != KeyExchange)
        {
            Send(Message.InvalidKe, responder.Name);
            Send(Message.InitAgain, initiator.Name);
        }

        Send(Message.InitResponse, responder.Name);
        DetectNat();
        var auth = Send(Message.AuthRequest, initiator.Name);
        AnswersElsewhere(auth, responder.Name, "AUTHENTICATION_FAILED");
        Judge(initiator, Stage.AtResponder, auth, "AUTHENTICATION_FAILED", "AUTHENTICATION_FAILED");
        if (
            responder.End.KeyFor is { IsAny: false, Address: { } keyFor }
            && MethodOf(responder) == Authentication.PreSharedKey
            && initiator.Outer != keyFor
            && responder.Platform.LooksUpBy?.Contains(Lookup.Name) != true
        )
            Stops(
                Stage.AtResponder,
                auth,
                responder.Name,
                "AUTHENTICATION_FAILED",
                RowKey.KeyHeld,
                new KeyNotFound(initiator.Outer, 0, keyFor.ToString())
            );
        var answer = Send(Message.AuthResponse, responder.Name);
        var before = obstacles.Count;
        Judge(responder, Stage.AtInitiator, answer, "AUTHENTICATION_FAILED", "AUTHENTICATION_FAILED");
        if (obstacles.Count > before)
            Send(Message.Refusal, initiator.Name);

        esp = Chosen(
            Settings.EspProposals,
            Stage.Child,
            answer,
            "NO_PROPOSAL_CHOSEN",
            e => e == initiator ? Usable.EspOffers(e, version) : Usable.Esp(e, version),
            (o, a, r) => Choice.Esp(o, a, r, responder.Platform.OrderWins)
        );
        SequenceNumbers(Stage.Child, answer, "NO_PROPOSAL_CHOSEN");
        Modes(Stage.Child, answer, "NO_PROPOSAL_CHOSEN");
        var talk = new SelectorTalk(initiator, wanted);
        exchanges[auth - 1] = exchanges[auth - 1] with { Selectors = talk.FirstSent };
        exchanges[answer - 1] = exchanges[answer - 1] with { Selectors = talk.FirstAnswered };
        var agreed = SelectorsAt(talk, _ => answer, "TS_UNACCEPTABLE");
        Further(talk, answer, agreed);
        return Pass(esp is null ? [] : agreed);
    }

    /// <summary>
    /// Child SAs after the first, for which CREATE_CHILD_SA asks and where PFS counts at once (RFC 7296 section 1.3).
    /// </summary>
    /// <param name="talk">The selectors of both ends.</param>
    /// <param name="answer">The number of the message that answered.</param>
    /// <param name="agreed">The pairs whose selectors fit; those that no child SA carries are removed.</param>
    private void Further(SelectorTalk talk, int answer, List<SubnetPair> agreed)
    {
        // Who insists on one pair refuses the first child SA and is asked again for each (RFC 7296 section 2.9).
        var insists = responder.Platform.InsistsOnSinglePair == true && talk.OffersSeveral && TakesOne(responder);
        SelectorSet[] first = insists ? [] : [.. talk.Children.Take(1)];
        SelectorSet[] further = [.. talk.Children.Skip(first.Length)];
        if (further.Length == 0)
        {
            if (talk.Children.Count > 0)
                FirstPfs(agreed);
            OnePairUnknown(agreed);
            return;
        }

        if (insists)
            exchanges[answer - 1] = exchanges[answer - 1] with { Notify = "SINGLE_PAIR_REQUIRED" };
        else if (talk.AsksAgain)
            exchanges[answer - 1] = exchanges[answer - 1] with { Notify = "ADDITIONAL_TS_POSSIBLE" };
        if (insists || talk.AsksAgain)
            assumed.Add((initiator.Name, Assumption.AsksAgain));
        if (!insists && talk.OffersSeveral && responder.Platform.InsistsOnSinglePair is null && TakesOne(responder))
            assumed.Add((responder.Name, Assumption.NarrowsToFirst));
        var carried = talk.With(first).Where(f => f.Fit == SelectorFit.Whole).Select(f => f.Pair).ToHashSet();
        ImmutableArray<SubnetPair> pending = [.. agreed.Where(p => !carried.Contains(p))];
        var about = pending.IsEmpty ? (SubnetPair?)null : pending[0];
        var ask = Send(Message.ChildRequest, initiator.Name, about, further.Length - 1);
        var answered = Secrecy(Stage.FurtherPairs, ask, "NO_PROPOSAL_CHOSEN", pending);
        if (answered.Count > 0 && RetriesGroup(answered.First()))
        {
            Send(Message.ChildInvalidKe, responder.Name, about);
            Send(Message.ChildAgain, initiator.Name, about, further.Length - 1);
        }

        Send(Message.ChildResponse, responder.Name, about, further.Length - 1);
        agreed.RemoveAll(p => pending.Contains(p) && !answered.Contains(p));
    }

    private static bool TakesOne(EndView end) =>
        end.Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.One || end.End.Subnets?.Pairs is not null;

    /// <summary>
    /// Where nobody says how pairs are put into child SAs, the second may need one of its own: then PFS decides.
    /// </summary>
    private void OnePairUnknown(List<SubnetPair> agreed)
    {
        var silent = view.Ends.Where(e => !e.Get(Settings.PairsPerChild).Known && !TakesOne(e)).ToArray();
        if (agreed.Count < 2 || silent.Length == 0)
            return;
        var fits =
            initiator.Get(Settings.Pfs).Value is { } s && responder.Get(Settings.Pfs).Value is { } a
                ? Choice.PfsFits(s, a, KeyExchange, version)
                : null;
        if (fits == true)
        {
            foreach (var end in silent)
                assumed.Add((end.Name, Assumption.PairsInAnyNumber));
            return;
        }

        foreach (var end in silent)
            Asks(Stage.FurtherPairs, end.Name, "how many pairs it puts into one child SA", true, [.. agreed.Skip(1)]);
        agreed.RemoveRange(1, agreed.Count - 1);
    }

    /// <summary>The group of PFS that a rekey of the first child SA would have.</summary>
    private void FirstPfs(List<SubnetPair> agreed)
    {
        foreach (var group in view.PfsGroups(agreed.Count > 0 ? agreed : wanted))
            if (group.At(initiator.Name) is { } s && group.At(responder.Name) is { } a)
                pfs ??= Choice.Pfs(s, a, KeyExchange, version).Group;
    }

    /// <summary>Whether the first guess of the group is another than the one taken (RFC 7296 section 1.3).</summary>
    private bool RetriesGroup(SubnetPair pair) =>
        pfs is { } taken && initiator.PfsOf(pair) is { GroupOfIke: false, Groups: [var guess, ..] } && guess != taken;
}

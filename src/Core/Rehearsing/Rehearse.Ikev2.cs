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
            e => Usable.Ike(e, version),
            (o, a, r) => Choice.Ike(o, a, r, responder.Platform.OrderWins)
        );
        if (ike is not null && Usable.Ike(initiator, version)[0].Group != KeyExchange)
        {
            Send(Message.InvalidKe, responder.Name);
            Send(Message.InitAgain, initiator.Name);
        }

        Send(Message.InitResponse, responder.Name);
        DetectNat();
        var auth = Send(Message.AuthRequest, initiator.Name);
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
                "PAIR-10",
                "keyHeld",
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
            e => Usable.Esp(e, version),
            (o, a, r) => Choice.Esp(o, a, r, responder.Platform.OrderWins)
        );
        SequenceNumbers(Stage.Child, answer, "NO_PROPOSAL_CHOSEN");
        var agreed = SelectorsAt(_ => answer, "TS_UNACCEPTABLE");

        // Who takes one pair for each child SA gets the first here; every further pair asks for a child SA of its own,
        // and with it for PFS.
        var one = view.Ends.Any(e => e.Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.One);
        if (one && agreed.Count > 1)
        {
            var further = agreed.Skip(1).ToArray();
            if (initiator.Get(Settings.PairsPerChild).Value?.Value != PairsPerChild.One)
                assumed.Add((initiator.Name, Assumption.AsksAgain));
            var ask = Send(Message.ChildRequest, initiator.Name, further[0], further.Length - 1);
            Send(Message.ChildResponse, responder.Name, further[0], further.Length - 1);
            var fits = Secrecy(Stage.FurtherPairs, ask, "NO_PROPOSAL_CHOSEN", [.. further]);
            if (fits != true)
                agreed.RemoveRange(1, agreed.Count - 1);
        }
        else if (initiator.Get(Settings.Pfs).Value is { } s && responder.Get(Settings.Pfs).Value is { } a)
        {
            pfs = Choice.Pfs(s, a, KeyExchange).Group;
        }

        return Pass(esp is null ? [] : agreed);
    }
}

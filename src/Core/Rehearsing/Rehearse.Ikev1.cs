using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>The exchange of IKEv1 (RFC 2409 section 5).</summary>
public sealed partial class Rehearse
{
    // IKEv1

    private List<SubnetPair> First1()
    {
        mode = initiator.Get(Settings.ExchangeMode).Value?.Value ?? ExchangeMode.Main;
        var aggressive = mode == ExchangeMode.Aggressive;
        var first = Send(aggressive ? Message.Aggressive1 : Message.Main1, initiator.Name);
        Entry(first, nameKnown: aggressive);
        var answers = responder.Get(Settings.ExchangeMode).Value?.Value;
        if (answers is null && responder.Platform.AcceptsEitherMode is null && aggressive)
            Asks(Stage.Mode, responder.Name, "whether it accepts aggressive mode", true);
        else if ((answers ?? ExchangeMode.Main) != mode && responder.Platform.AcceptsEitherMode != true)
            Stops(
                Stage.Mode,
                first,
                responder.Name,
                InPhase1(responder, "UNSUPPORTED-EXCHANGE-TYPE"),
                Settings.ExchangeMode,
                new ModesMismatch(mode.Value, answers ?? ExchangeMode.Main)
            );

        ike = Chosen(
            Settings.IkeProposals,
            Stage.IkeProposal,
            first,
            InPhase1(responder, "NO-PROPOSAL-CHOSEN"),
            e => e == initiator ? Usable.IkeOffers(e, version) : Usable.Ike(e, version),
            (o, a, r) => Choice.Ike(o, a, r, version, responder.Platform.OrderWins)
        );
        if (MethodOf(initiator) is { } used && MethodOf(responder) is { } takes && used != takes)
            Stops(
                Stage.IkeProposal,
                first,
                responder.Name,
                InPhase1(responder, "NO-PROPOSAL-CHOSEN"),
                Settings.Authentication,
                new MethodsMismatch(WordsOf.Authentications.Of(used), WordsOf.Authentications.Of(takes))
            );
        Lifetimes(Settings.IkeLifetime, Stage.IkeProposal, first, InPhase1(responder, "NO-PROPOSAL-CHOSEN"));
        DetectNat();
        if (aggressive)
        {
            var second = Send(Message.Aggressive2, responder.Name);
            var failed = InPhase1(initiator, "AUTHENTICATION-FAILED");
            Judge(initiator, Stage.AtResponder, first, InPhase1(responder, "INVALID-ID-INFORMATION"), Silence);
            AnswersElsewhere(second, initiator.Name, failed);
            Judge(responder, Stage.AtInitiator, second, InPhase1(initiator, "INVALID-ID-INFORMATION"), failed);
            Send(Message.Aggressive3, initiator.Name);
        }
        else
        {
            Send(Message.Main2, responder.Name);
            Send(Message.Main3, initiator.Name);
            Send(Message.Main4, responder.Name);
            var fifth = Send(Message.Main5, initiator.Name);
            if (MethodOf(responder) == Authentication.PreSharedKey)
                KeyByAddress(fifth);
            // Unlike keys make unlike SKEYIDs, and message 5 decrypts to nonsense (RFC 2409 section 5.4).
            var unreadable = InPhase1(responder, "PAYLOAD-MALFORMED");
            AnswersElsewhere(
                fifth,
                responder.Name,
                MethodOf(responder) == Authentication.PreSharedKey
                    ? unreadable
                    : InPhase1(responder, "INVALID-ID-INFORMATION")
            );
            Judge(initiator, Stage.AtResponder, fifth, InPhase1(responder, "INVALID-ID-INFORMATION"), unreadable);
            var sixth = Send(Message.Main6, responder.Name);
            Judge(responder, Stage.AtInitiator, sixth, InPhase1(initiator, "INVALID-ID-INFORMATION"), Silence);
        }

        // Unlike keys are one fault seen twice; the first to meet it tells it.
        var keys = obstacles.Where(o => o.Cause is KeysMismatch).ToArray();
        if (keys.Length == 2)
            obstacles.Remove(
                aggressive
                    ? keys.First(k => k.Stage == Stage.AtResponder)
                    : keys.First(k => k.Stage == Stage.AtInitiator)
            );
        return Quick();
    }

    /// <summary>
    /// Main mode with a pre-shared key: the responder has to find the key by the source address alone (RFC 2409 section
    /// 5.4).
    /// </summary>
    private void KeyByAddress(int at)
    {
        var keyFor = responder.End.KeyFor ?? responder.PeerAddress.Value;
        var source = initiator.Outer;
        if (keyFor is null)
            return;
        if (keyFor.IsAny)
        {
            // A key entry of its own for any address is one key; peer entries for any address each bring their own.
            var mates = responder.End.KeyFor is null
                ? view.Inventory.EntriesOf(responder.Gateway.Id).ForAny(view.Tunnel.Id).Count()
                : 0;
            if (mates > 0)
                Stops(
                    Stage.KeyLookup,
                    at,
                    responder.Name,
                    Silence,
                    RowKey.KeyHeld,
                    new KeyNotFound(source, mates, null)
                );
        }
        else if (keyFor.Address is { } address && address != source && responder.End.KeyFor is not null)
        {
            Stops(
                Stage.KeyLookup,
                at,
                responder.Name,
                Silence,
                RowKey.KeyHeld,
                new KeyNotFound(source, 0, keyFor.ToString())
            );
        }
        else if (keyFor.Name is { } name && initiator.AddressIsDynamic)
        {
            Stops(Stage.KeyLookup, at, responder.Name, Silence, RowKey.KeyHeld, new KeyNotFound(source, 0, name));
        }
    }

    private void Lifetimes(
        Setting<Life> setting,
        Stage stage,
        int at,
        string notify,
        params ImmutableArray<SubnetPair> pairs
    )
    {
        var ofEsp = setting == (Setting)Settings.EspLifetime;
        if (
            initiator.Get(setting).Value is not { } offered
            || responder.Get(setting).Value is not { } own
            || (offered.Time.InSeconds == own.Time.InSeconds && offered.Data?.InKilobytes == own.Data?.InKilobytes)
        )
            return;
        if (responder.Platform.LifetimeRule == LifetimeRule.MustBeEqual)
            Stops(stage, at, responder.Name, notify, setting, new LifetimeRefused(ofEsp, offered, own), pairs);
        else if (responder.Platform.LifetimeRule is null)
            Asks(stage, responder.Name, $"what it does with an {setting.Label} that is not equal", true, pairs);
    }

    private List<SubnetPair> Quick()
    {
        var ask = Send(
            Message.Quick1,
            initiator.Name,
            wanted.IsEmpty ? null : wanted[0],
            Math.Max(0, wanted.Length - 1)
        );
        Send(Message.Quick2, responder.Name, wanted.IsEmpty ? null : wanted[0]);
        Send(Message.Quick3, initiator.Name, wanted.IsEmpty ? null : wanted[0]);
        esp = Chosen(
            Settings.EspProposals,
            Stage.Child,
            ask,
            "NO-PROPOSAL-CHOSEN",
            e => Usable.Esp(e, version),
            (o, a, r) => Choice.Esp(o, a, r, responder.Platform.OrderWins)
        );
        SequenceNumbers(Stage.Child, ask, "NO-PROPOSAL-CHOSEN");
        Modes(Stage.Child, ask, "NO-PROPOSAL-CHOSEN");
        Lifetimes(Settings.EspLifetime, Stage.Child, ask, "NO-PROPOSAL-CHOSEN");
        var answered = Secrecy(Stage.Child, ask, "NO-PROPOSAL-CHOSEN", wanted);
        var agreed = SelectorsAt(new(initiator, wanted), _ => ask, "INVALID-ID-INFORMATION");
        agreed.RemoveAll(p => !answered.Contains(p));
        return Pass(esp is null || obstacles.Any(o => o.Stage == Stage.Child) ? [] : agreed);
    }

    /// <summary>
    /// What is refused once the tunnel is up. A rekey is a quick mode of its own, and a new phase 1 an exchange of its
    /// own (RFC 2409 sections 5.4 and 5.5): the end that answered before may be the one that asks, and is refused what it
    /// would have been refused at the start.
    /// </summary>
    private Deferred? LaterUnderIkev1(List<SubnetPair> passing)
    {
        if (passing.Count + narrowed.Count == 0)
            return null;
        var back = new Rehearse(view, responder.Name) { version = version };
        back.First1();
        bool Hits(Obstacle o) => o.Pairs.IsEmpty || o.Pairs.Any(p => passing.Contains(p) || narrowed.Contains(p));
        bool? Answered(Func<Stage, bool> within) =>
            back.obstacles.Any(o => within(o.Stage) && Hits(o)) ? false
            : back.open.Any(q => within(q.Stage)) ? null
            : true;
        Deferred? Of(Setting<Life> setting, bool? theirs) =>
            Rekeying.OfRefused(
                view,
                initiator.Name,
                setting,
                initiator.Name == EndName.A ? new(true, theirs) : new(theirs, true)
            );
        return Of(Settings.EspLifetime, Answered(s => s is > Stage.AtInitiator and < Stage.Traffic))
            ?? Of(Settings.IkeLifetime, Answered(s => s is > Stage.Start and <= Stage.AtInitiator));
    }
}

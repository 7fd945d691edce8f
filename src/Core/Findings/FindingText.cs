using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings;

/// <summary>
/// A rehearsal in words: sentences of templates and typed arguments, made only when somebody reads them.
/// </summary>
public static class FindingText
{
    /// <summary>The words of how a rehearsal ends.</summary>
    public static readonly Words<Outcome> Outcomes = new(
        "an outcome",
        (Outcome.Up, "up"),
        (Outcome.UpWithFewerPairs, "up, with fewer pairs"),
        (Outcome.NothingPasses, "SAs up, nothing passes"),
        (Outcome.IkeOnly, "IKE SA up, no child SA"),
        (Outcome.Down, "down"),
        (Outcome.Undetermined, "undetermined"),
        (Outcome.DoesNotStart, "does not initiate")
    );

    /// <summary>What is rehearsed: <c>B initiates, IKEv1 main mode</c>.</summary>
    public static Sentence Title(Rehearsal r) =>
        $"{r.Initiator} initiates, "
        + $"{(r.Version?.ToString() ?? "no version in common"):w}"
        + $"{(r.Mode is { } m ? $" {WordsOf.ExchangeModes.Of(m)} mode" : ""):w}";

    /// <summary>The name of a message as the standards have it (RFC 7296 section 1.2, RFC 2409 section 5).</summary>
    public static string Name(Message message) =>
        message switch
        {
            Message.InitRequest or Message.InitAgain => "IKE_SA_INIT request",
            Message.InvalidKe or Message.InitResponse => "IKE_SA_INIT response",
            Message.AuthRequest => "IKE_AUTH request",
            Message.AuthResponse => "IKE_AUTH response",
            Message.Refusal => "INFORMATIONAL",
            Message.ChildRequest or Message.ChildAgain => "CREATE_CHILD_SA request",
            Message.ChildInvalidKe or Message.ChildResponse => "CREATE_CHILD_SA response",
            >= Message.Main1 and <= Message.Main6 => $"main mode {message - Message.Main1 + 1}",
            >= Message.Aggressive1 and <= Message.Aggressive3 => $"aggressive mode {message - Message.Aggressive1 + 1}",
            >= Message.Quick1 and <= Message.Quick3 => $"quick mode {message - Message.Quick1 + 1}",
            _ => "ESP",
        };

    /// <summary>What a message carries that matters.</summary>
    public static Sentence Carries(Checked about, Rehearsal r, Exchange x)
    {
        var sender = about.View.End(x.From);
        var offers = Usable.IkeOffers(sender, r.Version);
        string Offered() =>
            offers.IsEmpty ? "proposals unknown"
            : Usable.InOneProposal(sender, r.Version)
                ? $"{Say.Count(offers.Select(o => o.Encryption.Combined).Distinct().Count(), "proposal")} of several transforms"
            : Say.Count(offers.Length, "proposal");
        string Identity() => sender.IdentitySent.Value?.ToString() ?? "unknown";
        string Proof() =>
            sender.Get(Settings.Authentication).Value?.Value switch
            {
                Authentication.PreSharedKey => $"key {sender.End.KeyHeld?.ToString() ?? "unknown"}",
                Authentication.Certificate => "certificate and signature",
                _ => "authentication of unknown method",
            };
        Sentence Chosen() =>
            r.Ike is { } p ? Sentence.Of($"{p.ToString()} chosen") : Sentence.Plain("the chosen proposal");
        string Exchanged() => r.Ike is { } p ? p.Group.Name : "an unknown group";
        string Switch() => r.Encapsulated ? " · both switch to UDP 4500" : "";
        Sentence Selected() =>
            x.Selectors is { } ts
                ? Sentence.Of(
                    $"selectors {Side(ts.Initiator):w} → {Side(ts.Responder):w}{About(ts.Traffic, r.Initiator):w}"
                )
                : Sentence.Plain("no selectors that are known");
        Sentence Pair() =>
            x.Pair is { } pair
                ? Sentence.Of(
                    $"{about.View.NameOf(pair):w}{(x.More > 0 ? $", and {Say.Count(x.More, "more pair")} alike" : ""):w}"
                )
                : Sentence.Plain("the pair");
        if (RefusedIn(r, x) is { } refusal)
            return refusal;
        Sentence Notified() => x.Notify is { } n ? Sentence.Of($", {n:w}") : Sentence.Plain("");
        return x.Message switch
        {
            Message.InitRequest => Sentence.Of(
                $"{Offered():w}, key exchange for {(offers.IsEmpty ? "an unknown group" : offers[0].Group.Name)}, nonce"
            ),
            Message.InvalidKe => Sentence.Of($"INVALID_KE_PAYLOAD: {Exchanged()} is expected"),
            Message.InitAgain => Sentence.Of($"the same, key exchange for {Exchanged()}"),
            Message.InitResponse => Sentence.Of($"{Chosen()}{Switch():w}"),
            Message.AuthRequest => Sentence.Of($"{Identity()}, {Proof():w}, ESP proposals, {Selected()}"),
            Message.AuthResponse => ChildRefused(r, x) is { } notify
                ? Sentence.Of($"{Identity()}, {Proof():w}, {notify:w}")
            : r.Esp is { } e ? Sentence.Of($"{Identity()}, {Proof():w}, {e.ToString()}, {Selected()}{Notified()}")
            : Sentence.Of($"{Identity()}, {Proof():w}{Notified()}"),
            Message.Refusal => Sentence.Plain("AUTHENTICATION_FAILED, after the other end already holds the SA"),
            Message.ChildRequest => Sentence.Of($"{Pair()}{Group(r):w}"),
            Message.ChildInvalidKe => Sentence.Of(
                $"INVALID_KE_PAYLOAD: {(r.Pfs?.Name ?? "another group"):w} is expected"
            ),
            Message.ChildAgain => Sentence.Of($"the same, key exchange for {(r.Pfs?.Name ?? "that group"):w}"),
            Message.ChildResponse => Sentence.Of($"{Pair()}: accepted"),
            Message.Main1 => Sentence.Of($"SA: {Offered():w}"),
            Message.Main2 => Sentence.Of($"SA: {Chosen()}"),
            Message.Main3 => Sentence.Of($"key exchange, nonce{(r.Encapsulated ? ", NAT detected" : ""):w}"),
            Message.Main4 => Sentence.Of($"key exchange, nonce{Switch():w}"),
            Message.Main5 => Sentence.Of($"{Identity()}, {Proof():w}, encrypted"),
            Message.Main6 => Sentence.Of($"{Identity()}, {Proof():w}, encrypted"),
            Message.Aggressive1 => Sentence.Of($"SA: {Offered():w}, key exchange, {Identity()} in clear text"),
            Message.Aggressive2 => Sentence.Of($"{Chosen()}, {Identity()}, {Proof():w}"),
            Message.Aggressive3 => Sentence.Of($"{Proof():w}{Switch():w}"),
            Message.Quick1 => Sentence.Of($"{Pair()}, ESP proposals{Group(r):w}"),
            Message.Quick2 => r.Esp is { } q ? Sentence.Of($"{q.ToString()}") : Sentence.Plain("the chosen proposal"),
            Message.Quick3 => Sentence.Plain("hash"),
            _ => Sentence.Of(
                $"packets{(r.AllPassing.Any() ? $" of {Passing(r)}" : ""):w}"
                    + $"{(r.Encapsulated ? ", in UDP 4500" : ""):w}"
            ),
        };
    }

    /// <summary>
    /// A message that answers one in which something was refused carries the notify, and no choice; null for every
    /// other.
    /// </summary>
    private static Sentence? RefusedIn(Rehearsal r, Exchange x)
    {
        if (
            x.Message
            is not (
                Message.InitResponse
                or Message.ChildResponse
                or Message.Main2
                or Message.Aggressive2
                or Message.Quick2
            )
        )
            return null;
        var refused = r.Obstacles.FirstOrDefault(o =>
            o.RefusedBy == x.From
            && o.Stage is Stage.Version or Stage.Mode or Stage.IkeProposal or Stage.Child or Stage.FurtherPairs
            && o.Exchange > 0
            && o.Exchange < x.Number
            && r.Exchanges[o.Exchange - 1].From != x.From
        );
        return refused is null ? null
            : refused.Kind == ObstacleKind.NoResponse ? Sentence.Plain("nothing: it does not answer")
            : Sentence.Of($"{refused.Notify:w}");
    }

    /// <summary>
    /// The notify in place of a child SA: the IKE SA stands, and what goes with it is refused in the same message (RFC
    /// 7296 section 1.2). Null when nothing of it is refused for every pair.
    /// </summary>
    private static string? ChildRefused(Rehearsal r, Exchange x) =>
        r
            .Obstacles.FirstOrDefault(o =>
                o is { Stage: Stage.Child or Stage.Selectors, Kind: ObstacleKind.Refused }
                && o.Exchange == x.Number
                && o.RefusedBy == x.From
                && (o.Stage == Stage.Child || x.Selectors is null)
            )
            ?.Notify;

    private static string About(Traffic traffic, EndName initiator) =>
        traffic == Traffic.All ? "" : $" for {(initiator == EndName.A ? traffic : traffic.Turned).OfPair}";

    private static string Side(ImmutableArray<Prefix> prefixes) =>
        string.Join(", ", prefixes.Take(3)) + (prefixes.Length > 3 ? $" and {prefixes.Length - 3} more" : "");

    /// <summary>What the receiver decides, and by which of its values; null where nothing is decided.</summary>
    public static Sentence? Decides(Checked about, Rehearsal r, Exchange x)
    {
        var to = about.View.End(x.From.Other());
        return x.Message switch
        {
            Message.InitRequest or Message.Main1 or Message.Aggressive1 => to.PeerAddress.Value is { } entry
                ? Sentence.Of(
                    $"{to.Name} matches its peer entry for {entry.ToString()}, and chooses from "
                        + $"{Say.Count(to.Get(Settings.IkeProposals).Value?.Items.Length ?? 0, "proposal"):w}."
                )
                : null,
            Message.AuthRequest or Message.Main5 => to.IdentityExpected.Value is { } expected
                ? Sentence.Of($"{to.Name} expects {expected.ToString()}.")
                : null,
            Message.AuthResponse or Message.Main6 or Message.Aggressive2 => to.IdentityExpected.Value is { } wanted
                ? Sentence.Of($"{to.Name} expects {wanted.ToString()}.")
                : null,
            Message.ChildRequest or Message.Quick1 => to.Get(Settings.Pfs).Value is { } pfs
                ? Sentence.Of($"{to.Name} has PFS {pfs.ToString()}.")
                : null,
            _ => null,
        };
    }

    /// <summary>Why it stops, in one sentence, with both values and where they come from.</summary>
    public static Sentence Why(Checked about, Rehearsal r, Obstacle o) => new StopText(about, r, o).Why();

    /// <summary>What was assumed, because neither standard nor profile decides it.</summary>
    public static Sentence Assumed(Checked about, (EndName At, Assumption What) a)
    {
        var end = about.View.End(a.At);
        return a.What switch
        {
            Assumption.LetIn => $"Assumed: {a.At} allows IKE inbound. It is not recorded.",
            Assumption.StaticNatForwards => $"Assumed: the 1:1 NAT in front of {a.At} forwards everything.",
            Assumption.NameResolves =>
                $"Assumed: {end.PeerAddress.Value?.ToString()}, as entered at {a.At}, resolves to {a.At.Other()}'s "
                    + $"outer address.",
            Assumption.IdentitySeparates =>
                $"Several peer entries of {end.Gateway.Code} match the source address. Assumed: "
                    + $"{end.Platform.Title:w} selects by identity.",
            Assumption.SelectorsSeparate =>
                $"Several peer entries of {end.Gateway.Code} match source address and identity. Assumed: "
                    + $"{end.Platform.Title:w} selects by traffic selectors.",
            Assumption.NamesReversed =>
                $"Assumed: {end.Platform.Title:w} at {a.At} writes distinguished names in the opposite order of "
                    + $"{end.Other.Platform.Title:w} at {a.At.Other()}. Their profiles do not say.",
            Assumption.SignatureTaken =>
                $"Assumed: {a.At} accepts {a.At.Other()}'s signature. Its methods are not recorded at both ends.",
            Assumption.OfferedAsRecorded =>
                $"Assumed: {end.Platform.Title:w} at {a.At} offers each proposal as it is recorded. Its profile does not "
                    + $"say whether ticked algorithms go out as one proposal.",
            Assumption.InitiatorsOrder =>
                $"Assumed: {end.Platform.Title:w} at {a.At} follows the initiator's order. Its profile does not say.",
            Assumption.Silent =>
                $"Assumed: {end.Platform.Title:w} at {a.At} sends no notify in phase 1, where it is optional.",
            Assumption.NarrowsToFirst =>
                $"Assumed: {end.Platform.Title:w} at {a.At} answers several pairs with the first. Its profile does not say.",
            Assumption.PairsInAnyNumber =>
                $"Unknown at {a.At}: how many pairs go into one child SA. PFS fits, so each further child SA comes up too.",
            Assumption.FallsBack =>
                $"{end.Platform.Title:w} at {a.At} tries IKEv1 when its IKEv2 is not answered, as its profile says.",
            Assumption.SequenceNumbersAlike =>
                $"Assumed: both ends propose sequence numbers that the other takes. Neither end's extended sequence "
                    + $"numbers are known.",
            _ => $"Assumed: {a.At} requests the pairs that were narrowed away again, one by one.",
        };
    }

    /// <summary>The words of the kinds of stop.</summary>
    public static readonly Words<ObstacleKind> Kinds = new(
        "a kind of stop",
        (ObstacleKind.Refused, "refused"),
        (ObstacleKind.NoResponse, "no response"),
        (ObstacleKind.NotSent, "not sent"),
        (ObstacleKind.Narrowed, "narrowed"),
        (ObstacleKind.NoTraffic, "no traffic")
    );

    /// <summary>What has to be found out before the outcome can be told.</summary>
    public static Sentence FindOut(Checked about, OpenQuestion q) =>
        q.At is { } at
            ? q.OfProfile
                ? Sentence.Of($"The profile of {about.View.End(at).Platform.Title:w} at {at} does not say {q.What:w}.")
                : Sentence.Of($"Unknown at {at}: {q.What:w}. Check {about.View.End(at).Gateway.Code}.")
            : Sentence.Of($"Unknown: {q.What:w}.");

    /// <summary>What will fail after the tunnel is up.</summary>
    public static Sentence Later(Deferred d)
    {
        var asks = d.OfIke ? "new phase 1" : "rekey";
        if (d is { HiddenBy: { } before, FirstRefusal: null })
            return $"{d.Asks}'s {asks:w} would be refused, but reauthentication after {Lifetime.Say(before):w} makes "
                + $"new SAs before there is one.";
        Sentence refused = (d.FirstRefusal, d.Certain) switch
        {
            ({ } at, true) => Sentence.Of($"{d.Asks}'s {asks:w} is refused first at {at.ToString():w}"),
            ({ } at, false) => Sentence.Of(
                $"{d.Asks}'s {asks:w} at {at.ToString():w} is refused, unless {d.Asks.Other()} is first"
            ),
            (null, true) => Sentence.Of($"{d.Asks}'s first {asks:w} is refused"),
            (null, false) => Sentence.Of($"{d.Asks}'s {asks:w} is refused, unless {d.Asks.Other()} is first"),
        };
        Sentence lost = d.Lost is { } l
            ? Sentence.Of($"; traffic drops {Lifetime.Say(l.To):w} after it comes up")
            : Sentence.Plain("; traffic drops when the child SA expires");
        Sentence then = Sentence.Plain(
            d.Flaps switch
            {
                true => ". It then reauthenticates: the tunnel flaps.",
                false => ". It then stays down.",
                _ => ". Its profile does not say what it does then.",
            }
        );
        if (d.HiddenBy is { } again)
            then = $". Reauthentication after {Lifetime.Say(again):w} makes new SAs before that.";
        return $"{refused}{lost}{then}";
    }

    internal static string Passing(Rehearsal r) =>
        r.Narrowed.IsEmpty ? Say.Count(r.Passing.Length, "pair")
        : r.Passing.IsEmpty ? $"a part of {Say.Count(r.Narrowed.Length, "pair")}"
        : $"{Say.Count(r.Passing.Length, "pair")} and a part of {r.Narrowed.Length}";

    private static string Group(Rehearsal r) => r.Pfs is { } g ? $", {g.Name}" : "";
}

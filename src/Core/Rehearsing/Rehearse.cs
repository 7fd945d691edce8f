using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>
/// Rehearses a tunnel from one side: IKEv2 (RFC 7296) or IKEv1 (RFC 2409 in main, aggressive and quick mode). A pure
/// function of the resolved ends, the other peer entries of the responder's gateway and the path. Goes on after an
/// obstacle as though it were mended, so that one run meets them all in order.
/// </summary>
public sealed class Rehearse
{
    private readonly TunnelView view;
    private readonly EndView starter;
    private readonly EndView answerer;
    private readonly ImmutableArray<SubnetPair> wanted;
    private readonly List<Exchange> exchanges = [];
    private readonly List<Obstacle> obstacles = [];
    private readonly List<OpenQuestion> open = [];
    private readonly List<(EndName, Assumption)> assumed = [];
    private IkeVersion? version;
    private ExchangeMode? mode;
    private IkeProposal? ike;
    private DhGroup? KeyExchange => ike is { } chosen ? chosen.Group : null;
    private EspProposal? esp;
    private DhGroup? pfs;
    private bool encapsulated;

    private Rehearse(TunnelView view, EndName starter)
    {
        this.view = view;
        this.starter = view.End(starter);
        answerer = this.starter.Other;
        wanted = view.Tunnel.Agreed.Pairs;
    }

    /// <summary>Rehearses the negotiation as one end begins it.</summary>
    public static Rehearsal From(TunnelView view, EndName starter) => new Rehearse(view, starter).Run();

    /// <summary>
    /// Every pairing of uplinks that the two ends may use, the preferred ones first; each is a view of the tunnel on
    /// just those two.
    /// </summary>
    public static IEnumerable<(Uplink A, Uplink B, TunnelView View)> Pairings(TunnelView view)
    {
        foreach (var a in view.A.Uplinks)
        foreach (var b in view.B.Uplinks)
        {
            var t = view.Tunnel with
            {
                A = view.Tunnel.A with { Uplinks = [a.Label] },
                B = view.Tunnel.B with { Uplinks = [b.Label] },
            };
            yield return (a, b, new(view.Inventory, t, view.Today));
        }
    }

    private bool Old => version == IkeVersion.IKEv1;

    private Authentication? MethodOf(EndView end) => end.Get(Settings.Authentication).Value?.Value;

    private Rehearsal Run()
    {
        version = view.Version;
        Begin();
        Reach();
        if (version is null)
            Versions();
        // Where no version is in common the rest is told as the starter would begin.
        version ??= new[] { starter, answerer }
            .Select(e => e.Get(Settings.IkeVersions).Value?.Items.Max())
            .FirstOrDefault(v => v is not null)
            ?? IkeVersion.IKEv2;
        var passing = Old ? First1() : First2();
        if (wanted.IsEmpty)
            open.Add(new(Stage.Selectors, null, "which subnets should reach each other: no pair is agreed", false, []));
        var outcome = OutcomeOf(passing);
        return new(
            starter.Name,
            version,
            mode,
            outcome,
            [.. exchanges],
            [.. obstacles.OrderBy(o => o.Stage)],
            [.. open.OrderBy(o => o.Stage)],
            [.. assumed.Distinct()],
            ike,
            esp,
            pfs,
            encapsulated,
            outcome is Outcome.Up or Outcome.UpWithFewerPairs ? [.. passing] : [],
            Old || esp is null ? null : Rekeying.OfPfs(view, KeyExchange)
        );
    }

    private Outcome OutcomeOf(IReadOnlyCollection<SubnetPair> passing)
    {
        bool Whole(Obstacle o) => o.Pairs.IsEmpty || o.Pairs.Length == wanted.Length;
        if (obstacles.Any(o => o.Stage == Stage.Start))
            return Outcome.DoesNotStart;
        if (obstacles.Any(o => o.Stage < Stage.Child))
            return Outcome.Down;
        if (open.Any(o => o.Stage < Stage.Child))
            return Outcome.Undetermined;
        if (obstacles.Any(o => o.Stage is Stage.Child or Stage.Selectors && Whole(o)))
            return Outcome.IkeOnly;
        if (
            open.Any(o =>
                o.Stage == Stage.Child
                || (o.Stage >= Stage.Selectors && (o.Pairs.IsEmpty || o.Pairs.Length == wanted.Length))
            )
        )
            return Outcome.Undetermined;
        if (passing.Count == wanted.Length)
            return Outcome.Up;
        return passing.Count == 0
            && !obstacles.Any(o => o.Stage == Stage.Traffic)
            && obstacles.Any(o => o.Stage >= Stage.Child)
                ? Outcome.IkeOnly
            : open.Any(o => o.Stage >= Stage.Selectors) && passing.Count == 0 ? Outcome.Undetermined
            : Outcome.UpWithFewerPairs;
    }

    private int Send(Message message, EndName from, SubnetPair? pair = null, int more = 0)
    {
        exchanges.Add(new(exchanges.Count + 1, message, from, pair, more));
        return exchanges.Count;
    }

    private void Stops(
        Stage stage,
        int at,
        EndName? by,
        string notify,
        string code,
        string? row,
        Cause cause,
        params ImmutableArray<SubnetPair> pairs
    ) => obstacles.Add(new(stage, at, by, notify, code, row, cause, pairs));

    private void Asks(
        Stage stage,
        EndName? at,
        string what,
        bool ofProfile = false,
        params ImmutableArray<SubnetPair> pairs
    ) => open.Add(new(stage, at, what, ofProfile, pairs));

    /// <summary>
    /// The notify of a refused phase 1 of IKEv1: an error where the profile says that one is sent, otherwise silence.
    /// </summary>
    private string InPhase1(EndView by, string notify)
    {
        if (by.Platform.SaysWhyInPhase1 == true)
            return notify;
        if (by.Platform.SaysWhyInPhase1 is null)
            assumed.Add((by.Name, Assumption.Silent));
        return "no answer";
    }

    // Before the first message

    private void Begin()
    {
        var start = starter.Get(Settings.Start);
        if (!start.Known)
            Asks(
                Stage.Start,
                starter.Name,
                "whether it starts by itself",
                starter.End.Set.Get(Settings.Start) is null && starter.Platform.Defaults.IsEmpty
            );
        else if (start.Value!.Value == Start.OnlyAnswer)
            Stops(
                Stage.Start,
                0,
                starter.Name,
                "not sent",
                "PAIR-13",
                Settings.Start.Key,
                new DoesNotStart(StartFault.OnlyAnswers)
            );
        var entered = starter.PeerAddress;
        if (
            entered.Pending is not null
            || (entered.Value is null && answerer.Uplinks.FirstOrDefault()?.Address.Pending is not null)
        )
            Stops(
                Stage.Start,
                0,
                starter.Name,
                "not sent",
                "PAIR-13",
                $"addressOf{answerer.Name}",
                new DoesNotStart(StartFault.AddressPending)
            );
        else if (entered.Value?.IsAny == true || (entered.Value is null && answerer.AddressMoves))
            Stops(
                Stage.Start,
                0,
                starter.Name,
                "not sent",
                "PAIR-13",
                $"addressOf{answerer.Name}",
                new DoesNotStart(StartFault.AddressMoves)
            );
        else if (entered.Value is null)
            Asks(Stage.Start, answerer.Name, "what its outer address is");
    }

    private void Reach()
    {
        // Who does not know where to send sends nothing that could be lost on the way.
        if (obstacles.Any(o => o.Cause is DoesNotStart { Fault: not StartFault.OnlyAnswers }))
            return;
        const int first = 1;
        if (starter.PeerAddress.Value is { IsAny: false } peer)
        {
            var real = answerer.Uplinks.FirstOrDefault();
            if (peer.Address is { } at && answerer.Outer is { } outer)
            {
                if (at != outer)
                    Stops(
                        Stage.Reach,
                        first,
                        null,
                        "no answer",
                        "PAIR-08",
                        $"addressOf{answerer.Name}",
                        new WrongAddress(peer.ToString(), outer.ToString())
                    );
            }
            else if (peer.Address is not null && answerer.AddressMoves)
                Stops(
                    Stage.Reach,
                    first,
                    null,
                    "no answer",
                    "PAIR-08",
                    $"addressOf{answerer.Name}",
                    new WrongAddress(peer.ToString(), "not fixed")
                );
            else if (peer.Name is not null && real?.Address.Value?.Name != peer.Name)
            {
                if (answerer.Outer is null)
                    Asks(Stage.Reach, starter.Name, $"what {peer.Name} resolves to");
                else
                    assumed.Add((starter.Name, Assumption.NameResolves));
            }
            else if (peer.Name is not null)
                assumed.Add((starter.Name, Assumption.NameResolves));
        }

        if (answerer.Uplinks.FirstOrDefault() is { } uplink)
        {
            if (uplink.Reached("IKE") is { } reached)
            {
                if (!reached)
                    Stops(
                        Stage.Reach,
                        first,
                        null,
                        "no answer",
                        "PATH-11",
                        $"addressOf{answerer.Name}",
                        new NotReached("IKE", uplink.LetsIn?.Contains("IKE") != false)
                    );
            }
            else
            {
                if (uplink.LetsIn is null)
                    assumed.Add((answerer.Name, Assumption.LetIn));
                if (uplink.Translator is { Forwards: null })
                    assumed.Add((answerer.Name, Assumption.OneToOneForwards));
            }
        }
    }

    private void Versions()
    {
        var (a, b) = (view.A.Get(Settings.IkeVersions), view.B.Get(Settings.IkeVersions));
        foreach (var (end, value) in new[] { (view.A, a), (view.B, b) })
            if (!value.Known)
                Asks(Stage.Version, end.Name, "which IKE version it speaks", end.Platform.IkeVersions.IsEmpty);
        if (a.Known && b.Known)
            Stops(
                Stage.Version,
                1,
                answerer.Name,
                "no answer",
                "PAIR-01",
                Settings.IkeVersions.Key,
                new VersionsApart()
            );
    }

    /// <summary>Which peer entry of the responder's gateway takes a message from the starter's address.</summary>
    /// <param name="nameKnown">Whether the first message carries the identity already (aggressive mode).</param>
    private void Entry(int at, bool nameKnown)
    {
        var source = starter.Outer;
        var entered = answerer.PeerAddress.Value;
        var entries = view.Inventory.EntriesOf(answerer.Gateway.Id);
        var id = view.Tunnel.Id;
        if (entered is null)
        {
            // Nothing is entered and the source is not known either: whoever looks for it by address finds nothing.
            if (starter.AddressMoves)
                Stops(
                    Stage.Entry,
                    at,
                    answerer.Name,
                    "no answer",
                    "PAIR-08",
                    $"addressOf{starter.Name}",
                    new NoPeerEntry(source, "nothing")
                );
            else
                Asks(Stage.Entry, answerer.Name, $"which address it has entered for {starter.Name}");
            return;
        }

        if (!entered.IsAny)
        {
            if (entered.Name is { } name)
            {
                if (starter.Uplinks.FirstOrDefault()?.Address.Value?.Name != name)
                {
                    if (source is null)
                        Asks(Stage.Entry, answerer.Name, $"what {name} resolves to");
                    else
                        assumed.Add((answerer.Name, Assumption.NameResolves));
                }
            }
            else if (source != entered.Address)
            {
                if (source is null && !starter.AddressMoves)
                    Asks(Stage.Entry, starter.Name, "what its outer address is");
                else
                    Stops(
                        Stage.Entry,
                        at,
                        answerer.Name,
                        "no answer",
                        "PAIR-08",
                        $"addressOf{starter.Name}",
                        new NoPeerEntry(source, entered.ToString())
                    );
            }
        }

        var nearer = entered.IsAny && source is { } s ? entries.For(s, id).FirstOrDefault() : null;
        var mates = entered.IsAny ? entries.ForAny(id).Any() : source is { } exact && entries.For(exact, id).Any();
        if (nearer is null && !mates)
            return;
        // The identity sorts them out where the platform looks up by name, and where it is told before the entry
        // matters.
        var byName = answerer.Platform.LooksUpBy?.Contains(Lookup.Name);
        var later = !Old || nameKnown || MethodOf(answerer) == Authentication.Certificate;
        if (byName == true && later)
            assumed.Add((answerer.Name, Assumption.IdentityTellsApart));
        else if (nearer is not null && byName is not null)
            Stops(
                Stage.Entry,
                at,
                answerer.Name,
                "no answer",
                "PAIR-08",
                $"addressOf{starter.Name}",
                new LandsElsewhere(nearer)
            );
        else if (byName is null || !Old)
            Asks(Stage.Entry, answerer.Name, "which of several matching peer entries takes the call", byName is null);
    }

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
        if (!starter.Get(setting).Known || !answerer.Get(setting).Known)
        {
            foreach (var end in new[] { starter, answerer })
                if (!end.Get(setting).Known)
                    Asks(stage, end.Name, $"which {setting.Label} it has", false);
            return null;
        }

        var (o, a) = (usable(starter), usable(answerer));
        var chosen = choose(o, a, Rule(answerer));
        if (
            chosen.Proposal is null
            && answerer.Platform.Answers is null
            && choose(o, a, Answering.AnyCombination).Proposal is not null
        )
        {
            Asks(stage, answerer.Name, "whether it takes any combination of what it has ticked", true);
            return null;
        }

        if (chosen.Proposal is null)
            Stops(
                stage,
                at,
                answerer.Name,
                notify,
                setting == (Setting)Settings.EspProposals ? "PAIR-04" : "PAIR-03",
                setting.Key,
                new NothingChosen(setting == (Setting)Settings.EspProposals, chosen.Miss)
            );
        else if (o.Length > 1 && a.Length > 1 && answerer.Platform.OrderWins is null)
            assumed.Add((answerer.Name, Assumption.InitiatorsOrder));
        return chosen.Proposal;
    }

    private void Translated()
    {
        var translated = view.Ends.Any(e => e.Uplinks.FirstOrDefault()?.Translator is not null);
        var never = view.Ends.Any(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never);
        var always = view.Ends.Any(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Always);
        encapsulated = !never && (translated || always);
    }

    /// <summary>Judges identity, method and key or certificate of one end at the other.</summary>
    private void Judge(EndView sender, Stage stage, int at, string notify, string keyNotify)
    {
        var verifier = sender.Other;
        var (sent, expected) = (sender.IdentitySent, verifier.IdentityExpected);
        if (!sent.Known)
            Asks(stage, sender.Name, "which identity it sends");
        if (!expected.Known)
            Asks(stage, verifier.Name, $"which identity it expects of {sender.Name}");
        if (IdentityFit.Of(sender) is { } differs)
        {
            if (differs.Fault != IdentityFault.CaseOnly || differs.ComparedByOctet == true)
                Stops(
                    stage,
                    at,
                    verifier.Name,
                    notify,
                    "PAIR-07",
                    $"identityOf{sender.Name}",
                    new IdentityRefused(differs)
                );
            else if (differs.ComparedByOctet is null)
                Asks(stage, verifier.Name, "whether upper and lower case of names matter", true);
        }

        var (used, wantedMethod) = (MethodOf(sender), MethodOf(verifier));
        if (used is null || wantedMethod is null)
        {
            foreach (var end in new[] { sender, verifier })
                if (MethodOf(end) is null && !open.Any(o => o.At == end.Name && o.What == "how it authenticates"))
                    Asks(stage, end.Name, "how it authenticates");
            return;
        }

        if (used != wantedMethod)
        {
            // Under IKEv1 the method is part of the proposal and was refused there.
            if (!Old)
                Stops(
                    stage,
                    at,
                    verifier.Name,
                    notify,
                    "PAIR-09",
                    Settings.Authentication.Key,
                    new MethodsApart(
                        WordsOf.Authentications.Of(used.Value),
                        WordsOf.Authentications.Of(wantedMethod.Value)
                    )
                );
            return;
        }

        if (used == Authentication.PreSharedKey)
            Key(sender, stage, at, keyNotify);
        else
            Certified(sender, stage, at, notify);
    }

    private void Key(EndView sender, Stage stage, int at, string notify)
    {
        var (signs, verifies) = (sender.End.KeyHeld, sender.Other.End.KeyHeld);
        if (signs is null || verifies is null)
        {
            foreach (var end in new[] { sender, sender.Other })
                if (
                    end.End.KeyHeld is null
                    && !open.Any(o => o.At == end.Name && o.What == "which key version it holds")
                )
                    Asks(stage, end.Name, "which key version it holds");
            return;
        }

        if (!signs.Send.Any(v => verifies.Receive.Contains(v)))
            Stops(stage, at, sender.Other.Name, notify, "PAIR-10", "keyHeld", new KeysApart(signs, verifies));
    }

    private void Certified(EndView sender, Stage stage, int at, string notify)
    {
        var verifier = sender.Other;
        if (sender.End.Certificate is not { } c)
        {
            Asks(stage, sender.Name, "which certificate it has");
            return;
        }

        void Refused(CertificateFault fault, string code) =>
            Stops(
                stage,
                at,
                verifier.Name,
                notify,
                code,
                Settings.Authentication.Key,
                new CertificateRefused(fault, c)
            );
        if (verifier.End.Anchors is not { } anchors)
            Asks(stage, verifier.Name, "whose certificates it takes");
        else if (!anchors.Contains(c.Issuer))
            Refused(CertificateFault.NotTrusted, "KEY-09");
        if (c.From is { } from && from > view.Today && !verifier.End.RelaxedChecks.Contains("dates"))
            Refused(CertificateFault.NotYetValid, "KEY-07");
        if (c.Until is { } until && until < view.Today && !verifier.End.RelaxedChecks.Contains("dates"))
            Refused(CertificateFault.Expired, "KEY-07");
        if (
            sender.IdentitySent.Value is { } sent
            && !c.Names.Contains(sent)
            && !verifier.End.RelaxedChecks.Contains("name")
        )
            Refused(CertificateFault.NameMissing, "KEY-08");
        if (c.MayAuthenticate == false && !verifier.End.RelaxedChecks.Contains("usage"))
            Refused(CertificateFault.UsageForbids, "KEY-10");
    }

    private void SequenceNumbers(Stage stage, int at, string notify)
    {
        if (
            starter.Get(Settings.ExtendedSequence).Value?.Value is { } s
            && answerer.Get(Settings.ExtendedSequence).Value?.Value is { } a
            && s != a
            && s != Extended.Either
            && a != Extended.Either
        )
            Stops(
                stage,
                at,
                answerer.Name,
                notify,
                "PAIR-18",
                Settings.ExtendedSequence.Key,
                new SequenceNumbersApart()
            );
    }

    /// <summary>The wanted pairs by what becomes of their selectors; those stopped or open are noted.</summary>
    private List<SubnetPair> SelectorsAt(Func<SubnetPair, int> at, string notify)
    {
        var rule = answerer.Platform.SelectorsOf(version);
        var fits = wanted.Select(p => (Pair: p, Fit: SelectorFit.Of(starter, answerer, p, rule))).ToArray();
        foreach (
            var group in fits.Where(f => f.Fit is Fit.NotOffered or Fit.None or Fit.OnlyEqual or Fit.Part)
                .GroupBy(f => f.Fit)
        )
        {
            ImmutableArray<SubnetPair> pairs = [.. group.Select(g => g.Pair)];
            Stops(
                Stage.Selectors,
                at(pairs[0]),
                group.Key == Fit.NotOffered ? starter.Name : answerer.Name,
                group.Key == Fit.NotOffered ? "not sent" : notify,
                "PAIR-06",
                RowOf(pairs[0]),
                new SelectorsRefused(group.Key == Fit.NotOffered, group.Key == Fit.OnlyEqual),
                pairs
            );
        }

        ImmutableArray<SubnetPair> unknown = [.. fits.Where(f => f.Fit == Fit.Unknown).Select(f => f.Pair)];
        if (!unknown.IsEmpty)
        {
            var blank = view.Ends.FirstOrDefault(e => !e.AnyToAny && (!e.OwnSubnets.Known || !e.PeerSubnets.Known));
            Asks(
                Stage.Selectors,
                blank?.Name ?? answerer.Name,
                blank is null
                    ? "whether it takes selectors that are not equal to its own"
                    : "which subnets it protects",
                blank is null,
                unknown
            );
        }

        return [.. fits.Where(f => f.Fit == Fit.Whole).Select(f => f.Pair)];
    }

    /// <summary>The row of the comparison in which the two ends' selectors for a pair differ.</summary>
    private string RowOf(SubnetPair pair)
    {
        foreach (var owner in view.Ends)
            if (
                owner.OwnSubnets.Value is { } own
                && owner.Other.PeerSubnets.Value is { } mirrored
                && !own
                    .Items.Where(p => p.Overlaps(pair.On(owner.Name)))
                    .ToHashSet()
                    .SetEquals(mirrored.Items.Where(p => p.Overlaps(pair.On(owner.Name))))
            )
                return $"subnetsOf{owner.Name}";
        return $"subnetsOf{starter.Name}";
    }

    /// <summary>Whether the packets of standing SAs reach either end.</summary>
    private List<SubnetPair> Pass(List<SubnetPair> pairs)
    {
        if (pairs.Count == 0)
            return pairs;
        var at = Send(Message.Esp, starter.Name);
        if (encapsulated)
            return pairs;
        foreach (var end in new[] { answerer, starter })
            if (end.Uplinks.FirstOrDefault() is { } uplink && uplink.Reached("ESP") is { } reached)
            {
                if (!reached)
                {
                    // Behind a port-sharing translator plain ESP has no port to be told apart by.
                    var off = view.Ends.Any(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never);
                    Stops(
                        Stage.Traffic,
                        at,
                        null,
                        "no answer",
                        uplink.Translator?.Type == TranslatorKind.PortSharing && off ? "PAIR-14" : "PATH-11",
                        Settings.NatTraversal.Key,
                        new PacketsLost(end.Name, off),
                        [.. pairs]
                    );
                    return [];
                }
            }
            else if (end.Uplinks.FirstOrDefault() is { Translator: { Type: TranslatorKind.OneToOne, Forwards: null } })
                assumed.Add((end.Name, Assumption.OneToOneForwards));
        return pairs;
    }

    // IKEv2

    private List<SubnetPair> First2()
    {
        var init = Send(Message.InitRequest, starter.Name);
        Entry(init, nameKnown: false);
        ike = Chosen(
            Settings.IkeProposals,
            Stage.IkeProposal,
            init,
            "NO_PROPOSAL_CHOSEN",
            e => Usable.Ike(e, version),
            (o, a, r) => Choice.Ike(o, a, r, answerer.Platform.OrderWins)
        );
        if (ike is not null && Usable.Ike(starter, version)[0].Group != KeyExchange)
        {
            Send(Message.InvalidKe, answerer.Name);
            Send(Message.InitAgain, starter.Name);
        }

        Send(Message.InitResponse, answerer.Name);
        Translated();
        var auth = Send(Message.AuthRequest, starter.Name);
        Judge(starter, Stage.AtResponder, auth, "AUTHENTICATION_FAILED", "AUTHENTICATION_FAILED");
        if (
            answerer.End.KeyFor is { IsAny: false, Address: { } keyFor }
            && MethodOf(answerer) == Authentication.PreSharedKey
            && starter.Outer != keyFor
            && answerer.Platform.LooksUpBy?.Contains(Lookup.Name) != true
        )
            Stops(
                Stage.AtResponder,
                auth,
                answerer.Name,
                "AUTHENTICATION_FAILED",
                "PAIR-10",
                "keyHeld",
                new KeyNotFound(starter.Outer, 0, keyFor.ToString())
            );
        var answer = Send(Message.AuthResponse, answerer.Name);
        var before = obstacles.Count;
        Judge(answerer, Stage.AtInitiator, answer, "AUTHENTICATION_FAILED", "AUTHENTICATION_FAILED");
        if (obstacles.Count > before)
            Send(Message.Refusal, starter.Name);

        esp = Chosen(
            Settings.EspProposals,
            Stage.Child,
            answer,
            "NO_PROPOSAL_CHOSEN",
            e => Usable.Esp(e, version),
            (o, a, r) => Choice.Esp(o, a, r, answerer.Platform.OrderWins)
        );
        SequenceNumbers(Stage.Child, answer, "NO_PROPOSAL_CHOSEN");
        var agreed = SelectorsAt(_ => answer, "TS_UNACCEPTABLE");

        // Who takes one pair for each child SA gets the first here; every further pair asks for a child SA of its own,
        // and with it for PFS.
        var one = view.Ends.Any(e => e.Get(Settings.PairsPerChild).Value?.Value == PairsPerChild.One);
        if (one && agreed.Count > 1)
        {
            var further = agreed.Skip(1).ToArray();
            if (starter.Get(Settings.PairsPerChild).Value?.Value != PairsPerChild.One)
                assumed.Add((starter.Name, Assumption.AsksAgain));
            var ask = Send(Message.ChildRequest, starter.Name, further[0], further.Length - 1);
            Send(Message.ChildResponse, answerer.Name, further[0], further.Length - 1);
            var fits = Secrecy(Stage.FurtherPairs, ask, "NO_PROPOSAL_CHOSEN", [.. further]);
            if (fits != true)
                agreed.RemoveRange(1, agreed.Count - 1);
        }
        else if (starter.Get(Settings.Pfs).Value is { } s && answerer.Get(Settings.Pfs).Value is { } a)
        {
            pfs = Choice.Pfs(s, a, KeyExchange).Group;
        }

        return Pass(esp is null ? [] : agreed);
    }

    /// <summary>Whether a child SA with PFS is answered; null when that is open.</summary>
    private bool? Secrecy(Stage stage, int at, string notify, ImmutableArray<SubnetPair> pairs)
    {
        var (s, a) = (starter.Get(Settings.Pfs).Value, answerer.Get(Settings.Pfs).Value);
        if (s is null || a is null)
        {
            foreach (var end in new[] { starter, answerer })
                if (!end.Get(Settings.Pfs).Known)
                    Asks(stage, end.Name, "what it wants of PFS", false, pairs);
            return null;
        }

        var fits = Choice.PfsFits(s, a, KeyExchange);
        if (fits == true)
            pfs = Choice.Pfs(s, a, KeyExchange).Group;
        else if (fits == false)
            Stops(stage, at, answerer.Name, notify, "PAIR-05", Settings.Pfs.Key, new PfsApart(s, a), pairs);
        else
            Asks(stage, null, "the group of the IKE SA, on which PFS depends", false, pairs);
        return fits;
    }

    // IKEv1

    private List<SubnetPair> First1()
    {
        mode = starter.Get(Settings.ExchangeMode).Value?.Value ?? ExchangeMode.Main;
        var aggressive = mode == ExchangeMode.Aggressive;
        var first = Send(aggressive ? Message.Aggressive1 : Message.Main1, starter.Name);
        Entry(first, nameKnown: aggressive);
        var answers = answerer.Get(Settings.ExchangeMode).Value?.Value;
        if (answers is null && answerer.Platform.AnswersEitherMode is null && aggressive)
            Asks(Stage.Mode, answerer.Name, "whether it answers aggressive mode", true);
        else if ((answers ?? ExchangeMode.Main) != mode && answerer.Platform.AnswersEitherMode != true)
            Stops(
                Stage.Mode,
                first,
                answerer.Name,
                InPhase1(answerer, "NO-PROPOSAL-CHOSEN"),
                "PAIR-02",
                Settings.ExchangeMode.Key,
                new ModesApart(mode.Value, answers ?? ExchangeMode.Main)
            );

        // Aggressive mode carries one key exchange value, so that only offers with the first one's group count.
        ImmutableArray<IkeProposal> OfFirstGroup(EndView e)
        {
            var able = Usable.Ike(e, version);
            return aggressive && able.Length > 0 ? [.. able.Where(p => p.Group == able[0].Group)] : able;
        }

        ike = Chosen(
            Settings.IkeProposals,
            Stage.IkeProposal,
            first,
            InPhase1(answerer, "NO-PROPOSAL-CHOSEN"),
            OfFirstGroup,
            (o, a, r) => Choice.Ike(o, a, r, answerer.Platform.OrderWins)
        );
        if (MethodOf(starter) is { } used && MethodOf(answerer) is { } takes && used != takes)
            Stops(
                Stage.IkeProposal,
                first,
                answerer.Name,
                InPhase1(answerer, "NO-PROPOSAL-CHOSEN"),
                "PAIR-09",
                Settings.Authentication.Key,
                new MethodsApart(WordsOf.Authentications.Of(used), WordsOf.Authentications.Of(takes))
            );
        Lifetimes(Settings.IkeLifetime, Stage.IkeProposal, first, InPhase1(answerer, "NO-PROPOSAL-CHOSEN"));
        Translated();
        if (aggressive)
        {
            var second = Send(Message.Aggressive2, answerer.Name);
            Judge(starter, Stage.AtResponder, first, InPhase1(answerer, "INVALID-ID-INFORMATION"), "no answer");
            Judge(answerer, Stage.AtInitiator, second, InPhase1(starter, "INVALID-ID-INFORMATION"), "no answer");
            Send(Message.Aggressive3, starter.Name);
        }
        else
        {
            Send(Message.Main2, answerer.Name);
            Send(Message.Main3, starter.Name);
            Send(Message.Main4, answerer.Name);
            var fifth = Send(Message.Main5, starter.Name);
            if (MethodOf(answerer) == Authentication.PreSharedKey)
                KeyByAddress(fifth);
            Judge(starter, Stage.AtResponder, fifth, InPhase1(answerer, "INVALID-ID-INFORMATION"), "no answer");
            var sixth = Send(Message.Main6, answerer.Name);
            Judge(answerer, Stage.AtInitiator, sixth, InPhase1(starter, "INVALID-ID-INFORMATION"), "no answer");
        }

        // Unlike keys are one fault seen twice; the first to meet it tells it.
        var keys = obstacles.Where(o => o.Cause is KeysApart).ToArray();
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
        var keyFor = answerer.End.KeyFor ?? answerer.PeerAddress.Value;
        var source = starter.Outer;
        if (keyFor is null)
            return;
        if (keyFor.IsAny)
        {
            // A key entry of its own for any address is one key; peer entries for any address each bring their own.
            var mates = answerer.End.KeyFor is null
                ? view.Inventory.EntriesOf(answerer.Gateway.Id).ForAny(view.Tunnel.Id).Count()
                : 0;
            if (mates > 0)
                Stops(
                    Stage.KeyLookup,
                    at,
                    answerer.Name,
                    "no answer",
                    "PAIR-10",
                    "keyHeld",
                    new KeyNotFound(source, mates, null)
                );
        }
        else if (keyFor.Address is { } address && address != source && answerer.End.KeyFor is not null)
        {
            Stops(
                Stage.KeyLookup,
                at,
                answerer.Name,
                "no answer",
                "PAIR-10",
                "keyHeld",
                new KeyNotFound(source, 0, keyFor.ToString())
            );
        }
        else if (keyFor.Name is { } name && starter.AddressMoves)
        {
            Stops(
                Stage.KeyLookup,
                at,
                answerer.Name,
                "no answer",
                "PAIR-10",
                "keyHeld",
                new KeyNotFound(source, 0, name)
            );
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
            starter.Get(setting).Value is not { } offered
            || answerer.Get(setting).Value is not { } own
            || (offered.Time.InSeconds == own.Time.InSeconds && offered.Data?.InKilobytes == own.Data?.InKilobytes)
        )
            return;
        if (answerer.Platform.LifetimeAnswer == LifetimeAnswer.MustBeEqual)
            Stops(
                stage,
                at,
                answerer.Name,
                notify,
                "PAIR-11",
                setting.Key,
                new LifetimeRefused(ofEsp, offered, own),
                pairs
            );
        else if (answerer.Platform.LifetimeAnswer is null)
            Asks(stage, answerer.Name, $"how it answers an {setting.Label} that is not equal", true, pairs);
    }

    private List<SubnetPair> Quick()
    {
        var ask = Send(Message.Quick1, starter.Name, wanted.IsEmpty ? null : wanted[0], Math.Max(0, wanted.Length - 1));
        Send(Message.Quick2, answerer.Name, wanted.IsEmpty ? null : wanted[0]);
        Send(Message.Quick3, starter.Name, wanted.IsEmpty ? null : wanted[0]);
        esp = Chosen(
            Settings.EspProposals,
            Stage.Child,
            ask,
            "NO-PROPOSAL-CHOSEN",
            e => Usable.Esp(e, version),
            (o, a, r) => Choice.Esp(o, a, r, answerer.Platform.OrderWins)
        );
        SequenceNumbers(Stage.Child, ask, "NO-PROPOSAL-CHOSEN");
        Lifetimes(Settings.EspLifetime, Stage.Child, ask, "NO-PROPOSAL-CHOSEN");
        var fits = Secrecy(Stage.Child, ask, "NO-PROPOSAL-CHOSEN", []);
        var agreed = SelectorsAt(_ => ask, "INVALID-ID-INFORMATION");
        return Pass(esp is null || fits != true || obstacles.Any(o => o.Stage == Stage.Child) ? [] : agreed);
    }
}

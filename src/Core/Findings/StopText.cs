using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings;

/// <summary>Why a rehearsal stops, told with both values and where they come from.</summary>
internal sealed class StopText
{
    private readonly Checked about;
    private readonly Rehearsal r;
    private readonly Obstacle o;
    private readonly EndView s;
    private readonly EndView a;
    private readonly Row? row;
    private readonly EndName by;
    private readonly EndName sender;

    public StopText(Checked about, Rehearsal r, Obstacle o)
    {
        (this.about, this.r, this.o) = (about, r, o);
        (s, a) = (about.View.End(r.Initiator), about.View.End(r.Initiator.Other()));
        row = o.RowKey is null ? null : about.Row(o.RowKey);
        by = o.RefusedBy ?? a.Name;
        sender = by.Other();
    }

    /// <summary>One sentence, whatever stops it.</summary>
    public Sentence Why() => Way() ?? Chosen() ?? Proven() ?? Carried() ?? Sentence.Plain(Checks.CodeOf(o));

    /// <summary>What is sent does not arrive, or not at the right entry.</summary>
    private Sentence? Way() =>
        o.Cause switch
        {
            DoesNotStart { Fault: StartFault.RespondsOnly } => $"{s.Name} responds only{From(s.Name):w}.",
            DoesNotStart { Fault: StartFault.AddressPending } =>
                $"{s.Name} cannot initiate: {a.Name}'s outer address is still pending.",
            DoesNotStart { Fault: StartFault.AnyAddressEntered } =>
                $"{s.Name} cannot initiate: its peer address is any{From(s.Name):w}, and not {a.OuterText}.",
            DoesNotStart => $"{s.Name} cannot initiate: {a.Name}'s outer address is dynamic.",
            WrongAddress w => $"{s.Name} sends to {w.Entered}{From(s.Name):w}; {a.Name}'s outer address is {w.Real}.",
            NotReached n =>
                $"Packets to {a.Gateway.Code} at {a.OuterText} do not arrive: {Nat.Forwardable.Of(n.What):w} is not "
                    + $"{(n.ByTranslator ? "forwarded by the NAT in front of it" : "allowed inbound on its uplink"):w}.",
            NoPeerEntry n => $"{a.Name} gets packets from {Source()} and has a peer entry for "
                + $"{n.Entered}{From(a.Name):w}: no entry matches.",
            LandsElsewhere l => $"{a.Name} gets packets from {Source()}. {a.Gateway.Code} has {l.Other}'s entry for "
                + $"{l.Entry}, and this tunnel's for {a.PeerAddress.Value?.ToString() ?? "nothing"}{From(a.Name):w}. "
                + $"{l.Other}'s answers"
                + $"{(l.Authenticated ? $", and does not have the subnets{Pairs()}" : ", and authentication fails"):w}.",
            NoFamilyInCommon f =>
                $"{s.Name}'s outer address is {f.From}, {a.Name}'s is {f.To}: no IP version in common.",
            _ => null,
        };

    /// <summary>Nothing that both ends have is chosen.</summary>
    private Sentence? Chosen() =>
        o.Cause switch
        {
            VersionsMismatch =>
                $"{about.View.A.Name} uses {about.Row(Settings.IkeVersions)?.A.Text}, {about.View.B.Name} "
                    + $"{about.Row(Settings.IkeVersions)?.B.Text}: no IKE version in common.",
            NoFallBack => $"{s.Name} begins with IKEv2 and does not try IKEv1 after it; {a.Name} uses "
                + $"{about.Row(Settings.IkeVersions)?.Cell(a.Name).Text} only.",
            ModesMismatch m => $"{s.Name} uses {WordsOf.ExchangeModes.Of(m.Offered):w} mode, {a.Name} accepts only "
                + $"{WordsOf.ExchangeModes.Of(m.Wanted):w} mode.",
            NothingChosen { Miss: { } miss } =>
                $"{s.Name} offers {miss.Offered}{From(s.Name):w}, {a.Name} accepts {miss.Accepted}{From(a.Name):w}. "
                    + $"This is the nearest match; {Say.And(miss.DiffersIn):w} "
                    + $"{(miss.DiffersIn.Length == 1 ? "differs" : "differ"):w}.",
            NothingChosen n => $"{(n.OfEsp ? "No ESP proposal" : "No IKE proposal"):w} can be chosen: in "
                + $"{(r.Version?.ToString() ?? "that version"):w} "
                + $"{(n.OfEsp ? Unable(Usable.Esp) : Unable(Usable.Ike)):w} none of the recorded ones.",
            LifetimeRefused l => $"{s.Name} offers {l.Offered.ToString()}{From(s.Name):w}, {a.Name} accepts only "
                + $"{l.Local.ToString()}{From(a.Name):w}.",
            _ => null,
        };

    /// <summary>One end does not believe who the other is.</summary>
    private Sentence? Proven() =>
        o.Cause switch
        {
            KeyNotFound { Mates: > 0 } k => $"{s.Name}'s address is {s.OuterText:w}. {a.Name} must choose "
                + $"a PSK before it sees {s.Name}'s identity, and has {k.Mates + 1} for any address.",
            KeyNotFound k =>
                $"{a.Name} has its PSK entered for {k.KeyFor ?? "another address"}, and needs one for {Source()}.",
            MethodsMismatch m => $"{sender} authenticates by {m.Used:w}, {by} expects {m.Wanted:w}.",
            SignaturesMismatch m =>
                $"{sender} signs by {m.Signs:w}{From(sender):w}, {by} takes {m.Takes:w}{From(by):w}.",
            IdentityRefused { Difference: var d } =>
                $"{d.Sender} sends {d.Sent.ToString()}{From(d.Sender):w}; {by} expects "
                    + $"{d.Expected.ToString()}{From(by):w}{Only(d.Fault):w}.",
            KeysMismatch k => $"{sender} uses key {k.Signs.ToString()}, {by} verifies with {k.Verifies.ToString()}.",
            KeyEachWay k => $"{by} holds a key each way: {k.Held.ToString()}. IKEv1 has one PSK for both directions.",
            CertificateRefused c => Certificate(c),
            _ => null,
        };

    /// <summary>The IKE SA stands, and what it is for does not pass.</summary>
    private Sentence? Carried() =>
        o.Cause switch
        {
            EspModesMismatch m =>
                $"{s.Name} asks for {WordsOf.EspModes.Of(m.Asked):w} mode{From(s.Name):w}, {a.Name} has "
                    + $"{WordsOf.EspModes.Of(m.Wanted):w} mode{From(a.Name):w}.",
            SequenceNumbersMismatch =>
                $"Extended sequence numbers are {about.Row(Settings.ExtendedSequence)?.A.Text} at {EndName.A} "
                    + $"and {about.Row(Settings.ExtendedSequence)?.B.Text} at {EndName.B}.",
            SelectorsRefused { NotOffered: true } =>
                $"{s.Name} has no traffic selector{Pairs():w}: {Selectors(s):w}{From(s.Name):w} against "
                    + $"{Selectors(a):w} at {a.Name}.",
            SelectorsRefused x => $"{s.Name} has {Selectors(s):w}{From(s.Name):w}, {a.Name} "
                + $"{Selectors(a):w}{From(a.Name):w}"
                + $"{(x.OnlyEqual ? ", and accepts only equal selectors" : ""):w}{Pairs():w}.",
            SelectorsNarrowed n => $"{s.Name} offers {Selectors(s):w}{From(s.Name):w}, {a.Name} has "
                + $"{Selectors(a):w}{From(a.Name):w}: narrowed. Does not pass: {Lost(n):w}.",
            PfsMismatch { Asked.Sends: false } p =>
                $"PFS mismatch: {s.Name} sends no DH group ({p.Asked.ToString()}){From(s.Name):w}, {a.Name} has "
                    + $"{p.Taken.ToString()}{From(a.Name):w}.",
            PfsMismatch p => $"PFS mismatch: {s.Name} sends {p.Asked.ToString()}{From(s.Name):w}, {a.Name} has "
                + $"{p.Taken.ToString()}{From(a.Name):w}.",
            PacketsLost { NatTraversalOff: true } l => $"The SAs come up, but ESP does not reach {l.Towards}: NAT "
                + $"traversal is set to never, and the NAT in front cannot pass plain ESP.",
            Hindered h => h.What,
            PacketsLost l => $"The SAs come up, but ESP does not reach {l.Towards}: it is not allowed inbound, and UDP "
                + $"encapsulation is not used.",
            _ => null,
        };

    private Sentence Certificate(CertificateRefused c) =>
        c.Fault switch
        {
            CertificateFault.NotTrusted =>
                $"{by} does not have {c.Certificate.Ca}, the CA of {sender}'s certificate, as a trust anchor.",
            CertificateFault.NotYetValid =>
                $"{sender}'s certificate is valid only from {Scalars.Write(c.Certificate.From!.Value)}.",
            CertificateFault.Expired =>
                $"{sender}'s certificate was valid until {Scalars.Write(c.Certificate.Until!.Value)}.",
            CertificateFault.NameMissing =>
                $"{sender} sends {about.View.End(sender).IdentitySent.Value?.ToString()}, and its certificate has "
                    + $"{(c.Certificate.Names.IsEmpty ? "no SAN" : Say.And(c.Certificate.Names.Select(n => n.ToString())))}.",
            _ => $"The key usage of {sender}'s certificate does not allow authentication.",
        };

    private static string Only(IdentityFault fault) =>
        fault switch
        {
            IdentityFault.CaseOnly => ": only upper and lower case differ, and it compares octet by octet",
            IdentityFault.BlanksOnly => ": only a trailing blank differs",
            IdentityFault.KindOnly => ": only the identity type differs",
            IdentityFault.OrderOnly => ": the levels of the name stand in the opposite order",
            IdentityFault.PrivateAddress => ": a private address, sent from behind NAT",
            _ => "",
        };

    private string From(EndName end) => row is null ? "" : $" ({Checked.From(row.Cell(end))})";

    private Sentence Source() =>
        s.Outer is { } at ? Sentence.Of($"{at}")
        : s.AddressIsDynamic ? Sentence.Plain("a dynamic address")
        : Sentence.Plain("an address that is not known");

    /// <summary>The selectors of an end: as the row shows them, or pair by pair where one is for some traffic alone.</summary>
    private string Selectors(EndView end) =>
        end.End.Subnets?.Pairs is { } pairs && pairs.Any(p => p.Only is not null)
            ? Say.And(pairs.Select(p => p.ToString()))
            : row?.Cell(end.Name).Text ?? "unknown";

    private string Lost(SelectorsNarrowed n)
    {
        var more = n.Lost.Length > 3 ? $" and {n.Lost.Length - 3} more" : "";
        return Say.And(
                n.Lost.Take(3)
                    .Select(p => $"{p.On(s.Name)} → {p.On(a.Name)}{(p.Only is { } only ? $", {only.OfPair}" : "")}")
            ) + more;
    }

    private string Pairs()
    {
        if (o.Pairs.IsEmpty)
            return "";
        var more = o.Pairs.Length > 2 ? $" and {o.Pairs.Length - 2} more" : "";
        return $" for {Say.And(o.Pairs.Take(2).Select(about.View.NameOf))}{more}";
    }

    /// <summary>Which of the two platforms can do nothing of what is recorded there.</summary>
    private string Unable<T>(Func<EndView, IkeVersion?, ImmutableArray<T>> usable)
    {
        var unable = new[] { s, a }.Where(e => usable(e, r.Version).IsEmpty).ToArray();
        return unable.Length == 0
            ? "the two ends support"
            : $"{Say.And(unable.Select(e => $"{e.Platform.Title} at {e.Name}"))} supports";
    }
}

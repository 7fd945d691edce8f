using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Fixes;

/// <summary>The values that might bring it further, setting by setting.</summary>
public static partial class FixFinder
{
    private static IEnumerable<ImmutableArray<FixValue>> Candidates(TunnelView view, Rehearsal r, Obstacle stop)
    {
        var (s, a) = (view.End(r.Initiator), view.End(r.Initiator.Other()));
        var verifier = stop.RefusedBy is { } by ? view.End(by) : a;
        return stop.Cause switch
        {
            DoesNotStart { Fault: StartFault.RespondsOnly } =>
            [
                [new(s.Name, Settings.Initiation, "on traffic")],
            ],
            DoesNotStart { Fault: StartFault.AnyAddressEntered } or WrongAddress when a.Outer is { } outer =>
            [
                [new(s.Name, RowKey.AddressOf(a.Name), outer.ToString())],
            ],
            NoPeerEntry or LandsElsewhere => PeerEntries(s, a),
            VersionsMismatch or NoFallBack => Versions(s, a),
            ModesMismatch m => Modes(view, s, a, m),
            NothingChosen { OfEsp: false } => Proposals(
                view,
                s,
                a,
                Settings.IkeProposals,
                CommonGround.IkeProposals,
                p => Graded.Of(p),
                p => p.CarriedBy(r.Version),
                r.Version ?? IkeVersion.IKEv2
            ),
            NothingChosen => Proposals(
                view,
                s,
                a,
                Settings.EspProposals,
                CommonGround.EspProposals,
                p => Graded.Of(p),
                p => p.CarriedBy(r.Version),
                r.Version ?? IkeVersion.IKEv2
            ),
            LifetimeRefused l => Lifetimes(s, a, l),
            KeyNotFound => KeysFound(view, r, s, a),
            MethodsMismatch => OneAsTheOther(view, Settings.Authentication, m => m.ToString()),
            IdentityRefused { Difference: var d } =>
            [
                [new(verifier.Name, RowKey.IdentityOf(d.Sender), d.Sent.ToString())],
                [new(d.Sender, RowKey.IdentityOf(d.Sender), d.Expected.ToString())],
            ],
            KeysMismatch k => NewerKey(verifier, k),
            KeyEachWay => OneKey(view),
            CertificateRefused c => Certificates(verifier, c),
            SequenceNumbersMismatch =>
            [
                .. view.Ends.Select(e => One(e.Name, Settings.ExtendedSequence, "either")),
                .. OneAsTheOther(view, Settings.ExtendedSequence, x => x.ToString()),
            ],
            EspModesMismatch => OneAsTheOther(view, Settings.EspMode, m => m.ToString()),
            SignaturesMismatch => OneAsTheOther(view, Settings.Signatures, m => string.Join("; ", m.Items)),
            SelectorsRefused or SelectorsNarrowed => Mirrors(view),
            PfsMismatch => Secrecy(view),
            PacketsLost => Wrapped(view),
            _ => [],
        };
    }

    private static ImmutableArray<FixValue> One(EndName end, RowKey row, string value) => [new(end, row, value)];

    private static IEnumerable<ImmutableArray<FixValue>> PeerEntries(EndView s, EndView a)
    {
        var row = RowKey.AddressOf(s.Name);
        if (s.Outer is { } source)
            yield return One(a.Name, row, source.ToString());
        if (s.Uplinks.FirstOrDefault()?.Address.Value?.Name is { } name)
            yield return One(a.Name, row, name);
        yield return One(a.Name, row, "any");
    }

    private static IEnumerable<ImmutableArray<FixValue>> Versions(EndView s, EndView a)
    {
        static bool Speaks(EndView end, IkeVersion v) => end.Get(Settings.IkeVersions).Value!.Items.Contains(v);
        foreach (var v in new[] { IkeVersion.IKEv2, IkeVersion.IKEv1 })
        {
            var (can, could) = (s.Platform.IkeVersions.Contains(v), a.Platform.IkeVersions.Contains(v));
            if (can && Speaks(a, v))
                yield return One(s.Name, Settings.IkeVersions, v.ToString());
            if (could && Speaks(s, v))
                yield return One(a.Name, Settings.IkeVersions, v.ToString());
            if (can && could)
                yield return Both(Settings.IkeVersions, v.ToString());
        }
    }

    private static IEnumerable<ImmutableArray<FixValue>> Modes(
        TunnelView view,
        EndView s,
        EndView a,
        ModesMismatch m
    ) =>
        [
            One(s.Name, Settings.ExchangeMode, WordsOf.ExchangeModes.Of(m.Wanted)),
            One(a.Name, Settings.ExchangeMode, WordsOf.ExchangeModes.Of(m.Offered)),
            .. Newer(view),
        ];

    private static IEnumerable<ImmutableArray<FixValue>> Lifetimes(EndView s, EndView a, LifetimeRefused l)
    {
        var key = RowKey.Of(l.OfEsp ? Settings.EspLifetime : Settings.IkeLifetime);
        return l.Offered.Data is null && l.Local.Data is null
            ? [One(s.Name, key, Typed(l.Local.Time, s)), One(a.Name, key, Typed(l.Offered.Time, a))]
            : [];
    }

    private static IEnumerable<ImmutableArray<FixValue>> KeysFound(TunnelView view, Rehearsal r, EndView s, EndView a)
    {
        yield return One(a.Name, RowKey.KeyFor, "any");
        if (s.Outer is { } known)
            yield return One(a.Name, RowKey.KeyFor, known.ToString());
        foreach (var c in Newer(view))
            yield return c;
        if (r.Version == IkeVersion.IKEv1)
            yield return Both(Settings.ExchangeMode, "aggressive");
    }

    /// <summary>Each end brought to what the other has.</summary>
    private static IEnumerable<ImmutableArray<FixValue>> OneAsTheOther<T>(
        TunnelView view,
        Setting<T> setting,
        Func<T, string?> text
    )
        where T : class => view.Ends.Select(e => One(e.Name, setting, text(e.Other.Get(setting).Value!)!));

    private static IEnumerable<ImmutableArray<FixValue>> Certificates(EndView verifier, CertificateRefused refused)
    {
        var sender = verifier.Other;
        var row = RowKey.IdentityOf(sender.Name);
        return refused.Fault switch
        {
            CertificateFault.NotTrusted => [One(verifier.Name, RowKey.Anchors, refused.Certificate.Ca)],
            CertificateFault.UsageForbids => [One(sender.Name, RowKey.CertificateUsage, "digitalSignature")],
            CertificateFault.NameMissing =>
            [
                .. refused.Certificate.Names.Select(n => One(sender.Name, row, n.ToString())),
                .. refused.Certificate.Names.Select(n =>
                    ImmutableArray.Create(
                        new FixValue(sender.Name, row, n.ToString()),
                        new FixValue(verifier.Name, row, n.ToString())
                    )
                ),
                One(sender.Name, RowKey.CertificateName, sender.IdentitySent.Value!.ToString()),
            ],
            _ => [One(sender.Name, RowKey.CertificateDates, "valid today")],
        };
    }

    /// <summary>The older side brought to the newer version, never back.</summary>
    private static IEnumerable<ImmutableArray<FixValue>> NewerKey(EndView verifier, KeysMismatch k)
    {
        // A key each way: either end made the other's mirror, or it passes one way alone.
        if (!k.Signs.OneForBoth || !k.Verifies.OneForBoth)
            return new[] { verifier, verifier.Other }.Select(end =>
            {
                var held = end.Other.End.KeyHeld!;
                return One(end.Name, RowKey.KeysMirrored, new KeyHeld(held.Receive, held.Send).ToString());
            });
        var (mine, theirs) = (k.Signs.Send.DefaultIfEmpty().Max(), k.Verifies.Receive.DefaultIfEmpty().Max());
        return mine > theirs
            ? [One(verifier.Name, RowKey.KeyHeld, $"version {mine}")]
            : [One(verifier.Other.Name, RowKey.KeyHeld, $"version {theirs}")];
    }

    /// <summary>The newest version that either end holds, for both directions at both.</summary>
    private static IEnumerable<ImmutableArray<FixValue>> OneKey(TunnelView view) =>
        [
            Both(
                RowKey.KeyHeld,
                $"version {view.Ends.SelectMany(e => e.End.KeyHeld!.Send.Concat(e.End.KeyHeld.Receive)).Max()}"
            ),
            .. Newer(view),
        ];

    private static IEnumerable<ImmutableArray<FixValue>> Wrapped(TunnelView view) =>
        [
            .. view
                .Ends.Where(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never)
                .Select(e => One(e.Name, Settings.NatTraversal, "when detected")),
            Both(Settings.NatTraversal, "when detected"),
            Both(Settings.NatTraversal, "always"),
        ];

    /// <summary>
    /// IKEv2 at both ends, where both platforms can: it ends what only IKEv1 trips over. With the strongest proposals
    /// of both where the old ones do not carry over.
    /// </summary>
    private static IEnumerable<ImmutableArray<FixValue>> Newer(TunnelView view)
    {
        if (view.Version != IkeVersion.IKEv1 || !view.Ends.All(e => e.Platform.IkeVersions.Contains(IkeVersion.IKEv2)))
            yield break;
        var newer = Both(Settings.IkeVersions, "IKEv2");
        yield return newer;
        if (CommonGround.Strongest(view.A.Platform, view.B.Platform, IkeVersion.IKEv2) is not { } ike)
            yield break;
        newer = [.. newer, .. Both(Settings.IkeProposals, ike.ToString())];
        yield return newer;
        if (
            CommonGround
                .EspProposals(view.A.Platform, view.B.Platform, IkeVersion.IKEv2)
                .Where(p => Graded.Of(p).Worst < Requirement.ShouldNot)
                .MaxBy(p => Strength.Of(p).Bits) is
            { } esp
        )
            yield return [.. newer, .. Both(Settings.EspProposals, esp.ToString())];
    }

    private static ImmutableArray<FixValue> Both(RowKey row, string value) =>
        [new(EndName.A, row, value), new(EndName.B, row, value)];
}

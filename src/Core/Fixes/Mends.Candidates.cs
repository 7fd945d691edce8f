using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Sums;

namespace Vellumkeep.Core.Fixes;

/// <summary>The values that might bring it further, setting by setting.</summary>
public static partial class Mends
{
    private static IEnumerable<ImmutableArray<MendValue>> Candidates(TunnelView view, Rehearsal r, Obstacle stop)
    {
        var (s, a) = (view.End(r.Starter), view.End(r.Starter.Other()));
        var verifier = stop.RefusedBy is { } by ? view.End(by) : a;
        var sender = verifier.Other;
        switch (stop.Cause)
        {
            case DoesNotStart { Fault: StartFault.OnlyAnswers }:
                yield return [new(s.Name, Settings.Start.Key, "on traffic")];
                break;
            case DoesNotStart { Fault: StartFault.AddressMoves } or WrongAddress when a.Outer is { } outer:
                yield return [new(s.Name, $"addressOf{a.Name}", outer.ToString())];
                break;
            case NoPeerEntry or LandsElsewhere:
                if (s.Outer is { } source)
                    yield return [new(a.Name, $"addressOf{s.Name}", source.ToString())];
                if (s.Uplinks.FirstOrDefault()?.Address.Value?.Name is { } name)
                    yield return [new(a.Name, $"addressOf{s.Name}", name)];
                yield return [new(a.Name, $"addressOf{s.Name}", "any")];
                break;
            case VersionsApart:
                foreach (var v in new[] { IkeVersion.IKEv2, IkeVersion.IKEv1 })
                {
                    if (s.Platform.IkeVersions.Contains(v) && a.Get(Settings.IkeVersions).Value!.Items.Contains(v))
                        yield return [new(s.Name, Settings.IkeVersions.Key, v.ToString())];
                    if (a.Platform.IkeVersions.Contains(v) && s.Get(Settings.IkeVersions).Value!.Items.Contains(v))
                        yield return [new(a.Name, Settings.IkeVersions.Key, v.ToString())];
                    if (s.Platform.IkeVersions.Contains(v) && a.Platform.IkeVersions.Contains(v))
                        yield return Both(Settings.IkeVersions.Key, v.ToString());
                }

                break;
            case ModesApart m:
                yield return [new(s.Name, Settings.ExchangeMode.Key, WordsOf.ExchangeModes.Of(m.Wanted))];
                yield return [new(a.Name, Settings.ExchangeMode.Key, WordsOf.ExchangeModes.Of(m.Offered))];
                foreach (var c in Newer(view))
                    yield return c;
                break;
            case NothingChosen { OfEsp: false }:
                foreach (
                    var c in Proposals(
                        view,
                        s,
                        a,
                        Settings.IkeProposals,
                        CommonGround.IkeProposals,
                        p => Graded.Of(p),
                        p => p.InIkev1 || r.Version != IkeVersion.IKEv1,
                        r.Version ?? IkeVersion.IKEv2
                    )
                )
                    yield return c;
                break;
            case NothingChosen:
                foreach (
                    var c in Proposals(
                        view,
                        s,
                        a,
                        Settings.EspProposals,
                        CommonGround.EspProposals,
                        p => Graded.Of(p),
                        _ => true,
                        r.Version ?? IkeVersion.IKEv2
                    )
                )
                    yield return c;
                break;
            case LifetimeRefused l:
                var key = l.OfEsp ? Settings.EspLifetime.Key : Settings.IkeLifetime.Key;
                if (l.Offered.Data is null && l.Own.Data is null)
                {
                    yield return [new(s.Name, key, Typed(l.Own.Time, s))];
                    yield return [new(a.Name, key, Typed(l.Offered.Time, a))];
                }

                break;
            case KeyNotFound:
                yield return [new(a.Name, "keyFor", "any")];
                if (s.Outer is { } known)
                    yield return [new(a.Name, "keyFor", known.ToString())];
                foreach (var c in Newer(view))
                    yield return c;
                if (r.Version == IkeVersion.IKEv1)
                    yield return Both(Settings.ExchangeMode.Key, "aggressive");
                break;
            case MethodsApart:
                foreach (var end in view.Ends)
                    yield return
                    [
                        new(
                            end.Name,
                            Settings.Authentication.Key,
                            end.Other.Get(Settings.Authentication).Value!.ToString()
                        ),
                    ];
                break;
            case IdentityRefused { Difference: var d }:
                yield return [new(verifier.Name, $"identityOf{d.Sender}", d.Sent.ToString())];
                yield return [new(d.Sender, $"identityOf{d.Sender}", d.Expected.ToString())];
                break;
            case KeysApart k:
                var (mine, theirs) = (k.Signs.Send.DefaultIfEmpty().Max(), k.Verifies.Receive.DefaultIfEmpty().Max());
                // The older side is brought to the newer version, never back.
                yield return mine > theirs
                    ? [new(verifier.Name, "keyHeld", $"version {mine}")]
                    : [new(sender.Name, "keyHeld", $"version {theirs}")];
                break;
            case SequenceNumbersApart:
                foreach (var end in view.Ends)
                    yield return [new(end.Name, Settings.ExtendedSequence.Key, "either")];
                foreach (var end in view.Ends)
                    yield return
                    [
                        new(
                            end.Name,
                            Settings.ExtendedSequence.Key,
                            end.Other.Get(Settings.ExtendedSequence).Value!.ToString()
                        ),
                    ];
                break;
            case SelectorsRefused:
                foreach (var c in Mirrors(view))
                    yield return c;
                break;
            case PfsApart:
                foreach (var c in Secrecy(view))
                    yield return c;
                break;
            case PacketsLost:
                foreach (
                    var end in view.Ends.Where(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never)
                )
                    yield return [new(end.Name, Settings.NatTraversal.Key, "when detected")];
                yield return Both(Settings.NatTraversal.Key, "when detected");
                yield return Both(Settings.NatTraversal.Key, "always");
                break;
        }
    }

    /// <summary>
    /// IKEv2 at both ends, where both platforms can: it ends what only IKEv1 trips over. With the strongest proposals
    /// of both where the old ones do not carry over.
    /// </summary>
    private static IEnumerable<ImmutableArray<MendValue>> Newer(TunnelView view)
    {
        if (view.Version != IkeVersion.IKEv1 || !view.Ends.All(e => e.Platform.IkeVersions.Contains(IkeVersion.IKEv2)))
            yield break;
        var newer = Both(Settings.IkeVersions.Key, "IKEv2");
        yield return newer;
        if (CommonGround.Strongest(view.A.Platform, view.B.Platform, IkeVersion.IKEv2) is not { } ike)
            yield break;
        newer = [.. newer, .. Both(Settings.IkeProposals.Key, ike.ToString())];
        yield return newer;
        if (
            CommonGround
                .EspProposals(view.A.Platform, view.B.Platform, IkeVersion.IKEv2)
                .Where(p => Graded.Of(p).Worst < Requirement.ShouldNot)
                .MaxBy(p => Strength.Of(p).Bits) is
            { } esp
        )
            yield return [.. newer, .. Both(Settings.EspProposals.Key, esp.ToString())];
    }

    /// <summary>
    /// What one end offers added at the other, where its platform can; else the strongest that both can, at both.
    /// </summary>
    private static IEnumerable<ImmutableArray<MendValue>> Proposals<T>(
        TunnelView view,
        EndView s,
        EndView a,
        Setting<Several<T>> setting,
        Func<Platform, Platform, IkeVersion, IEnumerable<T>> ground,
        Func<T, Graded> grade,
        Func<T, bool> usable,
        IkeVersion version
    )
        where T : class
    {
        bool Can(EndView e, T p) => grade(p).Members.All(m => e.Platform.Can(m.Name, version) == true);
        foreach (var (from, to) in new[] { (s, a), (a, s) })
        foreach (
            var p in (from.Get(setting).Value?.Items ?? [])
                .Where(p => usable(p) && Can(to, p))
                .OrderByDescending(p => grade(p).Bits)
        )
            yield return [new(to.Name, setting.Key, string.Join("; ", (to.Get(setting).Value?.Items ?? []).Add(p)))];
        var best = ground(s.Platform, a.Platform, version)
            .OrderBy(p => grade(p).Worst >= Requirement.ShouldNot)
            .ThenByDescending(p => grade(p).Bits)
            .FirstOrDefault();
        if (best is not null)
        {
            // When one end has it already, adding it at the other is enough.
            foreach (var end in view.Ends.Where(e => e.Other.Get(setting).Value?.Items.Contains(best) == true))
                yield return
                [
                    new(
                        end.Name,
                        setting.Key,
                        string.Join("; ", (end.Get(setting).Value?.Items ?? []).Insert(0, best))
                    ),
                ];
            yield return Both(setting.Key, best.ToString()!);
        }
    }

    private static IEnumerable<ImmutableArray<MendValue>> Secrecy(TunnelView view)
    {
        foreach (var end in view.Ends)
        {
            var (own, other) = (end.Get(Settings.Pfs).Value, end.Other.Get(Settings.Pfs).Value);
            if (own is null || other is null)
                continue;
            if (other.Stance != PfsStance.Refused)
            {
                foreach (
                    var group in other
                        .Groups.Where(g => end.Platform.Can(g.Name, view.Version) == true)
                        .OrderByDescending(Strength.Of)
                )
                    yield return [new(end.Name, Settings.Pfs.Key, $"required {group}")];
                if (other.GroupOfIke)
                    yield return [new(end.Name, Settings.Pfs.Key, "required DH of IKE")];
            }
            else
            {
                yield return [new(end.Name, Settings.Pfs.Key, "refused")];
                yield return
                [
                    new(
                        end.Name,
                        Settings.Pfs.Key,
                        own.GroupOfIke ? "optional DH of IKE" : $"optional {string.Join(", ", own.Groups)}"
                    ),
                ];
            }
        }

        var common = AlgorithmTable
            .Groups.Where(g =>
                g.Ike.Requirement < Requirement.ShouldNot
                && view.Ends.All(e => e.Platform.Can(g.Name, view.Version) == true)
            )
            .MaxBy(Strength.Of);
        if (common is not null)
            yield return Both(Settings.Pfs.Key, $"required {common}");
    }

    /// <summary>Either end made the mirror of the other, and both made what was agreed.</summary>
    private static IEnumerable<ImmutableArray<MendValue>> Mirrors(TunnelView view)
    {
        string List(IEnumerable<Prefix> prefixes) => string.Join(", ", prefixes.Distinct().Order());
        var pairs = view.Tunnel.Agreed.Pairs;
        foreach (var owner in view.Ends)
        {
            var wanted = List(pairs.Select(p => p.On(owner.Name)));
            foreach (var end in view.Ends)
                yield return [new(end.Name, $"subnetsOf{owner.Name}", wanted)];
            yield return
            [
                new(EndName.A, $"subnetsOf{owner.Name}", wanted),
                new(EndName.B, $"subnetsOf{owner.Name}", wanted),
            ];
        }

        foreach (var end in view.Ends)
            yield return
            [
                new(end.Name, "subnetsOfA", List(pairs.Select(p => p.A))),
                new(end.Name, "subnetsOfB", List(pairs.Select(p => p.B))),
            ];
        yield return
        [
            .. view.Ends.SelectMany(e =>
                new MendValue[]
                {
                    new(e.Name, "subnetsOfA", List(pairs.Select(p => p.A))),
                    new(e.Name, "subnetsOfB", List(pairs.Select(p => p.B))),
                }
            ),
        ];
    }

    private static ImmutableArray<MendValue> Both(string row, string value) =>
        [new(EndName.A, row, value), new(EndName.B, row, value)];
}

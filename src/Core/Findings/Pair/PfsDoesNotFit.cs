using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>
/// PAIR-05. Under IKEv2 the first child SA is made without the group, so that the tunnel comes up and dies later.
/// </summary>
public static class PfsDoesNotFit
{
    /// <summary>PFS does not fit (PAIR-05).</summary>
    public static readonly Check Check = new("PAIR-05", "PFS mismatch", c =>
        c.Differences<PfsMisfit>().Select(d => Of(c, d.Row, d.Difference)).Concat(OfSelectors(c))
    )
    {
        Meets = cause => cause is PfsMismatch,
    };

    /// <summary>Selectors that have a PFS of their own which does not fit.</summary>
    private static IEnumerable<Finding> OfSelectors(Checked c)
    {
        var (a, b) = (c.View.A.Get(Settings.Pfs).Value, c.View.B.Get(Settings.Pfs).Value);
        var old = c.View.Version == IkeVersion.IKEv1;
        var dhOfIke = c.Negotiations.Select(r => r.Ike).FirstOrDefault(p => p is not null)?.Group;
        foreach (var alike in c.View.PfsGroups(c.View.Tunnel.Agreed.Pairs).Where(g => g.A != a || g.B != b))
        {
            if (alike is not { A: { } atA, B: { } atB })
                continue;
            bool?[] fits =
            [
                Negotiation.Choice.PfsFits(atA, atB, dhOfIke, c.View.Version),
                Negotiation.Choice.PfsFits(atB, atA, dhOfIke, c.View.Version),
            ];
            if (!fits.Contains(false))
                continue;
            var later = old ? null : Timing.Rekeying.OfPfs(c.View, dhOfIke, alike);
            if (!old && later is null)
                continue;
            yield return new()
            {
                Severity =
                    later is { HiddenBy: not null } ? Severity.Note
                    : later is null ? c.Weight(alike.Pairs)
                    : later.Certain ? Severity.Blocks
                    : Severity.Degrades,
                Subject = string.Join("; ", alike.Pairs),
                RowKey = Settings.Pfs,
                Pairs = alike.Pairs,
                After = later is null ? null : later.Lost?.To ?? 0,
                What =
                    $"PFS of the child SA for {Say.And(alike.Pairs.Select(c.View.NameOf)):w} is {atA.ToString()} at "
                    + $"{EndName.A}, {atB.ToString()} at {EndName.B}.",
                Why = later is null
                    ? Sentence.Of($"IKEv1 negotiates PFS in quick mode, so the quick mode of that selector is refused.")
                    : FindingText.Later(later),
                Do = $"Set the same PFS for that selector at both ends.",
                Consequence =
                    $"PFS mismatch for {Say.And(alike.Pairs.Select(c.View.NameOf)):w}: {atA.ToString()} at {EndName.A}, "
                    + $"{atB.ToString()} at {EndName.B}.",
                Standard = "RFC 7296 section 1.3",
                Evidence = Checked.Of(c.Row(Settings.Pfs)),
            };
        }
    }

    private static Finding Of(Checked c, Row row, PfsMisfit misfit)
    {
        Sentence what =
            $"PFS is {row.A.Text} at {EndName.A}, {row.B.Text} at "
            + $"{EndName.B}{(row.B.Source == Resolution.Source.Default ? " by default" : ""):w}.";
        var severity =
            !misfit.AtOnce && (misfit.HiddenBy is not null || misfit.NeverShows) ? Severity.Note
            : misfit.Initiator is null || misfit.AtOnce ? Severity.Blocks
            : Severity.Degrades;
        return new()
        {
            Severity = severity,
            RowKey = row.Key,
            Pairs = c.View.Tunnel.Agreed.Pairs,
            After = misfit.AtOnce ? null : misfit.Lost ?? 0,
            What = what,
            Why = misfit.AtOnce
                ? Sentence.Of(
                    $"IKEv1 negotiates PFS in quick mode, so quick mode is refused. Phase 1 stays up without a child SA."
                )
                : Sentence.Of($"The first child SA is made without a DH group, so the tunnel comes up. {Then(misfit)}"),
            Do = Fix(c, row),
            Consequence =
                severity == Severity.Note ? null
                : misfit.AtOnce
                    ? Sentence.Of(
                        $"Quick mode is refused: PFS is {row.A.Text} at {EndName.A}, {row.B.Text} at {EndName.B}."
                    )
                : Sentence.Of(
                    $"{(misfit.Certain ? "Drops" : "May drop"):w} {When(misfit):w}: PFS mismatch (A {row.A.Text}, B "
                        + $"{row.B.Text}){Refused(misfit):w}."
                ),
            Standard = "RFC 7296 sections 1.2 and 1.3.3",
            Evidence = Checked.Of(row),
        };
    }

    /// <summary>What comes of the rekey.</summary>
    private static Sentence Then(PfsMisfit misfit)
    {
        if (misfit.NeverShows)
            return $"{misfit.Initiator!.Value.Other()} always rekeys first and is answered, so the fault stays hidden.";
        if (misfit is { HiddenBy: { } before, FirstRefusal: null })
            return $"Reauthentication after {Lifetime.Say(before):w} makes new SAs before any rekey, so the fault stays hidden.";
        Sentence who = misfit is { Certain: false, Initiator: { } asks }
            ? Sentence.Of(
                $"Which end rekeys first decides: {asks}'s rekey is refused, {asks.Other()}'s is answered. When it is "
                    + $"{asks}, traffic drops {When(misfit):w}{Refused(misfit):w}."
            )
            : Sentence.Of($"The rekey is refused, and traffic drops {When(misfit):w}{Refused(misfit):w}.");
        return misfit switch
        {
            { HiddenBy: { } again } =>
                $"{who} Reauthentication after {Lifetime.Say(again):w} makes new SAs before that, so the fault stays hidden.",
            { Flaps: true } =>
                $"{who} The refused end then reauthenticates, so the tunnel flaps instead of staying down.",
            _ => who,
        };
    }

    private static string When(PfsMisfit misfit) =>
        misfit.Lost is { } lost ? $"{Lifetime.Say(lost)} after it comes up" : "at its first rekey";

    private static string Refused(PfsMisfit misfit) =>
        misfit.FirstRefusal is { } first ? $", refused first at {first}" : ", refused first at the rekey before that";

    private static Sentence Fix(Checked c, Row row)
    {
        foreach (var end in new[] { EndName.B, EndName.A })
        {
            var target = c.View.End(end.Other()).Get(Settings.Pfs).Value!;
            var platform = c.View.End(end).Platform;
            if (
                target.Stance != PfsStance.Refused
                && target.Groups.FirstOrDefault(platform.Groups.Contains) is { } group
            )
                return $"Set {group.Name} at {end}; both platforms support "
                    + $"it{(platform.SubnetsCost is { } cost && cost.What != Disturbance.Nothing ? $"; {cost}" : ""):w}.";
        }

        return $"Agree one DH group that both {c.View.A.Platform.Title} and {c.View.B.Platform.Title} support, and "
            + $"set it at both ends. Now A has {row.A.Text}, B {row.B.Text}.";
    }
}

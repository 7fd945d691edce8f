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
        c.Differences<PfsMisfit>().Select(d => Of(c, d.Row, d.Difference))
    )
    {
        Meets = cause => cause is PfsMismatch,
    };

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

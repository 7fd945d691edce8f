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
        Sentence refused = misfit.FirstRefusal is { } first
            ? $", refused first at {first.ToString():w}"
            : Sentence.Plain(", refused first at the rekey before that");
        Sentence when = misfit.Lost is { } lost
            ? $"{Lifetime.Say(lost):w} after it comes up"
            : Sentence.Plain("at its first rekey");
        Sentence hidden =
            misfit.HiddenBy is { } again
                ? Sentence.Of(
                    $" Reauthentication after {Lifetime.Say(again):w} makes new SAs before that, so the fault stays hidden."
                )
            : misfit.Flaps == true
                ? Sentence.Plain(" The refused end then reauthenticates, so the tunnel flaps instead of staying down.")
            : Sentence.Plain("");
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
                : Sentence.Of(
                    $"The first child SA is made without a DH group, so the tunnel comes up. The rekey is refused, "
                        + $"and traffic drops {when}{refused}.{hidden}"
                ),
            Do = Fix(c, row),
            Consequence =
                severity == Severity.Note ? null
                : misfit.AtOnce
                    ? Sentence.Of(
                        $"Quick mode is refused: PFS is {row.A.Text} at {EndName.A}, {row.B.Text} at {EndName.B}."
                    )
                : Sentence.Of($"Drops {when}: PFS mismatch (A {row.A.Text}, B {row.B.Text}){refused}."),
            Standard = "RFC 7296 sections 1.2 and 1.3.3",
            Evidence = Checked.Of(row),
        };
    }

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

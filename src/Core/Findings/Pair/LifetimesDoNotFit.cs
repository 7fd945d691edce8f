using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;
using Differ = Vellumkeep.Core.Comparison.LifetimesDiffer;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>
/// PAIR-11. Under IKEv1 by the answering platform; under IKEv2 lifetimes are local. A slip is recognised under both.
/// </summary>
public static class LifetimesDoNotFit
{
    /// <summary>Lifetimes differ (PAIR-11).</summary>
    public static readonly Check Check = new("PAIR-11", "lifetimes differ", c =>
        c.Differences<Differ>().Select(d => Of(c, d.Row, d.Difference))
    )
    {
        Meets = cause => cause is LifetimeRefused,
    };

    private static Finding Of(Checked c, Row row, Differ d)
    {
        var old = c.View.Version == IkeVersion.IKEv1;
        var refuser = old ? c.View.Ends.FirstOrDefault(e => e.Platform.LifetimeRule == LifetimeRule.MustBeEqual) : null;
        var name = row.Label;
        Sentence what = d.SlipOn is { } on
            ? Sentence.Of(
                $"{(on == EndName.A ? d.A : d.B).Time.ToString()} at {on} {d.Slip!:w}; {on.Other()} has "
                    + $"{(on == EndName.A ? d.B : d.A).Time.ToString()}."
            )
            : Sentence.Of($"{name:w} is {d.A.ToString()} at {EndName.A}, {d.B.ToString()} at {EndName.B}.");
        var unit = d.SlipOn is { } at ? c.View.End(at).Platform.LifetimeUnit : null;
        var typed = d.Meant is { } meant ? (unit is { } u ? meant.In(u) : null) ?? meant : null;
        Sentence fix = d.SlipOn is { } there
            ? Sentence.Of(
                $"Set {typed!.ToString()} at {there}{(unit is not null ? ", in the unit that this platform uses" : ""):w}."
            )
            : Sentence.Of($"Set the same lifetime at both ends.");
        Sentence why =
            refuser is not null
                ? Sentence.Of(
                    $"{refuser.Name} ({refuser.Platform.Title}) accepts only an equal lifetime, so it refuses the proposal."
                )
            : old
                ? Sentence.Of(
                    $"In IKEv1 lifetimes are negotiated. What a platform does with a different one, its profile says."
                )
            : Sentence.Of(
                $"In IKEv2 each end has its own lifetime: the end with the shorter one rekeys, and the longer one "
                    + $"is never reached."
            );
        return new()
        {
            Severity =
                refuser is not null ? Severity.Blocks
                : d.SlipOn is not null ? Severity.Risk
                : Severity.Note,
            Subject = row.Key.Text,
            RowKey = row.Key,
            What = what,
            Why = why,
            Do = fix,
            Consequence =
                refuser is not null
                    ? Sentence.Of(
                        $"{refuser.Name} refuses the {name:w}: "
                            + $"{d.A.Time.ToString()} against {d.B.Time.ToString()}."
                    )
                : d.SlipOn is { } slip
                    ? Sentence.Of(
                        $"The {name:w} of {(slip == EndName.A ? d.A : d.B).Time.ToString()} at {slip} looks like a typing error."
                    )
                : null,
            Standard = old ? "RFC 2407 section 4.5.4" : "RFC 7296 section 2.8",
            Evidence = Checked.Of(row),
        };
    }
}

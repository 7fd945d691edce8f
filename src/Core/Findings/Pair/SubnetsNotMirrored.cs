using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>
/// PAIR-06: one finding for each prefix that does not mirror, or one for two ends that were entered alike instead of
/// swapped.
/// </summary>
public static class SubnetsNotMirrored
{
    /// <summary>Protected subnets do not mirror (PAIR-06).</summary>
    public static readonly Check Check = new("PAIR-06", "local and remote subnets do not mirror", Run)
    {
        Meets = cause => cause is SelectorsRefused or SelectorsNarrowed,
    };

    private static IEnumerable<Finding> Run(Checked c)
    {
        var differences = c.Differences<SubnetsDiffer>().ToArray();
        if (differences.FirstOrDefault(d => d.Difference.Swapped) is { Row: not null } swapped)
        {
            var row = swapped.Row;
            yield return new()
            {
                Severity = Severity.Blocks,
                Subject = "swapped",
                RowKey = row.Key,
                Pairs = c.View.Tunnel.Agreed.Pairs,
                What = $"Both ends have the same local and the same remote subnets: local {row.A.Text} at both.",
                Why =
                    $"At one end, local and remote must be swapped. As entered, every selector is refused with TS_UNACCEPTABLE.",
                Do = $"Swap local and remote subnets at the end that was entered last.",
                Consequence = $"Local and remote subnets are swapped at one end, so no pair comes up.",
                Standard = "RFC 7296 section 2.9",
                Evidence = Checked.Of(row),
            };
            yield break;
        }

        foreach (var (row, difference) in differences)
        foreach (var m in difference.Mismatches)
            yield return One(c, row, difference.Owner, m);
    }

    private static Finding One(Checked c, Row row, EndName owner, SubnetMismatch m)
    {
        var other = owner.Other();
        var about = m.AtOwner ?? m.AtOther!.Value;
        var pairs = c.View.Tunnel.Agreed.Pairs.Where(p => p.On(owner).Overlaps(about)).ToImmutableArray();
        var name = c.View.NameOf(owner, about);
        var old = c.View.Version == IkeVersion.IKEv1;
        // A wanted pair that lies within both ends' selectors still passes under IKEv2, narrowed (RFC 7296 section
        // 2.9).
        var inBoth =
            !pairs.IsEmpty
            && m is { AtOwner: { } o, AtOther: { } p }
            && pairs.All(x => o.Contains(x.On(owner)) && p.Contains(x.On(owner)));
        var (what, why, fix) = m.Fault switch
        {
            SubnetFault.MissingAtOther => (
                Sentence.Of($"{owner} has {about} as a local subnet; {other} does not have it as a remote subnet."),
                Sentence.Of($"{other} refuses a selector for {about}, and sends no traffic for it into the tunnel."),
                Sentence.Of($"Add {about} to the remote subnets at {other}.")
            ),
            SubnetFault.ExtraAtOther => (
                Sentence.Of($"{other} has {about} as a remote subnet; {owner} does not have it as a local subnet."),
                Sentence.Of($"{owner} refuses a selector for {about} with TS_UNACCEPTABLE."),
                Sentence.Of(
                    $"Add {about} to the local subnets at {owner}, or remove it from the remote subnets at {other}."
                )
            ),
            SubnetFault.WiderAtOther => (
                Sentence.Of(
                    $"{owner} has {m.AtOwner!.Value} as a local subnet; {other} has the wider {m.AtOther!.Value} as "
                        + $"a remote subnet."
                ),
                old
                    ? Sentence.Of(
                        $"IKEv1 needs equal selectors at both ends, unless the platform accepts narrower ones."
                    )
                    : Sentence.Of(
                        $"When {other} initiates, {owner} must narrow the selector to {m.AtOwner!.Value}, which not "
                            + $"every platform does."
                    ),
                Sentence.Of($"Set {m.AtOwner!.Value} at {other}.")
            ),
            _ => (
                Sentence.Of(
                    $"{owner} has {m.AtOwner!.Value} as a local subnet; {other} has only {m.AtOther!.Value} of it "
                        + $"as a remote subnet."
                ),
                Sentence.Of($"Traffic outside {m.AtOther!.Value} does not pass, whichever end initiates."),
                Sentence.Of($"Set {m.AtOwner!.Value} at {other}.")
            ),
        };
        Sentence consequence = m.Fault switch
        {
            SubnetFault.MissingAtOther or SubnetFault.ExtraAtOther => Sentence.Of(
                $"No traffic passes for {name:w}: {(m.Fault == SubnetFault.MissingAtOther ? other : owner)} lacks {about}."
            ),
            _ => inBoth
                ? Sentence.Of(
                    $"{Say.Capital(name):w} passes only where selectors are narrowed: {m.AtOwner!.Value} at "
                        + $"{owner}, {m.AtOther!.Value} at {other}."
                )
                : Sentence.Of(
                    $"Only part of {name:w} can pass: {m.AtOwner!.Value} at {owner}, {m.AtOther!.Value} at {other}."
                ),
        };
        return new()
        {
            Severity = inBoth && !old ? Severity.Degrades : c.Weight(pairs),
            Subject = $"{owner}:{about}",
            RowKey = row.Key,
            Pairs = pairs,
            What = what,
            Why = why,
            Do = fix,
            Consequence = pairs.IsEmpty ? null : consequence,
            Standard = "RFC 7296 section 2.9",
            Evidence = Checked.Of(row),
        };
    }
}

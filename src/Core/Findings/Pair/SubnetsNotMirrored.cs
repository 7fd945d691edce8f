using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>
/// PAIR-06: one finding for each prefix that does not mirror, or one for two ends that were entered alike instead of
/// swapped.
/// </summary>
public static class SubnetsNotMirrored
{
    /// <summary>Protected subnets do not mirror (PAIR-06).</summary>
    public static readonly Check Check = new("PAIR-06", "protected subnets do not mirror", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        var differences = c.Differences<SubnetsDiffer>().ToArray();
        if (differences.FirstOrDefault(d => d.Difference.Swapped) is { Row: not null } swapped)
        {
            var row = swapped.Row;
            yield return new()
            {
                Code = "PAIR-06",
                Severity = Severity.Blocks,
                Subject = "swapped",
                RowKey = row.Key,
                Pairs = c.View.Tunnel.Agreed.Pairs,
                What = $"Both ends have the same own and the same peer subnets: own {row.A.Text} at both.",
                Why =
                    $"The second end is the mirror of the first; entered in the same order, no selector of one is a selector of the other: TS_UNACCEPTABLE.",
                Do = $"Swap own and peer subnets at the end that was entered last.",
                Consequence = $"The subnets were entered the wrong way round on one end, so no pair can come up.",
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
                Sentence.Of($"{owner} has {about} as its own; {other} does not have it as a peer subnet."),
                Sentence.Of($"{other} refuses a selector for {about}, and sends nothing for it into the tunnel."),
                Sentence.Of($"Add {about} to the peer subnets at {other}.")
            ),
            SubnetFault.ExtraAtOther => (
                Sentence.Of($"{other} has {about} as a peer subnet; {owner} does not have it as its own."),
                Sentence.Of($"{owner} refuses a selector for {about}: TS_UNACCEPTABLE."),
                Sentence.Of($"Add {about} to the own subnets at {owner}, or take it from the peer subnets at {other}.")
            ),
            SubnetFault.WiderAtOther => (
                Sentence.Of($"{owner} has {m.AtOwner!.Value} as its own; {other} has the wider {m.AtOther!.Value}."),
                old
                    ? Sentence.Of(
                        $"IKEv1 wants selectors that are equal on both ends unless the platform takes narrower ones."
                    )
                    : Sentence.Of(
                        $"The selector is narrowed to {m.AtOwner!.Value} when {other} starts, and only by platforms that narrow."
                    ),
                Sentence.Of($"Set {m.AtOwner!.Value} at {other}.")
            ),
            _ => (
                Sentence.Of($"{owner} has {m.AtOwner!.Value} as its own; {other} has only {m.AtOther!.Value} of it."),
                Sentence.Of($"What lies outside {m.AtOther!.Value} does not pass, whichever end starts."),
                Sentence.Of($"Set {m.AtOwner!.Value} at {other}.")
            ),
        };
        Sentence consequence = m.Fault switch
        {
            SubnetFault.MissingAtOther or SubnetFault.ExtraAtOther => Sentence.Of(
                $"Nothing gets through for {name:w}: {(m.Fault == SubnetFault.MissingAtOther ? other : owner)} lacks {about}."
            ),
            _ => inBoth
                ? Sentence.Of(
                    $"{Say.Capital(name):w} passes only where selectors are narrowed: {m.AtOwner!.Value} at {owner}, {m.AtOther!.Value} at {other}."
                )
                : Sentence.Of(
                    $"Only part of {name:w} can pass: {m.AtOwner!.Value} at {owner}, {m.AtOther!.Value} at {other}."
                ),
        };
        return new()
        {
            Code = "PAIR-06",
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

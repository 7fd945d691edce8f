namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-08: selectors of one end that stand twice, lie in one another, or could be one.</summary>
public static class SelectorsOverlap
{
    /// <summary>Duplicate, contained or adjacent selectors (ADR-08).</summary>
    public static readonly Check Check = new("ADR-08", "duplicate, contained or adjacent selectors", c =>
        c.View.Ends.SelectMany(e =>
            new[]
            {
                (Which: "local", Owner: e.Name, List: e.LocalSubnets),
                (Which: "remote", Owner: e.Name.Other(), List: e.RemoteSubnets),
            }
                .Where(x => x.List is { Source: Resolution.Source.Set, Value: not null })
                .SelectMany(x => Of(c, e.Name, x.Which, x.Owner, x.List.Value!.Items))
        )
    );

    private static IEnumerable<Finding> Of(
        Checked c,
        EndName end,
        string which,
        EndName owner,
        ImmutableArray<Prefix> list
    )
    {
        var row = RowKey.SubnetsOf(owner);
        for (var i = 0; i < list.Length; i++)
        for (var j = 0; j < i; j++)
            if (list[i].Overlaps(list[j]))
                yield return Note(
                    $"{list[j]}+{list[i]}",
                    list[i] == list[j]
                        ? Sentence.Of($"{list[i]} is entered twice in the {which:w} subnets at {end}.")
                        : Sentence.Of(
                            $"{(list[i].Contains(list[j]) ? list[j] : list[i])} is within "
                                + $"{(list[i].Contains(list[j]) ? list[i] : list[j])} in the {which:w} subnets at "
                                + $"{end}."
                        ),
                    $"It depends on the platform which of the two a packet matches.",
                    $"Keep only the wider one, at both ends."
                );
        var distinct = list.Distinct().ToArray();
        if (
            !distinct.Any(p => distinct.Any(q => p != q && p.Overlaps(q)))
            && Prefixes.Merge(distinct) is var merged
            && merged.Length < distinct.Length
        )
            foreach (var one in merged.Except(distinct))
                yield return Note(
                    $"{one}",
                    $"{Say.And(distinct.Where(one.Contains).Select(p => p.ToString()))} at {end} can be one prefix: {one}.",
                    $"Fewer selectors mean fewer SAs and fewer errors.",
                    $"Agree it with the other party, then enter {one} at both ends."
                );

        Finding Note(string subject, Sentence what, Sentence why, Sentence fix) =>
            new()
            {
                Severity = Severity.Note,
                Subject = $"{end}:{which}:{subject}",
                RowKey = row,
                What = what,
                Why = why,
                Do = fix,
                Evidence = Checked.Of(c.Row(row)),
            };
    }
}

using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-19: comparisons left open, in one finding.</summary>
public static class LeftUndetermined
{
    /// <summary>Comparison left undetermined (PAIR-19).</summary>
    public static readonly Check Check = new("PAIR-19", "rows that cannot be compared", c =>
    {
        var open = c.Rows.Where(r => r.Relation == Relation.Undetermined).ToArray();
        if (open.Length == 0)
            return [];
        var names = Say.And(open.Select(r => r.Label));
        var blank = Enum.GetValues<EndName>().Where(e => open.Any(r => r.Cell(e).Text is null)).ToArray();
        return
        [
            new Finding
            {
                Severity = Severity.Note,
                RowKey = open.Length == 1 ? open[0].Key : null,
                What = $"{open.Length} of {c.Rows.Length} rows cannot be compared: {names:w}.",
                Why = $"A value is unknown, or the platform profile does not say. Vellumkeep does not guess.",
                Do =
                    blank.Length == 1
                        ? Sentence.Of($"Check {blank[0]}'s device and confirm what it has.")
                        : Sentence.Of($"Check the device at the end that has no value, and confirm what it has."),
                Evidence = [.. open.SelectMany(r => Checked.Of(r))],
            },
        ];
    });
}

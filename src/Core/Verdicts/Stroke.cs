using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Verdicts;

/// <summary>The six forms in which a relation between two ends is drawn, in pictures and in characters alike.</summary>
public enum Stroke
{
    /// <summary>Agrees and is confirmed; or a difference that no finding minds.</summary>
    Whole,

    /// <summary>Agrees agrees, not confirmed.</summary>
    Dotted,

    /// <summary>Undetermined.</summary>
    TwoHairlines,

    /// <summary>Degrades.</summary>
    Thin,

    /// <summary>Risk.</summary>
    Flag,

    /// <summary>Blocks.</summary>
    Gap,
}

/// <summary>A stroke with its word, and the finding it comes from where there is one.</summary>
/// <param name="Stroke">In which form it is drawn.</param>
/// <param name="Word">What that form means, in a word or two.</param>
/// <param name="Finding">What it comes from; null when it comes from the comparison alone.</param>
public sealed record Drawn(Stroke Stroke, string Word, Finding? Finding);

/// <summary>How a tunnel is drawn.</summary>
public static class Strokes
{
    private static readonly RowKey[] OfIke =
    [
        RowKey.AddressOf(EndName.A),
        RowKey.AddressOf(EndName.B),
        Settings.IkeVersions,
        Settings.ExchangeMode,
        Settings.Authentication,
        RowKey.IdentityOf(EndName.A),
        RowKey.IdentityOf(EndName.B),
        RowKey.KeyHeld,
        Settings.IkeProposals,
        Settings.Initiation,
    ];

    private static readonly RowKey[] OfChild =
    [
        RowKey.SubnetsOf(EndName.A),
        RowKey.SubnetsOf(EndName.B),
        Settings.EspProposals,
        Settings.Pfs,
    ];

    /// <summary>How a row is drawn: by its worst finding, otherwise by its answer.</summary>
    public static Drawn Of(Row row, IEnumerable<Finding> findings) =>
        Worst(findings.Where(f => f.RowKey == row.Key))
        ?? row.Relation switch
        {
            Relation.Undetermined => new(
                Stroke.TwoHairlines,
                row.OnlyOn is { } only ? $"on {only} only" : "undetermined",
                null
            ),
            Relation.Differs => new(Stroke.Whole, "harmless difference", null),
            Relation.AgreesNotConfirmed => new(Stroke.Dotted, "agrees, not confirmed", null),
            _ => new(Stroke.Whole, "agrees", null),
        };

    /// <summary>
    /// How the line of the IKE SA is drawn: by the rehearsal, then by what else concerns no pair in particular.
    /// </summary>
    public static Drawn OfIkeSa(Checked about, IReadOnlyCollection<Finding> findings)
    {
        var sides = Sides(about);
        bool Stopped(Rehearsal r) => r.Obstacles.Any(o => o.Stage is > Stage.Start and < Stage.Child);
        var stopped = sides.Count(Stopped);
        var stop = sides.FirstOrDefault(Stopped)?.Obstacles.First(o => o.Stage is > Stage.Start and < Stage.Child);
        if (stop is not null)
            return stopped == sides.Length
                ? new(Stroke.Gap, "blocks", findings.FirstOrDefault(f => f.Code == Checks.CodeOf(stop)))
                : new(Stroke.Thin, "degrades", findings.FirstOrDefault(f => f.Code == Checks.CodeOf(stop)));
        return Worst(findings.Where(f => f.RowKey is { } key && OfIke.Contains(key)))
            ?? (
                sides.All(r => r.Open.Any(o => o.Stage is > Stage.Start and < Stage.Child))
                    ? new(Stroke.TwoHairlines, "undetermined", null)
                    : ByRelations(about.Rows.Where(r => OfIke.Contains(r.Key)))
            );
    }

    /// <summary>
    /// How the line of a wanted pair is drawn: by what the rehearsal says of its child SA, then by the findings about
    /// it.
    /// </summary>
    public static Drawn Of(SubnetPair pair, Checked about, IReadOnlyCollection<Finding> findings)
    {
        var sides = Sides(about);
        bool Stopped(Rehearsal r) =>
            r.Obstacles.Any(o => o.Stage >= Stage.Child && (o.Pairs.IsEmpty || o.Pairs.Contains(pair)));
        var stopped = sides.Count(Stopped);
        var worst = Worst(findings.Where(f => f.Pairs.Contains(pair)));
        if (stopped > 0 && worst is not { Stroke: Stroke.Gap })
        {
            var stop = sides
                .First(Stopped)
                .Obstacles.First(o => o.Stage >= Stage.Child && (o.Pairs.IsEmpty || o.Pairs.Contains(pair)));
            var finding = findings.FirstOrDefault(f => f.Code == Checks.CodeOf(stop) && f.Pairs.Contains(pair))
                ?? findings.FirstOrDefault(f => f.Code == Checks.CodeOf(stop));
            return stopped == sides.Length ? new(Stroke.Gap, "blocks", finding) : new(Stroke.Thin, "degrades", finding);
        }

        return worst
            ?? (
                sides.All(r => r.Open.Any(o => o.Stage >= Stage.Child && (o.Pairs.IsEmpty || o.Pairs.Contains(pair))))
                    ? new(Stroke.TwoHairlines, "undetermined", null)
                    : ByRelations(about.Rows.Where(r => OfChild.Contains(r.Key)))
            );
    }

    /// <summary>The sides that begin; both when none does, so that the rest is still drawn.</summary>
    private static Rehearsal[] Sides(Checked about)
    {
        var begin = about.Rehearsals.Where(r => r.Outcome != Outcome.DoesNotStart).ToArray();
        return begin.Length > 0 ? begin : [.. about.Rehearsals];
    }

    private static Drawn? Worst(IEnumerable<Finding> findings) =>
        findings
            .Where(f => f.Severity < Severity.Note && (f.Accepted is null || f.Severity == Severity.Blocks))
            .OrderBy(f => f.Severity)
            .ThenBy(f => f.After ?? -1)
            .FirstOrDefault()
            is { } worst
            ? new(
                worst.Severity switch
                {
                    Severity.Blocks => Stroke.Gap,
                    Severity.Degrades => Stroke.Thin,
                    _ => Stroke.Flag,
                },
                Severities.Words.Of(worst.Severity),
                worst
            )
            : null;

    private static Drawn ByRelations(IEnumerable<Row> rows)
    {
        var all = rows.Select(r => r.Relation).ToHashSet();
        return all.Contains(Relation.Undetermined) ? new(Stroke.TwoHairlines, "undetermined", null)
            : all.Contains(Relation.AgreesNotConfirmed) ? new(Stroke.Dotted, "agrees, not confirmed", null)
            : new(Stroke.Whole, "agrees", null);
    }
}

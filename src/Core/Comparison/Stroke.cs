using Vellumkeep.Core.Findings;

namespace Vellumkeep.Core.Comparison;

/// <summary>The six forms in which a relation between two ends is drawn, in pictures and in characters alike.</summary>
public enum Stroke
{
    /// <summary>Agrees and was seen; or a difference that no finding minds.</summary>
    Whole,

    /// <summary>Agrees as far as known.</summary>
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
public sealed record Drawn(Stroke Stroke, string Word, Finding? Finding);

public static class Strokes
{
    private static readonly string[] OfIke = ["addressOfA", "addressOfB", "ikeVersions", "exchangeMode", "authentication", "identityOfA", "identityOfB", "keyHeld", "ikeProposals", "start"];

    /// <summary>How a row is drawn: by its worst finding, otherwise by its answer.</summary>
    public static Drawn Of(Row row, IEnumerable<Finding> findings) =>
        Worst(findings.Where(f => f.RowKey == row.Key)) ?? row.Answer switch
        {
            Answer.Undetermined => new(Stroke.TwoHairlines, row.OnlyOn is { } only ? $"on {only} only" : "undetermined", null),
            Answer.Differs => new(Stroke.Whole, "differs, no harm", null),
            Answer.AsFarAsKnown => new(Stroke.Dotted, "as far as known", null),
            _ => new(Stroke.Whole, "agrees", null),
        };

    /// <summary>How the line of the IKE SA is drawn: by what concerns no pair in particular.</summary>
    public static Drawn OfIkeSa(Checked about, IReadOnlyCollection<Finding> findings) =>
        Worst(findings.Where(f => f.RowKey is { } key && OfIke.Contains(key))) ?? ByAnswers(about.Rows.Where(r => OfIke.Contains(r.Key)));

    /// <summary>How the line of a wanted pair is drawn.</summary>
    public static Drawn Of(SubnetPair pair, Checked about, IReadOnlyCollection<Finding> findings) =>
        Worst(findings.Where(f => f.Pairs.Contains(pair))) ?? ByAnswers(about.Rows.Where(r => r.Key is "subnetsOfA" or "subnetsOfB" or "espProposals" or "pfs"));

    private static Drawn? Worst(IEnumerable<Finding> findings) =>
        findings.Where(f => f.Severity < Severity.Note).OrderBy(f => f.Severity).ThenBy(f => f.After ?? -1).FirstOrDefault() is { } worst
            ? new(worst.Severity switch { Severity.Blocks => Stroke.Gap, Severity.Degrades => Stroke.Thin, _ => Stroke.Flag }, Severities.Words.Of(worst.Severity), worst)
            : null;

    private static Drawn ByAnswers(IEnumerable<Row> rows)
    {
        var all = rows.Select(r => r.Answer).ToHashSet();
        return all.Contains(Answer.Undetermined) ? new(Stroke.TwoHairlines, "undetermined", null)
            : all.Contains(Answer.AsFarAsKnown) ? new(Stroke.Dotted, "as far as known", null)
            : new(Stroke.Whole, "agrees", null);
    }
}

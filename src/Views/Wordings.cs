namespace Vellumkeep.Views;

/// <summary>Whether the asker may see what belongs to an owner; null is the house's own.</summary>
public delegate bool Sees(string? ownerId);

/// <summary>
/// Sentences of the core as the asker may see them: a tunnel of a customer they may not see is "another customer's
/// tunnel" and nothing more.
/// </summary>
public static class Wordings
{
    public static SentenceLine Show(this Sentence sentence, Sees sees)
    {
        var parts = new List<Phrase>();
        foreach (var (literal, argument) in sentence.Parts())
        {
            if (literal.Length > 0)
                parts.Add(new("text", literal));
            if (argument is not null)
                parts.Add(
                    argument.Owner is { } owner && !sees(owner)
                        ? new("word", Hidden(argument.Kind))
                        : new(argument.Kind.ToString().ToLowerInvariant(), argument.Text)
                );
        }

        return new(string.Concat(parts.Select(p => p.Text)), parts);
    }

    /// <summary>What differs between two written forms, for reading.</summary>
    public static IReadOnlyList<Contract.Difference> Differences(IEnumerable<Changed> changed, INames names) =>
        [
            .. changed.Select(m => new Contract.Difference(
                m.Path.ToString(),
                Text(m.Before, m.Path, names),
                Text(m.After, m.Path, names)
            )),
        ];

    /// <summary>What is said instead of something that belongs to a customer whom the asker may not see.</summary>
    private static string Hidden(ArgumentKind kind) =>
        kind switch
        {
            ArgumentKind.Tunnel => "another customer's tunnel",
            ArgumentKind.Value => "a prefix",
            _ => "the value that its owner recorded",
        };

    public static IReadOnlyList<VerdictSentence> Show(this IEnumerable<VerdictPart> verdict, Sees sees) =>
        [.. verdict.Select(v => new VerdictSentence(v.Tone.ToString().ToLowerInvariant(), v.Says.Show(sees)))];

    public static string Word(this Stroke stroke) =>
        stroke == Stroke.TwoHairlines ? "twoHairlines" : stroke.ToString().ToLowerInvariant();

    public static DrawnForm Show(this Drawn drawn) => new(drawn.Stroke.Word(), drawn.Word);

    public static FindingPage Show(this Finding f, string tunnel, Sees sees, DateTimeOffset? since = null) =>
        new()
        {
            Code = f.Code,
            Title = Checks.All.FirstOrDefault(c => c.Code == f.Code)?.Title ?? "",
            Severity = Severities.Words.Of(f.Severity),
            Standing = StandingRule.Words.Of(StandingRule.Of(f)),
            Tunnel = tunnel,
            Subject = f.Subject,
            RowKey = f.RowKey?.Text,
            After = f.After is { } after
                ? after == 0
                    ? "some time"
                    : Core.Quantities.Lifetime.Say(after)
                : null,
            What = f.What.Show(sees),
            Why = f.Why.Show(sees),
            Do = f.Do.Show(sees),
            Standard = f.Standard,
            Evidence =
            [
                .. f
                    .Evidence.Where(e => e.Owner is null || sees(e.Owner))
                    .Select(e => new EvidenceLine(e.End?.ToString(), e.Label, e.Value, e.From)),
            ],
            Since = since,
            Digest = f.Digest,
            Accepted = f.Accepted is { } a ? new(a.Reason, a.By, Scalars.Write(a.On), Scalars.Write(a.Until)) : null,
        };

    /// <summary>A value for reading; where it refers to another record by id, by that record's code.</summary>
    public static string? Text(Node? node, FieldPath path, INames names)
    {
        RecordKind? refers = path.Steps[^1].Name switch
        {
            "gateway" => RecordKind.Gateway,
            "suite" => RecordKind.Suite,
            "customer" => RecordKind.Customer,
            "site" => RecordKind.Site,
            "platform" => RecordKind.Platform,
            _ => null,
        };
        return node is null ? null
            : refers is { } kind && node is TextNode id ? names.TextOf(kind, id.Text)
            : node.ToString();
    }
}

namespace Vellumkeep.Service.Views;

/// <summary>Sentences of the core as the asker may see them: a tunnel of a customer they may not see is "another customer's tunnel" and nothing more.</summary>
public static class Wordings
{
    public static Said Show(this Sentence sentence, Scope scope)
    {
        var parts = new List<Phrase>();
        foreach (var (literal, argument) in sentence.Parts())
        {
            if (literal.Length > 0)
                parts.Add(new("text", literal));
            if (argument is not null)
                parts.Add(argument.Kind == ArgumentKind.Tunnel && !scope.Sees(argument.Owner)
                    ? new("word", "another customer's tunnel")
                    : new(argument.Kind.ToString().ToLowerInvariant(), argument.Text));
        }

        return new(string.Concat(parts.Select(p => p.Text)), parts);
    }

    public static IReadOnlyList<VerdictSentence> Show(this IEnumerable<VerdictPart> verdict, Scope scope) =>
        [.. verdict.Select(v => new VerdictSentence(v.Tone.ToString().ToLowerInvariant(), v.Says.Show(scope)))];

    public static string Word(this Stroke stroke) => stroke == Stroke.TwoHairlines ? "twoHairlines" : stroke.ToString().ToLowerInvariant();

    public static DrawnForm Show(this Drawn drawn) => new(drawn.Stroke.Word(), drawn.Word);

    public static FindingPage Show(this Finding f, string tunnel, Scope scope, DateTimeOffset? firstSeen = null) => new(
        f.Code, Checks.All.FirstOrDefault(c => c.Code == f.Code)?.Title ?? "", Severities.Words.Of(f.Severity), tunnel, f.Subject, f.RowKey,
        f.After is { } after ? Core.Quantities.Lifetime.Say(after) : null, f.What.Show(scope), f.Why.Show(scope), f.Do.Show(scope), f.Standard,
        [.. f.Evidence.Select(e => new EvidenceLine(e.End?.ToString(), e.Label, e.Value, e.From))], firstSeen, f.Digest);

    public static IReadOnlyList<Difference> Between(RecordKind kind, byte[]? before, byte[] after, INames names) =>
        kind == RecordKind.Change ? [] : before is null
            ? []
            : [.. Edits.Between(RecordBody.Form(before), RecordBody.Form(after)).Select(m => new Difference(m.Path, Text(m.Before, m.Path, names), Text(m.After, m.Path, names)))];

    /// <summary>A value for reading; where it refers to another record by id, by that record's code.</summary>
    public static string? Text(Node? node, string path, INames names)
    {
        var last = path.Split('.')[^1];
        RecordKind? refers = last switch { "gateway" => RecordKind.Gateway, "suite" => RecordKind.Suite, "customer" => RecordKind.Customer, "site" => RecordKind.Site, "platform" => RecordKind.Platform, _ => null };
        return node is null ? null : refers is { } kind && node is TextNode id ? names.TextOf(kind, id.Text) : node.ToString();
    }
}

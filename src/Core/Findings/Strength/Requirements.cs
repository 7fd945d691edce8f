namespace Vellumkeep.Core.Findings.Strength;

/// <summary>
/// Shared by STR-01 and STR-02: the algorithms of one requirement word that either end offers, one finding for each
/// layer.
/// </summary>
internal static class Requirements
{
    internal static IEnumerable<Finding> Find(Checked c, Requirement word, string must)
    {
        foreach (
            var (key, layer) in new[]
            {
                ((RowKey)Settings.IkeProposals, "IKE"),
                ((RowKey)Settings.EspProposals, "ESP"),
                ((RowKey)Settings.Pfs, "PFS"),
            }
        )
        {
            var found = c
                .View.Ends.SelectMany(e =>
                    Members(e, layer).Where(m => m.Grade.Requirement == word).Select(m => (e.Name, m.Name, m.Grade))
                )
                .Distinct()
                .ToArray();
            if (found.Length == 0)
                continue;
            var names = found.Select(f => f.Item2).Distinct().ToArray();
            var ends = found.Select(f => f.Item1).Distinct().ToArray();
            Sentence where = ends.Length == 2 ? Sentence.Of($"{EndName.A} and {EndName.B}") : Sentence.Of($"{ends[0]}");
            var verb = ends.Length == 2 ? "use" : "uses";
            yield return new()
            {
                Severity = Severity.Risk,
                Subject = layer,
                RowKey = key,
                What = $"{where} {verb:w} {Say.And(names)} for {layer:w}.",
                Why =
                    word == Requirement.MustNot
                        ? Sentence.Of($"{Say.And(names):w} {must:w} be used: broken in practice.")
                        : Sentence.Of(
                            $"{Say.And(names):w} {must:w} be used: a well-funded attacker can break it, or soon can."
                        ),
                Do = $"Use {Better(c, layer):w}; change both ends at the same time.",
                Consequence = $"{Say.And(names)} {must:w} be used.",
                Standard = string.Join("; ", found.Select(f => f.Grade.Standard).Distinct()),
                Evidence = Checked.Of(c.Row(key)),
            };
        }
    }

    /// <summary>The best that both platforms can do, as far as the profiles say.</summary>
    private static string Better(Checked c, string layer)
    {
        var groups = AlgorithmTable
            .Groups.Where(g => g.Ike.Requirement < Requirement.ShouldNot && c.View.Ends.All(e => Does(c, e, g.Name)))
            .ToArray();
        var ciphers = AlgorithmTable
            .Encryptions.Where(x =>
                !x.IsNull
                && (layer == "ESP" ? x.Esp : x.Ike).Requirement < Requirement.ShouldNot
                && c.View.Ends.All(e => Does(c, e, x.Name))
                && (layer == "ESP" ? Carried.InEsp(x, c.View.Version) : Carried.InIke(x, c.View.Version))
            )
            .ToArray();
        var cipher = ciphers.FirstOrDefault()?.Name;
        var group = groups.FirstOrDefault(g => g.CarriedBy(c.View.Version))?.Name;
        var best = layer switch
        {
            "PFS" => group,
            "ESP" => cipher,
            _ => cipher is null || group is null ? null : $"{cipher} with {group}",
        };
        return best is null
            ? "another platform at the end that supports nothing better"
            : $"{best}, which both platforms support";
    }

    private static bool Does(Checked c, Resolution.EndView end, string algorithm) =>
        end.Platform.Can(algorithm, c.View.Version) == true;

    private static IEnumerable<(string Name, Grade Grade)> Members(Resolution.EndView e, string layer) =>
        layer switch
        {
            "IKE" => (e.Get(Settings.IkeProposals).Value?.Items ?? []).SelectMany(p =>
                new[]
                {
                    (p.Encryption.Name, p.Encryption.Ike),
                    (p.Group.Name, p.Group.Ike),
                    (p.Prf.Name, p.Prf.Ike),
                }.Concat(p.Integrity is { } i ? [(i.Name, i.Ike)] : [])
            ),
            "ESP" => (e.Get(Settings.EspProposals).Value?.Items ?? []).SelectMany(p =>
                new[] { (p.Encryption.Name, p.Encryption.Esp) }.Concat(p.Integrity is { } i ? [(i.Name, i.Esp)] : [])
            ),
            _ => (e.Get(Settings.Pfs).Value?.Groups ?? []).Select(g => (g.Name, g.Ike)),
        };
}

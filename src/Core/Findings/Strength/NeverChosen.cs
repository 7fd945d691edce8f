namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-11: a proposal that stands twice, or that the platform or the version cannot do.</summary>
public static class NeverChosen
{
    /// <summary>Duplicate proposal, or one that can never be chosen (STR-11).</summary>
    public static readonly Check Check = new("STR-11", "duplicate proposal, or one that can never be chosen", c =>
        c.View.Ends.SelectMany(e =>
            Of(
                    c,
                    e,
                    Settings.IkeProposals,
                    p => Calculations.Graded.Of(p).Members.Select(m => m.Name),
                    p => p.CarriedBy(c.View.Version)
                )
                .Concat(
                    Of(
                        c,
                        e,
                        Settings.EspProposals,
                        p => Calculations.Graded.Of(p).Members.Select(m => m.Name),
                        p => p.CarriedBy(c.View.Version)
                    )
                )
        )
    );

    private static IEnumerable<Finding> Of<T>(
        Checked c,
        Resolution.EndView e,
        Setting<Several<T>> setting,
        Func<T, IEnumerable<string>> members,
        Func<T, bool> carried
    )
        where T : class
    {
        if (e.Get(setting).Value is not { } list)
            yield break;
        foreach (var twice in list.Items.GroupBy(p => p).Where(g => g.Count() > 1))
            yield return Finding(
                $"{twice.Key}:twice",
                $"{e.Name} has {twice.Key.ToString()} twice among its {setting.Label:w}.",
                $"The second is never used."
            );
        foreach (var p in list.Items.Distinct())
            if (!carried(p))
                yield return Finding(
                    $"{p}:version",
                    $"{e.Name} has {p.ToString()}, which IKEv1 cannot negotiate.",
                    $"IKEv1 has no combined-mode cipher in phase 1, no code point for the newer curves, and no ESP "
                        + $"identifier for ChaCha20-Poly1305."
                );
            else if (members(p).FirstOrDefault(m => e.Platform.Can(m, c.View.Version) == false) is { } cannot)
                yield return Finding(
                    $"{p}:cannot",
                    $"{e.Name} has {p.ToString()}, but {e.Platform.Title:w} does not support {cannot}.",
                    $"By its profile the platform neither offers nor accepts it. The record or the profile is wrong."
                );

        Finding Finding(string subject, Sentence what, Sentence why) =>
            new()
            {
                Severity = Severity.Note,
                Subject = $"{e.Name}:{setting.Key}:{subject}",
                RowKey = setting,
                What = what,
                Why = why,
                Do = $"Check {e.Gateway.Code}, then remove or correct it at {e.Name}.",
                Evidence = Checked.Of(c.Row(setting)),
            };
    }
}

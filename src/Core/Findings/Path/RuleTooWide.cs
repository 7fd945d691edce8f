namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-04: a rule lets through more than the wanted pairs.</summary>
public static class RuleTooWide
{
    /// <summary>Rule wider than the pairs (PATH-04).</summary>
    public static readonly Check Check = new("PATH-04", "rule wider than the pairs", c =>
        c.View.Ends.Where(e => e.End.Rules?.Value is not null)
            .SelectMany(e =>
                e.End.Rules!.Value!.Items.Where(r =>
                        !c.View.Tunnel.Agreed.Pairs.Any(p => Within(r, p.At(e.Name)))
                        && c.View.Tunnel.Agreed.Pairs.Any(p => Within(p.At(e.Name), r))
                    )
                    .Select(r => new Finding
                    {
                        Severity = Severity.Risk,
                        Subject = $"{e.Name}:{r.Local}-{r.Remote}",
                        RowKey = RowKey.Rules,
                        What =
                            $"The firewall rule at {e.Name} for local {r.Local}, remote {r.Remote}{Only(r):w} is "
                            + $"wider than the pairs.",
                        Why = $"Other hosts can reach each other as soon as a selector allows it.",
                        Do = $"Narrow the rule at {e.Name} to the wanted pairs.",
                        Evidence = Checked.Of(c.Row(RowKey.Rules)),
                    })
            )
    );

    private static string Only(Rule rule) => rule.Only is { } only ? $", {only.AtEnd}" : "";

    private static bool Within(Rule rule, LocalRemote pair) =>
        pair.Local.Contains(rule.Local)
        && pair.Remote.Contains(rule.Remote)
        && pair.Traffic.Contains(rule.Only ?? Traffic.All);

    private static bool Within(LocalRemote pair, Rule rule) =>
        rule.Local.Contains(pair.Local)
        && rule.Remote.Contains(pair.Remote)
        && (rule.Only ?? Traffic.All).Contains(pair.Traffic);
}

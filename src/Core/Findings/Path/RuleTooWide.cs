namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-04: a rule lets through more than the wanted pairs.</summary>
public static class RuleTooWide
{
    /// <summary>Rule wider than the pairs (PATH-04).</summary>
    public static readonly Check Check = new("PATH-04", "rule wider than the pairs", c =>
        c.View.Ends.Where(e => e.End.Rules?.Value is not null)
            .SelectMany(e =>
                e.End.Rules!.Value!.Items.Where(r =>
                        !c.View.Tunnel.Agreed.Pairs.Any(p =>
                            p.On(e.Name).Contains(r.Local) && p.On(e.Name.Other()).Contains(r.Remote)
                        )
                        && c.View.Tunnel.Agreed.Pairs.Any(p =>
                            r.Local.Contains(p.On(e.Name)) && r.Remote.Contains(p.On(e.Name.Other()))
                        )
                    )
                    .Select(r => new Finding
                    {
                        Severity = Severity.Risk,
                        Subject = $"{e.Name}:{r.Local}-{r.Remote}",
                        RowKey = RowKey.Rules,
                        What =
                            $"The firewall rule at {e.Name} for local {r.Local}, remote {r.Remote} is wider than the pairs.",
                        Why = $"Other hosts can reach each other as soon as a selector allows it.",
                        Do = $"Narrow the rule at {e.Name} to the wanted pairs.",
                        Evidence = Checked.Of(c.Row(RowKey.Rules)),
                    })
            )
    );
}

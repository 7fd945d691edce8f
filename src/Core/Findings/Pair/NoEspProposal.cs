using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-04.</summary>
public static class NoEspProposal
{
    /// <summary>No ESP proposal in common (PAIR-04).</summary>
    public static readonly Check Check = new("PAIR-04", "no ESP proposal in common", c =>
        c.Differences<NoProposal>()
            .Where(d => d.Row.Key == Settings.EspProposals.Key)
            .Select(d => NoIkeProposal.Of(c, "PAIR-04", "ESP", d.Row, d.Difference))
    );
}

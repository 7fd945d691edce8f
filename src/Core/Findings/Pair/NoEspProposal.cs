using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-04.</summary>
public static class NoEspProposal
{
    /// <summary>No ESP proposal in common (PAIR-04).</summary>
    public static readonly Check Check = new("PAIR-04", "no ESP proposal in common", c =>
        c.Differences<NoProposal>()
            .Where(d => d.Row.Key == RowKey.Of(Settings.EspProposals))
            .Select(d => NoIkeProposal.Of(c, "ESP", d.Row, d.Difference))
    )
    {
        Meets = cause => cause is NothingChosen { OfEsp: true },
    };
}

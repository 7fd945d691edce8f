using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-18: extended sequence numbers wanted by one end and not taken by the other.</summary>
public static class OptionsDisjoint
{
    /// <summary>ESP options disjoint (PAIR-18).</summary>
    public static readonly Check Check = new("PAIR-18", "ESP options disjoint", c => c.Differences<OptionsDiffer>()
            .Select(d => new Finding
            {
                Severity = Severity.Blocks,
                RowKey = d.Row.Key,
                Pairs = c.View.Tunnel.Agreed.Pairs,
                What =
                    $"Extended sequence numbers are {d.Row.A.Text} at {EndName.A} and {d.Row.B.Text} at {EndName.B}.",
                Why =
                    $"They are part of the ESP proposal, so it is refused with NO_PROPOSAL_CHOSEN. The IKE SA comes "
                    + $"up without a child SA.",
                Do = $"Set 'either' at one end, or the same at both ends.",
                Consequence =
                    $"No child SA: extended sequence numbers are {d.Row.A.Text} at {EndName.A}, {d.Row.B.Text} at {EndName.B}.",
                Standard = "RFC 7296 section 3.3.2",
                Evidence = Checked.Of(d.Row),
            })) { Meets = cause => cause is SequenceNumbersMismatch };
}

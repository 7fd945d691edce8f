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
            })
            .Concat(
                c.Met(Check!)
                    .Where(x => x.Obstacle.Cause is EspModesMismatch)
                    .Take(1)
                    .Select(x => new Finding
                    {
                        Severity = Severity.Blocks,
                        Subject = "mode",
                        RowKey = Settings.EspMode,
                        Pairs = c.View.Tunnel.Agreed.Pairs,
                        What = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                        Why = $"IKEv1 negotiates the mode with the ESP proposal, so quick mode is refused.",
                        Do =
                            $"Set tunnel mode {c.WhereNot(e => e.Get(Settings.EspMode).Value?.Value == EspMode.Tunnel):w}.",
                        Consequence = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                        Standard = "RFC 2407 section 4.5",
                        Evidence = Checked.Of(c.Row(Settings.EspMode)),
                    })
            )) { Meets = cause => cause is SequenceNumbersMismatch or EspModesMismatch };
}

using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-14, read off the rehearsal.</summary>
public static class EspLost
{
    /// <summary>Port-sharing translation in the path and NAT traversal never used (PAIR-14).</summary>
    public static readonly Check Check = new(
        "PAIR-14",
        "port-sharing translation in the path and NAT traversal never used",
        c =>
            c.Obstacles("PAIR-14")
                .Take(1)
                .Select(x => new Finding
                {
                    Code = "PAIR-14",
                    Severity = Severity.Blocks,
                    RowKey = Settings.NatTraversal.Key,
                    Pairs = c.View.Tunnel.Agreed.Pairs,
                    What =
                        $"A port-sharing nat stands before {((PacketsLost)x.Obstacle.Cause).Towards}, and NAT traversal is never used at {Say.And(c.View.Ends.Where(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never).Select(e => e.Name.ToString())):w}.",
                    Why =
                        $"The IKE SA may form; ESP has no ports for the nat to tell it apart by, and is lost silently.",
                    Do = $"Set NAT traversal to when detected at both ends.",
                    Consequence = $"The SAs form and nothing passes: no NAT traversal across a port-sharing nat.",
                    Standard = "RFC 3948",
                    Evidence = Checked.Of(c.Row(Settings.NatTraversal.Key)),
                })
    );
}

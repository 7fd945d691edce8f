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
                .Select(x => new Finding(
                    "PAIR-14",
                    Severity.Blocks,
                    "",
                    Settings.NatTraversal.Key,
                    c.View.Tunnel.Agreed.Pairs,
                    null,
                    $"A port-sharing translator stands before {((PacketsLost)x.Obstacle.Cause).Towards}, and NAT traversal is never used at {Say.And(c.View.Ends.Where(e => e.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never).Select(e => e.Name.ToString())):w}.",
                    $"The IKE SA may form; ESP has no ports for the translator to tell it apart by, and is lost silently.",
                    $"Set NAT traversal to when detected at both ends.",
                    $"The SAs form and nothing passes: no NAT traversal across a port-sharing translator.",
                    "RFC 3948",
                    Checked.Of(c.Row(Settings.NatTraversal.Key))
                ))
    );
}

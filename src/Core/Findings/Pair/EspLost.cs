using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-14, read off the rehearsal.</summary>
public static class EspLost
{
    /// <summary>NAPT in the path and NAT traversal set to never (PAIR-14).</summary>
    public static readonly Check Check = new("PAIR-14", "NAPT in the path and NAT traversal set to never", c =>
        c.Met(Check!)
            .Take(1)
            .Select(x => new Finding
            {
                Severity = Severity.Blocks,
                RowKey = Settings.NatTraversal,
                Pairs = c.View.Tunnel.Agreed.Pairs,
                What =
                    $"{((PacketsLost)x.Obstacle.Cause).Towards} is behind NAPT (many to one), and NAT traversal is "
                    + $"set to never at {Say.And(c.View.Ends.Where(Never).Select(e => e.Name.ToString())):w}.",
                Why =
                    $"The IKE SA can come up. ESP has no ports that NAPT could map, so it is dropped without a notify.",
                Do =
                    $"Set NAT traversal to 'when detected' {c.WhereNot(e => !Never(e) && e.Get(Settings.NatTraversal).Known):w}.",
                Consequence =
                    $"The SAs come up and no traffic passes: NAPT in the path, and NAT traversal set to never.",
                Standard = "RFC 3948",
                Evidence = Checked.Of(c.Row(Settings.NatTraversal)),
            })
    )
    {
        Meets = cause => cause is PacketsLost { NatTraversalOff: true, Mapped: true },
    };

    private static bool Never(EndView end) => end.Get(Settings.NatTraversal).Value?.Value == NatTraversal.Never;
}

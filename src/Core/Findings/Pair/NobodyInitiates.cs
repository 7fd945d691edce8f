using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-13: nobody initiates, or both always do.</summary>
public static class NobodyInitiates
{
    /// <summary>Nobody initiates, or both always do (PAIR-13).</summary>
    public static readonly Check Check = new("PAIR-13", "nobody initiates, or both always do", c =>
        [
            .. c.Differences<NobodyStarts>()
                .Select(d => new Finding(
                    "PAIR-13",
                    Severity.Blocks,
                    "",
                    d.Row.Key,
                    [],
                    null,
                    $"Nobody starts: {EndName.A} {d.Difference.WhyNotA:w}, {EndName.B} {d.Difference.WhyNotB:w}.",
                    $"Both ends wait for the other, so the tunnel stays down once it is down.",
                    $"Let the end whose peer has a fixed address start: always, or on traffic.",
                    $"Nobody starts it: {EndName.A} {d.Difference.WhyNotA:w}, {EndName.B} {d.Difference.WhyNotB:w}.",
                    null,
                    Checked.Of(d.Row)
                )),
            .. c.Differences<BothStart>()
                .Select(d => new Finding(
                    "PAIR-13",
                    Severity.Note,
                    "",
                    d.Row.Key,
                    [],
                    null,
                    $"Both ends always start.",
                    $"Two IKE SAs may form at once; both ends have to tidy up the spare one.",
                    $"Let one end start and the other only answer.",
                    null,
                    "RFC 7296 section 2.8.1",
                    Checked.Of(d.Row)
                )),
        ]
    );
}

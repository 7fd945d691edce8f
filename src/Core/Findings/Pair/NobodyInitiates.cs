using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-13: nobody initiates, or both always do.</summary>
public static class NobodyInitiates
{
    /// <summary>Nobody initiates, or both always do (PAIR-13).</summary>
    public static readonly Check Check = new("PAIR-13", "nobody initiates, or both always do", c => [
            .. c.Differences<NeitherInitiates>()
                .Select(d => new Finding
                {
                    Code = "PAIR-13",
                    Severity = Severity.Blocks,
                    RowKey = d.Row.Key,
                    What =
                        $"Nobody starts: {EndName.A} {d.Difference.WhyNotA:w}, {EndName.B} {d.Difference.WhyNotB:w}.",
                    Why = $"Both ends wait for the other, so the tunnel stays down once it is down.",
                    Do = $"Let the end whose peer has a fixed address start: always, or on traffic.",
                    Consequence =
                        $"Nobody starts it: {EndName.A} {d.Difference.WhyNotA:w}, {EndName.B} {d.Difference.WhyNotB:w}.",
                    Evidence = Checked.Of(d.Row),
                }),
            .. c.Differences<BothStart>()
                .Select(d => new Finding
                {
                    Code = "PAIR-13",
                    Severity = Severity.Note,
                    RowKey = d.Row.Key,
                    What = $"Both ends always start.",
                    Why = $"Two IKE SAs may form at once; both ends have to tidy up the spare one.",
                    Do = $"Let one end start and the other only answer.",
                    Standard = "RFC 7296 section 2.8.1",
                    Evidence = Checked.Of(d.Row),
                }),
        ]);
}

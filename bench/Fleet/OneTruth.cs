using System.Collections.Immutable;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Records;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Fleet;

/// <summary>
/// Whether verdict, findings and rehearsals of a tunnel say the same: an outcome other than up has a finding that
/// blocks, degrades in part or says undetermined, and the other way round.
/// </summary>
public static class OneTruth
{
    /// <summary>Where they contradict each other; null where they do not.</summary>
    public static string? Broken(Checked about)
    {
        var findings = Checks.Run(about);
        var rehearsals = about.Rehearsals.ToArray();
        var blocks = findings.Where(f => f is { Severity: Severity.Blocks, After: null }).ToArray();
        var open = findings.Any(f => f is { Code: "PAIR-19", Subject: "outcome" });
        var outcomes = string.Join(" and ", rehearsals.Select(r => $"{r.Initiator} {r.Outcome}"));
        if (rehearsals.Any(r => r.Outcome == Outcome.Up))
        {
            if (blocks.Length > 0 || open)
                return $"{outcomes}, and {(open ? "undetermined" : blocks[0].Code + " blocks: " + blocks[0].What)}";
        }
        else if (rehearsals.Any(r => r.ComesUp))
        {
            if (findings.All(f => f.Severity > Severity.Degrades || f.After is not null))
                return $"{outcomes}, and nothing degrades";
        }
        else if (blocks.Length == 0 && !open)
            return $"{outcomes}, and nothing blocks";
        foreach (var r in rehearsals)
        foreach (var o in r.Obstacles.Where(o => o.Cause is not DoesNotStart))
            if (
                !Checks.All.Any(c =>
                    (c.Code == Checks.CodeOf(o) || c.Meets(o.Cause)) && findings.Any(f => f.Code == c.Code)
                )
            )
                return $"{r.Initiator} meets {Checks.CodeOf(o)}, and no finding tells of it";
        return Later(findings, rehearsals) ?? Said(about, findings, rehearsals);
    }

    private static string? Later(ImmutableArray<Finding> findings, Rehearsal[] rehearsals)
    {
        var deferred = rehearsals.Any(r => r.ComesUp && r.FailsLater);
        var told = findings.Any(f => f.After is not null);
        return deferred && !told ? "it fails later, and no finding tells of it" : null;
    }

    private static string? Said(Checked about, ImmutableArray<Finding> findings, Rehearsal[] rehearsals)
    {
        if (about.View.Tunnel.State == TunnelState.Retired)
            return null;
        var verdict = Verdict.Of(about, findings);
        var stops = verdict[0].Tone == Tone.Stops;
        var comesUp = rehearsals.Any(r => r.ComesUp);
        var open =
            rehearsals.Any(r => r.Outcome == Outcome.Undetermined)
            && verdict[0].Says.ToString().StartsWith("Undetermined", StringComparison.Ordinal);
        return stops == comesUp && !open ? $"the verdict begins with '{verdict[0].Says}'" : null;
    }
}

using Vellumkeep.Core.Findings;

namespace Vellumkeep.Core.Verdicts;

/// <summary>
/// What is said of a tunnel in one word, by the findings alone: every command that looks at it exits by it.
/// </summary>
public enum Standing
{
    /// <summary>Nothing blocks it.</summary>
    Sound,

    /// <summary>A value has to be found out before anybody can tell.</summary>
    Undetermined,

    /// <summary>Something blocks it, now or later.</summary>
    Blocked,
}

/// <summary>How findings make a standing.</summary>
public static class StandingRule
{
    /// <summary>The words of the standings.</summary>
    public static readonly Words<Standing> Words = new(
        "a standing",
        (Standing.Sound, "sound"),
        (Standing.Undetermined, "undetermined"),
        (Standing.Blocked, "blocked")
    );

    /// <summary>What one finding makes of its tunnel.</summary>
    public static Standing Of(Finding finding) =>
        finding.Severity == Severity.Blocks ? Standing.Blocked
        : finding.LeavesOpen ? Standing.Undetermined
        : Standing.Sound;

    /// <summary>What all findings together make of it: the gravest.</summary>
    public static Standing Of(IEnumerable<Finding> findings) =>
        findings.Select(Of).DefaultIfEmpty(Standing.Sound).Max();
}

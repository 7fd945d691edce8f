using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>The parts of a run sheet, in the order in which they are worked.</summary>
public enum Part
{
    Prepare,
    Safeguard,
    Build,
    Switch,
    Prove,
    Record,
}

/// <summary>Where a step is carried out.</summary>
public enum Where
{
    A,
    B,
    Us,
}

/// <summary>A value of a step, in the unit and spelling that the platform there uses.</summary>
/// <param name="Text">What is entered; when the step takes it out, what stands there.</param>
public sealed record StepValue(string Label, string Text)
{
    /// <summary>What identifies it on its end; null for a value that is only told.</summary>
    public string? Key { get; init; }

    /// <summary>What stands there before; null when nothing does.</summary>
    public string? Before { get; init; }

    /// <summary>Where the inventory keeps it on the tunnel; null when it does not.</summary>
    public string? Path { get; init; }

    /// <summary>
    /// The path of the value that it waits for, on the record that will hold it; null when it can be entered.
    /// </summary>
    public string? Waits { get; init; }
}

/// <summary>One step. Its key is stable through recomputing; its number is only for showing.</summary>
/// <param name="Asked">Who is asked to do it when the end is run by somebody else; null when we do it.</param>
/// <param name="Enter">Exact values to enter.</param>
/// <param name="Expect">What the device holds or shows afterwards.</param>
/// <param name="Stops">What it does to traffic, in words; null when nothing.</param>
/// <param name="Undo">What undoes it; null when there is nothing to undo.</param>
/// <param name="Edits">The places in the plan's list of edits that this step carries out.</param>
public sealed record Step(
    string Key,
    Part Part,
    Where Where,
    string? Asked,
    Sentence Do,
    ImmutableArray<StepValue> Enter,
    ImmutableArray<StepValue> Expect,
    Sentence? Proof,
    int Minutes,
    Sentence? Stops,
    Sentence? Undo,
    ImmutableArray<int> Edits,
    ImmutableArray<string> Needs
)
{
    /// <summary>What the step takes out.</summary>
    public ImmutableArray<StepValue> TakeOut { get; init; } = [];

    /// <summary>The tunnel it is about; null when it is about all of the change's.</summary>
    public string? TunnelId { get; init; }

    /// <summary>The gateway on which it is done; null when it is done on none.</summary>
    public string? Gateway { get; init; }

    /// <summary>Whether it cannot be undone without losing something: a key withdrawn, a device switched off.</summary>
    public bool NoReturn { get; init; }
}

/// <summary>One line of before and after, for reading.</summary>
public sealed record BeforeAfter(EndName? End, string What, string Before, string After, ImmutableArray<string> Added);

/// <summary>A finding on a tunnel, as a plan lists it.</summary>
/// <param name="Was">How grave the same finding was before, where the change alters only that.</param>
public sealed record FindingOn(string TunnelId, string TunnelCode, Finding Finding, Severity? Was = null);

/// <summary>A value that approval rests on: when it differs later, approval lapses.</summary>
public sealed record RestsOn(string RecordId, RecordKind Kind, string Path, Node? Value);

/// <summary>A value of the plan that nobody knows yet.</summary>
/// <param name="Steps">The keys of the steps that cannot begin before it is filled.</param>
public sealed record PendingValue(PendingAt At, ImmutableArray<string> Steps);

/// <summary>A tunnel that the change is not about, and how it is touched.</summary>
public sealed record Touched(string TunnelId, string TunnelCode, Sentence How);

/// <summary>How long a tunnel carries nothing; Seconds is null when a profile does not say.</summary>
public sealed record Interruption(string TunnelId, string TunnelCode, int? Seconds, Sentence Says);

/// <summary>What a tunnel does before and after, rehearsed from both sides and said as on its page.</summary>
public sealed record Rehearsed(
    string TunnelId,
    string TunnelCode,
    ImmutableArray<VerdictPart> Before,
    ImmutableArray<VerdictPart> After
);

public enum Carries
{
    Kept,
    Changed,
    Impossible,
}

/// <summary>One setting carried to another platform: kept, changed to what and why, or impossible.</summary>
public sealed record Translated(
    string TunnelId,
    string TunnelCode,
    EndName End,
    string What,
    string? Before,
    string? After,
    Carries Carries,
    Sentence Why
);

/// <summary>What the core worked out for a change: the same wish from the same records gives the same plan.</summary>
public sealed record Plan(
    ImmutableArray<VerdictPart> Verdict,
    ImmutableArray<SubnetPair> NewPairs,
    ImmutableArray<BeforeAfter> Differs,
    ImmutableArray<Edit> Edits,
    ImmutableArray<Step> Steps,
    ImmutableArray<FindingOn> Added,
    ImmutableArray<FindingOn> Removed,
    ImmutableArray<FindingOn> Standing,
    ImmutableArray<RestsOn> RestsOn
)
{
    public ImmutableArray<PendingValue> Pending { get; init; } = [];

    public ImmutableArray<Touched> Touches { get; init; } = [];

    public ImmutableArray<Interruption> Interruptions { get; init; } = [];

    public ImmutableArray<Rehearsed> Rehearsals { get; init; } = [];

    public ImmutableArray<Translated> Translations { get; init; } = [];

    /// <summary>The versions of keys that the change brings into use: by tunnel.</summary>
    public ImmutableArray<KeyVersion> Keys { get; init; } = [];

    public int Minutes => Steps.Sum(s => s.Minutes);

    /// <summary>What undoes the given steps, last first.</summary>
    public IEnumerable<Step> WayBack(Func<Step, bool>? done = null) =>
        Steps.Where(s => s.Undo is not null && (done?.Invoke(s) ?? true)).Reverse();

    /// <summary>The blocking findings that the change itself adds: they stand in its way (PLAN-03).</summary>
    public IEnumerable<FindingOn> InTheWay => Added.Where(f => f.Finding.Severity == Severity.Blocks);
}

/// <summary>A version of a tunnel's key that a change needs.</summary>
/// <param name="Replaces">The versions in use until then.</param>
public sealed record KeyVersion(string TunnelId, int Version, ImmutableArray<int> Replaces);

/// <summary>
/// Why a wish cannot be planned: the code of the finding where there is one, the field, and the sentences.
/// </summary>
public sealed record Refusal(string? Code, string Field, Sentence Wrong, Sentence Right);

/// <summary>A plan, or the reasons why there is none.</summary>
public sealed record Planned(Plan? Plan, ImmutableArray<Refusal> Refused)
{
    public static Planned No(IEnumerable<Refusal> refused) => new(null, [.. refused]);
}

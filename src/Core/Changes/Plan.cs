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
public sealed record StepValue(string Label, string Text);

/// <summary>One step. Its key is stable through recomputing; its number is only for showing.</summary>
/// <param name="Asked">Who is asked to do it when the end is run by somebody else; null when we do it.</param>
/// <param name="Enter">Exact values to enter.</param>
/// <param name="Expect">What the device holds or shows afterwards.</param>
/// <param name="Stops">What it does to traffic, in words; null when nothing.</param>
/// <param name="Undo">What undoes it; null when there is nothing to undo.</param>
/// <param name="Edits">The places in the plan's list of edits that this step carries out.</param>
public sealed record Step(
    string Key, Part Part, Where Where, string? Asked, Sentence Do, ImmutableArray<StepValue> Enter, ImmutableArray<StepValue> Expect,
    Sentence? Proof, int Minutes, Sentence? Stops, Sentence? Undo, ImmutableArray<int> Edits, ImmutableArray<string> Needs);

/// <summary>One line of before and after, for reading.</summary>
public sealed record BeforeAfter(EndName? End, string What, string Before, string After, ImmutableArray<string> Added);

/// <summary>A finding on a tunnel, as a plan lists it.</summary>
public sealed record FindingOn(string TunnelId, string TunnelCode, Finding Finding);

/// <summary>A value that approval rests on: when it differs later, approval lapses.</summary>
public sealed record RestsOn(string RecordId, RecordKind Kind, string Path, Node? Value);

/// <summary>What the core worked out for a change: the same wish from the same records gives the same plan.</summary>
public sealed record Plan(
    ImmutableArray<VerdictPart> Verdict, ImmutableArray<SubnetPair> NewPairs, ImmutableArray<BeforeAfter> Differs, ImmutableArray<Edit> Edits, ImmutableArray<Step> Steps,
    ImmutableArray<FindingOn> Added, ImmutableArray<FindingOn> Removed, ImmutableArray<FindingOn> Standing, ImmutableArray<RestsOn> RestsOn)
{
    public int Minutes => Steps.Sum(s => s.Minutes);

    /// <summary>What undoes the given steps, last first.</summary>
    public IEnumerable<Step> WayBack(Func<Step, bool>? done = null) => Steps.Where(s => s.Undo is not null && (done?.Invoke(s) ?? true)).Reverse();

    /// <summary>The blocking findings that the change itself adds: they stand in its way (PLAN-03).</summary>
    public IEnumerable<FindingOn> InTheWay => Added.Where(f => f.Finding.Severity == Severity.Blocks);
}

/// <summary>Why a wish cannot be planned: the code of the finding where there is one, the field, and the sentences.</summary>
public sealed record Refusal(string? Code, string Field, Sentence Wrong, Sentence Right);

/// <summary>A plan, or the reasons why there is none.</summary>
public sealed record Planned(Plan? Plan, ImmutableArray<Refusal> Refused)
{
    public static Planned No(IEnumerable<Refusal> refused) => new(null, [.. refused]);
}

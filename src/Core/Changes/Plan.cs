using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>One line of before and after, for reading.</summary>
/// <param name="End">The end; null when it concerns both.</param>
/// <param name="What">What differs.</param>
/// <param name="Before">How it stands now.</param>
/// <param name="After">How it will stand.</param>
/// <param name="Added">What of it is new, item by item.</param>
public sealed record BeforeAfter(EndName? End, string What, string Before, string After, ImmutableArray<string> Added);

/// <summary>A finding on a tunnel, as a plan lists it.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="TunnelCode">The tunnel as people name it.</param>
/// <param name="Finding">The finding itself.</param>
/// <param name="Was">How grave the same finding was before, where the change alters only that.</param>
public sealed record FindingOn(string TunnelId, string TunnelCode, Finding Finding, Severity? Was = null);

/// <summary>A value that approval rests on: when it differs later, approval lapses.</summary>
/// <param name="At">Where the value is recorded.</param>
/// <param name="Value">As it is written there now; null when nothing is.</param>
public sealed record RestsOn(Place At, Node? Value);

/// <summary>A value that nobody knows yet: where it will be recorded, who will know it, and by when.</summary>
/// <param name="At">Where it will be recorded.</param>
/// <param name="Label">What it is called in steps.</param>
/// <param name="WhoKnows">Who will know it; null when nobody is named.</param>
/// <param name="By">Until which day it should be known; null when none is named.</param>
public sealed record PendingAt(Place At, string Label, string? WhoKnows, DateOnly? By);

/// <summary>A value of the plan that nobody knows yet.</summary>
/// <param name="At">Where it will be recorded, and who will know it.</param>
/// <param name="Steps">The keys of the steps that cannot begin before it is filled.</param>
public sealed record PendingValue(PendingAt At, ImmutableArray<string> Steps)
{
    /// <summary>Its number in the change, 1 for the first; it stays when others are filled in.</summary>
    public int Number { get; init; }
}

/// <summary>A value that a tunnel needs at an end, and that stays unknown with the plan.</summary>
/// <param name="TunnelCode">The tunnel as people name it.</param>
/// <param name="End">The end that needs it.</param>
/// <param name="What">What it is, as it is called in sentences.</param>
public sealed record UnknownValue(string TunnelCode, EndName End, string What);

/// <summary>A tunnel that the change is not about, and how it is touched.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="TunnelCode">The tunnel as people name it.</param>
/// <param name="How">What happens to it, as one sentence.</param>
public sealed record Touched(string TunnelId, string TunnelCode, Sentence How);

/// <summary>How long a tunnel carries nothing.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="TunnelCode">The tunnel as people name it.</param>
/// <param name="Seconds">Null when a profile does not say.</param>
/// <param name="Says">Why, and for how long, as one sentence.</param>
public sealed record Interruption(string TunnelId, string TunnelCode, int? Seconds, Sentence Says);

/// <summary>What a tunnel does before and after, rehearsed from both sides and said as on its page.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="TunnelCode">The tunnel as people name it.</param>
/// <param name="Before">The verdict on the records as they are.</param>
/// <param name="After">The verdict on the records as the plan would leave them.</param>
public sealed record Rehearsed(
    string TunnelId,
    string TunnelCode,
    ImmutableArray<VerdictPart> Before,
    ImmutableArray<VerdictPart> After
);

/// <summary>What becomes of a setting on another platform.</summary>
public enum Carries
{
    /// <summary>It stays as it is.</summary>
    Kept,

    /// <summary>It becomes another value.</summary>
    Changed,

    /// <summary>The platform has nothing for it.</summary>
    Impossible,
}

/// <summary>One setting carried to another platform: kept, changed to what and why, or impossible.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="TunnelCode">The tunnel as people name it.</param>
/// <param name="End">The end at which the platform changes.</param>
/// <param name="What">The setting, as it is called in sentences.</param>
/// <param name="Before">Its value on the old platform; null when there is none.</param>
/// <param name="After">Its value on the new one; null when there is none.</param>
/// <param name="Carries">Whether it is kept, changed, or cannot be carried.</param>
/// <param name="Why">What speaks for that.</param>
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

/// <summary>A version of a tunnel's key that a change needs.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="Version">The version to make, from 1.</param>
/// <param name="Replaces">The versions in use until then.</param>
public sealed record KeyVersion(string TunnelId, int Version, ImmutableArray<int> Replaces);

/// <summary>
/// What the core worked out for a change: the same request from the same records gives the same plan.
/// </summary>
public sealed record Plan
{
    /// <summary>What an expert would say of it first.</summary>
    public ImmutableArray<VerdictPart> Verdict { get; init; } = [];

    /// <summary>The subnet pairs that reach each other afterwards and did not before.</summary>
    public ImmutableArray<SubnetPair> NewPairs { get; init; } = [];

    /// <summary>What is otherwise afterwards, line by line.</summary>
    public ImmutableArray<BeforeAfter> Differs { get; init; } = [];

    /// <summary>The edits of the records, in the order in which they are carried out.</summary>
    public ImmutableArray<Edit> Edits { get; init; } = [];

    /// <summary>The steps, in the order in which they are worked.</summary>
    public ImmutableArray<Step> Steps { get; init; } = [];

    /// <summary>The findings that it brings.</summary>
    public ImmutableArray<FindingOn> Added { get; init; } = [];

    /// <summary>The findings that it removes.</summary>
    public ImmutableArray<FindingOn> Removed { get; init; } = [];

    /// <summary>The findings that stay.</summary>
    public ImmutableArray<FindingOn> Standing { get; init; } = [];

    /// <summary>The values that approval rests on.</summary>
    public ImmutableArray<RestsOn> RestsOn { get; init; } = [];

    /// <summary>The values that nobody knows yet.</summary>
    public ImmutableArray<PendingValue> Pending { get; init; } = [];

    /// <summary>
    /// The values without which its tunnels cannot be built or told to work, and that nobody recorded.
    /// </summary>
    public ImmutableArray<UnknownValue> Unknown { get; init; } = [];

    /// <summary>The tunnels that it is not about and that are affected.</summary>
    public ImmutableArray<Touched> Touches { get; init; } = [];

    /// <summary>How long its tunnels carry nothing.</summary>
    public ImmutableArray<Interruption> Interruptions { get; init; } = [];

    /// <summary>The plan carried out on model devices.</summary>
    public Play Play { get; init; } = Play.None;

    /// <summary>What its tunnels do before and after.</summary>
    public ImmutableArray<Rehearsed> Rehearsals { get; init; } = [];

    /// <summary>The settings that are carried to another platform.</summary>
    public ImmutableArray<Translated> Translations { get; init; } = [];

    /// <summary>The versions of keys that it brings into use, by tunnel.</summary>
    public ImmutableArray<KeyVersion> Keys { get; init; } = [];

    /// <summary>How long its steps take together, in minutes.</summary>
    public int Minutes => Steps.Sum(s => s.Minutes);

    /// <summary>What undoes the given steps, last first.</summary>
    public IEnumerable<Step> WayBack(Func<Step, bool>? done = null) =>
        Steps.Where(s => s.Undo is not null && (done?.Invoke(s) ?? true)).Reverse();

    /// <summary>The blocking findings that the change itself adds: they stand in its way (PLAN-03).</summary>
    public IEnumerable<FindingOn> InTheWay => Added.Where(f => f.Finding.Severity == Severity.Blocks);

    /// <summary>The plan with its pending values numbered as they were; a new one gets the next free number.</summary>
    /// <param name="had">The values that had a number before, pending or filled in.</param>
    public Plan Numbered(params IReadOnlyList<(Place At, int Number)> had)
    {
        var next = had.Select(h => h.Number).DefaultIfEmpty(0).Max();
        return this with
        {
            Pending =
            [
                .. Pending.Select(p =>
                    p with
                    {
                        Number = had.FirstOrDefault(h => h.At == p.At.At) is { Number: > 0 } known
                            ? known.Number
                            : ++next,
                    }
                ),
            ],
        };
    }

    /// <summary>The step with a key; null when there is none.</summary>
    public Step? StepOf(string key) => Steps.FirstOrDefault(s => s.Key == key);

    /// <summary>The number of a step as it is shown, 1 for the first; 0 when there is none with that key.</summary>
    public int NumberOf(string key)
    {
        for (var i = 0; i < Steps.Length; i++)
            if (Steps[i].Key == key)
                return i + 1;
        return 0;
    }
}

/// <summary>Why a request cannot be planned.</summary>
/// <param name="Code">The code of the finding, where there is one.</param>
/// <param name="Field">The field of the request.</param>
/// <param name="Wrong">What is wrong.</param>
/// <param name="Right">What would be right.</param>
public sealed record Refusal(string? Code, string Field, Sentence Wrong, Sentence Right);

/// <summary>A plan, or the reasons why there is none.</summary>
/// <param name="Plan">The plan; null when there is none.</param>
/// <param name="Refused">Why there is none; empty when there is one.</param>
public sealed record Planned(Plan? Plan, ImmutableArray<Refusal> Refused)
{
    /// <summary>The plan that was made.</summary>
    public static Planned Yes(Plan plan) => new(plan, []);

    /// <summary>There is none, for these reasons.</summary>
    public static Planned No(params IEnumerable<Refusal> refused) => new(null, [.. refused]);
}

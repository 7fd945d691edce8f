using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>
/// One plan of several: steps in the order of their parts, each with its tunnel's code; edits one after the other.
/// </summary>
internal sealed class JoinedPlan(
    Inventory before,
    Inventory after,
    IReadOnlyList<(string TunnelId, Plan Plan)> parts,
    DateOnly today
)
{
    private readonly string[] tunnelIds = [.. parts.Select(p => p.TunnelId).Distinct()];
    private readonly List<Edit> edits = [];
    private readonly List<Step> steps = [];
    private readonly HashSet<(StepKind, string)> once = [];

    public Plan Make(CancellationToken ct)
    {
        for (var i = 0; i < parts.Count; i++)
            Take(i);
        foreach (var activation in steps.Where(s => s.Kind == StepKind.Activate).ToArray())
            ActivateAll(activation);
        steps.Add(parts[^1].Plan.Steps.First(s => s.Kind == StepKind.Close) with { TunnelId = null });
        var moving = tunnelIds.Select(id => new TunnelStages(View(before, id), View(after, id))).ToArray();
        var judged = PlanOutcome.Of(before, after, moving, ct);
        return new()
        {
            Verdict =
            [
                .. parts.Where((_, i) => !IsToldLater(i)).Select(p => p.Plan.Verdict[0]),
                .. parts.SelectMany(p => p.Plan.Verdict.Skip(1)).DistinctBy(v => (v.Tone, v.Says.ToString())),
            ],
            NewPairs = [.. parts.SelectMany(p => p.Plan.NewPairs)],
            Differs = [.. parts.SelectMany(Differs).GroupBy(d => (d.End, d.What)).Select(g => Whole([.. g]))],
            Edits = [.. edits],
            Steps = [.. steps.OrderBy(s => s.Part)],
            Added = judged.Added,
            Removed = judged.Removed,
            Standing = judged.Standing,
            RestsOn = [.. parts.SelectMany(p => p.Plan.RestsOn).DistinctBy(r => r.At)],
            Rehearsals = judged.Rehearsals,
            Interruptions = [.. parts.SelectMany(p => p.Plan.Interruptions).DistinctBy(i => i.TunnelId)],
            Touches =
            [
                .. parts
                    .SelectMany(p => p.Plan.Touches)
                    .Where(t => !tunnelIds.Contains(t.TunnelId))
                    .DistinctBy(t => t.TunnelId),
            ],
        };
    }

    private TunnelView View(Inventory inventory, string id) => new(inventory, inventory.Get<Tunnel>(id), today);

    private string CodeOf(string tunnelId) => before.Get<Tunnel>(tunnelId).Code;

    private IEnumerable<BeforeAfter> Differs((string TunnelId, Plan Plan) part) =>
        tunnelIds.Length == 1
            ? part.Plan.Differs
            : part.Plan.Differs.Select(d => d with { What = $"{CodeOf(part.TunnelId)} {d.What}" });

    /// <summary>
    /// A tunnel that gets subnets at both ends is told once, by its last part, which counts all its pairs.
    /// </summary>
    private bool IsToldLater(int index) =>
        !parts[index].Plan.NewPairs.IsEmpty
        && parts.Skip(index + 1).Any(p => p.TunnelId == parts[index].TunnelId && !p.Plan.NewPairs.IsEmpty);

    /// <summary>
    /// What several parts do to one value, one after the other, is one line from the first to the last.
    /// </summary>
    private static BeforeAfter Whole(BeforeAfter[] steps) =>
        steps[^1] with
        {
            Before = steps[0].Before,
            Added = [.. steps.SelectMany(s => s.Added).Distinct()],
        };

    private void Take(int index)
    {
        var (id, plan) = parts[index];
        var again = parts.Take(index).Count(p => p.TunnelId == id);
        string Named(string key) => $"{key}-{CodeOf(id)}{(again > 0 ? $"-{again + 1}" : "")}";
        foreach (var step in plan.Steps.Where(s => IsWanted(s, again > 0)))
            steps.Add(
                step with
                {
                    Key = Named(step.Key),
                    Edits = [.. step.Edits.Select(e => e + edits.Count)],
                    Needs = [.. step.Needs.Select(Named)],
                    TunnelId = step.TunnelId ?? id,
                }
            );
        edits.AddRange(plan.Edits);
    }

    /// <summary>A gateway is saved, tried and activated once, and the whole is closed once.</summary>
    private bool IsWanted(Step step, bool tunnelAgain)
    {
        if (step.Kind == StepKind.Close)
            return false;
        // A second look at the same tunnel would count what the first part of the plan has just added.
        if (tunnelAgain && step is { Kind: StepKind.Prove, Gateway: null, TunnelId: null })
            return false;
        return step.Kind
                is not (StepKind.ManagementAccess or StepKind.SaveBefore or StepKind.SaveAfter or StepKind.Activate)
            || once.Add((step.Kind, step.Gateway!));
    }

    /// <summary>
    /// Who activates once activates what every tunnel of the change entered there, after the last of it.
    /// </summary>
    private void ActivateAll(Step activation)
    {
        var end = activation.Where == Where.A ? EndName.A : EndName.B;
        var on = tunnelIds
            .Select(id => View(before, id))
            .Where(v => v.End(end).Gateway.Code == activation.Gateway)
            .ToArray();
        var at = steps.IndexOf(activation);
        steps.RemoveAt(at);
        var last = steps.FindLastIndex(s => s.Part == Part.Switch && s.Gateway == activation.Gateway);
        steps.Insert(
            Math.Max(last + 1, at),
            activation with
            {
                TunnelId = on.Length > 1 ? null : activation.TunnelId,
                Do = StepWords.Activate(
                    on[0].End(end),
                    [.. on.Select(v => v.Tunnel)],
                    adds: parts.All(p => !p.Plan.NewPairs.IsEmpty)
                ),
                Needs =
                [
                    .. steps.Where(s => s.Part == Part.Build && s.Gateway == activation.Gateway).Select(s => s.Key),
                ],
            }
        );
    }
}

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>Pending values that are filled in.</summary>
public static partial class ChangeLife
{
    /// <summary>
    /// Takes up the plan in which a pending value stands. Approval stays: the plan it approved said that it would be
    /// filled. What was worked stays as it was said.
    /// </summary>
    /// <param name="plan">The plan, computed with the value.</param>
    /// <param name="filled">Which value.</param>
    /// <param name="value">What it is.</param>
    public static Next<Change> Fill(
        Change c,
        Plan plan,
        PendingValue filled,
        string value,
        string by,
        DateTimeOffset at
    )
    {
        if (Stop(ChangeAct.Fill, c, by) is { } stopped)
            return stopped;
        var asked = c.Plan.Steps.FirstOrDefault(s => s.Fills == filled.At.At);
        return Yes(
            c with
            {
                Plan = plan with { Steps = WithWorked(c, plan) },
                Attempts = asked is null
                    ? c.Attempts
                    : c.Attempts.Add(new(asked.Key, Outcome.Done, by, at, $"filled in: {value}", null)),
            }
        );
    }

    /// <summary>The steps of the new plan, with what was worked as it was said then.</summary>
    private static ImmutableArray<Step> WithWorked(Change c, Plan plan)
    {
        var worked = c.Plan.Steps.Where(s => c.LastAttempt(s.Key) is not null).ToDictionary(s => s.Key);
        var steps = plan
            .Steps.Select(s =>
                worked.TryGetValue(s.Key, out var then)
                    ? s with
                    {
                        Do = then.Do,
                        Enter = then.Enter,
                        Minutes = then.Minutes,
                    }
                    : s
            )
            .ToList();
        // Under way, what comes before the work is past: a number that somebody has read does not move any more.
        var before = c.Plan.Steps.Select(s => s.Key).ToHashSet();
        if (c.State == ChangeState.UnderWay)
            steps.RemoveAll(s => s.Part is Part.Prepare or Part.Safeguard && !before.Contains(s.Key));
        // The step that asked for it was in the plan, and stays there as done.
        for (var i = 0; i < c.Plan.Steps.Length; i++)
        {
            var old = c.Plan.Steps[i];
            if (steps.All(n => n.Key != old.Key) && (old.Kind == StepKind.FillIn || worked.ContainsKey(old.Key)))
                steps.Insert(Math.Min(i, steps.Count), old with { Edits = [] });
        }

        return [.. steps];
    }
}

using Vellumkeep.Core.Changes.Lifecycle;
using Vellumkeep.Core.Findings;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// What is wrong with a plan or worth knowing before it is worked: a code, how much it weighs, what, and what to do.
/// </summary>
public sealed record PlanFinding(string Code, Severity Severity, Sentence What, Sentence Do);

/// <summary>PLAN-01 to PLAN-11: what a reviewer would look for in a plan.</summary>
public static class PlanChecks
{
    /// <param name="others">The other open changes that share a tunnel or a gateway with it.</param>
    /// <param name="house">The provider itself, whose freezes hold for every change; null when none is named.</param>
    public static ImmutableArray<PlanFinding> Run(
        Change c,
        Inventory now,
        IReadOnlyList<Change> others,
        IReadOnlyList<RestsOn> moved,
        Customer? house = null
    )
    {
        var found = new List<PlanFinding>();
        void Add(string code, Severity severity, Sentence what, Sentence does) =>
            found.Add(new(code, severity, what, does));
        var tunnels = c.Wish.Tunnels.Select(now.Find<Tunnel>).OfType<Tunnel>().ToArray();
        var gateways = GatewaysOf(c, now).ToHashSet();
        foreach (var other in others)
            Add(
                "PLAN-01",
                Severity.Degrades,
                $"{other.Code:w}, {Change.States.Of(other.State):w}, is about the same {(other.Wish.Tunnels.Intersect(c.Wish.Tunnels).Any() ? "tunnel" : "gateway"):w}: {other.Title:w}.",
                $"Agree who goes first; the second is recomputed."
            );
        if (c.Window is { } window)
        {
            var concerned = tunnels
                .SelectMany(t => new[] { t.CustomerId, Owner(now, t.A), Owner(now, t.B) })
                .Concat(c.Wish.Gateways.Select(g => Owner(now, g)))
                .Distinct()
                .Select(now.Find<Customer>)
                .OfType<Customer>()
                .Where(o => o.Id != house?.Id);
            foreach (
                var (owner, of) in concerned
                    .Select(o => (o, o.Name))
                    .Concat(house is null ? [] : [(house, $"the house, {house.Name}")])
            )
            {
                // A freeze is days on the calendar of whoever set it.
                var (from, to) = WallTime.Days(window, WallTime.Zone(owner.TimeZone));
                foreach (var freeze in owner.Freezes.Where(f => from <= f.To && to >= f.From))
                    Add(
                        "PLAN-02",
                        Severity.Degrades,
                        $"The window falls into the freeze of {of:w}, {Scalars.Write(freeze.From)} to {Scalars.Write(freeze.To)}: {freeze.Why:w}.",
                        $"Another window, or have {owner.Name:w} agree."
                    );
            }

            foreach (
                var other in others.Where(o =>
                    o.Window is { } w
                    && w.Start < window.Start.AddMinutes(window.Minutes)
                    && window.Start < w.Start.AddMinutes(w.Minutes)
                    && GatewaysOf(o, now).Any(gateways.Contains)
                )
            )
                Add(
                    "PLAN-02",
                    Severity.Degrades,
                    $"The window meets that of {other.Code:w} on {Say.And(GatewaysOf(other, now).Where(gateways.Contains).Select(id => now.Find<Gateway>(id)?.Code).OfType<string>()):w}.",
                    $"Move one of the two."
                );
            if (c.Plan.Minutes > window.Minutes)
                Add(
                    "PLAN-06",
                    Severity.Degrades,
                    $"The steps take {c.Plan.Minutes} minutes, the window has {window.Minutes}.",
                    $"A longer window, or do the preparing before it."
                );
            foreach (var i in c.Plan.Interruptions.Where(i => i.Seconds > window.Minutes * 60))
                Add(
                    "PLAN-06",
                    Severity.Degrades,
                    $"{i.Says} The window has {window.Minutes} minutes.",
                    $"A longer window."
                );
        }

        foreach (var f in c.Plan.InTheWay)
            Add(
                "PLAN-03",
                Severity.Blocks,
                $"It would add a finding that blocks: {f.Finding.Code:w} on {f.TunnelCode}: {f.Finding.What}",
                f.Finding.Do
            );
        foreach (var (p, i) in c.Plan.Pending.Select((p, i) => (p, i)))
            Add(
                "PLAN-04",
                Severity.Blocks,
                $"The {p.At.Label:w} is pending{(p.At.WhoKnows is { } who ? $": {who} will know it" : ""):w}{(p.At.By is { } by ? $", by {Scalars.Write(by)}" : ""):w}; {Say.Count(p.Steps.Length, "step"):w} {(p.Steps.Length == 1 ? "waits" : "wait"):w} for it.",
                $"Fill it in: vellumkeep change fill {c.Code} {i + 1} <value>."
            );
        foreach (
            var step in c.Plan.Steps.Where(s =>
                s.NoReturn
                || (
                    s.Part is Part.Build or Part.Switch
                    && s.Undo is null
                    && (s.Enter.Length > 0 || s.TakeOut.Length > 0 || s.Stops is not null)
                )
            )
        )
            Add(
                "PLAN-05",
                Severity.Risk,
                $"Step {c.Plan.Steps.IndexOf(step) + 1} has no way back: {step.Do}",
                $"Do everything that can still be undone before it, and keep the saved configuration at hand."
            );
        if (moved.Count > 0)
            Add(
                "PLAN-07",
                Severity.Blocks,
                $"What it rests on has moved: {Say.And(moved.Take(4).Select(m => m.At.Path.ToString())):w}.",
                $"Recompute it; it goes back to review."
            );
        foreach (var t in c.Plan.Touches)
            Add("PLAN-09", Severity.Note, t.How, $"Tell whoever uses it, or choose a time when nobody does.");
        foreach (var id in gateways)
            if (
                now.Find<Gateway>(id) is { WayIn: { OtherWay: null } way } gateway
                && tunnels.FirstOrDefault(t => way.By.Contains(t.Code, StringComparison.OrdinalIgnoreCase))
                    is { } through
                && c.Plan.Steps.Any(s =>
                    s.Part is Part.Build or Part.Switch
                    && (s.Stops is not null || s.TakeOut.Length > 0)
                    && (s.TunnelId is null || s.TunnelId == through.Id)
                )
            )
                Add(
                    "PLAN-10",
                    Severity.Blocks,
                    $"{gateway.Code} can be reached through {through} only, and the work stops it.",
                    $"Arrange another way in before the window, and record it on {gateway.Code}."
                );
        foreach (var (step, between) in AlteredTogether(c))
            Add(
                "PLAN-11",
                Severity.Note,
                $"Between two attempts at step {step} of {c.Code}, {between.Length} things were altered: {Say.And(between):w}. Which of them mattered is not known.",
                $"Undo what proved needless; alter one thing, then try."
            );
        return [.. found.OrderBy(f => f.Severity)];
    }

    /// <summary>The gateways on which a change is worked.</summary>
    public static IEnumerable<string> GatewaysOf(Change c, Inventory now) =>
        c
            .Wish.Gateways.Concat(
                c.Wish.Tunnels.Select(now.Find<Tunnel>)
                    .OfType<Tunnel>()
                    .SelectMany(t => new[] { t.A.GatewayId, t.B.GatewayId })
            )
            .Distinct();

    /// <summary>
    /// What was altered between a failed attempt at a step and the next one, where that was more than one thing.
    /// </summary>
    private static IEnumerable<(int Step, ImmutableArray<string> Altered)> AlteredTogether(Change c)
    {
        var numbers = c.Plan.Steps.Select((s, i) => (s.Key, Number: i + 1)).ToDictionary(s => s.Key, s => s.Number);
        for (var i = 0; i < c.Ticks.Length; i++)
        {
            var failed = c.Ticks[i];
            var next = c.Ticks.ToList().FindIndex(i + 1, t => t.StepKey == failed.StepKey);
            if (failed.Outcome != Outcome.Failed || next < 0 || !numbers.TryGetValue(failed.StepKey, out var number))
                continue;
            // An alteration is a value set otherwise, or a step worked over again.
            var altered = c
                .Ticks.Skip(i + 1)
                .Take(next - i)
                .Where(t =>
                    t.Deviation is not null
                    || (t.StepKey != failed.StepKey && c.Ticks.Take(i).Any(b => b.StepKey == t.StepKey))
                )
                .Select(t =>
                    t.Deviation is { } d
                        ? $"step {numbers.GetValueOrDefault(t.StepKey)} set to {d.Set}"
                        : $"step {numbers.GetValueOrDefault(t.StepKey)} over again"
                )
                .Distinct()
                .ToImmutableArray();
            if (altered.Length > 1)
                yield return (number, altered);
        }
    }

    private static string Owner(Inventory now, TunnelEnd end) => Owner(now, end.GatewayId);

    private static string Owner(Inventory now, string gatewayId) =>
        now.Find<Site>(now.Find<Gateway>(gatewayId)?.SiteId)?.CustomerId ?? "";
}

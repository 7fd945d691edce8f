using Vellumkeep.Core.Changes.Platforms;
using Vellumkeep.Core.Findings;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What a plan does to gateways that others stand on too.</summary>
public static partial class PlanChecks
{
    /// <summary>Work on a tunnel through which alone one of its gateways is managed.</summary>
    private static IEnumerable<PlanFinding> CutOff(Checked about)
    {
        foreach (var gateway in about.Gateways.Select(about.Now.Find<Gateway>).OfType<Gateway>())
        {
            if (gateway.ManagementAccess is not { OutOfBand: null })
                continue;
            var through = about.Tunnels.FirstOrDefault(gateway.IsManagedThrough);
            if (through is not null && about.Plan.Play.Interrupts(through.Id))
                yield return new(
                    PlanCheck.ManagementCut.Code,
                    Severity.Blocks,
                    $"{gateway.Code} is managed only through {through}, and the work interrupts it.",
                    $"Arrange out-of-band access before the window, and record it on {gateway.Code}."
                );
        }
    }

    private static IEnumerable<PlanFinding> Together(Checked about) =>
        AlteredTogether(about.Change)
            .Select(a => new PlanFinding(
                PlanCheck.AlteredTogether.Code,
                Severity.Note,
                $"Between two attempts at step {a.Step} of {about.Change.Code}, {a.Altered.Length} things were "
                    + $"altered: {Say.And(a.Altered):w}. Unknown which of them made the difference.",
                $"Undo what was not needed. Alter one thing at a time, then try."
            ));

    /// <summary>The gateways on which a change is worked.</summary>
    public static IEnumerable<string> GatewaysOf(Change c, Inventory now) =>
        c
            .Request.Gateways.Concat(
                c.Request.Tunnels.Select(now.Find<Tunnel>)
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
        var attempts = c.Attempts.Where(t => t.Counts).ToList();
        for (var i = 0; i < attempts.Count; i++)
        {
            var failed = attempts[i];
            var next = attempts.FindIndex(i + 1, t => t.StepKey == failed.StepKey);
            if (
                failed.Outcome != AttemptOutcome.Failed
                || next < 0
                || !numbers.TryGetValue(failed.StepKey, out var number)
            )
                continue;
            // An alteration is a value set otherwise, or a step worked over again.
            var altered = attempts
                .Skip(i + 1)
                .Take(next - i)
                .Where(t =>
                    t.Deviation is not null
                    || (t.StepKey != failed.StepKey && attempts.Take(i).Any(b => b.StepKey == t.StepKey))
                )
                .Select(t =>
                    t.Deviation is { } d
                        ? $"step {numbers.GetValueOrDefault(t.StepKey)} set to {d.Set}"
                        : $"step {numbers.GetValueOrDefault(t.StepKey)} repeated"
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

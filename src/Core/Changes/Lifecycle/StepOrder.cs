using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>
/// What a step waits for. Building waits until preparing and safeguarding are settled, the switch until both ends are
/// built, proof until the switch, and what is withdrawn and saved until the proof: each within its tunnel, and what is
/// about all tunnels for all of them. A key waits until it is made, and a value until it is known.
/// </summary>
public static class StepOrder
{
    /// <summary>Why a step cannot be recorded as done yet; null when it can.</summary>
    /// <param name="c">The change as it stands.</param>
    /// <param name="step">The step that is to be worked.</param>
    /// <param name="made">The versions of keys that exist.</param>
    public static Refused? Waits(Change c, Step step, IReadOnlySet<VersionOfKey> made) =>
        ForValue(c, step) ?? ForFilling(c, step) ?? ForKey(c, step, made) ?? ForStep(c, step);

    /// <summary>The versions of keys that a step makes or enters and that the change brings.</summary>
    internal static IEnumerable<KeyVersion> KeysOf(Change c, Step step)
    {
        var ofTunnel = c.Plan.Keys.Where(k => k.TunnelId == step.TunnelId);
        if (step.Kind == StepKind.MakeKey)
            return ofTunnel.Where(k => k.Version == step.Makes);
        return step.Enter.Any(EntersKey) ? ofTunnel : [];
    }

    private static bool EntersKey(StepValue value) =>
        value.At is { Kind: RecordKind.Tunnel } at
        && TunnelPaths.EndOf(at.Path) is { } end
        && at.Path.IsWithin(TunnelPaths.Of(end).KeyHeld);

    private static Refused? ForValue(Change c, Step step)
    {
        var waits = step.Enter.Select(v => v.Waits).OfType<Place>().ToArray();
        return c.Plan.Pending.FirstOrDefault(p => waits.Contains(p.At.At)) is { } pending
            ? new(
                PlanCheck.ValuePending.Code,
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} needs the {pending.At.Label:w}, which is "
                    + $"pending{(pending.At.WhoKnows is { } who ? $" from {who}" : ""):w}.",
                FillIn(c, pending)
            )
            : null;
    }

    private static Refused? ForFilling(Change c, Step step) =>
        step.Fills is { } at && c.Plan.Pending.FirstOrDefault(p => p.At.At == at) is { } pending
            ? new(
                PlanCheck.ValuePending.Code,
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} is done when the {pending.At.Label:w} is filled in.",
                FillIn(c, pending)
            )
            : null;

    private static Sentence FillIn(Change c, PendingValue pending) =>
        $"Fill it in first: vellumkeep change fill {c.Code} {pending.Number} <value>.";

    private static Refused? ForKey(Change c, Step step, IReadOnlySet<VersionOfKey> made) =>
        KeysOf(c, step).FirstOrDefault(k => !made.Contains(new(k.TunnelId, k.Version))) is { } key
            ? new(
                null,
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} needs key version {key.Version} of "
                    + $"{CodeOf(c, key)}, which nobody has made.",
                $"Make it first: vellumkeep key make {CodeOf(c, key)} --change {c.Code}. If the other party made it, "
                    + $"add --made-by."
            )
            : null;

    private static string CodeOf(Change c, KeyVersion key) =>
        c.Plan.Rehearsals.FirstOrDefault(r => r.TunnelId == key.TunnelId)?.TunnelCode ?? "the tunnel";

    private static Refused? ForStep(Change c, Step step) =>
        FirstOpen(c, step) is { } need
            ? new(
                null,
                $"Step {c.Plan.NumberOf(step.Key)} of {c.Code} needs step {c.Plan.NumberOf(need.Key)} first.",
                $"Do that step first, or skip it with a reason."
            )
            : null;

    private static Step? FirstOpen(Change c, Step step) =>
        c.Plan.Steps.FirstOrDefault(other => NeedsFirst(c, step, other) && !c.IsSettled(other));

    /// <summary>Whether a step can be done only after another.</summary>
    internal static bool NeedsFirst(Change c, Step step, Step other) =>
        step.Needs.Contains(other.Key) || IsBefore(c.Plan, other, step);

    private static bool IsBefore(Plan plan, Step other, Step step) =>
        PartsBefore(step).Contains(other.Part)
        // A value that is pending holds up the steps that enter it, and no other.
        && other.Kind != StepKind.FillIn
        && (step.TunnelId is null || other.TunnelId is null || Concerns(plan, other, step.TunnelId));

    private static Part[] PartsBefore(Step step) =>
        step.Part switch
        {
            Part.Build => [Part.Prepare, Part.Safeguard],
            Part.Switch => [Part.Prepare, Part.Safeguard, Part.Build],
            Part.Prove => [Part.Build, Part.Switch],
            Part.Record => [Part.Build, Part.Switch, Part.Prove],
            _ => [],
        };

    /// <summary>
    /// A step is about its tunnel, and what is done to a whole gateway about every tunnel worked there.
    /// </summary>
    private static bool Concerns(Plan plan, Step step, string tunnelId)
    {
        if (step.TunnelId == tunnelId)
            return true;
        var ofGateway =
            step.Kind
            is StepKind.Activate
                or StepKind.SaveBefore
                or StepKind.ManagementAccess
                or StepKind.MoveAddress
                or StepKind.Cut;
        return ofGateway && plan.Steps.Any(s => s.TunnelId == tunnelId && s.Gateway == step.Gateway);
    }
}

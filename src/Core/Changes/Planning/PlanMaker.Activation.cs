using Vellumkeep.Core.Changes.Playing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What switches on what was entered: activations, SAs that are cleared, uplinks that go down and up.</summary>
internal sealed partial class PlanMaker
{
    /// <summary>A gateway is activated once, for every tunnel of the change that ends there.</summary>
    private void Activate(EndWork work, List<Step> late)
    {
        var end = work.End;
        var alone = EndsCloseTogether && !work.Adds;
        if (!activated.Add(alone ? $"{end.Gateway.Id} {work.Tunnel.Then.Tunnel.Id}" : end.Gateway.Id))
            return;
        // A device that is put in the place of another carries nothing yet.
        var idle = work.Tunnel.Fresh(end.Name) && work.Tunnel.Runs;
        late.Add(
            Activating(
                end,
                idle ? Part.Build : Part.Switch,
                alone ? $"activate-{end.Gateway.Code}-{work.Tunnel.Then.Tunnel.Code}" : $"activate-{end.Gateway.Code}",
                idle
            )
        );
    }

    private Step Activating(EndView end, Part part, string key, bool idle)
    {
        var minutes = 1 + ((end.Platform.EffectSeconds ?? 0) / 60);
        if (!idle)
            told[key] = StayingUp;
        return StepWords.At(end, StepKind.Activate, part, key, minutes, Activation(end, idle)) with
        {
            Undo = $"Restore the entries on {end.Gateway.Code}, then activate again.",
        };
    }

    private static Sentence Activation(EndView end, bool idle) =>
        idle
            ? $"Check that nobody else's entries wait on {end.Gateway.Code}, then activate. Expect no error; the "
                + $"{end.Platform.Title:w} carries no traffic yet."
            : Sentence.Of($"Check that nobody else's entries wait on {end.Gateway.Code}, then activate.");

    /// <summary>An activation that takes nothing from the tunnels that run says so.</summary>
    private static Step StayingUp(Step step, Player played) =>
        step.Stops is null && played.CarriedOn(step)
            ? step with
            {
                Do = $"{step.Do} Expect every tunnel to stay up.",
            }
            : step;

    /// <summary>SAs that stand go on with what they were negotiated with, until they are cleared.</summary>
    private Step Clear(EndWork work)
    {
        var step = StepWords.At(
            work.End,
            StepKind.Clear,
            Part.Switch,
            work.Key("clear"),
            1,
            $"Clear the old SAs of {work.Tunnel.Then.Tunnel} on {work.End.Gateway.Code}."
        );
        Deeds.Clear(step.Key, work.Tunnel.Then.Tunnel.Id);
        return step;
    }

    private static Step Bounce(EndWork work) =>
        StepWords.At(
            work.End,
            StepKind.BounceUplink,
            Part.Switch,
            work.Key("bounce"),
            2,
            $"Take the uplink {work.End.Uplinks.FirstOrDefault()?.Label ?? "outside"} of {work.End.Gateway.Code} "
                + $"down and up. The device takes in a new tunnel only then."
        );

    /// <summary>An activation takes in what every tunnel entered on that gateway.</summary>
    private static Step Needing(Step step, IEnumerable<Step> entered) =>
        step.Kind != StepKind.Activate
            ? step
            : step with
            {
                Needs =
                [
                    .. entered
                        .Where(s => s.Gateway == step.Gateway && s.Kind != StepKind.Activate)
                        .Where(s => s.Part == Part.Build || (s.Kind == StepKind.Enter && s.TunnelId == step.TunnelId))
                        .Select(s => s.Key),
                ],
            };
}

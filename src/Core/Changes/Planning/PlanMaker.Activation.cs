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
            StepWords.At(
                end,
                StepKind.Activate,
                idle ? Part.Build : Part.Switch,
                alone ? $"activate-{end.Gateway.Code}-{work.Tunnel.Then.Tunnel.Code}" : $"activate-{end.Gateway.Code}",
                1 + ((end.Platform.EffectSeconds ?? 0) / 60),
                Activation(work, idle, alone)
            ) with
            {
                Stops = idle ? null : work.Stops,
                Undo = $"Restore the entries on {end.Gateway.Code}, then activate again.",
            }
        );
    }

    private Sentence Activation(EndWork work, bool idle, bool alone)
    {
        var end = work.End;
        if (idle)
            return $"Check that nobody else's entries wait on {end.Gateway.Code}, then activate. Expect no error; "
                + $"the {end.Platform.Title:w} carries no traffic yet.";
        if (StaysUp(end))
            return $"Check that nobody else's entries wait on {end.Gateway.Code}, then activate. Tunnels should stay up.";
        if (work.Adds)
            return $"Check that nobody else's entries wait on {end.Gateway.Code}, then activate. The old values "
                + $"stay beside the new ones; tunnels should stay up.";
        return work.Runs
            ? $"Check that nobody else's entries wait on {end.Gateway.Code}, then activate, and clear the old SAs "
                + $"of {(alone ? Sentence.Of($"{work.Tunnel.Then.Tunnel}") : Running(end))}."
            : Sentence.Of($"Check that nobody else's entries wait on {end.Gateway.Code}, then activate.");
    }

    /// <summary>
    /// Whether every tunnel of the change on a gateway only gains subnet pairs, which its platform takes in beside the
    /// others.
    /// </summary>
    private bool StaysUp(EndView end) =>
        OnlySubnets
        && end.Platform.SubnetsCost?.What is Disturbance.Nothing or Disturbance.ThatPair
        && tunnels
            .SelectMany(t => t.Then.Ends.Where(e => e.Gateway.Id == end.Gateway.Id).Select(e => WorkOf(t, e)))
            .All(w => w.OnlyAddsPairs);

    /// <summary>The tunnels of the change that run over the gateway of an end.</summary>
    private Sentence Running(EndView end)
    {
        var on = tunnels.Where(t => t.Runs && t.Then.Ends.Any(e => e.Gateway.Id == end.Gateway.Id)).ToArray();
        return on.Length == 1
            ? Sentence.Of($"{on[0].Then.Tunnel}")
            : Sentence.Of($"the {Say.Count(on.Length, "tunnel"):w} of this change");
    }

    private static Step Clear(EndWork work) =>
        StepWords.At(
            work.End,
            StepKind.Clear,
            Part.Switch,
            work.Key("clear"),
            1,
            $"Clear the old SAs of {work.Tunnel.Then.Tunnel} on {work.End.Gateway.Code}."
        );

    private static Step Bounce(EndWork work) =>
        StepWords.At(
            work.End,
            StepKind.BounceUplink,
            Part.Switch,
            work.Key("bounce"),
            2,
            $"Take the uplink {work.End.Uplinks.FirstOrDefault()?.Label ?? "outside"} of {work.End.Gateway.Code} "
                + $"down and up. The device takes in a new tunnel only then."
        ) with
        {
            Stops = StepWords.Stops(work.End),
        };

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

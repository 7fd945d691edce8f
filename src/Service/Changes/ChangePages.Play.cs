using Vellumkeep.Contract;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Records;
using Vellumkeep.Views;

namespace Vellumkeep.Service.Changes;

/// <summary>A plan as it was played: when each step is done, and what each tunnel carries meanwhile.</summary>
public static partial class ChangePages
{
    private static PlayPage? PlayOf(Change c, Inventory around, Scope scope)
    {
        var play = c.Plan.Play;
        if (play.Tunnels.IsEmpty)
            return null;
        var steps = Times(c.Plan);
        return new(
            c.Code,
            play.Seconds,
            c.Plan.Steps.Zip(steps)
                .Where(x => x.First.Part != Part.Prepare)
                .Select(x => x.Second.From)
                .FirstOrDefault(),
            steps,
            [.. play.Tunnels.Where(t => MaySee(t.TunnelId, around, scope)).Select(t => Lane(c.Plan, t, scope))]
        );
    }

    private static PlayedStepLine[] Times(Plan plan)
    {
        var clock = 0;
        return
        [
            .. plan.Steps.Select(
                (s, i) =>
                {
                    var begins = clock;
                    clock += s.Minutes * 60;
                    return new PlayedStepLine(
                        i + 1,
                        s.Where == Where.Us ? "us" : s.Where.ToString(),
                        s.Gateway,
                        begins,
                        clock,
                        s.Kind is StepKind.Prove or StepKind.ShowNow
                    );
                }
            ),
        ];
    }

    private static PlayedTunnelLine Lane(Plan plan, PlayedTunnel t, Scope scope) =>
        new(
            t.TunnelCode,
            t.Own,
            [
                .. t.Spans.Select(s => new PlayedSpanLine(
                    s.From,
                    s.To,
                    Play.Carriages.Of(s.State),
                    s.Step is null ? null : plan.NumberOf(s.Step),
                    s.Why?.Show(scope.Sees)
                )),
            ],
            [
                .. t.Restarts.Select(r => new PlayedRestartLine(
                    r.At,
                    plan.NumberOf(r.Step),
                    r.Seconds,
                    r.Certain,
                    r.Why.Show(scope.Sees)
                )),
            ]
        );
}

using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Manual;

/// <summary>Work whose steps the author wrote; it changes no record.</summary>
internal static class ManualPlan
{
    public static Planned Of(Inventory inventory, FreeRequest request, DateOnly today, CancellationToken ct)
    {
        var tunnel = inventory.Get<Tunnel>(request.TunnelId);
        if (request.Steps.IsEmpty)
            return Planned.No(
                new Refusal(null, "steps", $"No step is given.", $"Give at least one: what to do, and where.")
            );
        var view = new TunnelView(inventory, tunnel, today);
        var maker = new PlanMaker(inventory, inventory, [tunnel.Id], today, ct: ct);
        foreach (var (step, i) in request.Steps.Select((s, i) => (s, i)))
            maker.Add(StepOf(step, i + 1, view));
        maker.Record();
        var plan = maker.Done(
            $"{Say.Count(request.Steps.Length, "step"):w} on {tunnel}, written by the author. No record changes."
        );
        return Planned.Yes(plan with { Interruptions = Interruptions(plan, tunnel) });
    }

    private static Step StepOf(FreeStep written, int number, TunnelView view)
    {
        EndView? end = written.Where switch
        {
            Where.A => view.A,
            Where.B => view.B,
            _ => null,
        };
        return new()
        {
            Key = $"manual-{number}",
            Kind = StepKind.Manual,
            Part = written.Part,
            Where = written.Where,
            Asked = end is null ? null : StepWords.Asked(end),
            Do = Sentence.Plain(written.Do),
            Minutes = written.Minutes,
            Stops = written.Stops is null ? null : Sentence.Plain(written.Stops),
            Undo = written.Undo is null ? null : Sentence.Plain(written.Undo),
            TunnelId = view.Tunnel.Id,
            Gateway = end?.Gateway.Code,
        };
    }

    /// <summary>How long it stops is known to whoever wrote the step, not to a profile.</summary>
    private static ImmutableArray<Interruption> Interruptions(Plan plan, Tunnel tunnel)
    {
        var stops = plan.Steps.Where(s => s.Stops is not null).Select(s => $"{plan.NumberOf(s.Key)}").ToArray();
        if (stops.Length == 0)
            return [];
        Sentence says =
            $"As the author wrote it, {(stops.Length == 1 ? "step" : "steps"):w} {Say.And(stops):w} of {tunnel} "
            + $"{(stops.Length == 1 ? "stops" : "stop"):w} traffic.";
        return [new(tunnel.Id, tunnel.Code, null, says)];
    }
}

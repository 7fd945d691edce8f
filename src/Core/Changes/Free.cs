using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes;

/// <summary>Work whose steps somebody wrote by hand; the inventory is not touched by it.</summary>
public static class Free
{
    public static Planned Plan(Inventory inventory, FreeWish wish, DateOnly today, CancellationToken ct = default)
    {
        var tunnel = inventory.Get<Tunnel>(wish.TunnelId);
        if (wish.Steps.IsEmpty)
            return Planned.No([
                new(null, "steps", $"No step is named.", $"At least one: what has to be done, and where."),
            ]);
        var view = new TunnelView(inventory, tunnel, today);
        var maker = new PlanMaker(inventory, inventory, [tunnel.Id], today, ct: ct);
        foreach (var (step, i) in wish.Steps.Select((s, i) => (s, i)))
            maker.Add(
                $"hand-{i + 1}",
                step.Part,
                step.Where switch
                {
                    Where.A => view.A,
                    Where.B => view.B,
                    _ => null,
                },
                step.Minutes,
                Sentence.Plain(step.Do),
                undo: step.Undo is null ? null : Sentence.Plain(step.Undo),
                stops: step.Stops is null ? null : Sentence.Plain(step.Stops),
                tunnel: tunnel.Id
            );
        maker.Record();
        var plan = maker.Done(
            Sentence.Of(
                $"{Say.Count(wish.Steps.Length, "step"):w} on {tunnel}, written by hand; nothing of the records moves with them."
            )
        );
        // How long it stops is known to whoever wrote the step, not to a profile.
        var stops = plan.Steps.Select((s, i) => (s.Stops, Number: i + 1)).Where(s => s.Stops is not null).ToArray();
        return new(
            plan with
            {
                Interruptions =
                    stops.Length == 0
                        ? []
                        :
                        [
                            new(
                                tunnel.Id,
                                tunnel.Code,
                                null,
                                Sentence.Of(
                                    $"By what was written {(stops.Length == 1 ? "step" : "steps"):w} {Say.And(stops.Select(s => s.Number.ToString(CultureInfo.InvariantCulture))):w} of {tunnel} {(stops.Length == 1 ? "stops" : "stop"):w} traffic."
                                )
                            ),
                        ],
            },
            []
        );
    }
}

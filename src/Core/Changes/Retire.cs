using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>A tunnel goes: what may be taken out on each end, and what others still use.</summary>
public static class Retire
{
    public static Planned Plan(Inventory inventory, RetireWish wish, DateOnly today, CancellationToken ct = default)
    {
        var tunnel = inventory.Get<Tunnel>(wish.TunnelId);
        if (tunnel.State is TunnelState.Planned or TunnelState.Retired)
            return Planned.No([
                new(
                    null,
                    "tunnel",
                    $"{tunnel} is {WordsOf.States.Of(tunnel.State):w}.",
                    tunnel.State == TunnelState.Planned
                        ? Sentence.Of($"Nothing of it was entered: retire the record itself.")
                        : Sentence.Of($"A tunnel that is in service.")
                ),
            ]);
        var form = Edits.Put(AfterForm.Of(tunnel), "state", "retired").With("since", Scalars.Write(today));
        var maker = new PlanMaker(inventory, inventory.With(AfterForm.Read(tunnel, form)), [tunnel.Id], today, ct: ct);
        var said = new List<VerdictPart>();
        foreach (var end in maker.Tunnels[0].Was.Ends)
        {
            foreach (
                var part in new[] { end.End.Subnets?.OwnFrom, end.End.Subnets?.PeerFrom, end.End.ProposalsFrom }
                    .OfType<string>()
                    .Distinct()
            )
            {
                var others = inventory.UsersOf(end.Gateway.Id, part, tunnel.Id).ToArray();
                said.Add(
                    others.Length > 0
                        ? new(
                            Tone.Weak,
                            Sentence.Of(
                                $"{part} on {end.Gateway.Code} stays: {Say.Count(others.Length, "other tunnel"):w} {(others.Length == 1 ? "uses" : "use"):w} it."
                            )
                        )
                        : new(
                            Tone.Plain,
                            Sentence.Of($"{part} on {end.Gateway.Code} goes with it: nothing else uses it.")
                        )
                );
            }

            if (end.Gateway.WayIn?.By.Contains(tunnel.Code, StringComparison.OrdinalIgnoreCase) == true)
                said.Add(
                    new(
                        Tone.Stops,
                        Sentence.Of(
                            $"{end.Gateway.Code} at {end.Name} is managed through {tunnel}{(end.Gateway.WayIn.OtherWay is { } o ? $"; the other way is {o}" : ", and no other way is recorded"):w}."
                        )
                    )
                );
        }

        maker.Prepare();
        maker.Safeguard();
        maker.Work();
        var pair = tunnel.Agreed.Pairs.Select(p => (SubnetPair?)p).FirstOrDefault();
        if (pair is { } first)
            maker.Add(
                $"prove-gone-{tunnel.Code}",
                Part.Prove,
                null,
                2,
                $"Show that it is gone: from {StepWords.PointIn(maker.Tunnels[0].Was.A, first)} nothing answers at {StepWords.PointIn(maker.Tunnels[0].Was.B, first)}, and neither end has an association of {tunnel}.",
                proof: $"no answer, no association",
                tunnel: tunnel.Id
            );
        maker.ProveRest();
        maker.Record();
        return new(maker.Done(Sentence.Of($"Takes {tunnel} out of service, at both ends."), said: said), []);
    }
}

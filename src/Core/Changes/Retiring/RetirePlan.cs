using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Retiring;

/// <summary>A tunnel is retired: what can be removed at each end, and what others still use.</summary>
internal static class RetirePlan
{
    public static Planned Of(Inventory inventory, RetireRequest request, DateOnly today, CancellationToken ct)
    {
        var tunnel = inventory.Get<Tunnel>(request.TunnelId);
        if (tunnel.State is TunnelState.Planned or TunnelState.Retired)
            return Planned.No(
                new Refusal(
                    null,
                    "tunnel",
                    $"{tunnel} is {WordsOf.States.Of(tunnel.State):w}.",
                    tunnel.State == TunnelState.Planned
                        ? Sentence.Of($"Nothing of it was entered on a device: retire the record.")
                        : Sentence.Of($"Choose a tunnel that is in service.")
                )
            );
        var maker = new PlanMaker(inventory, inventory.With(Retired(tunnel, today)), [tunnel.Id], today, ct: ct);
        var was = maker.Tunnels[0].Was;
        maker.Prepare();
        maker.Safeguard();
        maker.WorkEnds();
        if (!tunnel.Agreed.Pairs.IsEmpty)
            maker.ProveGone(maker.Tunnels[0], tunnel.Agreed.Pairs[0]);
        maker.ProveRest();
        maker.Record();
        return Planned.Yes(
            maker.Done($"Takes {tunnel} out of service at both ends.", was.Ends.SelectMany(e => Told(inventory, e)))
        );
    }

    /// <summary>The tunnel as it will be.</summary>
    internal static Tunnel Retired(Tunnel tunnel, DateOnly today) =>
        tunnel with
        {
            State = TunnelState.Retired,
            Since = today,
        };

    /// <summary>
    /// What of an end stays for others, what goes with it, and whether the gateway is managed through it.
    /// </summary>
    private static IEnumerable<VerdictPart> Told(Inventory inventory, EndView end)
    {
        var tunnel = end.Tunnel.Tunnel;
        var shared = new[] { end.End.Subnets?.LocalFrom, end.End.Subnets?.RemoteFrom, end.End.ProposalsFrom };
        foreach (var part in shared.OfType<string>().Distinct())
        {
            var others = inventory.UsersOf(end.Gateway.Id, part, tunnel.Id).Count();
            yield return others > 0
                ? new(
                    Tone.Weak,
                    $"{part} on {end.Gateway.Code} stays: {Say.Count(others, "other tunnel"):w} "
                        + $"{(others == 1 ? "uses" : "use"):w} it."
                )
                : new(Tone.Plain, $"{part} on {end.Gateway.Code} is removed too: no other tunnel uses it.");
        }

        if (end.Gateway.ManagementAccess is { } way && end.Gateway.IsManagedThrough(tunnel))
            yield return new(
                Tone.Stops,
                $"{end.Gateway.Code} at {end.Name} is managed through "
                    + $"{tunnel}"
                    + $"{(way.OutOfBand is { } o ? $"; out-of-band access is {o}" : ", and no out-of-band access is recorded"):w}"
                    + $"."
            );
    }
}

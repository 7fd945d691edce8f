using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Addresses;

/// <summary>
/// A gateway gets another outer address: every tunnel over that uplink, and every other gateway that has to be told.
/// </summary>
internal static class MovePlan
{
    public static Planned Of(Inventory inventory, AddressRequest request, DateOnly today, CancellationToken ct)
    {
        var gateway = inventory.Get<Gateway>(request.GatewayId);
        var uplink = gateway.Uplinks.FirstOrDefault(u => u.Label == request.Uplink);
        if (Refused(inventory, request, gateway, uplink) is { } refused)
            return Planned.No(refused);
        var moved = new AddressMoved(uplink!.Outer, request.Address) { OldName = uplink.Address.Value?.Name };
        var after = inventory.With([
            WithOuter(gateway, uplink, request.Address),
            .. request.TunnelIds.Select(id => Followed(inventory.Get<Tunnel>(id), gateway.Id, moved)),
        ]);
        var maker = new PlanMaker(inventory, after, request.TunnelIds, today, ct: ct) { Main = gateway.Id };
        return Planned.Yes(Make(maker, gateway, uplink, moved));
    }

    private static Refusal? Refused(Inventory inventory, AddressRequest request, Gateway gateway, Uplink? uplink)
    {
        if (uplink is null)
            return new(
                null,
                "uplink",
                $"{gateway.Code} has no uplink {request.Uplink}.",
                $"One of {Say.And(gateway.Uplinks.Select(u => u.Label))}."
            );
        if (uplink.Outer == request.Address)
            return new(
                null,
                "address",
                $"{gateway.Code} {uplink.Label} has {request.Address} already.",
                $"Use another address."
            );
        if (inventory.At(request.Address).FirstOrDefault(g => g.Id != gateway.Id) is { } taken)
            return new(
                Findings.Addresses.AddressTwice.Check.Code,
                "address",
                $"{request.Address} is the outer address of {taken.Code}.",
                $"Use another address, or correct {taken.Code} first."
            );
        return request.TunnelIds.IsEmpty
            ? new(
                null,
                "gateway",
                $"No tunnel uses {gateway.Code} {uplink.Label}.",
                $"Correct the address in the gateway's record; no tunnel depends on it."
            )
            : null;
    }

    /// <summary>The gateway with the outer address of one uplink moved.</summary>
    private static Gateway WithOuter(Gateway gateway, Uplink uplink, Address now)
    {
        // The nat shows the address, where there is one in front; the device keeps its own behind it.
        var moved = uplink.Nat is { } nat
            ? uplink with
            {
                Nat = nat with { PublicAddress = now },
            }
            : uplink with
            {
                Address = Recorded<UplinkAddress>.Known(new(now, null)),
            };
        return gateway with { Uplinks = gateway.Uplinks.Replace(uplink, moved) };
    }

    /// <summary>
    /// A tunnel with the other end's entries, and identities that are the address, brought to the new address.
    /// </summary>
    /// <param name="tunnel">The tunnel that it is about.</param>
    /// <param name="moved">The old address and the new one.</param>
    /// <param name="gatewayId">The gateway that moves.</param>
    internal static Tunnel Followed(Tunnel tunnel, string gatewayId, AddressMoved moved)
    {
        foreach (var near in Enum.GetValues<EndName>().Where(e => tunnel.End(e).GatewayId == gatewayId))
            tunnel = tunnel
                .WithEnd(near.Other(), far => FarEnd(far, moved))
                .WithEnd(near, end => end with { IdentitySent = moved.In(end.IdentitySent) }) with
            {
                Agreed = AgreedWith(tunnel.Agreed, near, moved),
            };
        return tunnel;
    }

    private static TunnelEnd FarEnd(TunnelEnd far, AddressMoved moved)
    {
        var peer = new PeerAddress(moved.Now, null);
        if (moved.IsOld(far.PeerAddress?.Value))
            far = far with { PeerAddress = Recorded<PeerAddress>.Known(peer) };
        if (far.FurtherPeers.Any(moved.IsOld))
            far = far with { FurtherPeers = [.. far.FurtherPeers.Select(p => moved.IsOld(p) ? peer : p)] };
        if (moved.IsOld(far.KeyFor))
            far = far with { KeyFor = peer };
        return far with { IdentityExpected = moved.In(far.IdentityExpected) };
    }

    private static Agreed AgreedWith(Agreed agreed, EndName near, AddressMoved moved) =>
        near == EndName.A
            ? agreed with
            {
                IdentityA = moved.In(agreed.IdentityA),
            }
            : agreed with
            {
                IdentityB = moved.In(agreed.IdentityB),
            };

    private static Plan Make(PlanMaker maker, Gateway gateway, Uplink uplink, AddressMoved moved)
    {
        var ends = maker.Tunnels.SelectMany(t => t.Then.Ends).ToArray();
        var others = ends.Where(e => e.Gateway.Id != gateway.Id).ToArray();
        bool ThroughIt(TunnelStages t, EndName name) =>
            t.Then.End(name) is var e
            && e.Gateway.Id != gateway.Id
            && maker.Tunnels.Any(m => e.Gateway.IsManagedThrough(m.Then.Tunnel));
        maker.Prepare();
        maker.Safeguard();
        // A gateway that is managed through one of these tunnels is told first: afterwards nobody reaches it this way.
        maker.WorkEnds(ThroughIt);
        var move = TunnelStages(ends.First(e => e.Gateway.Id == gateway.Id), uplink, moved, maker.Tunnels.Count);
        maker.Add(move);
        maker.Carriers.Take(Place.On(gateway, GatewayPaths.Uplinks), move.Key);
        maker.WorkEnds((t, end) => !ThroughIt(t, end));
        maker.Prove();
        maker.Record();
        return maker.Done(
            $"Moves {uplink.Label} of {gateway.Code} from {moved.Old?.ToString() ?? "an unknown address"} to "
                + $"{moved.Now}: affects {Say.Count(maker.Tunnels.Count, "tunnel"):w} and "
                + $"{Say.Count(others.Select(e => e.Gateway.Id).Distinct().Count(), "other gateway"):w}.",
            Told(others).Concat(maker.Tunnels.SelectMany(t => Unchanged(t, gateway)))
        );
    }

    /// <summary>Another end at which nothing is entered, and why that is right.</summary>
    private static IEnumerable<VerdictPart> Unchanged(TunnelStages t, Gateway gateway)
    {
        foreach (var far in t.Then.Ends.Where(e => e.Gateway.Id != gateway.Id && t.Differs(e.Name).IsEmpty))
        {
            var peer = far.PeerAddress.Value;
            if (t.Was.Tunnel.State is TunnelState.Planned or TunnelState.Retired)
                yield return new(
                    Tone.Plain,
                    $"{t.Then.Tunnel} is {WordsOf.States.Of(t.Was.Tunnel.State):w}: nothing is entered at {far.Name}."
                );
            else if (peer?.IsAny == true)
                yield return new(
                    Tone.Plain,
                    $"{t.Then.Tunnel}: nothing changes at {far.Name}, which takes {far.Other.Name} from any address."
                );
            else if (peer?.Name is { } name)
                yield return new(
                    Tone.Weak,
                    $"{t.Then.Tunnel}: nothing changes at {far.Name}, which finds {far.Other.Name} by the name {name}. The "
                        + $"name must resolve to the new address by then."
                );
            else
                yield return new(
                    Tone.Weak,
                    $"{t.Then.Tunnel}: nothing is entered at {far.Name}; it has "
                        + $"{peer?.ToString() ?? "no recorded address"} as the peer address."
                );
        }
    }

    private static Step TunnelStages(EndView end, Uplink uplink, AddressMoved moved, int tunnels)
    {
        var gateway = end.Gateway;
        return StepWords.At(
            end,
            StepKind.MoveAddress,
            Part.Switch,
            $"address-{gateway.Code}",
            3,
            $"Set the outer address of {uplink.Label} on {gateway.Code} to "
                + $"{moved.Now}{(moved.Old is null ? "" : $" instead of {moved.Old}"):w}."
        ) with
        {
            Enter =
            [
                new("outer address", moved.Now.ToString())
                {
                    Key = "outer",
                    Before = moved.Old?.ToString(),
                    At = Place.On(
                        gateway,
                        uplink.Nat is null ? GatewayPaths.Address(uplink.Label) : GatewayPaths.NatAddress(uplink.Label)
                    ),
                },
            ],
            Undo = Back(gateway, uplink, moved),
            Stops =
                $"Every tunnel over {uplink.Label} is down until its other end has the new address: "
                + $"{Say.Count(tunnels, "tunnel"):w}.",
        };
    }

    /// <summary>What stood there before, also where that was no fixed address: every move can be taken back.</summary>
    private static Sentence Back(Gateway gateway, Uplink uplink, AddressMoved moved)
    {
        if (moved.Old is { } old)
            return Sentence.Of($"Set the outer address of {uplink.Label} on {gateway.Code} back to {old}.");
        return uplink.Address.Value is { } before
            ? Sentence.Of($"Set the outer address of {uplink.Label} on {gateway.Code} back to {before.ToString()}.")
            : Sentence.Of($"Remove the outer address {moved.Now} from {uplink.Label} on {gateway.Code}.");
    }

    /// <summary>Who has to be asked because they run the other ends, and who has to be told.</summary>
    private static IEnumerable<VerdictPart> Told(IReadOnlyList<EndView> others)
    {
        var asked = others.Where(e => StepWords.Asked(e) is not null).Select(e => e.Owner.Name).Distinct().ToArray();
        var told = others.Select(e => e.Owner.Name).Except(asked).ToArray();
        if (asked.Length > 0)
            yield return new(Tone.Weak, $"Agree it with {Say.And(asked):w}, who run the other ends.");
        if (told.Length > 0)
            yield return new(
                Tone.Plain,
                $"{(asked.Length == 0 ? "We run every other end" : "We run the rest"):w}; tell {Say.And(told):w} "
                    + $"when their tunnel goes down."
            );
    }
}

using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>
/// A gateway gets another outer address: every tunnel over that uplink, and every other gateway that has to be told.
/// </summary>
public static class AddressMove
{
    public static Planned Plan(Inventory inventory, AddressWish wish, DateOnly today, CancellationToken ct = default)
    {
        var gateway = inventory.Get<Gateway>(wish.GatewayId);
        if (gateway.Uplinks.FirstOrDefault(u => u.Label == wish.Uplink) is not { } uplink)
            return Planned.No([
                new(
                    null,
                    "uplink",
                    $"{gateway.Code} has no uplink {wish.Uplink}.",
                    $"One of {Say.And(gateway.Uplinks.Select(u => u.Label))}."
                ),
            ]);
        if (uplink.Outer == wish.Address)
            return Planned.No([
                new(null, "address", $"{gateway.Code} {uplink.Label} has {wish.Address} already.", $"Another address."),
            ]);
        if (inventory.At(wish.Address).FirstOrDefault(g => g.Id != gateway.Id) is { } taken)
            return Planned.No([
                new(
                    "ADR-06",
                    "address",
                    $"{wish.Address} is the outer address of {taken.Code}.",
                    $"Another address, or correct {taken.Code} first."
                ),
            ]);
        if (wish.TunnelIds.IsEmpty)
            return Planned.No([
                new(
                    null,
                    "gateway",
                    $"No tunnel uses {gateway.Code} {uplink.Label}.",
                    $"Correct the address on the gateway itself: nothing else has to move with it."
                ),
            ]);
        var old = uplink.Outer;
        // The translator shows the address, where there is one in front; the device keeps its own behind it.
        var path = uplink.Translator is null
            ? $"uplinks[{uplink.Label}].address"
            : $"uplinks[{uplink.Label}].translator.publicAddress";
        var form = WrittenGateway.Form.Write(gateway, IdNames.Instance);
        var edit = new Edit(gateway.Id, RecordKind.Gateway, path, Edits.Find(form, path), wish.Address.ToString());
        var moved = AfterForm.Read(gateway, Edits.Put(form, path, edit.After));
        var after = inventory.With([
            moved,
            .. wish.TunnelIds.Select(id =>
                Follow(inventory, inventory.Get<Tunnel>(id), gateway.Id, old, wish.Address, today)
            ),
        ]);
        return new(
            Make(inventory, after, wish.TunnelIds, today, gateway, edit, old, wish.Address, uplink.Label, ct),
            []
        );
    }

    /// <summary>
    /// A tunnel with the other end's entries, and identities that are the address, brought to the new address.
    /// </summary>
    internal static Tunnel Follow(
        Inventory inventory,
        Tunnel tunnel,
        string gatewayId,
        Address? old,
        Address now,
        DateOnly today
    )
    {
        var view = new TunnelView(inventory, tunnel, today);
        var form = AfterForm.Of(tunnel);
        foreach (var near in view.Ends.Where(e => e.Gateway.Id == gatewayId))
        {
            var (n, f, far) = (near.Name.Key(), near.Name.Other().Key(), near.Other);
            if (far.End.PeerAddress?.Value?.Address is { } entered && entered == old)
                form = Edits.Put(form, $"{f}.peerAddress", now.ToString());
            if (far.End.KeyFor?.Address is { } keyed && keyed == old)
                form = Edits.Put(form, $"{f}.keyFor", now.ToString());
            bool IsOld(Identity? identity) =>
                old is { } o && identity is { Type: IdentityKind.Address } && identity.Value == o.ToString();
            if (IsOld(tunnel.Agreed.IdentityOf(near.Name)))
                form = Edits.Put(form, $"agreed.identities.{n}", $"address {now}");
            if (IsOld(near.End.IdentitySent?.Value))
                form = Edits.Put(form, $"{n}.identitySent", $"address {now}");
            if (IsOld(far.End.IdentityExpected?.Value))
                form = Edits.Put(form, $"{f}.identityExpected", $"address {now}");
        }

        return AfterForm.Read(tunnel, form);
    }

    private static Plan Make(
        Inventory inventory,
        Inventory after,
        ImmutableArray<string> tunnels,
        DateOnly today,
        Gateway gateway,
        Edit edit,
        Address? old,
        Address now,
        string uplink,
        CancellationToken ct
    )
    {
        var maker = new PlanMaker(inventory, after, tunnels, today, ct: ct) { Main = gateway.Id };
        var asked = maker
            .Tunnels.SelectMany(t => t.Then.Ends)
            .Where(e => e.Gateway.Id != gateway.Id && StepWords.Asked(e) is not null)
            .Select(e => e.Owner.Name)
            .Distinct()
            .ToArray();
        maker.Prepare();
        maker.Safeguard();
        var own = maker.Tunnels.SelectMany(t => t.Then.Ends).First(e => e.Gateway.Id == gateway.Id);
        bool ThroughIt(Moving t, EndName end) =>
            t.Then.End(end) is var e
            && e.Gateway.Id != gateway.Id
            && maker.Tunnels.Any(m =>
                e.Gateway.WayIn?.By.Contains(m.Then.Tunnel.Code, StringComparison.OrdinalIgnoreCase) == true
            );
        // A gateway that is managed through one of these tunnels is told first: afterwards nobody reaches it this way.
        maker.Work(ThroughIt);
        maker.Add(
            $"address-{gateway.Code}",
            Part.Switch,
            own,
            3,
            $"Give {uplink} of {gateway.Code} the outer address {now}{(old is null ? "" : $" instead of {old}"):w}.",
            [new("outer address", now.ToString()) { Key = "outer", Before = old?.ToString() }],
            undo: old is null
                ? null
                : Sentence.Of($"Give {uplink} of {gateway.Code} the outer address {old.Value} again."),
            stops: $"Every tunnel over {uplink} falls until its other end has the new address: {Say.Count(tunnels.Length, "tunnel"):w}."
        );
        maker.Carry($"address-{gateway.Code}", 0);
        maker.Work((t, end) => !ThroughIt(t, end));
        maker.Prove();
        maker.Record();
        var told = maker
            .Tunnels.SelectMany(t => t.Then.Ends)
            .Where(e => e.Gateway.Id != gateway.Id)
            .Select(e => e.Owner.Name)
            .Where(o => !asked.Contains(o))
            .Distinct()
            .ToArray();
        var gateways = maker
            .Tunnels.SelectMany(t => t.Then.Ends)
            .Where(e => e.Gateway.Id != gateway.Id)
            .Select(e => e.Gateway.Id)
            .Distinct()
            .Count();
        return maker.Done(
            Sentence.Of(
                $"Moves {uplink} of {gateway.Code} from {old?.ToString() ?? "an address that is not known"} to {now}: {Say.Count(tunnels.Length, "tunnel"):w} and {Say.Count(gateways, "other gateway"):w} with it."
            ),
            [edit],
            [
                .. asked.Length == 0
                    ? []
                    : new[]
                    {
                        new VerdictPart(
                            Tone.Weak,
                            Sentence.Of(
                                $"{Say.And(asked):w} {(asked.Length == 1 ? "has" : "have"):w} to be asked: they run the other ends."
                            )
                        ),
                    },
                .. told.Length == 0
                    ? []
                    : new[]
                    {
                        new VerdictPart(
                            Tone.Plain,
                            Sentence.Of(
                                $"{(asked.Length == 0 ? "We run every other end" : "We run the rest"):w}; {Say.And(told):w} {(told.Length == 1 ? "has" : "have"):w} to be told when theirs falls."
                            )
                        ),
                    },
            ]
        );
    }
}

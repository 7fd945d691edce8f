using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>Addresses, identities and selectors.</summary>
public sealed partial class Compare
{
    private void Addresses()
    {
        foreach (var owner in view.Ends)
        {
            var entered = owner.Other.PeerAddress;
            var uplink = owner.Uplinks.FirstOrDefault();
            var real = owner.Uplinks.Select(u => u.Outer).OfType<Address>().ToArray();
            Difference? difference = null;
            bool undetermined = false,
                fits = true;
            if (entered.Value is { IsAny: false } peer)
            {
                fits = peer.Address is { } at
                    ? real.Contains(at)
                    : owner.Uplinks.Any(u => u.Address.Value?.Name == peer.Name);
                undetermined = !fits && !owner.AddressIsDynamic && (peer.Name is not null || real.Length == 0);
                if (!fits && !undetermined)
                    difference = new AddressDiffers(
                        owner.Name.Other(),
                        peer.ToString(),
                        owner.OuterText,
                        owner.AddressIsDynamic
                    );
            }

            var known = new Cell(
                owner.OuterText,
                uplink?.Address.Value is null ? Source.Unknown : Source.Set,
                uplink is null ? null : $"{owner.Gateway.Code} {uplink.Label}",
                uplink?.Address.Confirmed,
                uplink?.Nat is { } t ? $"behind {t.Name}, {uplink.Address.Value} on the device"
                    : uplink?.Address.Pending is { } p ? $"pending: {p.WhoKnows ?? "nobody named"}"
                    : null
            );
            var there = Cell.Of(entered) with { Text = InOrder(owner.Other) ?? Cell.Of(entered).Text };
            var answer =
                !entered.Known || uplink?.Address.Value is null || undetermined
                    ? Relation.Undetermined
                    : RelationOf(
                        difference is null,
                        entered.Confirmed is not null && uplink.Address.Confirmed is not null
                    );
            rows.Add(
                new(
                    RowKey.AddressOf(owner.Name),
                    $"Address of {owner.Name}",
                    owner.Name == EndName.A ? known : there,
                    owner.Name == EndName.A ? there : known,
                    answer,
                    OnlyOn(owner.Name == EndName.A || entered.Known, owner.Name == EndName.B || entered.Known),
                    difference
                )
            );
        }
    }

    /// <summary>Several peer addresses as they are entered; null where there is one.</summary>
    private static string? InOrder(EndView end) =>
        end.End.FurtherPeers.IsEmpty || end.End.PeerAddress?.Value is not { } first
            ? null
            : string.Join(", then ", end.End.FurtherPeers.Prepend(first));

    private void Identities(EndName sender)
    {
        var sent = view.End(sender).IdentitySent;
        var verifier = view.End(sender.Other());
        var expected = verifier.IdentityExpected;
        var difference = IdentityFit.Of(view.End(sender));
        var undetermined = difference is { Fault: IdentityFault.CaseOnly, ComparedByOctet: null };
        var (a, b) = sender == EndName.A ? (sent, expected) : (expected, sent);
        rows.Add(
            new(
                RowKey.IdentityOf(sender),
                $"Identity of {sender}",
                Cell.Of(a),
                Cell.Of(b),
                RelationOf(a, b, difference is null, undetermined),
                OnlyOn(a.Known, b.Known),
                difference
            )
        );
    }

    private void Subnets(EndName owner)
    {
        var (local, mirrored) = (view.End(owner).LocalSubnets, view.End(owner.Other()).RemoteSubnets);
        Difference? difference = null;
        if (local.Value is { } o && mirrored.Value is { } m)
        {
            // IKEv2 compares addresses: a prefix and its two halves are one set (RFC 7296 section 2.9). Quick mode
            // compares what is entered (RFC 2409 section 5.5).
            bool Alike(Prefix prefix, ImmutableArray<Prefix> own, ImmutableArray<Prefix> theirs) =>
                view.Version != IkeVersion.IKEv1
                && Prefixes.Subtract([prefix], theirs).IsEmpty
                && Prefixes.Subtract(theirs.Where(prefix.Overlaps), own).IsEmpty;
            var atOwner = o.Items.Except(m.Items).Where(p => !Alike(p, o.Items, m.Items)).ToList();
            var atPeer = m.Items.Except(o.Items).Where(p => !Alike(p, m.Items, o.Items)).ToList();
            var mismatches = new List<SubnetMismatch>();
            foreach (var prefix in atOwner.ToArray())
            {
                var near = atPeer.Where(p => p.Overlaps(prefix)).Select(p => (Prefix?)p).FirstOrDefault();
                if (near is not { } other)
                {
                    // A prefix inside a wider one on the other end is mirrored by it, only not exactly.
                    var wider = m.Items.Where(p => p.Contains(prefix)).Select(p => (Prefix?)p).FirstOrDefault();
                    mismatches.Add(
                        wider is { } w
                            ? new(SubnetFault.WiderAtOther, prefix, w)
                            : new(SubnetFault.MissingAtOther, prefix, null)
                    );
                    continue;
                }

                mismatches.Add(
                    new(other.Contains(prefix) ? SubnetFault.WiderAtOther : SubnetFault.NarrowerAtOther, prefix, other)
                );
                atPeer.Remove(other);
            }

            mismatches.AddRange(atPeer.Select(p => new SubnetMismatch(SubnetFault.ExtraAtOther, null, p)));
            var swapped =
                mismatches.Count > 0
                && view.A.LocalSubnets.Value is { } ao
                && view.B.LocalSubnets.Value is { } bo
                && view.A.RemoteSubnets.Value is { } ap
                && view.B.RemoteSubnets.Value is { } bp
                && ao.Items.ToHashSet().SetEquals(bo.Items)
                && ap.Items.ToHashSet().SetEquals(bp.Items);
            if (mismatches.Count > 0)
                difference = new SubnetsDiffer(owner, [.. mismatches], swapped);
        }

        var (a, b) = owner == EndName.A ? (local, mirrored) : (mirrored, local);
        rows.Add(
            new(
                RowKey.SubnetsOf(owner),
                $"Subnets of {owner}",
                Cell.Of(a),
                Cell.Of(b),
                RelationOf(a, b, difference is null),
                OnlyOn(a.Known, b.Known),
                difference
            )
        );
    }

    /// <summary>Addresses on the tunnel interface, where either end has one.</summary>
    private void TunnelAddresses()
    {
        Resolved<TunnelAddress> At(EndView e) =>
            e.End.TunnelAddress is { } t ? Resolved<TunnelAddress>.Set(t) : Resolved<TunnelAddress>.Unknown;
        var (a, b) = (At(view.A), At(view.B));
        if (view.A.End.TunnelAddress is null && view.B.End.TunnelAddress is null)
            return;
        Difference? difference =
            a.Value is { IsNone: false } x
            && b.Value is { IsNone: false } y
            && (x.Address == y.Address || x.Network != y.Network)
                ? new TunnelAddressesDiffer(x, y)
                : null;
        Add(RowKey.TunnelAddress, "Tunnel address", a, b, difference is null, difference);
    }
}

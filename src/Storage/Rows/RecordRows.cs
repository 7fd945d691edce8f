using Vellumkeep.Core.Changes.Addresses;
using Vellumkeep.Core.Changes.Platforms;
using Vellumkeep.Core.Changes.Subnets;

namespace Vellumkeep.Storage.Rows;

/// <summary>What lists show of a record, and what is projected of it beside the record.</summary>
internal static class RecordRows
{
    /// <summary>The role of the tunnel that a gateway is managed through.</summary>
    public const string ManagedThrough = "managed through";

    /// <summary>Name and state as a list shows them.</summary>
    public static (string Name, string? State) Shown(IRecord record) => (NameOf(record), StateOf(record));

    public static string Grants(Person person) =>
        string.Join(';', person.Grants.Select(g => WrittenGrant.Write(g, IdNames.Instance)));

    private static string NameOf(IRecord record) =>
        record switch
        {
            Customer c => c.Name,
            Site s => s.Name,
            Offer o => o.Name,
            Person p => p.Name,
            Tunnel t => t.Name,
            Change c => c.Title,
            Suite s => s.About ?? s.Name,
            Platform p => p.Title,
            _ => record.Code,
        };

    private static string? StateOf(IRecord record) =>
        record switch
        {
            Tunnel t => WordsOf.States.Of(t.State),
            Change c => Change.States.Of(c.State),
            _ => record.Retired is null ? null : "retired",
        };

    /// <summary>Whose record it is; a gateway's owner is that of its site.</summary>
    /// <param name="ownerOfSite">The owner of a site by its id.</param>
    public static string? OwnerOf(IRecord record, Func<string, string?> ownerOfSite) =>
        record switch
        {
            Customer c => c.Id,
            Site s => s.CustomerId,
            Gateway g => ownerOfSite(g.SiteId),
            Offer o => o.CustomerId,
            Person => OwnerKeys.People,
            Tunnel t => t.CustomerId,
            Change c => c.AllCustomers.Length > 1 ? OwnerKeys.Several : c.CustomerId,
            _ => null,
        };

    public static IEnumerable<LinkRow> Links(IRecord record)
    {
        LinkRow To(string to, string role) =>
            new()
            {
                FromId = record.Id,
                ToId = to,
                Role = role,
            };
        switch (record)
        {
            case Site site:
                yield return To(site.CustomerId, "customer");
                break;
            case Gateway gateway:
                yield return To(gateway.SiteId, "site");
                yield return To(gateway.PlatformId, "platform");
                if (gateway.ManagementAccess?.TunnelId is { } through)
                    yield return To(through, ManagedThrough);
                break;
            case Offer offer:
                yield return To(offer.CustomerId, "party");
                break;
            case Change change:
                foreach (var about in change.Request.Tunnels.Distinct())
                    yield return To(about, "tunnel");
                foreach (var on in change.Request.Gateways.Distinct())
                    yield return To(on, "gateway");
                break;
            case Tunnel tunnel:
                yield return To(tunnel.CustomerId, "customer");
                if (tunnel.Agreed.SuiteId is { } suite)
                    yield return To(suite, "suite");
                foreach (var name in Enum.GetValues<EndName>())
                    yield return To(tunnel.End(name).GatewayId, name.Key());
                break;
        }
    }

    public static IEnumerable<PrefixRow> Prefixes(IRecord record)
    {
        PrefixRow Lies(Prefix p, string role, string? gateway) =>
            new()
            {
                RecordId = record.Id,
                GatewayId = gateway,
                Role = role,
                Family = (int)p.Family,
                Low = AddressText.Of(p.First),
                High = AddressText.Of(p.Last),
            };
        switch (record)
        {
            case Site site:
                foreach (var network in site.Networks)
                {
                    yield return Lies(network.Prefix, "network", null);
                    if (network.PresentedAs is { } shown)
                        yield return Lies(shown, "presented", null);
                }

                break;
            case Gateway gateway:
                foreach (var outer in gateway.Uplinks.Select(u => u.Outer).OfType<Address>().Distinct())
                    yield return Lies(Prefix.Around(outer, outer.Width), "outer", null);
                foreach (var own in gateway.Uplinks.Where(u => u.Nat is not null).Select(u => u.Address.Value?.Fixed))
                    if (own is { } behind)
                        yield return Lies(Prefix.Around(behind, behind.Width), "behind NAT", null);
                if (gateway.TunnelPool is { } pool)
                    yield return Lies(pool, "tunnel pool", null);
                break;
            case Tunnel tunnel:
                foreach (var name in Enum.GetValues<EndName>())
                foreach (var remote in tunnel.Agreed.Pairs.Select(p => p.On(name.Other())).Distinct())
                    yield return Lies(remote, "remote", tunnel.End(name).GatewayId);
                foreach (var end in new[] { tunnel.A, tunnel.B })
                {
                    foreach (var claimed in Claimed(end).Distinct())
                        yield return Lies(claimed, "entered", null);
                    if (end.InterfaceAddress is { } inner)
                        yield return Lies(inner.Network, "tunnel address", null);
                    foreach (var peer in end.FurtherPeers.Prepend(end.PeerAddress?.Value).Select(p => p?.Address))
                        if (peer is { } at)
                            yield return Lies(Prefix.Around(at, at.Width), "peer address", null);
                }

                break;
            case Change { Open: true } change:
                foreach (var planned in PlannedBy(change.Request).Distinct())
                    yield return Lies(planned, "planned", null);
                break;
        }
    }

    /// <summary>The prefixes that an end has entered, whether anybody agreed to them or not.</summary>
    private static IEnumerable<Prefix> Claimed(TunnelEnd end) =>
        [
            .. end.Subnets?.Local ?? [],
            .. end.Subnets?.Remote ?? [],
            .. end.Subnets?.Pairs?.SelectMany(p => new[] { p.Local, p.Remote }) ?? [],
        ];

    /// <summary>The prefixes and addresses that a change is to bring into use.</summary>
    private static IEnumerable<Prefix> PlannedBy(ChangeRequest request) =>
        request switch
        {
            SubnetsRequest subnets => subnets.Add.Concat(subnets.Also.SelectMany(a => a.Add ?? [])),
            AddressRequest move => [Prefix.Around(move.Address, move.Address.Width)],
            PlatformRequest { Beside: { } beside } => [Prefix.Around(beside, beside.Width)],
            _ => [],
        };

    /// <summary>The shared entries of gateways that a tunnel uses.</summary>
    public static IEnumerable<SharedEntryRow> Held(IRecord record) =>
        record is not Tunnel tunnel
            ? []
            : Enum.GetValues<EndName>()
                .Select(tunnel.End)
                .SelectMany(end =>
                    new[] { end.Subnets?.LocalFrom, end.Subnets?.RemoteFrom, end.ProposalsFrom }
                        .OfType<string>()
                        .Select(part => (end.GatewayId, Part: part))
                )
                .Distinct()
                .Select(h => new SharedEntryRow
                {
                    TunnelId = tunnel.Id,
                    GatewayId = h.GatewayId,
                    Part = h.Part,
                });

    /// <summary>The keys by which a tunnel's gateways find something of it.</summary>
    /// <param name="gateway">A gateway by its id.</param>
    public static IEnumerable<LookupRow> Lookups(Tunnel tunnel, Func<string, Gateway> gateway)
    {
        var keys = new HashSet<(string Gateway, string Key, bool Held)>();
        foreach (var name in Enum.GetValues<EndName>())
        {
            var (end, other) = (tunnel.End(name), tunnel.End(name.Other()));
            var uplinks = gateway(other.GatewayId)
                .Uplinks.Where(u => other.Uplinks.IsEmpty || other.Uplinks.Contains(u.Label))
                .ToArray();
            foreach (var outer in uplinks.Select(u => u.Outer).OfType<Address>())
                keys.Add((end.GatewayId, $"a:{AddressText.Of(outer)}", false));
            var entry = EntryOf(end, uplinks);
            if (entry is not null)
                keys.Add((end.GatewayId, entry, true));
            // What its own entry for an address does not take, another tunnel's for any address may: over any uplink.
            var misses =
                uplinks.Length == 0 || uplinks.Any(u => u.Outer is not { } o || entry != $"a:{AddressText.Of(o)}");
            if (misses && entry?.StartsWith("a:", StringComparison.Ordinal) != false)
                keys.Add((end.GatewayId, "any", false));
            foreach (var further in end.FurtherPeers.Select(p => p.Address).OfType<Address>())
                keys.Add((end.GatewayId, $"a:{AddressText.Of(further)}", true));
            if (end.InterfaceAddress is { } inner)
                keys.Add((end.GatewayId, $"t:{end.ProtectedVrf}:{AddressText.Of(inner.Address)}", true));
            if (tunnel.Fallback is { } place)
                keys.Add((end.GatewayId, $"o:{place.Order}", true));
        }

        return keys.Select(k => new LookupRow
        {
            TunnelId = tunnel.Id,
            GatewayId = k.Gateway,
            Key = k.Key,
            Held = k.Held,
        });
    }

    /// <summary>
    /// The key of an end's peer entry: as entered, or as it follows from the other gateway's first uplink; null when
    /// neither is known.
    /// </summary>
    private static string? EntryOf(TunnelEnd end, Uplink[] uplinks)
    {
        if (end.PeerAddress?.Value is not { } entered)
            return uplinks.FirstOrDefault()?.Outer is { } derived ? $"a:{AddressText.Of(derived)}" : null;
        if (entered.IsAny)
            return "any";
        return entered.Address is { } at ? $"a:{AddressText.Of(at)}" : $"n:{entered.Name}";
    }
}

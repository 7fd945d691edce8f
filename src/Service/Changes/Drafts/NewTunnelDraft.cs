using Vellumkeep.Core.Changes.NewTunnels;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>A tunnel that is built: one that is recorded as planned, or one that is worked out here.</summary>
internal static class NewTunnelDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft, DraftNewTunnel given)
    {
        var tunnel = given.New is { } idea
            ? await DesignAsync(draft, idea, given.Suite)
            : await draft.TunnelAsync("tunnel", given.Tunnel);
        var also = new List<Tunnel>();
        foreach (var code in given.Also ?? [])
            also.Add(await draft.TunnelAsync("also", code));
        return Drafted.Of(
            new NewTunnelRequest(tunnel.Id) { Also = [.. also.Select(t => t.Id).Where(id => id != tunnel.Id)] },
            $"Build {Say.And(also.Prepend(tunnel).Select(t => t.Code).Distinct())}"
        );
    }

    /// <summary>A tunnel that is worked out between two gateways; it is written with the draft.</summary>
    private static async Task<Tunnel> DesignAsync(Draft draft, NewTunnelGiven idea, string? named)
    {
        var a = await draft.NamedAsync<Gateway>("gatewayA", RecordKind.Gateway, idea.GatewayA);
        var b = await draft.NamedAsync<Gateway>("gatewayB", RecordKind.Gateway, idea.GatewayB);
        var inventory = await draft.Reader.BetweenAsync(a, b, draft.Ct);
        var (siteA, siteB) = (inventory.Get<Site>(a.SiteId), inventory.Get<Site>(b.SiteId));
        var customer = idea.Customer is { } owner
            ? await draft.NamedAsync<Customer>("customer", RecordKind.Customer, owner)
            : inventory.Get<Customer>(siteA.CustomerId);
        var suite = await draft.SuiteAsync(named);
        await Records.Ownership.NeedFreeAsync(
            draft.Asker,
            draft.Reader,
            RecordKind.Tunnel,
            idea.Code ?? "",
            null,
            "code",
            draft.Ct
        );
        var (made, refused) = TunnelDesign.Of(
            suite is null ? inventory : inventory.With(suite),
            draft.Writing.NewId(),
            new()
            {
                Code = (idea.Code ?? "").Trim(),
                CustomerId = customer.Id,
                Name = string.IsNullOrWhiteSpace(idea.Name) ? $"{siteA.Name} to {siteB.Name}" : idea.Name.Trim(),
                A = new(a.Id, UplinkOf(a, idea.UplinkA, "uplinkA")),
                B = new(b.Id, UplinkOf(b, idea.UplinkB, "uplinkB")),
                Pairs = [.. (idea.Pairs ?? []).Select(Draft.PairOf)],
                Used = await UsedAsync(draft, a, b),
                SuiteId = suite?.Id,
            },
            draft.Today
        );
        if (made is null)
            throw ChangeProblems.Unplanned(refused, draft.Asker.Scope);
        draft.Asker.Need(Role.Engineer, customer.Id, made.Code);
        await Records.Ownership.NeedEndsAsync(draft.Asker, draft.Reader, null, made, _ => null, draft.Ct);
        draft.Writing.Put(made, 0);
        return made;
    }

    /// <summary>What is in use of the gateways' pools, by whomever.</summary>
    private static async Task<ImmutableArray<Prefix>> UsedAsync(Draft draft, Gateway a, Gateway b)
    {
        if ((a.TunnelPool ?? b.TunnelPool) is not { } pool)
            return [];
        var places = await new PlaceList(draft.Writing.Read).PlacesAsync(Scope.Everything, pool, null, draft.Ct);
        // Too many to look through: the whole pool counts as used, and the addresses are for the engineer to choose.
        return places is null ? [pool] : [.. places.Where(p => p.Role != "tunnel pool").Select(p => p.Prefix)];
    }

    private static ImmutableArray<string> UplinkOf(Gateway gateway, string? label, string field)
    {
        if (label is null)
            return [];
        return gateway.Uplinks.Any(u => u.Label == label)
            ? [label]
            : throw ProblemException.Field(
                field,
                $"{gateway.Code} has no uplink '{Typed.Short(label)}'",
                string.Join(", ", gateway.Uplinks.Select(u => u.Label))
            );
    }
}

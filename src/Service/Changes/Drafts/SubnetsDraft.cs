using Vellumkeep.Core.Changes.Subnets;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>Subnets added and removed.</summary>
internal static class SubnetsDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft)
    {
        var given = draft.Given;
        var tunnel = await draft.TunnelAsync("tunnel", given.Tunnel);
        var end = Find.EndOf(given.End ?? "");
        var around = await draft.Reader.AroundAsync([tunnel.Id], false, draft.Ct);
        var site = around.Get<Site>(around.Get<Gateway>(tunnel.End(end).GatewayId).SiteId);
        var also = new List<TunnelSide>();
        foreach (var code in given.Also ?? [])
            also.Add(await SideAtAsync(draft, code, site));
        var (addOther, removeOther) = (
            Draft.Prefixes("addOther", given.AddOther),
            Draft.Prefixes("removeOther", given.RemoveOther)
        );
        if (!addOther.IsEmpty || !removeOther.IsEmpty)
            also.Add(new(tunnel.Id, end.Other()) { Add = addOther, Remove = removeOther });
        var request = new SubnetsRequest(
            tunnel.Id,
            end,
            Draft.Prefixes("add", given.Add),
            Draft.Prefixes("reach", given.Reach)
        )
        {
            Remove = Draft.Prefixes("remove", given.Remove),
            Also = [.. also],
        };
        return new(request, inventory => Title(inventory, request, site.Id));
    }

    /// <summary>The network lives at one site: on every further tunnel it is the end that stands there.</summary>
    private static async Task<TunnelSide> SideAtAsync(Draft draft, string code, Site site)
    {
        var other = await draft.TunnelAsync("also", code);
        var beside = await draft.Reader.AroundAsync([other.Id], false, draft.Ct);
        foreach (var end in Enum.GetValues<EndName>())
            if (beside.Get<Gateway>(other.End(end).GatewayId).SiteId == site.Id)
                return new(other.Id, end);
        throw ProblemException.Field(
            "also",
            $"{other.Code} has no end at {site.Name}, where the prefixes are",
            $"a tunnel that ends there, or a separate change for {other.Code}"
        );
    }

    private static string Title(Inventory inventory, SubnetsRequest request, string siteId)
    {
        var site = inventory.Get<Site>(siteId);
        string Names(ImmutableArray<Prefix> list) => Say.And(list.Select(p => site.NameOf(p) ?? p.ToString()));
        var what = new List<string>();
        if (!request.Add.IsEmpty)
            what.Add($"add {Names(request.Add)} to");
        if (!request.Remove.IsEmpty)
            what.Add($"remove {Names(request.Remove)} from");
        if (what.Count == 0)
            what.Add($"change subnets behind {request.End.Other()} of");
        var tunnels = Say.And(request.Tunnels.Select(id => inventory.Get<Tunnel>(id).Code));
        return Say.Capital($"{Say.And(what)} {tunnels}");
    }
}

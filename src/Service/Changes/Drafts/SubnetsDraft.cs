using Vellumkeep.Core.Changes.Subnets;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>Subnets added and removed.</summary>
internal static class SubnetsDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft, DraftSubnets given)
    {
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

    /// <summary>What is added and removed, at both ends of the tunnel where both have something.</summary>
    private static string Title(Inventory inventory, SubnetsRequest request, string siteId)
    {
        IEnumerable<string> Names(string site, IEnumerable<Prefix> list) =>
            list.Select(p => inventory.Get<Site>(site).NameOf(p) ?? p.ToString());
        string SiteOf(TunnelSide side) =>
            inventory.Get<Gateway>(inventory.Get<Tunnel>(side.TunnelId).End(side.End).GatewayId).SiteId;
        string[] Both(ImmutableArray<Prefix> near, Func<TunnelSide, ImmutableArray<Prefix>?> far) =>
            [.. Names(siteId, near), .. request.Also.SelectMany(s => far(s) is { } list ? Names(SiteOf(s), list) : [])];
        var what = new List<string>();
        if (Both(request.Add, s => s.Add) is { Length: > 0 } added)
            what.Add($"add {Say.And(added)} to");
        if (Both(request.Remove, s => s.Remove) is { Length: > 0 } removed)
            what.Add($"remove {Say.And(removed)} from");
        if (what.Count == 0)
            what.Add("change subnets of");
        var tunnels = Say.And(request.Tunnels.Select(id => inventory.Get<Tunnel>(id).Code));
        return Say.Capital($"{Say.And(what)} {tunnels}");
    }
}

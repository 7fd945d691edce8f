namespace Vellumkeep.Service.Gateways;

/// <summary>Gateways: what runs where, and how it stands.</summary>
public static class GatewayEndpoints
{
    public static void MapGateways(this RouteGroupBuilder api)
    {
        ListGateways(api);
        OpenGateway(api);
    }

    private static void ListGateways(RouteGroupBuilder api) =>
        api.MapGet(
                "/gateways",
                async (
                    string? customer,
                    string? q,
                    string? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await using var context = databases.Open();
                    var owner = await Find.OwnerAsync(new(context), http.Asker().Scope, customer, ct);
                    return await Paging.ByCodeAsync(
                        http,
                        most,
                        async n =>
                            await new GatewayList(context).GatewaysAsync(http.Asker().Scope, owner, q, cursor, n, ct),
                        g => g.Code,
                        g => new GatewaySummary(g.Code, g.Site, g.Owner, g.Platform, g.Outer, g.Tunnels, g.Blocked)
                    );
                }
            )
            .For(Role.Reader)
            .WithName("listGateways")
            .WithSummary("Gateways with how many tunnels run through each")
            .Refuses(404);

    private static void OpenGateway(RouteGroupBuilder api) =>
        api.MapGet(
                "/gateways/{code}",
                async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var reader = new RecordReader(context);
                    var g = (await Find.RecordAsync<Gateway>(reader, scope, RecordKind.Gateway, code, ct)).Record;
                    var site = (await reader.ByIdAsync<Site>(Scope.Everything, g.SiteId, ct))!.Record;
                    var owner = (await reader.ByIdAsync<Customer>(Scope.Everything, site.CustomerId, ct))!.Record;
                    var platform = (await reader.ByIdAsync<Platform>(Scope.Everything, g.PlatformId, ct))!.Record;
                    var standing = await new TunnelList(context).StandingAsync(scope, [g.Id], ["a", "b"], ct);
                    var (tunnels, inAll) = await TunnelSummaries.ReferringAsync(context, scope, [g.Id], ["a", "b"], ct);
                    var held = await new GatewayList(context).HeldAsync(scope, g.Id, ct);
                    var all = await new ReferenceList(context).CountReferringAsync(g.Id, ["a", "b"], ct);
                    return new GatewayPage
                    {
                        Code = g.Code,
                        Site = site.Name,
                        SiteCode = site.Code,
                        Customer = owner.Name,
                        CustomerCode = owner.Code,
                        Platform = platform.Code,
                        PlatformName = platform.Title,
                        RunBy = WordsOf.RunBys.Of(g.RunBy),
                        Verdict = GroupVerdict.Of($"run through {g.Code:w}", standing).Show(scope.Sees),
                        Uplinks =
                        [
                            .. g.Uplinks.Select(u => new UplinkLine(
                                u.Label,
                                u.OuterText,
                                u.Nat is null ? null : u.Address.Value?.ToString(),
                                u.Nat is { } t ? t.Name : null,
                                u.Mtu
                            )),
                        ],
                        Held =
                        [
                            .. g.SharedEntries.Select(h => new SharedEntryLine(
                                h.Name,
                                h.What,
                                string.Join(
                                    ", ",
                                    h.Members.Select(m => m.ToString())
                                        .Concat(h.IkeProposals.Select(p => p.ToString()))
                                        .Concat(h.EspProposals.Select(p => p.ToString()))
                                ),
                                held.GetValueOrDefault(h.Name) ?? []
                            )),
                        ],
                        Tunnels = tunnels,
                        TunnelsInAll = inAll,
                        Others = all - standing.All,
                    };
                }
            )
            .For(Role.Reader)
            .WithName("openGateway")
            .WithSummary("A gateway and everything that runs through it")
            .Refuses(404);
}

using Vellumkeep.Service.Records;

namespace Vellumkeep.Service.Sites;

/// <summary>Sites with their networks and gateways.</summary>
public static class SiteEndpoints
{
    public static void MapSites(this RouteGroupBuilder api)
    {
        ListSites(api);
        OpenSite(api);
    }

    private static void ListSites(RouteGroupBuilder api) =>
        api.MapGet(
                "/sites",
                async (
                    string? customer,
                    string? q,
                    string? asOf,
                    string? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                    await RecordEndpoints.ListAsync(
                        databases,
                        http,
                        RecordKind.Site,
                        customer,
                        q,
                        asOf,
                        cursor,
                        most,
                        ct
                    )
            )
            .For(Role.Reader)
            .WithName("listSites")
            .WithSummary("Sites, now or as they were on a day")
            .Refuses(404, 422);

    private static void OpenSite(RouteGroupBuilder api) =>
        api.MapGet("/sites/{code}", async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
            {
                var scope = http.Asker().Scope;
                await using var context = databases.Open();
                var reader = new RecordReader(context);
                var kept = await Find.RecordAsync<Site>(reader, scope, RecordKind.Site, code, ct);
                var s = kept.Record;
                var owner = (await reader.ByIdAsync<Customer>(Scope.Everything, s.CustomerId, ct))!.Record;
                var gateways = await new GatewayList(context).GatewaysOfSiteAsync(scope, s.Id, ct);
                string[] ids = [.. gateways.Select(g => g.Id)];
                var standing = await new TunnelList(context).StandingAsync(scope, ids, ["a", "b"], ct);
                var (tunnels, inAll) = await TunnelSummaries.ReferringAsync(context, scope, ids, ["a", "b"], ct);
                List<(Tunnel Tunnel, EndName End)> ends = [];
                foreach (var g in gateways)
                {
                    ends.AddRange(
                        (await reader.OnGatewayAsync(g.Id, ct))
                            .Where(t => scope.Sees(t.CustomerId))
                            .SelectMany(t =>
                                new[] { EndName.A, EndName.B }
                                    .Where(e => t.End(e).GatewayId == g.Id)
                                    .Select(e => (t, e))
                            )
                    );
                }

                var platforms = new StoredNames(context, Scope.Everything);
                http.Response.Headers.ETag = ETags.Of(kept.Version);
                return new SitePage
                {
                    Code = s.Code,
                    Name = s.Name,
                    Customer = owner.Code,
                    CustomerName = owner.Name,
                    TimeZone = s.TimeZone,
                    Notes = s.Notes,
                    Retired = s.Retired is { } day ? Scalars.Write(day) : null,
                    Version = kept.Version,
                    Verdict = GroupVerdict.Of($"end at {s.Name:w}", standing).Show(scope.Sees),
                    Networks =
                    [
                        .. s.Networks.Select(n => new NetworkLine(
                            n.Prefix.ToString(),
                            n.Name,
                            n.Purpose,
                            n.PresentedAs?.ToString(),
                            [
                                .. n.TestPoints.Select(t => new TestPointLine(
                                    t.Address.ToString(),
                                    t.Service,
                                    t.ConfirmedBy
                                )),
                            ],
                            [
                                .. ends.Where(e =>
                                        e.Tunnel.Agreed.Pairs.Any(p =>
                                            (e.End == EndName.A ? p.A : p.B).Overlaps(n.AsPresented)
                                        )
                                    )
                                    .Select(e => new CarriedLine(e.Tunnel.Code, e.End.ToString()))
                                    .Distinct(),
                            ]
                        )),
                    ],
                    Gateways =
                    [
                        .. gateways.Select(g => new SiteGatewayLine(
                            g.Code,
                            platforms.TextOf(RecordKind.Platform, g.PlatformId),
                            g.Uplinks.FirstOrDefault()?.OuterText ?? "unknown"
                        )),
                    ],
                    Tunnels = tunnels,
                    TunnelsInAll = inAll,
                };
            })
            .For(Role.Reader)
            .WithName("openSite")
            .WithSummary("A site: its networks, and the tunnels of each")
            .Refuses(404);
}

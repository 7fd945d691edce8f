using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service.Places;

/// <summary>Gateways, customers and addresses: what runs where, and how it stands.</summary>
public static class PlaceEndpoints
{
    public static void MapPlaces(this RouteGroupBuilder api)
    {
        ListGateways(api);
        OpenGateway(api);
        OpenCustomer(api);
        OpenSite(api);
        FindAddress(api);
    }

    private static void ListGateways(RouteGroupBuilder api) =>
        api.MapGet(
                "/gateways",
                async (
                    string? customer,
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
                            await new GatewayList(context).GatewaysAsync(http.Asker().Scope, owner, cursor, n, ct),
                        g => g.Code,
                        g => new GatewaySummary(g.Code, g.Site, g.Owner, g.Platform, g.Outer, g.Tunnels, g.Blocked)
                    );
                }
            )
            .For(Role.Reader)
            .WithName("listGateways")
            .WithSummary("Gateways with how many tunnels run through each")
            .ProducesProblem(404);

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
                        Customer = owner.Name,
                        Platform = platform.Code,
                        PlatformName = platform.Title,
                        RunBy = WordsOf.RunBys.Of(g.RunBy),
                        Verdict = Together.Of($"run through {g.Code:w}", standing).Show(scope.Sees),
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
            .ProducesProblem(404);

    private static void OpenCustomer(RouteGroupBuilder api) =>
        api.MapGet(
                "/customers/{code}",
                async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var reader = new RecordReader(context);
                    var c = (await Find.RecordAsync<Customer>(reader, scope, RecordKind.Customer, code, ct)).Record;
                    SiteLine[] sites =
                    [
                        .. (await new SiteList(context).SitesAsync(scope, c.Id, Bounds.SitesOnPage, ct)).Select(
                            s => new SiteLine(
                                s.Site.Code,
                                s.Site.Name,
                                s.Site.TimeZone,
                                [
                                    .. s.Site.Networks.Select(n =>
                                        $"{n.Prefix} {n.Name}{(n.PresentedAs is { } shown ? $", presented as {shown}" : "")}"
                                    ),
                                ],
                                s.Gateways
                            )
                        ),
                    ];
                    var (tunnels, inAll) = await TunnelSummaries.ReferringAsync(
                        context,
                        scope,
                        [c.Id],
                        ["customer"],
                        ct
                    );
                    return new CustomerPage(
                        c.Code,
                        c.Name,
                        Customer.Owners.Of(c.Owner),
                        Together
                            .Of(
                                $"belong to {c.Name:w}",
                                await new TunnelList(context).StandingAsync(scope, [c.Id], ["customer"], ct)
                            )
                            .Show(scope.Sees),
                        sites,
                        sites.Length < Bounds.SitesOnPage
                            ? sites.Length
                            : await new SiteList(context).CountSitesAsync(scope, c.Id, ct),
                        tunnels,
                        inAll
                    );
                }
            )
            .For(Role.Reader)
            .WithName("openCustomer")
            .WithSummary("A customer, its sites and its tunnels")
            .ProducesProblem(404);

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
                    Verdict = Together.Of($"end at {s.Name:w}", standing).Show(scope.Sees),
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
            .ProducesProblem(404);

    private static void FindAddress(RouteGroupBuilder api) =>
        api.MapGet(
                "/addresses",
                async (
                    string? q,
                    string? free,
                    int? length,
                    string? customer,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var asked = Prefix.Parse(free ?? q ?? "");
                    if (!asked.Ok)
                        throw ProblemException.Field(free is null ? "q" : "free", asked.Wrong!, asked.Right!, "Prefix");
                    var owner = await Find.OwnerAsync(new(context), scope, customer, ct);
                    var found = await new PlaceList(context).PlacesAsync(scope, asked.Value, owner, ct)
                        ?? throw ProblemException.Field(
                            free is null ? "q" : "free",
                            $"more than {PlaceList.Most:N0} prefixes in use overlap {asked.Value}",
                            "a smaller prefix, or one customer alone"
                        );
                    PlaceLine[] places =
                    [
                        .. found.Select(p => new PlaceLine(p.Prefix.ToString(), p.Role, p.OwnerCode, p.Code, p.Name)),
                    ];
                    IReadOnlyList<string> gaps = [];
                    if (free is not null)
                    {
                        if (length is not { } l || l < asked.Value.Length || l > asked.Value.Network.Width)
                            throw ProblemException.Field(
                                "length",
                                "the wanted length is missing or out of range",
                                $"a length from {asked.Value.Length} to {asked.Value.Network.Width}"
                            );
                        gaps =
                        [
                            .. new PrefixIndex<int>(places.Select(p => (Prefix.Parse(p.Prefix).Value, 0)))
                                .Free(asked.Value, l, 12)
                                .Select(p => p.ToString()),
                        ];
                    }

                    return new AddressResult(
                        asked.Value.ToString(),
                        [.. places.Where(p => Prefix.Parse(p.Prefix).Value.Contains(asked.Value))],
                        [.. places.Where(p => !Prefix.Parse(p.Prefix).Value.Contains(asked.Value))],
                        gaps
                    );
                }
            )
            .For(Role.Reader)
            .WithName("findAddress")
            .WithSummary("What contains an address, what is in a prefix, and what is free in it")
            .ProducesProblem(422);
}

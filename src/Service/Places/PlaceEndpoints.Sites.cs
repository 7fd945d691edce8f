using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service.Places;

/// <summary>A site, and where an address is.</summary>
public static partial class PlaceEndpoints
{
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
                            .. new PrefixIndex<int>(Used(places, asked.Value).Select(p => (p, 0)))
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

    /// <summary>
    /// What is in use within a space. A pool is there to be used: who asks for what is free in it is not told that all
    /// of it is taken.
    /// </summary>
    internal static IEnumerable<Prefix> Used(IEnumerable<PlaceLine> places, Prefix space) =>
        places
            .Select(p => (p.Kind, Prefix: Prefix.Parse(p.Prefix).Value))
            .Where(p => p.Kind != "tunnel pool" || !p.Prefix.Contains(space))
            .Select(p => p.Prefix);
}

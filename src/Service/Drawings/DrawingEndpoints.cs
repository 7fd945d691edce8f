using Vellumkeep.Core.Drawings;
using Vellumkeep.Exchange.Drawings;

namespace Vellumkeep.Service.Drawings;

/// <summary>A customer drawn: its sites and tunnels, and its addresses to scale.</summary>
public static class DrawingEndpoints
{
    public static void MapDrawings(this RouteGroupBuilder api)
    {
        DrawCustomer(api);
        MapAddressPlan(api);
        DrawAddresses(api);
    }

    private static void DrawCustomer(RouteGroupBuilder api) =>
        api.MapGet(
                "/customers/{code}/drawing",
                async (string code, bool? links, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    await using var context = databases.Open();
                    var (scope, customer) = await CustomerAsync(context, http, code, ct);
                    var (first, all) = await new TunnelList(context).TunnelsOfAsync(
                        scope,
                        [customer.Id],
                        ["customer"],
                        ct
                    );
                    if (all > first.Count)
                        throw TooMany(customer, "tunnels", "The list of sites and the list of tunnels have them all.");
                    var listed = first.Where(t => t.State != "retired").ToDictionary(t => t.Id);
                    var around = await new RecordReader(context).AroundAsync([.. listed.Keys], false, ct);
                    Gateway GatewayOf(Tunnel t, EndName end) => around.Get<Gateway>(t.End(end).GatewayId);
                    Tunnel[] tunnels = [.. listed.Keys.Select(around.Get<Tunnel>)];
                    var ends = tunnels
                        .SelectMany(t => new[] { GatewayOf(t, EndName.A), GatewayOf(t, EndName.B) })
                        .DistinctBy(g => g.Id)
                        .ToLookup(g => g.SiteId);
                    var sites = (await new SiteList(context).SitesAsync(scope, customer.Id, Bounds.Drawn + 1, ct))
                        .Select(s => s.Site)
                        .Where(s => s.Retired is null)
                        .Concat(ends.Select(g => around.Get<Site>(g.Key)))
                        .DistinctBy(s => s.Id)
                        .ToArray();
                    if (sites.Length > Bounds.Drawn)
                        throw TooMany(customer, "sites", "The list of sites and the list of tunnels have them all.");
                    var drawing = SitesDrawing.Of(
                        $"{customer.Name}: sites and tunnels",
                        sites.Select(s => new DrawnSite(
                            s.Code,
                            s.Name,
                            [
                                .. ends[s.Id]
                                    .OrderBy(g => g.Code, StringComparer.Ordinal)
                                    .Select(g => $"{g.Code} {string.Join(", ", g.Uplinks.Select(u => u.OuterText))}"),
                            ]
                        )),
                        tunnels.Select(t =>
                        {
                            var (stroke, word) = TunnelSummaries.Standing(listed[t.Id]);
                            return new DrawnTunnel(
                                t.Code,
                                around.Get<Site>(GatewayOf(t, EndName.A).SiteId).Code,
                                around.Get<Site>(GatewayOf(t, EndName.B).SiteId).Code,
                                stroke,
                                word,
                                t.State == TunnelState.Planned
                            );
                        })
                    );
                    return Picture(drawing, links, http, $"{customer.Code}-tunnels.svg");
                }
            )
            .For(Role.Reader)
            .WithMetadata(new Heavy())
            .Produces<string>(200, "image/svg+xml")
            .WithName("drawCustomer")
            .WithSummary("A customer's sites and tunnels as SVG; links: with links to the console's pages")
            .Refuses(404, 422);

    private static void MapAddressPlan(RouteGroupBuilder api) =>
        api.MapGet(
                "/customers/{code}/addresses",
                async (string code, string? within, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    await using var context = databases.Open();
                    var (scope, customer) = await CustomerAsync(context, http, code, ct);
                    return new AddressPlanPage(
                        customer.Code,
                        customer.Name,
                        [
                            .. (await AreasAsync(context, scope, customer, within, ct)).Select(a => new PlanAreaLine(
                                a.Space.ToString(),
                                [
                                    .. a.Items.Select(i => new PlanItemLine
                                    {
                                        Prefix = i.Prefix.ToString(),
                                        Real = i.Real,
                                        Name = i.Network.Name,
                                        Site = i.Network.SiteCode,
                                        SiteName = i.Network.SiteName,
                                        PresentedAs = i.Network.PresentedAs?.ToString(),
                                        Overlaps = i.Overlaps,
                                        More = i.More,
                                        Harmless = i.Harmless,
                                    }),
                                ],
                                [.. a.Free.OrderBy(f => f.Length).ThenBy(f => f).Take(12).Select(f => f.ToString())]
                            )),
                        ]
                    );
                }
            )
            .For(Role.Reader)
            .WithMetadata(new Heavy())
            .WithName("addressPlan")
            .WithSummary(
                "A customer's addresses: what is where, what overlaps, what has NAT, what is free; within: only "
                    + "what overlaps a prefix"
            )
            .Refuses(404, 422);

    private static void DrawAddresses(RouteGroupBuilder api) =>
        api.MapGet(
                "/customers/{code}/addresses/drawing",
                async (
                    string code,
                    string? within,
                    bool? links,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await using var context = databases.Open();
                    var (scope, customer) = await CustomerAsync(context, http, code, ct);
                    return Picture(
                        AddressPlan.Draw(
                            $"{customer.Name}: addresses",
                            await AreasAsync(context, scope, customer, within, ct)
                        ),
                        links,
                        http,
                        $"{customer.Code}-addresses.svg"
                    );
                }
            )
            .For(Role.Reader)
            .WithMetadata(new Heavy())
            .Produces<string>(200, "image/svg+xml")
            .WithName("drawAddresses")
            .WithSummary("A customer's addresses to scale as SVG; within: only what overlaps a prefix")
            .Refuses(404, 422);

    private static async Task<(Scope Scope, Customer Customer)> CustomerAsync(
        KeepContext context,
        HttpContext http,
        string code,
        CancellationToken ct
    )
    {
        var scope = http.Asker().Scope;
        return (scope, (await Find.RecordAsync<Customer>(new(context), scope, RecordKind.Customer, code, ct)).Record);
    }

    private static async Task<ImmutableArray<PlanArea>> AreasAsync(
        KeepContext context,
        Scope scope,
        Customer customer,
        string? within,
        CancellationToken ct
    )
    {
        Prefix? block = null;
        if (within is not null)
        {
            var read = Prefix.Parse(within);
            block = read.Ok ? read.Value : throw ProblemException.Field("within", read.Wrong!, read.Right!);
        }

        var sites = await new SiteList(context).SitesAsync(scope, customer.Id, Bounds.Drawn + 1, ct, block);
        PlannedNetwork[] networks =
        [
            .. from s in sites
            where s.Site.Retired is null
            from n in s.Site.Networks
            where block is not { } b || n.Prefix.Overlaps(b) || n.PresentedAs?.Overlaps(b) == true
            select new PlannedNetwork(n.Prefix, n.PresentedAs, n.Name, s.Site.Code, s.Site.Name),
        ];
        if (sites.Count > Bounds.Drawn || networks.Length > Bounds.Drawn)
            throw TooMany(
                customer,
                "networks",
                $"Ask for a part of it: "
                    + $"within={block ?? Prefix.Parse("10.0.0.0/16").Value}{(block is null ? "" : " is still too large")}."
            );
        var areas = ImmutableArray.CreateBuilder<PlanArea>();
        foreach (var area in AddressPlan.Areas(networks))
        {
            var used = await new PlaceList(context).PlacesAsync(scope, area.Space, customer.Id, ct);
            // Where too much is used to look through, nothing is called free.
            areas.Add(
                area with
                {
                    Free = used is null ? [] : [.. Prefixes.Subtract(area.Free, used.Select(u => u.Prefix)).Order()],
                }
            );
        }

        return areas.ToImmutable();
    }

    private static ProblemException TooMany(Customer customer, string what, string instead) =>
        new(
            422,
            "too-many",
            "Too much to draw",
            $"{customer.Code} has more than {Bounds.Drawn} {what} here to draw; that is the limit. {instead}"
        );

    private static IResult Picture(Drawing drawing, bool? links, HttpContext http, string name)
    {
        if (links != true)
            http.Response.Headers.ContentDisposition = $"inline; filename={name}";
        return Results.Text(
            Svg.Write(
                drawing,
                links == true ? (kind, code) => $"/{RecordPaths.Kinds.First(k => k.Kind == kind).Plural}/{code}" : null
            ),
            "image/svg+xml"
        );
    }
}

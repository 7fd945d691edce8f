namespace Vellumkeep.Service.Customers;

/// <summary>Customers and other parties.</summary>
public static class CustomerEndpoints
{
    public static void MapCustomers(this RouteGroupBuilder api)
    {
        ListCustomers(api);
        OpenCustomer(api);
    }

    private static void ListCustomers(RouteGroupBuilder api) =>
        api.MapGet(
                "/customers",
                async (
                    string? q,
                    string? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await using var context = databases.Open();
                    return await Paging.ByCodeAsync(
                        http,
                        most,
                        async n => await new CustomerList(context).CustomersAsync(http.Asker().Scope, q, cursor, n, ct),
                        c => c.Code,
                        c => new CustomerSummary(c.Code, c.Name, Customer.Owners.Of(c.Owner), c.Tunnels, c.Blocked)
                    );
                }
            )
            .For(Role.Reader)
            .WithName("listCustomers")
            .WithSummary("Customers and other parties");

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
                        GroupVerdict
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
            .Refuses(404);
}

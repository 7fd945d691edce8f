namespace Vellumkeep.Storage.Tests;

public abstract partial class QueryTests
{
    [Theory]
    [MemberData(nameof(AskersAndPages))]
    public async Task Records_of_every_kind_come_in_pages_by_code(string asker, int most)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        foreach (var kind in new[] { RecordKind.Site, RecordKind.Gateway, RecordKind.Customer, RecordKind.Tunnel })
        {
            var listed = new List<string>();
            while (true)
            {
                var page = await new RecordList(context).RecordsAsync(
                    scope,
                    kind,
                    null,
                    null,
                    null,
                    listed.Count == 0 ? null : listed[^1].ToUpperInvariant(),
                    most,
                    Ct
                );
                listed.AddRange(page.Select(r => r.Code));
                if (page.Count < most)
                    break;
            }

            string[] wanted =
            [
                .. All
                    .All.Where(r => r.Kind == kind && scope.Sees(OwnerOf(r)))
                    .Select(r => r.Code)
                    .OrderBy(c => c.ToUpperInvariant(), StringComparer.Ordinal),
            ];
            listed.ToArray().ShouldBe(wanted, $"{kind}");
        }
    }

    /// <summary>
    /// Tunnel addresses and pools, outer and peer addresses, networks as they are and as they are presented: whatever
    /// stands in a record is in use.
    /// </summary>
    [Fact]
    public async Task Nothing_that_stands_in_a_record_is_called_free()
    {
        await using var context = demo.Databases.Open();
        var list = new PlaceList(context);
        var used = All
            .All.SelectMany(r =>
                r switch
                {
                    Site s => s.Networks.SelectMany(n => new[] { n.Prefix, n.PresentedAs }).OfType<Prefix>(),
                    Gateway g => g.Uplinks.Select(u => u.Outer).OfType<Address>().Select(Host),
                    Tunnel t => new[] { t.A, t.B }.SelectMany(e =>
                        new[]
                        {
                            e.TunnelAddress?.Value?.Network,
                            e.PeerAddress?.Value?.Address is { } p ? Host(p) : null,
                        }
                            .OfType<Prefix>()
                            .Concat(e.Subnets?.Local ?? [])
                            .Concat(e.Subnets?.Remote ?? [])
                    ),
                    _ => [],
                }
            )
            .Distinct()
            .ToArray();
        used.Length.ShouldBeGreaterThan(70);
        foreach (var prefix in used)
            (await list.PlacesAsync(Scope.Everything, prefix, null, Ct))!.ShouldContain(
                p => p.Prefix.Contains(prefix),
                $"{prefix}"
            );

        static Prefix Host(Address address) => Prefix.Around(address, address.Width);
    }

    private static string? OwnerOf(IRecord record) =>
        record switch
        {
            Customer c => c.Id,
            Site s => s.CustomerId,
            Gateway g => All.Get<Site>(g.SiteId).CustomerId,
            Tunnel t => t.CustomerId,
            _ => null,
        };

    [Theory]
    [MemberData(nameof(Askers))]
    public async Task Customers_and_gateways_count_their_tunnels_and_the_blocked_ones(string asker)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        var customers = await new CustomerList(context).CustomersAsync(scope, null, null, 500, Ct);
        customers
            .Select(c => (c.Code, c.Tunnels, c.Blocked))
            .ShouldBe(
                All.All.OfType<Customer>()
                    .Where(c => scope.Sees(c.Id))
                    .OrderBy(c => c.Code, StringComparer.Ordinal)
                    .Select(c =>
                        (
                            c.Code,
                            All.Tunnels.Count(t => t.CustomerId == c.Id),
                            All.Tunnels.Count(t => t.CustomerId == c.Id && Worst(t) == 0)
                        )
                    )
            );
        var gateways = await new GatewayList(context).GatewaysAsync(scope, null, null, null, 500, Ct);
        gateways
            .Select(g => (g.Code, g.Tunnels, g.Blocked))
            .ShouldBe(
                All.All.OfType<Gateway>()
                    .Where(g => scope.Sees(OwnerOf(g)))
                    .OrderBy(g => g.Code.ToUpperInvariant(), StringComparer.Ordinal)
                    .Select(g => (g.Code, All.On(g.Id).Count(), All.On(g.Id).Count(o => Worst(o.Tunnel) == 0)))
            );
    }

    [Theory]
    [InlineData("10.61.0.0/16")]
    [InlineData("10.61.40.0/24")]
    [InlineData("2001:db8::/32")]
    [InlineData("192.0.2.0/24")]
    public async Task Sites_are_narrowed_to_those_with_a_network_that_overlaps(string text)
    {
        await using var context = demo.Databases.Open();
        var within = Prefix.Parse(text).Value;
        foreach (var customer in All.All.OfType<Customer>())
        {
            var sites = await new SiteList(context).SitesAsync(Scope.Everything, customer.Id, 500, Ct, within);
            sites
                .Select(s => s.Site.Code)
                .ShouldBe(
                    All.All.OfType<Site>()
                        .Where(s =>
                            s.CustomerId == customer.Id
                            && s.Networks.Any(n => n.Prefix.Overlaps(within) || n.PresentedAs?.Overlaps(within) == true)
                        )
                        .OrderBy(s => s.Code.ToUpperInvariant(), StringComparer.Ordinal)
                        .Select(s => s.Code),
                    customer.Code
                );
        }
    }

    [Fact]
    public async Task What_refers_to_a_record_is_named_up_to_a_number_and_counted_in_full()
    {
        await using var context = demo.Databases.Open();
        foreach (var platform in All.All.OfType<Platform>())
        {
            var (codes, inAll) = await new ReferenceList(context).ReferringAsync(
                Scope.Everything,
                platform.Id,
                "platform",
                Ct
            );
            var wanted = All
                .All.OfType<Gateway>()
                .Where(g => g.PlatformId == platform.Id)
                .Select(g => g.Code)
                .OrderBy(c => c.ToUpperInvariant(), StringComparer.Ordinal)
                .ToArray();
            codes.ShouldBe(wanted, platform.Code);
            inAll.ShouldBe(wanted.Length, platform.Code);
        }
    }
}

namespace Vellumkeep.Service.Choices;

/// <summary>What a tunnel between two gateways can be made of.</summary>
public static class NewTunnelChoices
{
    public static void MapNewTunnelChoices(this RouteGroupBuilder api)
    {
        api.MapGet(
                "/choices/new-tunnel",
                async (string gatewayA, string gatewayB, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var reader = new RecordReader(context);
                    var a = await GatewayAsync(reader, scope, gatewayA, ct);
                    var b = await GatewayAsync(reader, scope, gatewayB, ct);
                    var name = $"{a.Site.Name} to {b.Site.Name}";
                    return new NewTunnelChoicesPage(
                        await FreeCodeAsync(reader, CodeOf(a.Owner, b.Site), ct),
                        name,
                        a.Owner.Code,
                        ChoicesOf(a),
                        ChoicesOf(b)
                    );
                }
            )
            .For(Role.Reader)
            .WithName("newTunnelChoices")
            .WithSummary(
                "A tunnel between two gateways: a free code, a name, and each end's networks, uplinks and clock"
            )
            .Refuses(404);

        api.MapGet(
                "/gateways/{code}/choices",
                async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    await using var context = databases.Open();
                    return ChoicesOf(await GatewayAsync(new(context), http.Asker().Scope, code, ct));
                }
            )
            .For(Role.Reader)
            .WithName("gatewayChoices")
            .WithSummary("What a change of a gateway can name: its uplinks, the networks and the clock of its site")
            .Refuses(404);
    }

    private static async Task<Placed> GatewayAsync(RecordReader reader, Scope scope, string code, CancellationToken ct)
    {
        var gateway = (await Find.RecordAsync<Gateway>(reader, scope, RecordKind.Gateway, code, ct)).Record;
        var site = (await reader.ByIdAsync<Site>(Scope.Everything, gateway.SiteId, ct))!.Record;
        var owner = (await reader.ByIdAsync<Customer>(Scope.Everything, site.CustomerId, ct))!.Record;
        var platform = (await reader.ByIdAsync<Platform>(Scope.Everything, gateway.PlatformId, ct))!.Record;
        return new(gateway, site, owner, platform);
    }

    private sealed record Placed(Gateway Gateway, Site Site, Customer Owner, Platform Platform);

    private static GatewayChoicesPage ChoicesOf(Placed of) =>
        new()
        {
            Gateway = of.Gateway.Code,
            Site = of.Site.Name,
            Customer = of.Owner.Code,
            TimeZone = of.Site.TimeZone,
            Networks = [.. of.Site.Networks.Select(n => new NetworkChoice(n.AsPresented.ToString(), n.Name, false))],
            Uplinks = [.. of.Gateway.Uplinks.Select(u => new ChoiceLine(u.Label, u.OuterText, ""))],
            SharedEntries = [.. of.Gateway.SharedEntries.Select(e => new ChoiceLine(e.Name, Held(e), e.What))],
            LifetimeUnit = of.Platform.LifetimeUnit is { } unit ? Platform.Units.Of(unit) : null,
        };

    /// <summary>What a shared entry holds: prefixes or proposals.</summary>
    private static string Held(SharedEntry entry) =>
        string.Join(
            ", ",
            entry
                .Members.Select(m => m.ToString())
                .Concat(entry.IkeProposals.Select(p => p.ToString()))
                .Concat(entry.EspProposals.Select(p => p.ToString()))
        );

    /// <summary>The customer, and the site at the other end: the last word of its name.</summary>
    private static string CodeOf(Customer owner, Site other)
    {
        var word = other.Name.Split(' ', StringSplitOptions.RemoveEmptyEntries).LastOrDefault() ?? "";
        var letters = new string([.. word.ToUpperInvariant().Where(char.IsAsciiLetterOrDigit).Take(10)]);
        return $"{owner.Code}-{(letters.Length == 0 ? "TUNNEL" : letters)}";
    }

    /// <summary>The first that nobody has: the code, or the code with a number.</summary>
    private static async Task<string> FreeCodeAsync(RecordReader reader, string code, CancellationToken ct)
    {
        for (var number = 1; ; number++)
        {
            var tried = number == 1 ? code : $"{code}-{number}";
            if (await reader.ByCodeAsync<Tunnel>(Scope.Everything, RecordKind.Tunnel, tried, ct) is null)
                return tried;
        }
    }
}

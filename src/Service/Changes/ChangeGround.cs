namespace Vellumkeep.Service.Changes;

/// <summary>The records that a change is computed from.</summary>
internal static class ChangeGround
{
    /// <summary>
    /// What two gateways stand among: their sites, platforms, owners, and the tunnels that end on them.
    /// </summary>
    public static async Task<Inventory> BetweenAsync(RecordReader reader, Gateway a, Gateway b, CancellationToken ct)
    {
        var on = (await reader.OnGatewayAsync(a.Id, ct))
            .Concat(await reader.OnGatewayAsync(b.Id, ct))
            .Select(t => t.Id)
            .Distinct()
            .ToArray();
        var around = await reader.AroundAsync(on, true, ct);
        var more = new List<IRecord> { a, b };
        foreach (var gateway in new[] { a, b })
        {
            var site = (await reader.ByIdAsync<Site>(Scope.Everything, gateway.SiteId, ct))!.Record;
            more.AddRange([
                site,
                (await reader.ByIdAsync<Platform>(Scope.Everything, gateway.PlatformId, ct))!.Record,
                (await reader.ByIdAsync<Customer>(Scope.Everything, site.CustomerId, ct))!.Record,
            ]);
        }

        return around.With(more);
    }

    /// <summary>
    /// Everything a request is computed from: its tunnels and all others on their gateways, the gateways, and the platform
    /// or suite that is requested for.
    /// </summary>
    public static async Task<Inventory> AroundAsync(
        RecordReader reader,
        ChangeRequest request,
        CancellationToken ct,
        Storage.Writing.Writing? writing = null
    )
    {
        // A tunnel that this very writing puts is not in the database yet.
        var put = request.Tunnels.Select(id => writing?.PutUnder(id)).OfType<Tunnel>().ToArray();
        var around = await reader.AroundAsync(request.Tunnels, true, ct);
        foreach (var tunnel in put)
            around = around.With(
                (
                    await BetweenAsync(
                        reader,
                        (await reader.ByIdAsync<Gateway>(Scope.Everything, tunnel.A.GatewayId, ct))!.Record,
                        (await reader.ByIdAsync<Gateway>(Scope.Everything, tunnel.B.GatewayId, ct))!.Record,
                        ct
                    )
                ).All.Append(tunnel)
            );
        var named = request
            .Names.Select(n => n.Id)
            .Concat(put.Select(t => t.Agreed.SuiteId).OfType<string>())
            .Concat(put.Select(t => t.CustomerId));
        foreach (var id in named)
            if (await reader.ByIdAsync<IRecord>(Scope.Everything, id, ct) is { } found)
                around = around.With(found.Record);
        return around;
    }
}

namespace Vellumkeep.Service.Changes;

/// <summary>The records that a change is computed from.</summary>
internal static class ChangeGround
{
    /// <summary>
    /// Everything a request is computed from: its tunnels and all others on their gateways, the gateways, and the
    /// platform or suite that is requested for.
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
                    await reader.BetweenAsync(
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

namespace Vellumkeep.Service.Records;

/// <summary>A tunnel that is being filled in, drawn and judged as though it were written.</summary>
internal static class TunnelDraft
{
    /// <param name="existing">The tunnel's id when it is there already; null for a new one.</param>
    public static async Task<TunnelPage> PageAsync(
        RecordReader reader,
        Tunnel tunnel,
        string? existing,
        Scope scope,
        DateTimeOffset now,
        CancellationToken ct
    )
    {
        var around = existing is null ? Inventory.Empty : await reader.AroundAsync([existing], false, ct);
        if (
            await reader.ByIdAsync<Gateway>(Scope.Everything, tunnel.A.GatewayId, ct) is { } a
            && await reader.ByIdAsync<Gateway>(Scope.Everything, tunnel.B.GatewayId, ct) is { } b
        )
            around = around.With((await reader.BetweenAsync(a.Record, b.Record, ct)).All);
        foreach (var id in new[] { tunnel.CustomerId, tunnel.Agreed.SuiteId }.OfType<string>())
            if (await reader.ByIdAsync<IRecord>(Scope.Everything, id, ct) is { } found)
                around = around.With(found.Record);
        var view = new TunnelView(around.With(tunnel), tunnel, DateOnly.FromDateTime(now.UtcDateTime));
        return TunnelPages.Make(view, Beside.Nothing, scope.Sees);
    }
}

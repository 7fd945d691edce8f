using Vellumkeep.Core.Findings.Path;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Storage.Reading;

/// <summary>What a computation needs around a tunnel.</summary>
public sealed partial class RecordReader
{
    /// <summary>
    /// What two gateways stand among: their sites, platforms, owners, and the tunnels that end on them.
    /// </summary>
    public async Task<Inventory> BetweenAsync(Gateway a, Gateway b, CancellationToken ct)
    {
        var on = (await OnGatewayAsync(a.Id, ct))
            .Concat(await OnGatewayAsync(b.Id, ct))
            .Select(t => t.Id)
            .Distinct()
            .ToArray();
        var around = await AroundAsync(on, true, ct);
        var more = new List<IRecord> { a, b };
        foreach (var gateway in new[] { a, b })
        {
            var site = (await ByIdAsync<Site>(Scope.Everything, gateway.SiteId, ct))!.Record;
            more.AddRange([
                site,
                (await ByIdAsync<Platform>(Scope.Everything, gateway.PlatformId, ct))!.Record,
                (await ByIdAsync<Customer>(Scope.Everything, site.CustomerId, ct))!.Record,
            ]);
        }

        return around.With(more);
    }

    /// <summary>
    /// Everything a computation about these tunnels needs: their gateways, sites, platforms, suites and owners, and the
    /// other tunnels of those gateways whose remote prefixes meet theirs or that share a shared entry; with
    /// <paramref name="wholeGateways"/> all tunnels of those gateways.
    /// </summary>
    public async Task<Inventory> AroundAsync(
        IReadOnlyCollection<string> tunnelIds,
        bool wholeGateways,
        CancellationToken ct
    )
    {
        var ids = tunnelIds.ToArray();
        var tunnels = wholeGateways
            ? await OnSameGatewaysAsync(ids, ct)
            :
            [
                .. await neighbours.MeetingAsync(ids, ct),
                .. await neighbours.SharingAsync(ids, ct),
                .. await neighbours.HoldingAsync(ids, ct),
            ];
        var wanted = tunnels.Union(ids).ToHashSet();
        var records = new Dictionary<string, IRecord>();
        async Task AlsoAsync(IReadOnlyCollection<string> some)
        {
            foreach (var record in await LoadAsync(some, ct))
                records[record.Id] = record;
        }

        // With gateways, then sites and platforms, then owners: three steps along the links.
        async Task WithAllTheyReferToAsync(IReadOnlyCollection<string> some)
        {
            await AlsoAsync(some);
            for (var step = 0; step < 3; step++)
                await AlsoAsync(records.Values.SelectMany(Refers).Where(id => !records.ContainsKey(id)).ToHashSet());
        }

        await WithAllTheyReferToAsync(wanted);
        if (wholeGateways)
            await WithAllTheyReferToAsync([
                .. records
                    .Values.OfType<Gateway>()
                    .Select(g => g.ManagementAccess?.TunnelId)
                    .OfType<string>()
                    .Where(id => !records.ContainsKey(id))
                    .Distinct(),
            ]);
        else
        {
            var crowd = await CrowdAsync(Inventory.Of(records.Values), ids, ct);
            await WithAllTheyReferToAsync([.. crowd.Where(id => !records.ContainsKey(id))]);
        }

        // Gateways elsewhere that show the same outer address.
        var gateways = records.Values.OfType<Gateway>().Select(g => g.Id).ToArray();
        await AlsoAsync(
            (await neighbours.SameOuterAsync(gateways, ct)).Where(id => !records.ContainsKey(id)).ToHashSet()
        );
        return Inventory.Of(records.Values);
    }

    /// <summary>
    /// Of each gateway that sends keepalives for one of these tunnels, so many tunnels that it can be told whether it
    /// is a hub.
    /// </summary>
    private Task<HashSet<string>> CrowdAsync(Inventory around, IEnumerable<string> ids, CancellationToken ct) =>
        neighbours.SomeOnAsync(
            [
                .. ids.Select(around.Find<Tunnel>)
                    .OfType<Tunnel>()
                    .SelectMany(t => new TunnelView(around, t, default).Ends)
                    .Where(e => e.Get(Settings.Keepalive).Value is { At: not null })
                    .Select(e => e.Gateway.Id)
                    .Distinct(),
            ],
            KeepaliveOdd.Hub,
            ct
        );

    /// <summary>
    /// The tunnels of gateways that may have become a hub, or be one no longer, by what was written to these: there are
    /// few of them on such a gateway.
    /// </summary>
    internal Task<HashSet<string>> AtTheEdgeOfAHubAsync(IReadOnlyCollection<string> gateways, CancellationToken ct) =>
        neighbours.SomeOnAsync(gateways, KeepaliveOdd.Hub, ct);

    /// <summary>Every tunnel with an end on a gateway of these.</summary>
    private async Task<List<string>> OnSameGatewaysAsync(string[] ids, CancellationToken ct)
    {
        string[] ends = ["a", "b"];
        var found = new HashSet<string>();
        foreach (var some in ids.Chunk(500))
            found.UnionWith(
                await (
                    from mine in context.Links
                    from theirs in context.Links
                    where
                        some.Contains(mine.FromId)
                        && ends.Contains(mine.Role)
                        && theirs.ToId == mine.ToId
                        && ends.Contains(theirs.Role)
                    select theirs.FromId
                )
                    .Distinct()
                    .ToListAsync(ct)
            );
        return [.. found];
    }
}

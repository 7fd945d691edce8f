namespace Vellumkeep.Storage.Reading;

/// <summary>A version of a key with its tunnel, the change it was made for and who has viewed it.</summary>
public sealed record KeyListed(
    KeyRow Key,
    string Tunnel,
    string TunnelName,
    string? Change,
    IReadOnlyList<string> ViewedBy
);

/// <summary>Versions of keys over all tunnels; never a key.</summary>
public sealed class KeyList(KeepContext context)
{
    /// <summary>The versions that the asker may know of, by tunnel and version.</summary>
    /// <param name="viewedBy">Only those that this person has viewed; all when null.</param>
    /// <param name="inUse">Only those in use, the oldest first.</param>
    public async Task<IReadOnlyList<KeyListed>> KeysAsync(
        Scope scope,
        string? viewedBy,
        bool inUse,
        int most,
        CancellationToken ct
    )
    {
        var keys = context.Keys.AsNoTracking();
        if (viewedBy is not null)
            keys = keys.Where(k =>
                context.KeyViews.Any(v => v.TunnelId == k.TunnelId && v.Version == k.Version && v.Who == viewedBy)
            );
        if (inUse)
            keys = keys.Where(k => k.State == "in use");
        var visible = scope.Over(context, context.Records.AsNoTracking());
        var joined =
            from k in keys
            join r in visible on k.TunnelId equals r.Id
            select new
            {
                Key = k,
                r.Code,
                r.CodeKey,
                r.Name,
            };
        var rows = await (
            inUse
                ? joined.OrderBy(x => x.Key.MadeAt).ThenBy(x => x.CodeKey)
                : joined.OrderBy(x => x.CodeKey).ThenByDescending(x => x.Key.Version)
        )
            .Take(most)
            .ToListAsync(ct);
        var tunnels = rows.Select(r => r.Key.TunnelId).Distinct().ToArray();
        var views = (
            await context
                .KeyViews.AsNoTracking()
                .Where(v => EF.Parameter(tunnels).Contains(v.TunnelId))
                .OrderBy(v => v.Id)
                .Select(v => new
                {
                    v.TunnelId,
                    v.Version,
                    v.Who,
                })
                .ToListAsync(ct)
        ).ToLookup(v => (v.TunnelId, v.Version), v => v.Who);
        var changes = rows.Select(r => r.Key.ChangeId).OfType<string>().Distinct().ToArray();
        var codes = await context
            .Records.AsNoTracking()
            .Where(r => EF.Parameter(changes).Contains(r.Id))
            .ToDictionaryAsync(r => r.Id, r => r.Code, ct);
        return
        [
            .. rows.Select(r => new KeyListed(
                r.Key,
                r.Code,
                r.Name,
                r.Key.ChangeId is { } id ? codes.GetValueOrDefault(id) : null,
                [.. views[(r.Key.TunnelId, r.Key.Version)].Distinct()]
            )),
        ];
    }
}

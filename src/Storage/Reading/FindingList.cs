using System.Text.Json;

namespace Vellumkeep.Storage.Reading;

/// <summary>A finding as it is kept, with the tunnel it is on.</summary>
public sealed record StoredFinding(string TunnelId, string TunnelCode, Finding Finding, DateTimeOffset Since);

/// <summary>Findings as they are kept.</summary>
public sealed class FindingList(KeepContext context)
{
    /// <summary>Findings, worst first, then by tunnel. Skip: how many come before.</summary>
    public async Task<IReadOnlyList<StoredFinding>> FindingsAsync(
        Scope scope,
        string? tunnelId,
        string? ownerId,
        string? code,
        string? severity,
        int most,
        CancellationToken ct,
        string? gatewayId = null,
        int skip = 0
    )
    {
        var rows = scope.Over(context.Findings.AsNoTracking());
        if (tunnelId is not null)
            rows = rows.Where(f => f.TunnelId == tunnelId);
        if (gatewayId is not null)
        {
            var on = context
                .Links.Where(l => l.ToId == gatewayId && (l.Role == "a" || l.Role == "b"))
                .Select(l => l.FromId);
            rows = rows.Where(f => on.Contains(f.TunnelId));
        }

        if (ownerId is not null)
            rows = rows.Where(f => f.OwnerId == ownerId);

        if (code?.ToUpperInvariant() is { } wanted)
            rows = rows.Where(f => f.Code == wanted);
        if (severity is not null && Severities.Words.Parse(severity) is { Ok: true } s)
            rows = rows.Where(f => f.Severity == (int)s.Value);
        var found = await rows.OrderBy(f => f.Severity)
            .ThenBy(f => f.CodeKey)
            .ThenBy(f => f.Code)
            .ThenBy(f => f.Subject)
            .Skip(skip)
            .Take(most)
            .ToListAsync(ct);
        return await KeptAsync(found, ct);
    }

    /// <summary>
    /// Every finding of a tunnel, as the checks gave them: the one place from which its pages take them.
    /// </summary>
    public async Task<IReadOnlyList<StoredFinding>> OfTunnelAsync(Scope scope, string tunnelId, CancellationToken ct) =>
        await KeptAsync(
            await scope
                .Over(context.Findings.AsNoTracking())
                .Where(f => f.TunnelId == tunnelId)
                .OrderBy(f => f.Place)
                .ToListAsync(ct),
            ct
        );

    private async Task<IReadOnlyList<StoredFinding>> KeptAsync(IReadOnlyList<FindingRow> found, CancellationToken ct)
    {
        var ids = found.Select(f => f.TunnelId).Distinct().ToArray();
        var codes = new Dictionary<string, string>();
        foreach (var some in ids.Chunk(500))
        foreach (
            var r in await context
                .Records.AsNoTracking()
                .Where(r => some.Contains(r.Id))
                .Select(r => new { r.Id, r.Code })
                .ToListAsync(ct)
        )
            codes[r.Id] = r.Code;
        return
        [
            .. found.Select(f => new StoredFinding(
                f.TunnelId,
                codes[f.TunnelId],
                JsonSerializer.Deserialize<Finding>(f.Body, RecordBody.Json)!,
                DateTimeOffset.Parse(f.Since, CultureInfo.InvariantCulture)
            )),
        ];
    }
}

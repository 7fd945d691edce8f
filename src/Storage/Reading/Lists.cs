using System.Text.Json;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Storage.Reading;

/// <summary>What a list of tunnels is narrowed to; null is all.</summary>
public sealed record TunnelFilter(string? CustomerCode, string? State, string? FindingCode, string? Severity, string? Text);

/// <summary>A tunnel as a list shows it.</summary>
public sealed record TunnelListed(string Id, string Code, string Name, string CustomerId, string State, string EndA, string EndB, int Worst, ImmutableArray<VerdictPart> Verdict);

/// <summary>A finding as it is kept, with the tunnel it is on.</summary>
public sealed record FindingKept(string TunnelId, string TunnelCode, Finding Finding, DateTimeOffset FirstSeen);

/// <summary>One commit that touched a record, with the version before and after it.</summary>
public sealed record HistoryKept(CommitRow Commit, int Version, RecordKind Kind, byte[]? Before, byte[] After);

/// <summary>Lists over projections: nothing here reads a record's body to decide what to leave out.</summary>
public sealed class Lists(KeepContext context)
{
    public async Task<(IReadOnlyList<TunnelListed> Items, string? Cursor)> TunnelsAsync(Scope scope, TunnelFilter filter, string? after, int most, CancellationToken ct)
    {
        var rows = scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));
        if (filter.CustomerCode is { } code)
        {
            var key = code.ToUpperInvariant();
            rows = rows.Where(r => context.Records.Any(c => c.Id == r.OwnerId && c.CodeKey == key));
        }

        if (filter.State is { } state)
            rows = rows.Where(r => r.State == state);
        if (filter.FindingCode is { } finding)
        {
            var key = finding.ToUpperInvariant();
            rows = rows.Where(r => context.Findings.Any(f => f.TunnelId == r.Id && f.Code == key));
        }

        if (filter.Severity is { } word && Severities.Words.Parse(word) is { Ok: true } severity)
            rows = rows.Where(r => context.Findings.Any(f => f.TunnelId == r.Id && f.Severity == (int)severity.Value));
        foreach (var text in (filter.Text ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(8))
        {
            if (Prefix.Parse(text) is { Ok: true } prefix)
            {
                // An address finds what contains it; a prefix finds what overlaps it; both also find themselves in outer addresses.
                var (low, high, family, low4) = (AddressText(prefix.Value.First), AddressText(prefix.Value.Last), (int)prefix.Value.Family, prefix.Value.Network.ToString());
                rows = rows.Where(r => context.Prefixes.Any(p => p.RecordId == r.Id && p.Family == family && string.Compare(p.Low, high) <= 0 && string.Compare(p.High, low) >= 0)
                    || context.Tunnels.Any(t => t.Id == r.Id && (" " + t.SearchText + " ").Contains(" " + low4 + " ")));
            }
            else
            {
                var like = text.ToLowerInvariant();
                rows = rows.Where(r => context.Tunnels.Any(t => t.Id == r.Id && t.SearchText.Contains(like)) || context.Findings.Any(f => f.TunnelId == r.Id && f.Code.ToLower() == like));
            }
        }

        if (after is not null)
            rows = rows.Where(r => string.Compare(r.CodeKey, after) > 0);
        var found = await (from r in rows
                           join t in context.Tunnels on r.Id equals t.Id
                           orderby r.CodeKey
                           select new { r.Id, r.Code, r.CodeKey, r.Name, r.OwnerId, r.State, t.EndA, t.EndB, t.Worst, t.Verdict }).Take(most + 1).ToListAsync(ct);
        return ([.. found.Take(most).Select(f => new TunnelListed(f.Id, f.Code, f.Name, f.OwnerId!, f.State!, f.EndA, f.EndB, f.Worst, JsonSerializer.Deserialize<ImmutableArray<VerdictPart>>(f.Verdict, RecordBody.Json)))],
            found.Count > most ? found[most - 1].CodeKey : null);
    }

    public async Task<IReadOnlyList<FindingKept>> FindingsAsync(Scope scope, string? tunnelId, string? customerCode, string? code, string? severity, int most, CancellationToken ct)
    {
        var tunnels = scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));
        if (tunnelId is not null)
            tunnels = tunnels.Where(t => t.Id == tunnelId);
        if (customerCode?.ToUpperInvariant() is { } customer)
            tunnels = tunnels.Where(t => context.Records.Any(c => c.Id == t.OwnerId && c.CodeKey == customer));
        var rows = from f in context.Findings.AsNoTracking() join t in tunnels on f.TunnelId equals t.Id select new { f, t.Code };
        if (code?.ToUpperInvariant() is { } wanted)
            rows = rows.Where(r => r.f.Code == wanted);
        if (severity is not null && Severities.Words.Parse(severity) is { Ok: true } s)
            rows = rows.Where(r => r.f.Severity == (int)s.Value);
        return [.. (await rows.OrderBy(r => r.f.Severity).ThenBy(r => r.Code).ThenBy(r => r.f.Code).ThenBy(r => r.f.Subject).Take(most).ToListAsync(ct))
            .Select(r => new FindingKept(r.f.TunnelId, r.Code, JsonSerializer.Deserialize<Finding>(r.f.Body, RecordBody.Json)!, DateTimeOffset.Parse(r.f.FirstSeen, CultureInfo.InvariantCulture)))];
    }

    public async Task<IReadOnlyList<Kept<Change>>> ChangesAsync(Scope scope, IReadOnlyCollection<ChangeState>? states, string? tunnelId, CancellationToken ct)
    {
        var rows = scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Change));
        if (states is not null)
        {
            var words = states.Select(Change.States.Of).ToArray();
            rows = rows.Where(r => words.Contains(r.State!));
        }

        if (tunnelId is not null)
            rows = rows.Where(r => context.Links.Any(l => l.FromId == r.Id && l.ToId == tunnelId && l.Role == "tunnel"));
        return [.. (await rows.OrderByDescending(r => r.CommitNumber).ToListAsync(ct)).Select(r => new Kept<Change>((Change)RecordBody.Read(r.Kind, r.Id, r.Body), r.Version, r.CommitNumber))];
    }

    /// <summary>The versions of a record, newest first, each with the one before it.</summary>
    public async Task<IReadOnlyList<HistoryKept>> HistoryAsync(string recordId, CancellationToken ct)
    {
        var rows = await (from v in context.Versions.AsNoTracking() join c in context.Commits on v.CommitNumber equals c.Number where v.RecordId == recordId orderby v.Version select new { v, c }).ToListAsync(ct);
        return [.. rows.Select((r, i) => new HistoryKept(r.c, r.v.Version, r.v.Kind, i == 0 ? null : rows[i - 1].v.Body, r.v.Body)).Reverse()];
    }

    public async Task<byte[]?> BodyAsync(string recordId, int version, CancellationToken ct) =>
        await context.Versions.AsNoTracking().Where(v => v.RecordId == recordId && v.Version == version).Select(v => v.Body).FirstOrDefaultAsync(ct);

    public async Task<IReadOnlyList<(string Id, string Code, string Name, OwnerKind Owner, int Tunnels, int Blocked)>> CustomersAsync(Scope scope, CancellationToken ct)
    {
        var rows = await scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Customer)).OrderBy(r => r.CodeKey).ToListAsync(ct);
        var counts = await (from t in context.Tunnels join r in context.Records on t.Id equals r.Id group t by r.OwnerId into g select new { g.Key, All = g.Count(), Blocked = g.Count(t => t.Worst == 0) }).ToListAsync(ct);
        return [.. rows.Select(r => (r.Id, r.Code, r.Name, ((Customer)RecordBody.Read(r.Kind, r.Id, r.Body)).Owner, counts.FirstOrDefault(c => c.Key == r.Id)?.All ?? 0, counts.FirstOrDefault(c => c.Key == r.Id)?.Blocked ?? 0))];
    }

    public async Task<(int Tunnels, int Risks)> CountsAsync(Scope scope, CancellationToken ct)
    {
        var tunnels = scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));
        return (await tunnels.CountAsync(ct), await context.Findings.CountAsync(f => f.Severity == (int)Severity.Risk && tunnels.Any(t => t.Id == f.TunnelId), ct));
    }

    private static string AddressText(Address address) => Writing.AddressText.Of(address);
}

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

/// <summary>A gateway as a list shows it.</summary>
public sealed record GatewayListed(string Code, string Site, string Owner, string Platform, string Outer, int Tunnels, int Blocked);

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

    public async Task<IReadOnlyList<FindingKept>> FindingsAsync(Scope scope, string? tunnelId, string? customerCode, string? code, string? severity, int most, CancellationToken ct, string? gatewayId = null)
    {
        var tunnels = scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));
        if (tunnelId is not null)
            tunnels = tunnels.Where(t => t.Id == tunnelId);
        if (gatewayId is not null)
            tunnels = tunnels.Where(t => context.Links.Any(l => l.FromId == t.Id && l.ToId == gatewayId && (l.Role == "a" || l.Role == "b")));
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

    /// <summary>How many records refer to each record in a role.</summary>
    public async Task<Dictionary<string, int>> UsersAsync(Scope scope, string role, CancellationToken ct)
    {
        var seen = scope.Over(context.Records.AsNoTracking());
        return await (from l in context.Links where l.Role == role && seen.Any(r => r.Id == l.FromId) group l by l.ToId into g select new { g.Key, Count = g.Count() }).ToDictionaryAsync(g => g.Key, g => g.Count, ct);
    }

    /// <summary>The codes of the records that refer to one in a role.</summary>
    public async Task<IReadOnlyList<string>> ReferringAsync(Scope scope, string id, string role, CancellationToken ct) =>
        await scope.Over(context.Records.AsNoTracking().Where(r => context.Links.Any(l => l.FromId == r.Id && l.ToId == id && l.Role == role))).OrderBy(r => r.CodeKey).Select(r => r.Code).Take(500).ToListAsync(ct);

    /// <summary>How many tunnels refer to a record in one of the roles, whoever may see them.</summary>
    public Task<int> CountReferringAsync(string id, string[] roles, CancellationToken ct) => context.Links.Where(l => l.ToId == id && roles.Contains(l.Role)).Select(l => l.FromId).Distinct().CountAsync(ct);

    /// <summary>The tunnels that refer to a record in one of the roles, as a list shows them.</summary>
    public async Task<IReadOnlyList<TunnelListed>> TunnelsOfAsync(Scope scope, string id, string[] roles, CancellationToken ct)
    {
        var rows = scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel && context.Links.Any(l => l.FromId == r.Id && l.ToId == id && roles.Contains(l.Role))));
        var found = await (from r in rows join t in context.Tunnels on r.Id equals t.Id orderby r.CodeKey select new { r.Id, r.Code, r.Name, r.OwnerId, r.State, t.EndA, t.EndB, t.Worst, t.Verdict }).Take(2000).ToListAsync(ct);
        return [.. found.Select(f => new TunnelListed(f.Id, f.Code, f.Name, f.OwnerId!, f.State!, f.EndA, f.EndB, f.Worst, JsonSerializer.Deserialize<ImmutableArray<VerdictPart>>(f.Verdict, RecordBody.Json)))];
    }

    /// <summary>How the tunnels stand that refer to a record in one of the roles, retired ones left out.</summary>
    public async Task<IReadOnlyList<Standing>> StandingAsync(Scope scope, string id, string[] roles, CancellationToken ct)
    {
        var listed = (await TunnelsOfAsync(scope, id, roles, ct)).Where(t => t.State != "retired").ToArray();
        var ids = listed.Select(t => t.Id).ToArray();
        var blocking = (await context.Findings.AsNoTracking().Where(f => ids.Contains(f.TunnelId) && f.Severity == 0).Select(f => new { f.TunnelId, f.Code }).ToListAsync(ct)).ToLookup(f => f.TunnelId, f => f.Code);
        return [.. listed.Select(t => new Standing(t.Code, t.CustomerId, t.Worst, t.Verdict, [.. blocking[t.Id]]))];
    }

    /// <summary>The codes of the tunnels that use each held part of a gateway.</summary>
    public async Task<Dictionary<string, IReadOnlyList<string>>> HeldAsync(Scope scope, string gatewayId, CancellationToken ct)
    {
        var seen = scope.Over(context.Records.AsNoTracking());
        var rows = await (from h in context.Held join r in seen on h.TunnelId equals r.Id where h.GatewayId == gatewayId orderby r.CodeKey select new { h.Part, r.Code }).ToListAsync(ct);
        return rows.GroupBy(r => r.Part).ToDictionary(g => g.Key, g => (IReadOnlyList<string>)[.. g.Select(r => r.Code)]);
    }

    /// <summary>Gateways with their site, platform, outer address and how many tunnels run through them.</summary>
    public async Task<IReadOnlyList<GatewayListed>> GatewaysAsync(Scope scope, string? customerCode, CancellationToken ct)
    {
        var rows = scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Gateway));
        if (customerCode?.ToUpperInvariant() is { } key)
            rows = rows.Where(r => context.Records.Any(c => c.Id == r.OwnerId && c.CodeKey == key));
        var found = (await rows.OrderBy(r => r.CodeKey).Take(2000).ToListAsync(ct)).Select(r => (Gateway)RecordBody.Read(r.Kind, r.Id, r.Body)).ToArray();
        var ids = found.Select(g => g.Id).ToArray();
        var counts = await (from l in context.Links join t in context.Tunnels on l.FromId equals t.Id where ids.Contains(l.ToId) && (l.Role == "a" || l.Role == "b") group t by l.ToId into g select new { g.Key, All = g.Count(), Blocked = g.Count(t => t.Worst == 0) }).ToDictionaryAsync(g => g.Key, ct);
        var around = found.SelectMany(g => new[] { g.SiteId, g.PlatformId }).Distinct().ToArray();
        var beside = (await context.Records.AsNoTracking().Where(r => around.Contains(r.Id)).ToListAsync(ct)).ToDictionary(r => r.Id);
        var owners = (await context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Customer).Select(r => new { r.Id, r.Code }).ToListAsync(ct)).ToDictionary(r => r.Id, r => r.Code);
        return [.. found.Select(g => new GatewayListed(g.Code, beside[g.SiteId].Name, owners.GetValueOrDefault(beside[g.SiteId].OwnerId ?? "", ""), beside[g.PlatformId].Name, g.Uplinks.FirstOrDefault()?.OuterText ?? "unknown",
            counts.GetValueOrDefault(g.Id)?.All ?? 0, counts.GetValueOrDefault(g.Id)?.Blocked ?? 0))];
    }

    /// <summary>The sites of a customer with their networks and gateways.</summary>
    public async Task<IReadOnlyList<(Site Site, IReadOnlyList<string> Gateways)>> SitesAsync(Scope scope, string customerId, CancellationToken ct)
    {
        var sites = (await scope.Over(context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Site && r.OwnerId == customerId)).OrderBy(r => r.CodeKey).ToListAsync(ct)).Select(r => (Site)RecordBody.Read(r.Kind, r.Id, r.Body)).ToArray();
        var result = new List<(Site, IReadOnlyList<string>)>();
        foreach (var site in sites)
            result.Add((site, await ReferringAsync(scope, site.Id, "site", ct)));
        return result;
    }

    /// <summary>Every prefix in use that overlaps one, with whose it is: networks of sites, what they are presented as, and what tunnels claim at gateways.</summary>
    public async Task<IReadOnlyList<(Prefix Prefix, string Role, string OwnerCode, string Code, string Name)>> PlacesAsync(Scope scope, Prefix prefix, string? customerCode, CancellationToken ct)
    {
        var (low, high, family) = (AddressText(prefix.First), AddressText(prefix.Last), (int)prefix.Family);
        var seen = scope.Over(context.Records.AsNoTracking());
        if (customerCode?.ToUpperInvariant() is { } key)
            seen = seen.Where(r => context.Records.Any(c => c.Id == r.OwnerId && c.CodeKey == key));
        var rows = await (from p in context.Prefixes
                          join r in seen on p.RecordId equals r.Id
                          join c in context.Records on r.OwnerId equals c.Id
                          where p.Role != "outer" && p.Family == family && string.Compare(p.Low, high) <= 0 && string.Compare(p.High, low) >= 0
                          orderby p.Low, p.High descending, r.CodeKey
                          select new { p.Low, p.High, p.Role, Owner = c.Code, r.Code, r.Name }).Distinct().Take(2000).ToListAsync(ct);
        return [.. rows.Select(r => (Writing.AddressText.Between(prefix.Family, r.Low, r.High), r.Role, r.Owner, r.Code, r.Name))];
    }

    private static string AddressText(Address address) => Writing.AddressText.Of(address);
}

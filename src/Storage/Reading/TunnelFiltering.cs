using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Storage.Reading;

/// <summary>The rows of the tunnels that a filter asks for.</summary>
internal sealed class TunnelFiltering(KeepContext context, Scope scope)
{
    /// <summary>
    /// Up to so many records are looked up by their ids; beyond that, records are gone through in the order of the list
    /// and asked one by one. There, adding nothing to a column keeps a plan from using the index on it, which would go
    /// through all its entries for each record.
    /// </summary>
    private const int Few = 1500;

    /// <summary>The rows so far.</summary>
    public IQueryable<RecordRow> Rows { get; private set; } =
        scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel));

    /// <summary>Whether they were looked up by their ids, because they are few.</summary>
    public bool ByIds { get; private set; }

    /// <summary>Leaves those that fit a filter.</summary>
    public async Task TakeAsync(TunnelFilter filter, CancellationToken ct)
    {
        if (filter.OwnerId is { } owner)
            Rows = Rows.Where(r => r.OwnerId == owner);
        if (filter.State is { } state)
            Rows = Rows.Where(r => r.State == state);
        if (filter.FindingCode is { } finding)
            await WithFindingAsync(finding.ToUpperInvariant(), ct);
        if (filter.Severity is { } word && Severities.Words.Parse(word) is { Ok: true } severity)
            Rows = Rows.Where(r =>
                context.Findings.Any(f => f.TunnelId == r.Id && f.Severity + 0 == (int)severity.Value)
            );
        foreach (var text in (filter.Text ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(8))
            if (Prefix.Parse(text) is { Ok: true } prefix)
                await WithPrefixAsync(prefix.Value, ct);
            else if (CheckOf(text) is { } check)
                await WithFindingAsync(check, ct);
            else
                await WithWordAsync(text, ct);
    }

    private static string? CheckOf(string text) =>
        Checks.All.FirstOrDefault(c => c.Code.Equals(text, StringComparison.OrdinalIgnoreCase))?.Code;

    private void Those(string[] few)
    {
        ByIds = true;
        Rows = Rows.Where(r => few.Contains(r.Id));
    }

    private async Task WithFindingAsync(string check, CancellationToken ct)
    {
        var ids = context.Findings.Where(f => f.Code == check).Select(f => f.TunnelId);
        if (await FewAsync(ids, ct, Few / 3) is { } few)
            Those(few);
        else
            Rows = Rows.Where(r => context.Findings.Any(f => f.TunnelId == r.Id && f.Code == check));
    }

    /// <summary>
    /// An address finds what contains it; a prefix finds what overlaps it; both also find themselves in outer addresses.
    /// </summary>
    private async Task WithPrefixAsync(Prefix prefix, CancellationToken ct)
    {
        var (low, high, family, typed) = (
            AddressText.Of(prefix.First),
            AddressText.Of(prefix.Last),
            (int)prefix.Family,
            prefix.Network.ToString()
        );
        var ids = context
            .Containing(prefix)
            .Concat(context.Inside(prefix))
            .Select(p => p.RecordId)
            .Concat(context.Words.Where(w => w.Word == typed).Select(w => w.RecordId));
        // A tunnel has several prefixes, so that many of them may still be few tunnels.
        if (await FewAsync(ids, ct, prefix.Length < 12 ? Few : 8 * Few) is { } few)
            Those(few);
        else
            Rows = Rows.Where(r =>
                context.Prefixes.Any(p =>
                    p.RecordId == r.Id
                    && p.Family == family
                    && string.Compare(p.Low + "", high) <= 0
                    && string.Compare(p.High, low) >= 0
                )
            );
    }

    private async Task WithWordAsync(string text, CancellationToken ct)
    {
        var (from, to) = SearchList.Range(text);
        if (await FewAsync(new SearchList(context).Found(text).Select(w => w.RecordId), ct) is { } few)
            Those(few);
        else
            Rows = Rows.Where(r =>
                context.Words.Any(w =>
                    w.RecordId == r.Id && string.Compare(w.Word + "", from) >= 0 && string.Compare(w.Word + "", to) < 0
                )
            );
    }

    /// <summary>The ids when they are few; null when they are many.</summary>
    private static async Task<string[]?> FewAsync(IQueryable<string> ids, CancellationToken ct, int few = Few)
    {
        var some = await ids.Take(few + 1).ToListAsync(ct);
        return some.Count > few ? null : [.. some.Distinct()];
    }
}

namespace Vellumkeep.Storage.Reading;

/// <summary>A record as a picker shows it: what tells it from the others of its kind stands in the detail.</summary>
public sealed record Choice(string Code, string Name, string Detail);

/// <summary>What a field that names a record can be filled with.</summary>
public sealed class ChoiceList(KeepContext context)
{
    private static readonly string[] Gone = ["retired", "dropped", "done", "backed out"];

    /// <summary>
    /// Records of a kind that a text finds by code, name or address; the first by code when nothing is typed. A code
    /// that is typed whole comes first. Retired ones are not offered.
    /// </summary>
    public async Task<IReadOnlyList<Choice>> ChoicesAsync(
        Scope scope,
        RecordKind kind,
        string text,
        int most,
        CancellationToken ct
    )
    {
        var rows = scope.Over(context, context.Records.AsNoTracking().Where(r => r.Kind == kind));
        rows = rows.Where(r => r.State == null || !EF.Parameter(Gone).Contains(r.State));
        rows = context.WithText(rows, text);
        var exact = text.Trim().ToUpperInvariant();
        var some = await rows.OrderBy(r => r.CodeKey == exact ? 0 : 1)
            .ThenBy(r => r.CodeKey)
            .Take(most)
            .ToListAsync(ct);
        var records = some.Select(r => RecordBody.Read(r.Kind, r.Id, r.Body)).ToArray();
        var named = await NamesAsync(
            [.. records.SelectMany(Named), .. some.Select(r => r.OwnerId).OfType<string>()],
            ct
        );
        return [.. records.Zip(some).Select(x => new Choice(x.Second.Code, x.Second.Name, DetailOf(x.First, named)))];
    }

    private static string[] Named(IRecord record) =>
        record switch
        {
            Gateway g => [g.SiteId, g.PlatformId],
            Site s => [s.CustomerId],
            Tunnel t => [t.CustomerId],
            _ => [],
        };

    private async Task<Dictionary<string, string>> NamesAsync(string[] ids, CancellationToken ct) =>
        await context
            .Records.AsNoTracking()
            .Where(r => EF.Parameter(ids).Contains(r.Id))
            .Select(r => new { r.Id, r.Name })
            .ToDictionaryAsync(r => r.Id, r => r.Name, ct);

    private static string DetailOf(IRecord record, Dictionary<string, string> named)
    {
        string Name(string id) => named.GetValueOrDefault(id, "");
        return record switch
        {
            Gateway g => string.Join(
                " · ",
                new[] { Name(g.SiteId), Name(g.PlatformId), g.Uplinks.FirstOrDefault()?.OuterText ?? "" }.Where(x =>
                    x.Length > 0
                )
            ),
            Site s => $"{Name(s.CustomerId)} · {s.TimeZone}",
            Tunnel t => $"{Name(t.CustomerId)} · {WordsOf.States.Of(t.State)}",
            Customer c => Customer.Owners.Of(c.Owner),
            _ => "",
        };
    }
}

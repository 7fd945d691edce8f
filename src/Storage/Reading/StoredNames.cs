namespace Vellumkeep.Storage.Reading;

/// <summary>
/// Codes and ids asked of the database one by one, for forms that refer to a few records of a large inventory.
/// </summary>
/// <param name="scope">What may be referred to: a record outside it does not exist.</param>
public sealed class StoredNames(KeepContext context, Scope scope) : INames
{
    private readonly Dictionary<(RecordKind, string), string?> ids = [];
    private readonly Dictionary<string, string> codes = [];

    /// <summary>Names a record that is kept nowhere: one that a dry run would add.</summary>
    public void Knows(IRecord record) => codes[record.Id] = record.Code;

    public string? IdOf(RecordKind kind, string text)
    {
        var key = text.ToUpperInvariant();
        if (!ids.TryGetValue((kind, key), out var id))
            ids[(kind, key)] = id = scope
                .Over(context, context.Records.AsNoTracking())
                .Where(r => r.Kind == kind && r.CodeKey == key)
                .Select(r => r.Id)
                .FirstOrDefault();
        return id;
    }

    public string TextOf(RecordKind kind, string id)
    {
        if (!codes.TryGetValue(id, out var code))
            codes[id] = code = context
                .Records.AsNoTracking()
                .Where(r => r.Id == id && r.Kind == kind)
                .Select(r => r.Code)
                .FirstOrDefault()
                ?? id;
        return code;
    }

    /// <summary>
    /// The first codes of the kind: enough to name near ones in a small inventory, a bounded read in a large one.
    /// </summary>
    public IEnumerable<string> Known(RecordKind kind) =>
        scope
            .Over(context, context.Records.AsNoTracking())
            .Where(r => r.Kind == kind)
            .OrderBy(r => r.CodeKey)
            .Select(r => r.Code)
            .Take(2000)
            .ToList();
}

namespace Vellumkeep.Service.History;

/// <summary>What differs between two stored versions of a record, for reading.</summary>
public static class Differences
{
    public static IReadOnlyList<Difference> Between(RecordKind kind, byte[]? before, byte[] after, INames names) =>
        kind == RecordKind.Change ? []
        : before is null ? []
        :
        [
            .. Edits
                .Between(RecordBody.Form(before), RecordBody.Form(after))
                .Select(m => new Difference(
                    m.Path.ToString(),
                    Wordings.Text(m.Before, m.Path, names),
                    Wordings.Text(m.After, m.Path, names)
                )),
        ];
}

namespace Vellumkeep.Service.History;

/// <summary>What differs between two stored versions of a record, for reading.</summary>
public static class Differences
{
    public static IReadOnlyList<Difference> Between(RecordKind kind, byte[]? before, byte[] after, INames names) =>
        kind == RecordKind.Change ? []
        : before is null ? []
        : Wordings.Differences(Edits.Between(RecordBody.Form(before), RecordBody.Form(after)), names);
}

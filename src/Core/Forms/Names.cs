namespace Vellumkeep.Core.Forms;

/// <summary>
/// How a form refers to other records: by code in files and in messages, by id in storage, where a code may be renamed.
/// </summary>
public interface INames
{
    /// <summary>The id that the text refers to; null when there is no such record.</summary>
    string? IdOf(RecordKind kind, string text);

    /// <summary>What is written for a record.</summary>
    string TextOf(RecordKind kind, string id);

    /// <summary>The texts that would be understood, for naming the nearest.</summary>
    IEnumerable<string> Known(RecordKind kind);
}

/// <summary>Forms that refer by id: what storage keeps.</summary>
public sealed class IdNames : INames
{
    /// <summary>The one there is.</summary>
    public static readonly IdNames Instance = new();

    /// <inheritdoc/>
    public string? IdOf(RecordKind kind, string text) => text;

    /// <inheritdoc/>
    public string TextOf(RecordKind kind, string id) => id;

    /// <inheritdoc/>
    public IEnumerable<string> Known(RecordKind kind) => [];
}

/// <summary>Forms that refer by code, whatever the case.</summary>
public sealed class CodeNames : INames
{
    private readonly Dictionary<(RecordKind Kind, string Code), string> ids = [];
    private readonly Dictionary<(RecordKind Kind, string Id), string> codes = [];

    /// <summary>Adds a record by its code.</summary>
    public void Add(RecordKind kind, string code, string id)
    {
        ids[(kind, code.ToUpperInvariant())] = id;
        codes[(kind, id)] = code;
    }

    /// <inheritdoc/>
    public string? IdOf(RecordKind kind, string text) => ids.GetValueOrDefault((kind, text.ToUpperInvariant()));

    /// <inheritdoc/>
    public string TextOf(RecordKind kind, string id) => codes.GetValueOrDefault((kind, id), id);

    /// <inheritdoc/>
    public IEnumerable<string> Known(RecordKind kind) => codes.Where(c => c.Key.Kind == kind).Select(c => c.Value);
}

/// <summary>The names of an inventory.</summary>
public static class InventoryNames
{
    /// <summary>The code of every record in it.</summary>
    public static CodeNames Codes(this Inventory inventory)
    {
        var names = new CodeNames();
        foreach (var record in inventory.All)
            names.Add(record.Kind, record.Code, record.Id);
        return names;
    }
}

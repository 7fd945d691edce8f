using System.Text.Json;
using System.Text.Json.Serialization;

namespace Vellumkeep.Storage.Bodies;

/// <summary>
/// Records to and from the bytes that are kept. Inventory records are their written form, referring by id; changes are
/// their own JSON.
/// </summary>
public static class RecordBody
{
    internal static readonly JsonSerializerOptions Json = new()
    {
        Converters =
        {
            new NodeJson(),
            new SentenceJson(),
            new FieldPathJson(),
            new RowKeyJson(),
            new PrefixJson(),
            new AddressJson(),
            new RequestJson(),
            new JsonStringEnumConverter(),
        },
        IgnoreReadOnlyProperties = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static byte[] Bytes(IRecord record) =>
        record is Change change
            ? JsonSerializer.SerializeToUtf8Bytes(change, Json)
            : JsonSerializer.SerializeToUtf8Bytes<Node>(Form(record), Json);

    /// <summary>The written form of an inventory record, referring by id.</summary>
    public static MapNode Form(IRecord record) => WrittenRecord.Write(record, IdNames.Instance);

    public static MapNode Form(byte[] body) => (MapNode)JsonSerializer.Deserialize<Node>(body, Json)!;

    /// <summary>Reads a kept body.</summary>
    /// <exception cref="InvalidDataException">It is not readable: it was written by something else.</exception>
    public static IRecord Read(RecordKind kind, string id, byte[] body)
    {
        if (kind == RecordKind.Change)
            return JsonSerializer.Deserialize<Change>(body, Json)!;
        var (record, problems) = Read(kind, id, Form(body));
        return record
            ?? throw new InvalidDataException(
                $"The {kind.Word()} {id} cannot be read: {problems[0].Field}: {problems[0].Wrong}"
            );
    }

    /// <summary>Builds a record from a written form that refers by id, or says what is wrong.</summary>
    public static (IRecord? Record, IReadOnlyList<Problem> Problems) Read(RecordKind kind, string id, MapNode form) =>
        WrittenRecord.Read(kind, id, form, IdNames.Instance);
}

using System.Text.Json;
using System.Text.Json.Serialization;
using Vellumkeep.Core.Changes.Addresses;
using Vellumkeep.Core.Changes.Manual;
using Vellumkeep.Core.Changes.NewTunnels;
using Vellumkeep.Core.Changes.Platforms;
using Vellumkeep.Core.Changes.Rekeying;
using Vellumkeep.Core.Changes.Retiring;
using Vellumkeep.Core.Changes.Strengthening;
using Vellumkeep.Core.Changes.Subnets;

namespace Vellumkeep.Storage.Bodies;

/// <summary>
/// Written forms as canonical JSON bytes: keys in the order of the writer, every scalar a string, no blanks. Digests
/// are taken over these bytes.
/// </summary>
public sealed class NodeJson : JsonConverter<Node>
{
    public override bool CanConvert(Type type) => typeof(Node).IsAssignableFrom(type);

    public override Node? Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options)
    {
        switch (reader.TokenType)
        {
            case JsonTokenType.String:
                return new TextNode(reader.GetString()!);
            case JsonTokenType.StartArray:
                var items = ImmutableArray.CreateBuilder<Node>();
                while (reader.Read() && reader.TokenType != JsonTokenType.EndArray)
                    items.Add(Read(ref reader, type, options)!);
                return new ListNode(items.ToImmutable());
            case JsonTokenType.StartObject:
                var entries = ImmutableArray.CreateBuilder<KeyValuePair<string, Node>>();
                while (reader.Read() && reader.TokenType != JsonTokenType.EndObject)
                {
                    var key = reader.GetString()!;
                    reader.Read();
                    entries.Add(new(key, Read(ref reader, type, options)!));
                }

                return new MapNode(entries.ToImmutable());
            default:
                return null;
        }
    }

    public override void Write(Utf8JsonWriter writer, Node value, JsonSerializerOptions options)
    {
        switch (value)
        {
            case TextNode t:
                writer.WriteStringValue(t.Text);
                break;
            case ListNode l:
                writer.WriteStartArray();
                foreach (var item in l.Items)
                    Write(writer, item, options);
                writer.WriteEndArray();
                break;
            case MapNode m:
                writer.WriteStartObject();
                foreach (var (key, item) in m.Entries)
                {
                    writer.WritePropertyName(key);
                    Write(writer, item, options);
                }

                writer.WriteEndObject();
                break;
        }
    }
}

internal sealed class SentenceJson : JsonConverter<Sentence>
{
    private sealed record Stored(string T, ImmutableArray<Argument> A);

    public override Sentence? Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options) =>
        JsonSerializer.Deserialize<Stored>(ref reader, options) is { } s ? Sentence.Stored(s.T, s.A) : null;

    public override void Write(Utf8JsonWriter writer, Sentence value, JsonSerializerOptions options) =>
        JsonSerializer.Serialize(writer, new Stored(value.Template, [.. value.Arguments]), options);
}

/// <summary>Rows of a comparison by their text.</summary>
internal sealed class RowKeyJson : JsonConverter<RowKey>
{
    public override RowKey Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options) =>
        RowKey.Find(reader.GetString()) ?? throw new JsonException("A row that is kept is not one.");

    public override void Write(Utf8JsonWriter writer, RowKey value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Text);
}

/// <summary>Paths as they are written.</summary>
internal sealed class FieldPathJson : JsonConverter<FieldPath>
{
    public override FieldPath Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options) =>
        FieldPath.Parse(reader.GetString()!) is { Ok: true } read
            ? read.Value
            : throw new JsonException("A path that is kept cannot be read.");

    public override void Write(Utf8JsonWriter writer, FieldPath value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}

internal sealed class PrefixJson : JsonConverter<Prefix>
{
    public override Prefix Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options) =>
        Prefix.Parse(reader.GetString()!).Value;

    public override void Write(Utf8JsonWriter writer, Prefix value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}

internal sealed class AddressJson : JsonConverter<Address>
{
    public override Address Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options) =>
        Address.Parse(reader.GetString()!).Value;

    public override void Write(Utf8JsonWriter writer, Address value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}

/// <summary>A request with its kind beside it. Without one it is of the kind that came first: subnets.</summary>
internal sealed class RequestJson : JsonConverter<ChangeRequest>
{
    private const string Kind = "Of";

    private static readonly Dictionary<string, Type> Kinds = new ChangeRequest[]
    {
        new SubnetsRequest("", EndName.A, [], []),
        new NewTunnelRequest(""),
        new RekeyRequest([]),
        new StrengthenRequest("", null),
        new PlatformRequest("", "", []),
        new AddressRequest("", "", default, []),
        new RetireRequest(""),
        new FreeRequest("", []),
    }.ToDictionary(w => w.Kind, w => w.GetType());

    public override bool CanConvert(Type type) => type == typeof(ChangeRequest);

    public override ChangeRequest? Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options)
    {
        var node = System.Text.Json.Nodes.JsonNode.Parse(ref reader)!.AsObject();
        return (ChangeRequest?)
            node.Deserialize(
                node.TryGetPropertyValue(Kind, out var kind) ? Kinds[kind!.GetValue<string>()] : typeof(SubnetsRequest),
                options
            );
    }

    public override void Write(Utf8JsonWriter writer, ChangeRequest value, JsonSerializerOptions options)
    {
        var node = JsonSerializer.SerializeToNode(value, value.GetType(), options)!.AsObject();
        node[Kind] = value.Kind;
        node.WriteTo(writer, options);
    }
}

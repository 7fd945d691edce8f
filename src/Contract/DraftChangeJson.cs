using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Vellumkeep.Contract;

/// <summary>A field of a body that its kind does not take, or a kind that there is not.</summary>
/// <param name="field">The field.</param>
/// <param name="wrong">What is wrong with it.</param>
/// <param name="right">What would be right.</param>
/// <param name="given">What was given, where that is what is wrong: not to be shown before it was looked at.</param>
public sealed class NotInContractException(string field, string wrong, string right, string? given = null)
    : JsonException(wrong)
{
    public string Field { get; } = field;

    public string Wrong { get; } = wrong;

    public string Right { get; } = right;

    public string? Given { get; } = given;
}

/// <summary>A change that is drafted, as the record of its kind.</summary>
public sealed class DraftChangeJson : JsonConverter<DraftChange>
{
    public override DraftChange? Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options)
    {
        var body = JsonElement.ParseValue(ref reader);
        if (body.ValueKind != JsonValueKind.Object)
            throw new JsonException();
        var kind = KindOf(body);
        if (!DraftChange.Kinds.TryGetValue(kind, out var record))
            throw new NotInContractException(
                "kind",
                "is not a kind of change",
                $"{string.Join(", ", DraftChange.Kinds.Keys.SkipLast(1))} or {DraftChange.Kinds.Keys.Last()}",
                kind
            );
        // What nobody reads would look as though it had been planned.
        foreach (var member in body.EnumerateObject())
            if (ElsewhereOnly(member.Name, record))
                throw new NotInContractException(
                    JsonNamingPolicy.CamelCase.ConvertName(member.Name),
                    $"a change of kind {kind} takes no such value",
                    string.Join(", ", Own(record).Select(p => JsonNamingPolicy.CamelCase.ConvertName(p.Name)))
                );
        return (DraftChange?)body.Deserialize(record, options);
    }

    public override void Write(Utf8JsonWriter writer, DraftChange value, JsonSerializerOptions options) =>
        JsonSerializer.Serialize(writer, value, value.GetType(), options);

    private static string KindOf(JsonElement body)
    {
        var kind = body.EnumerateObject().LastOrDefault(m => Is(m.Name, nameof(DraftChange.Kind))).Value;
        return kind.ValueKind switch
        {
            JsonValueKind.Undefined or JsonValueKind.Null => DraftChange.Kinds.Keys.First(),
            JsonValueKind.String when kind.GetString()!.Trim() is { Length: > 0 } said => said.ToLowerInvariant()
                .Replace('-', ' '),
            JsonValueKind.String => DraftChange.Kinds.Keys.First(),
            _ => throw new NotInContractException("kind", "it is not a text", "the word of a kind of change"),
        };
    }

    /// <summary>Whether only other kinds have a field: what none has is refused as in every other body.</summary>
    private static bool ElsewhereOnly(string name, Type record) =>
        !Own(record).Any(p => Is(p.Name, name))
        && DraftChange.Kinds.Values.Any(other => Own(other).Any(p => Is(p.Name, name)));

    private static IEnumerable<PropertyInfo> Own(Type record) =>
        record
            .GetProperties(BindingFlags.Public | BindingFlags.Instance | BindingFlags.DeclaredOnly)
            .Where(p => p.CanWrite);

    private static bool Is(string name, string other) => name.Equals(other, StringComparison.OrdinalIgnoreCase);
}

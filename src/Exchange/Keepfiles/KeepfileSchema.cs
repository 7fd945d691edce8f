using System.Text.Json;
using System.Text.Json.Nodes;

namespace Vellumkeep.Exchange.Keepfiles;

/// <summary>
/// The JSON Schema (2020-12) of the keepfile, made from what the readers ask for, so that it cannot say anything else
/// than they do.
/// </summary>
public static class KeepfileSchema
{
    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true, NewLine = "\n" };

    public static string Json()
    {
        var defs = new JsonObject();
        JsonObject Section(string name, RecordKind kind)
        {
            defs[name] = Map(WrittenRecord.Describe(kind));
            return new JsonObject
            {
                ["type"] = "array",
                ["items"] = new JsonObject { ["$ref"] = $"#/$defs/{name}" },
            };
        }

        var properties = new JsonObject
        {
            ["vellumkeep"] = new JsonObject { ["const"] = Keepfile.Form },
            ["written"] = Text("date on which the file was written"),
            ["customers"] = Section("customer", RecordKind.Customer),
            ["platforms"] = Section("platform", RecordKind.Platform),
            ["suites"] = Section("suite", RecordKind.Suite),
            ["offers"] = Section("offer", RecordKind.Offer),
            ["sites"] = Section("site", RecordKind.Site),
            ["gateways"] = Section("gateway", RecordKind.Gateway),
            ["tunnels"] = Section("tunnel", RecordKind.Tunnel),
        };
        return new JsonObject
            {
                ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
                ["$id"] = "urn:vellumkeep:keepfile:1",
                ["title"] = "Vellumkeep keepfile",
                ["description"] =
                    "Both ends of site-to-site IPsec tunnels. Every scalar is read as text by its field's own "
                    + "rule, so numbers need no quotes.",
                ["type"] = "object",
                ["required"] = new JsonArray("vellumkeep"),
                ["additionalProperties"] = false,
                ["properties"] = properties,
                ["$defs"] = defs,
            }.ToJsonString(Indented) + "\n";
    }

    private static JsonObject Map(ImmutableArray<FieldNote> notes)
    {
        var properties = new JsonObject();
        foreach (var note in notes)
            properties[note.Key] = One(note);
        var map = new JsonObject
        {
            ["type"] = "object",
            ["additionalProperties"] = false,
            ["properties"] = properties,
        };
        if (notes.Any(n => n.Required))
            map["required"] = new JsonArray([.. notes.Where(n => n.Required).Select(n => (JsonNode)n.Key)]);
        return map;
    }

    private static JsonObject One(FieldNote note)
    {
        var made = note.Shape switch
        {
            FieldShape.Map => Map(note.Inside),
            FieldShape.Maps => new JsonObject { ["type"] = "array", ["items"] = Map(note.Inside) },
            FieldShape.Texts => new JsonObject
            {
                ["oneOf"] = new JsonArray(Scalar(), new JsonObject { ["type"] = "array", ["items"] = Scalar() }),
            },
            FieldShape.Any => new JsonObject(),
            _ => Scalar(),
        };
        made["description"] = note.About;
        if (!note.Words.IsEmpty)
            made["examples"] = new JsonArray([.. note.Words.Select(w => (JsonNode)w)]);
        return made;
    }

    private static JsonObject Text(string about)
    {
        var made = Scalar();
        made["description"] = about;
        return made;
    }

    private static JsonObject Scalar() => new() { ["type"] = new JsonArray("string", "number", "boolean") };
}

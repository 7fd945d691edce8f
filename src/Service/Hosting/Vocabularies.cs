using System.Text.Json.Nodes;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace Vellumkeep.Service.Hosting;

/// <summary>Says in the description of the interface which words a text may be.</summary>
public static class Vocabularies
{
    /// <summary>Names the words of a property that is one of a few.</summary>
    public static Task Describe(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken ct)
    {
        var attributes = context.JsonPropertyInfo?.AttributeProvider?.GetCustomAttributes(typeof(OneOfAttribute), true);
        if (attributes is not [OneOfAttribute words])
            return Task.CompletedTask;
        schema.Enum = [.. words.Words.Select(w => (JsonNode)w)];
        if (words.Means.Count > 0)
            schema.Description = string.Join(" ", words.Means.Select(m => $"{m.Word}: {m.Means}"));
        if (schema.Type?.HasFlag(JsonSchemaType.Null) == true)
            schema.Enum.Add(null!);
        return Task.CompletedTask;
    }

    /// <summary>
    /// A change that is drafted is one of its kinds, told by the word of the kind: each names it, and all but the first
    /// have to.
    /// </summary>
    public static async Task DescribeKinds(
        OpenApiSchema schema,
        OpenApiSchemaTransformerContext context,
        CancellationToken ct
    )
    {
        if (context.JsonTypeInfo.Type != typeof(DraftChange) || context.Document is not { } document)
            return;
        schema.OneOf = [];
        foreach (var (word, record) in DraftChange.Kinds)
        {
            var kind = await context.GetOrCreateSchemaAsync(record, cancellationToken: ct);
            if (kind.Properties?["kind"] is OpenApiSchema named)
                (named.Type, named.Enum) = (JsonSchemaType.String, [word]);
            if (schema.OneOf.Count > 0)
                (kind.Required ??= new HashSet<string>()).Add("kind");
            document.AddComponent(record.Name, kind);
            schema.OneOf.Add(new OpenApiSchemaReference(record.Name, document));
        }
    }
}

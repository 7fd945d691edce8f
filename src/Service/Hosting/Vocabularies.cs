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
        if (schema.Type?.HasFlag(JsonSchemaType.Null) == true)
            schema.Enum.Add(null!);
        return Task.CompletedTask;
    }
}

using System.Text;
using System.Text.Encodings.Web;
using Microsoft.OpenApi;

namespace Vellumkeep.Service.Reference;

/// <summary>
/// Writes the OpenAPI document as a page: every call by its noun, with what it takes and gives, and every form below.
/// </summary>
public static class ReferencePage
{
    private const string Style = """
        body { font: 15px/1.5 system-ui, sans-serif; color: #22201c; background: #fbfaf6; }
        body { max-width: 62rem; margin: 2rem auto; padding: 0 1.5rem; }
        h1, h2 { font-family: Georgia, serif; font-weight: 500; } h2 { border-bottom: 1px solid #d8d4c8; margin-top: 2.5rem; }
        h3 { font-size: 1rem; margin: 1.6rem 0 .3rem; } code { font-family: ui-monospace, monospace; font-size: .92em; }
        nav { display: flex; flex-wrap: wrap; gap: .1rem .9rem; }
        table { border-collapse: collapse; width: 100%; }
        td, th { text-align: left; vertical-align: top; padding: .15rem 1rem .15rem 0; border-bottom: 1px solid #eceade; }
        th { font-weight: 500; color: #5d584e; } p { margin: .3rem 0; } a { color: #2c4a63; }
        @media (prefers-color-scheme: dark) { body { color: #e8e4da; background: #1d1b18; } a { color: #9fc0dc; }
        th { color: #b5afa2; } td, th, h2 { border-color: #3a362f; } }
        """;

    public static string Write(OpenApiDocument document)
    {
        var page = new StringBuilder();
        page.Append(
                "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
                    + "content=\"width=device-width\"><title>Vellumkeep: the HTTP interface</title>"
            )
            .Append("<style>")
            .Append(Style)
            .Append("</style></head><body><main><h1>The HTTP interface</h1>")
            .Append("<p>")
            .Append(Text(document.Info.Description))
            .Append(" For programs: <a href=\"/api/v1/openapi.json\">/api/v1/openapi.json</a> (OpenAPI). ")
            .Append(
                "Sign in with <code>Authorization: Bearer</code> and a token. Refusals are problem details (RFC 9457).</p>"
            );
        var nouns = document.Paths.GroupBy(p => Noun(p.Key)).OrderBy(g => g.Key, StringComparer.Ordinal).ToArray();
        page.Append("<nav aria-label=\"Calls by noun\">");
        foreach (var noun in nouns)
            page.Append($"<a href=\"#{Text(noun.Key)}\">{Text(noun.Key)}</a>");
        page.Append("<a href=\"#shapes\">shapes</a></nav>");
        foreach (var noun in nouns)
        {
            page.Append($"<section id=\"{Text(noun.Key)}\"><h2>{Text(noun.Key)}</h2>");
            foreach (var (path, item) in noun.OrderBy(p => p.Key, StringComparer.Ordinal))
            foreach (var (method, operation) in item.Operations ?? [])
                Operation(page, path, method, operation);
            page.Append("</section>");
        }

        page.Append("<section id=\"shapes\"><h2>data types</h2>");
        foreach (
            var (name, schema) in (document.Components?.Schemas ?? new Dictionary<string, IOpenApiSchema>()).OrderBy(
                s => s.Key,
                StringComparer.Ordinal
            )
        )
            Form(page, name, schema);
        return page.Append("</section></main></body></html>").ToString();
    }

    private static void Operation(StringBuilder page, string path, HttpMethod method, OpenApiOperation operation)
    {
        page.Append(
            $"<h3 id=\"{Text(operation.OperationId)}\"><code>{Text(method.Method)} "
                + $"{Text(path)}</code></h3><p>{Text(operation.Summary)}.</p><table>"
        );
        foreach (var parameter in operation.Parameters ?? [])
            Row(
                page,
                parameter.In?.ToString().ToLowerInvariant() ?? "",
                $"<code>{Text(parameter.Name)}</code>{(parameter.Required ? ", required" : "")}",
                Type(parameter.Schema)
            );
        foreach (var (type, content) in operation.RequestBody?.Content ?? new Dictionary<string, OpenApiMediaType>())
            Row(page, "body", Text(type), Type(content.Schema));
        foreach (var (status, answer) in operation.Responses ?? [])
        {
            var content = answer.Content?.FirstOrDefault();
            Row(
                page,
                "gives",
                Text(status),
                content is { Key: not null } one ? $"{Type(one.Value.Schema)} <code>{Text(one.Key)}</code>" : ""
            );
        }

        page.Append("</table>");
    }

    private static void Form(StringBuilder page, string name, IOpenApiSchema schema)
    {
        page.Append($"<h3 id=\"form-{Text(name)}\"><code>{Text(name)}</code></h3>");
        if (schema.Description is { Length: > 0 } about)
            page.Append($"<p>{Text(about)}</p>");
        page.Append("<table>");
        foreach (var (field, of) in schema.Properties ?? new Dictionary<string, IOpenApiSchema>())
            Row(page, $"<code>{Text(field)}</code>", Type(of), Text(of.Description));
        page.Append("</table>");
    }

    private static void Row(StringBuilder page, string a, string b, string c) =>
        page.Append($"<tr><th scope=\"row\">{a}</th><td>{b}</td><td>{c}</td></tr>");

    /// <summary>What kind of value it is, with a link where it is a form of its own.</summary>
    private static string Type(IOpenApiSchema? schema) =>
        schema switch
        {
            null => "",
            OpenApiSchemaReference { Reference.Id: { } id } => $"<a href=\"#form-{Text(id)}\">{Text(id)}</a>",
            { OneOf.Count: > 0 } => string.Join(" or ", schema.OneOf.Select(Type).Where(t => t.Length > 0)),
            { Items: { } items } => $"list of {Type(items)}",
            { Type: { } type } => Text(
                $"{type.ToString().ToLowerInvariant()}{(schema.Format is { } format ? $" ({format})" : "")}"
            ),
            _ => "any",
        };

    private static string Noun(string path) =>
        path.Split('/', StringSplitOptions.RemoveEmptyEntries) is [_, _, var noun, ..] ? noun : path;

    private static string Text(string? text) => HtmlEncoder.Default.Encode(text ?? "");
}

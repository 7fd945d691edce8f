using Microsoft.AspNetCore.OpenApi;

namespace Vellumkeep.Service.Reference;

/// <summary>The description of the interface, to be read: one plain page, without a script.</summary>
public static class ReferenceEndpoints
{
    public static void MapReference(this WebApplication app) =>
        app.MapGet("/api/reference", async (HttpContext http, CancellationToken ct) =>
            {
                var provider = http.RequestServices.GetRequiredKeyedService<IOpenApiDocumentProvider>("v1");
                var document = await provider.GetOpenApiDocumentAsync(ct);
                http.Response.Headers.CacheControl = "no-cache";
                return Results.Text(ReferencePage.Write(document), "text/html; charset=utf-8");
            })
            .ExcludeFromDescription();
}

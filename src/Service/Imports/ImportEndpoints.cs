using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Imports;

/// <summary>Keepfiles in and out over HTTP, and their schema.</summary>
public static class ImportEndpoints
{
    public static void MapImports(this RouteGroupBuilder open, RouteGroupBuilder api)
    {
        api.MapPost("/import", async (bool? dryRun, string? reason, Importing importing, TimeProvider clock, HttpContext http, CancellationToken ct) =>
        {
            using var body = new StreamReader(http.Request.Body);
            return await importing.ImportAsync(http.Asker(), clock.GetUtcNow(), await body.ReadToEndAsync(ct), dryRun ?? false, reason, ct);
        }).For(Role.Engineer).Accepts<string>("application/yaml").WithName("importKeepfile").WithSummary("Import a keepfile, all or nothing; dryRun shows what it would do").ProducesProblem(422)
            .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(64 * 1024 * 1024));

        api.MapGet("/export", async (string? customer, Importing importing, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            Results.Text(await importing.ExportAsync(http.Asker(), clock.GetUtcNow(), customer, ct), "application/yaml")).For(Role.Reader).Produces<string>(200, "application/yaml").WithName("exportKeepfile").WithSummary("Everything the asker may see, or one customer's, as a keepfile");

        open.MapGet("/schema/keepfile", () => Results.Text(KeepfileSchema.Json(), "application/schema+json")).WithName("keepfileSchema").WithSummary("The JSON Schema of the keepfile");
    }
}

using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Imports;

/// <summary>Keepfiles in and out over HTTP, and their schema.</summary>
public static class ImportEndpoints
{
    public static void MapImports(this RouteGroupBuilder open, RouteGroupBuilder api)
    {
        ImportKeepfile(open, api);
        ImportSheet(open, api);
        ExportKeepfile(open, api);

        open.MapGet("/schema/keepfile", () => Results.Text(KeepfileSchema.Json(), "application/schema+json"))
            .WithName("keepfileSchema")
            .WithSummary("The JSON Schema of the keepfile");
    }

    private static void ImportKeepfile(RouteGroupBuilder open, RouteGroupBuilder api) =>
        api.MapPost(
                "/import",
                async (
                    bool? dryRun,
                    string? reason,
                    bool? progress,
                    Importing importing,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    using var body = new StreamReader(http.Request.Body);
                    var text = await body.ReadToEndAsync(ct);
                    return await ProgressLines.RunAsync(http, progress, p =>
                        importing.ImportAsync(http.Asker(), clock.GetUtcNow(), text, dryRun ?? false, reason, ct, p)
                    );
                }
            )
            .For(Role.Engineer)
            .WithMetadata(new Heavy(), new TellsProgress())
            .Produces<ImportOutcome>()
            .Accepts<string>("application/yaml")
            .WithName("importKeepfile")
            .WithSummary(
                "Import a keepfile, all or nothing; dryRun shows what it would do; progress responds in lines of "
                    + "JSON: how far it is, then the outcome or the problem"
            )
            .Refuses(422)
            .Takes(Bounds.Import);

    private static void ImportSheet(RouteGroupBuilder open, RouteGroupBuilder api) =>
        api.MapPost(
                "/import/sheet",
                async (
                    string? name,
                    string? customer,
                    [Microsoft.AspNetCore.Mvc.FromQuery] string[]? column,
                    bool? leaveOut,
                    bool? dryRun,
                    bool? progress,
                    SheetImport sheets,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    using var body = new MemoryStream();
                    await http.Request.Body.CopyToAsync(body, ct);
                    var said = new Dictionary<string, string>();
                    foreach (var text in column ?? [])
                    {
                        var cut = text.LastIndexOf('=');
                        said[
                            cut > 0
                                ? text[..cut].Trim()
                                : throw ProblemException.Field(
                                    "column",
                                    $"'{Typed.Short(text)}' matches no field",
                                    "heading=field, such as: WAN=a.outer"
                                )
                        ] = text[(cut + 1)..].Trim();
                    }

                    return await ProgressLines.RunAsync(http, progress, p =>
                        sheets.RunAsync(
                            http.Asker(),
                            clock.GetUtcNow(),
                            name ?? "sheet",
                            body.ToArray(),
                            said,
                            customer,
                            leaveOut ?? false,
                            dryRun ?? false,
                            ct,
                            p
                        )
                    );
                }
            )
            .For(Role.Engineer)
            .WithMetadata(new Heavy(), new TellsProgress())
            .Produces<SheetOutcome>()
            .Accepts<byte[]>("application/octet-stream")
            .WithName("importSheet")
            .WithSummary(
                "Import a sheet (XLSX or CSV): columns are matched by heading, column=heading=field corrects it; "
                    + "dryRun shows every cell that cannot be read and what would be added"
            )
            .Refuses(422)
            .Takes(Bounds.Import);

    private static void ExportKeepfile(RouteGroupBuilder open, RouteGroupBuilder api) =>
        api.MapGet(
                "/export",
                async (
                    string? customer,
                    Importing importing,
                    AuditLog audit,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var asker = http.Asker();
                    var text = await importing.ExportAsync(asker, clock.GetUtcNow(), customer, ct);
                    await audit.WriteAsync(
                        asker.Name,
                        AuditLog.Export,
                        customer is null ? "everything that they can see" : $"customer {customer}",
                        AuditLog.Done,
                        asker.From,
                        ct
                    );
                    return Results.Text(text, "application/yaml");
                }
            )
            .For(Role.Reader)
            .WithMetadata(new Heavy())
            .Produces<string>(200, "application/yaml")
            .WithName("exportKeepfile")
            .WithSummary("Everything that you can see, or one customer's records, as a keepfile");
}

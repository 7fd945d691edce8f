using Vellumkeep.Storage.Backups;

namespace Vellumkeep.Service.Backups;

/// <summary>A backup while the service runs.</summary>
public static class BackupEndpoints
{
    public static void MapBackups(this RouteGroupBuilder api) =>
        api.MapGet(
                "/backup",
                async (
                    Databases databases,
                    AuditLog audit,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var now = clock.GetUtcNow();
                    var asker = http.Asker();
                    // Written down before the first octet goes.
                    await audit.WriteAsync(
                        asker.Name,
                        AuditLog.Backup,
                        "the whole database",
                        AuditLog.Done,
                        asker.From,
                        ct
                    );
                    // Written whole before it is sent: whoever reads slowly holds no transaction open.
                    http.Response.ContentType = "application/gzip";
                    http.Response.Headers.ContentDisposition =
                        $"attachment; filename=vellumkeep-{now:yyyy-MM-dd-HHmm}.backup";
                    await Backup.WriteAsync(databases, http.Response.Body, ct);
                }
            )
            .For(Role.Lead)
            .WithMetadata(new Heavy())
            .Produces(200, contentType: "application/gzip")
            .WithName("backup")
            .WithSummary(
                "The whole database as one file, taken while the service runs; restored with: vellumkeep service restore FILE"
            );
}

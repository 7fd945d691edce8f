namespace Vellumkeep.Service.Platforms;

/// <summary>Platform profiles and suites: what they can do, what they do by default, and who uses them.</summary>
public static class PlatformEndpoints
{
    public static void MapPlatforms(this RouteGroupBuilder api)
    {
        ListPlatforms(api);
        OpenPlatform(api);
    }

    private static void ListPlatforms(RouteGroupBuilder api) =>
        api.MapGet("/platforms", async (Databases databases, HttpContext http, CancellationToken ct) =>
            {
                await using var context = databases.Open();
                var scope = http.Asker().Scope;
                var all = await new RecordReader(context).AllAsync<Platform>(scope, RecordKind.Platform, ct);
                var uses = await new ReferenceList(context).UsersAsync(
                    scope,
                    [.. all.Select(p => p.Id)],
                    "platform",
                    ct
                );
                return (IReadOnlyList<PlatformSummary>)
                    [
                        .. all.Select(p => new PlatformSummary(
                            p.Code,
                            p.Title,
                            p.Family,
                            [.. p.IkeVersions.Select(v => v.ToString())],
                            p.SupportEnds is { } s ? Scalars.Write(s) : null,
                            uses.GetValueOrDefault(p.Id),
                            PlatformFacts.Silent(p).Count
                        )),
                    ];
            })
            .For(Role.Reader)
            .WithName("listPlatforms")
            .WithSummary("Platform profiles");

    private static void OpenPlatform(RouteGroupBuilder api) =>
        api.MapGet(
                "/platforms/{code}",
                async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    var scope = http.Asker().Scope;
                    var p = await FindAsync(databases, scope, code, ct);
                    await using var context = databases.Open();
                    var (gateways, inAll) = await new ReferenceList(context).ReferringAsync(
                        scope,
                        p.Id,
                        "platform",
                        ct
                    );
                    return new PlatformPage
                    {
                        Code = p.Code,
                        Name = p.Title,
                        Family = p.Family,
                        SupportEnds = p.SupportEnds is { } s ? Scalars.Write(s) : null,
                        Can = PlatformFacts.Can(p),
                        Does = PlatformFacts.Does(p),
                        Defaults = PlatformFacts.Defaults(p),
                        Silent = PlatformFacts.Silent(p),
                        Gateways = gateways,
                        GatewaysInAll = inAll,
                        Notes = p.Notes,
                    };
                }
            )
            .For(Role.Reader)
            .WithName("openPlatform")
            .WithSummary("What a platform supports, its defaults, and what its profile does not say")
            .Refuses(404);

    /// <summary>
    /// The platform with that code (a beginning is enough, without a version the newest), or that of the gateway with
    /// that code.
    /// </summary>
    internal static async Task<Platform> FindAsync(Databases databases, Scope scope, string code, CancellationToken ct)
    {
        await using var context = databases.Open();
        var reader = new RecordReader(context);
        if (await reader.ByCodeAsync<Platform>(scope, RecordKind.Platform, code, ct) is { } found)
            return found.Record;
        if (await reader.ByCodeAsync<Gateway>(scope, RecordKind.Gateway, code, ct) is { } gateway)
            return (await reader.ByIdAsync<Platform>(scope, gateway.Record.PlatformId, ct))!.Record;
        var near = await reader.NearAsync(scope, RecordKind.Platform, code, ct);
        return near.IsWhole(code) && near.Codes.Select(c => c.Split('@')[0]).Distinct().Count() == 1
            ? (await reader.ByCodeAsync<Platform>(scope, RecordKind.Platform, near.Codes[^1], ct))!.Record
            : throw ProblemException.NotFound(RecordKind.Platform.Word(), code, near);
    }
}

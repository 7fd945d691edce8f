using Vellumkeep.Service.Platforms;

namespace Vellumkeep.Service.Calculations;

/// <summary>Calculations, each with its working. Nothing is kept.</summary>
public static class CalculationEndpoints
{
    public static void MapCalculations(this RouteGroupBuilder api)
    {
        CalculatePacket(api);
        api.MapGet("/calc/grade", (string? proposal) => Told("proposal", CalculationPages.Grade(proposal)))
            .For(Role.Reader)
            .WithName("calculateGrade")
            .WithSummary("A proposal graded by RFC 8247 or 8221, with its strength")
            .Refuses(422);
        CalculateLifetime(api);
        CalculateDetection(api);
        CalculatePrefix(api);
        CalculateCommon(api);
    }

    private static void CalculatePacket(RouteGroupBuilder api) =>
        api.MapGet(
                "/calc/packet",
                (string? proposal, string? outer, bool? udp, int? mtu, string? mode, string? @interface) =>
                    Told(
                        "proposal",
                        CalculationPages.Packet(proposal, outer, udp ?? false, mtu ?? 1500, mode, @interface)
                    )
            )
            .For(Role.Reader)
            .WithName("calculatePacket")
            .WithSummary("Largest inner packet and segment for a proposal on a link")
            .Refuses(422);

    private static void CalculateLifetime(RouteGroupBuilder api) =>
        api.MapGet("/calc/lifetime", (string? time, string? data, int? throughput) =>
                Told("time", CalculationPages.Life(time, data, throughput))
            )
            .For(Role.Reader)
            .WithName("calculateLifetime")
            .WithSummary("A lifetime, time against data; a bare number in every unit")
            .Refuses(422);

    private static void CalculateDetection(RouteGroupBuilder api) =>
        api.MapGet(
                "/calc/detect",
                async (
                    string? dpd,
                    string? version,
                    string? schedule,
                    string? platform,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                    Told(
                        "dpd",
                        CalculationPages.Detect(
                            dpd,
                            version,
                            schedule,
                            platform is null
                                ? null
                                : await PlatformEndpoints.FindAsync(databases, http.Asker().Scope, platform, ct)
                        )
                    )
            )
            .For(Role.Reader)
            .WithName("calculateDetection")
            .WithSummary("How long a dead peer stays undetected")
            .Refuses(404, 422);

    private static void CalculatePrefix(RouteGroupBuilder api) =>
        api.MapGet("/calc/prefix/{verb}", (string verb, string[]? prefix, string[]? less, int? length) =>
                Told("prefix", CalculationPages.Prefixes(verb, prefix ?? [], less ?? [], length))
            )
            .For(Role.Reader)
            .WithName("calculatePrefix")
            .WithSummary("show, split, merge, contains, subtract, free")
            .Refuses(422);

    private static void CalculateCommon(RouteGroupBuilder api) =>
        api.MapGet(
                "/calc/common",
                async (
                    string? a,
                    string? b,
                    string? version,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var v = Told("version", CalculationPages.VersionOf(version));
                    var scope = http.Asker().Scope;
                    var (x, y) = (
                        await PlatformEndpoints.FindAsync(databases, scope, a ?? "", ct),
                        await PlatformEndpoints.FindAsync(databases, scope, b ?? "", ct)
                    );
                    return CalculationPages.Common(x.Title, x, y.Title, y, v);
                }
            )
            .For(Role.Reader)
            .WithName("calculateCommon")
            .WithSummary("What two platforms, or the platforms of two gateways, both support")
            .Refuses(404, 422);

    private static T Told<T>(string field, Parsed<T> read) =>
        read.Ok ? read.Value : throw ProblemException.Field(read.Field ?? field, read.Wrong!, read.Right!);
}

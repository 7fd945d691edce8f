using Vellumkeep.Service.Platforms;

namespace Vellumkeep.Service.Sums;

/// <summary>Calculations, each with its working. Nothing is kept.</summary>
public static class SumEndpoints
{
    public static void MapSums(this RouteGroupBuilder api)
    {
        SumPacket(api);
        api.MapGet("/sums/grade", (string? proposal) => Told("proposal", SumPages.Grade(proposal)))
            .For(Role.Reader)
            .WithName("sumGrade")
            .WithSummary("A proposal graded by RFC 8247 or 8221, with its strength")
            .ProducesProblem(422);
        SumLifetime(api);
        SumDetect(api);
        SumPrefix(api);
        SumCommon(api);
    }

    private static void SumPacket(RouteGroupBuilder api) =>
        api.MapGet("/sums/packet", (string? proposal, string? outer, bool? udp, int? mtu) =>
                Told("proposal", SumPages.Packet(proposal, outer, udp ?? false, mtu ?? 1500))
            )
            .For(Role.Reader)
            .WithName("sumPacket")
            .WithSummary("Largest inner packet and segment for a proposal on a link")
            .ProducesProblem(422);

    private static void SumLifetime(RouteGroupBuilder api) =>
        api.MapGet("/sums/lifetime", (string? time, string? data, int? throughput) =>
                Told("time", SumPages.Life(time, data, throughput))
            )
            .For(Role.Reader)
            .WithName("sumLifetime")
            .WithSummary("A lifetime, time against data; a bare number in every unit")
            .ProducesProblem(422);

    private static void SumDetect(RouteGroupBuilder api) =>
        api.MapGet(
                "/sums/detect",
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
                        SumPages.Detect(
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
            .WithName("sumDetect")
            .WithSummary("How long a dead peer stays unnoticed")
            .ProducesProblem(404)
            .ProducesProblem(422);

    private static void SumPrefix(RouteGroupBuilder api) =>
        api.MapGet("/sums/prefix/{verb}", (string verb, string[]? prefix, string[]? less, int? length) =>
                Told("prefix", SumPages.Prefixes(verb, prefix ?? [], less ?? [], length))
            )
            .For(Role.Reader)
            .WithName("sumPrefix")
            .WithSummary("show, split, merge, contains, subtract, free")
            .ProducesProblem(422);

    private static void SumCommon(RouteGroupBuilder api) =>
        api.MapGet(
                "/sums/common",
                async (
                    string? a,
                    string? b,
                    string? version,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var v = Told("version", SumPages.VersionOf(version));
                    var scope = http.Asker().Scope;
                    var (x, y) = (
                        await PlatformEndpoints.FindAsync(databases, scope, a ?? "", ct),
                        await PlatformEndpoints.FindAsync(databases, scope, b ?? "", ct)
                    );
                    return SumPages.Common(x.Title, x, y.Title, y, v);
                }
            )
            .For(Role.Reader)
            .WithName("sumCommon")
            .WithSummary("What two platforms, or the platforms of two gateways, can both do")
            .ProducesProblem(404)
            .ProducesProblem(422);

    private static T Told<T>(string field, Parsed<T> read) =>
        read.Ok ? read.Value : throw ProblemException.Field(field, read.Wrong!, read.Right!);
}

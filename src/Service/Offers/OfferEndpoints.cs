using Vellumkeep.Service.Records;

namespace Vellumkeep.Service.Offers;

/// <summary>Standing offers of other parties.</summary>
public static class OfferEndpoints
{
    public static void MapOffers(this RouteGroupBuilder api)
    {
        ListOffers(api);
    }

    private static void ListOffers(RouteGroupBuilder api) =>
        api.MapGet(
                "/offers",
                async (
                    string? asOf,
                    string? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                    await RecordEndpoints.ListAsync(
                        databases,
                        http,
                        RecordKind.Offer,
                        null,
                        null,
                        asOf,
                        cursor,
                        most,
                        ct
                    )
            )
            .For(Role.Reader)
            .WithName("listOffers")
            .WithSummary("Standing offers of other parties")
            .Refuses(422);
}

namespace Vellumkeep.Service.Addresses;

/// <summary>Where an address is, and what is free.</summary>
public static class AddressEndpoints
{
    public static void MapAddresses(this RouteGroupBuilder api)
    {
        FindAddress(api);
    }

    private static void FindAddress(RouteGroupBuilder api) =>
        api.MapGet(
                "/addresses",
                async (
                    string? q,
                    string? free,
                    int? length,
                    string? customer,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var asked = Prefix.Parse(free ?? q ?? "");
                    if (!asked.Ok)
                        throw ProblemException.Field(free is null ? "q" : "free", asked.Wrong!, asked.Right!, "Prefix");
                    var owner = await Find.OwnerAsync(new(context), scope, customer, ct);
                    var found = await new PlaceList(context).PlacesAsync(scope, asked.Value, owner, ct)
                        ?? throw ProblemException.Field(
                            free is null ? "q" : "free",
                            $"more than {PlaceList.Most:N0} prefixes in use overlap {asked.Value}",
                            "a smaller prefix, or one customer alone"
                        );
                    PlaceLine[] places =
                    [
                        .. found.Select(p => new PlaceLine(p.Prefix.ToString(), p.Role, p.OwnerCode, p.Code, p.Name)),
                    ];
                    IReadOnlyList<string> gaps = [];
                    if (free is not null)
                    {
                        if (length is not { } l || l < asked.Value.Length || l > asked.Value.Network.Width)
                            throw ProblemException.Field(
                                "length",
                                "the wanted length is missing or out of range",
                                $"a length from {asked.Value.Length} to {asked.Value.Network.Width}"
                            );
                        gaps =
                        [
                            .. new PrefixIndex<int>(Used(places, asked.Value).Select(p => (p, 0)))
                                .Free(asked.Value, l, 12)
                                .Select(p => p.ToString()),
                        ];
                    }

                    return new AddressResult(
                        asked.Value.ToString(),
                        [.. places.Where(p => Prefix.Parse(p.Prefix).Value.Contains(asked.Value))],
                        [.. places.Where(p => !Prefix.Parse(p.Prefix).Value.Contains(asked.Value))],
                        gaps
                    );
                }
            )
            .For(Role.Reader)
            .WithName("findAddress")
            .WithSummary("What contains an address, what is in a prefix, and what is free in it")
            .Refuses(422);

    /// <summary>
    /// What is in use within a space. A pool is there to be used: who asks for what is free in it is not told that all
    /// of it is taken.
    /// </summary>
    internal static IEnumerable<Prefix> Used(IEnumerable<PlaceLine> places, Prefix space) =>
        places
            .Select(p => (p.Kind, Prefix: Prefix.Parse(p.Prefix).Value))
            .Where(p => p.Kind != "tunnel pool" || !p.Prefix.Contains(space))
            .Select(p => p.Prefix);
}

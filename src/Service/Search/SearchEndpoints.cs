namespace Vellumkeep.Service.Search;

/// <summary>One search for everything, and saved filters.</summary>
public static class SearchEndpoints
{
    private static readonly string[] FiltersSaved = ["tunnels", "findings"];

    public static void MapSearch(this RouteGroupBuilder api)
    {
        Search(api);
        SavedFilters(api);
        SaveFilter(api);
        RemoveFilter(api);
    }

    private static void Search(RouteGroupBuilder api) =>
        api.MapGet(
                "/search",
                async (string q, int? most, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    var text = Typed.Trim(q);
                    if (text.Length is 0 or > 200)
                        throw ProblemException.Field(
                            "q",
                            text.Length == 0 ? "there is nothing to look for" : "it is longer than 200 characters",
                            "a code, name, address, prefix, identity, contact or finding",
                            "Search"
                        );
                    await using var context = databases.Open();
                    var check = Checks.All.FirstOrDefault(c => c.Code.Equals(text, StringComparison.OrdinalIgnoreCase));
                    var page = await new SearchList(context).SearchAsync(
                        http.Asker().Scope,
                        text,
                        Math.Clamp(most ?? 40, 1, 200),
                        ct
                    );
                    return new SearchResult(
                        text,
                        check?.Title,
                        [
                            .. page.Found.Select(f => new SearchHit(
                                f.Kind.Word(),
                                f.Code,
                                f.Name,
                                f.Owner,
                                f.State,
                                f.Field,
                                f.Fits
                            )),
                        ],
                        page.More
                    );
                }
            )
            .For(Role.Reader)
            .WithName("search")
            .WithSummary(
                "Codes, names, contacts, identities, names on devices by the beginnings of words; an address finds "
                    + "what contains it, a prefix what overlaps it"
            )
            .Refuses(422);

    private static void SavedFilters(RouteGroupBuilder api) =>
        api.MapGet("/saved-filters", async (Databases databases, HttpContext http, CancellationToken ct) =>
            {
                await using var context = databases.Open();
                var me = http.Asker().Name;
                // A shared filter may name a customer: who sees some customers only is shown no filter of others.
                var others = http.Asker().Scope.All;
                return (IReadOnlyList<SavedFilterLine>)
                    [
                        .. (
                            await context
                                .SavedFilters.AsNoTracking()
                                .Where(k => k.Person == me || (k.Shared && others))
                                .OrderBy(k => k.Name)
                                .ToListAsync(ct)
                        ).Select(k => Line(k, me)),
                    ];
            })
            .For(Role.Reader)
            .WithName("savedFilters")
            .WithSummary("Your saved filters, and the shared ones");

    /// <summary>Filters that one person keeps.</summary>
    private const int MostFilters = 100;

    private static void SaveFilter(RouteGroupBuilder api) =>
        api.MapPost(
                "/saved-filters",
                async (SaveFilter given, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    var name = (given.Name ?? "").Trim();
                    if (name.Length is 0 or > 60)
                        throw ProblemException.Field(
                            "name",
                            name.Length == 0
                                ? "the name of the saved filter is missing"
                                : "the name is longer than 60 characters",
                            "what it shows, such as: blocks at Brindlecombe"
                        );
                    if (!FiltersSaved.Contains(given.List))
                        throw ProblemException.Field(
                            "list",
                            $"'{Typed.Short(given.List ?? "")}' is not a list that can have a saved filter",
                            string.Join(", ", FiltersSaved)
                        );
                    if (given.Filter is null or { Length: > 500 })
                        throw ProblemException.Field(
                            "filter",
                            "the filter is missing or longer than 500 characters",
                            "the query of the list's address, such as customer=BRI&severity=blocks"
                        );
                    await using var context = databases.Open();
                    var me = http.Asker().Name;
                    if (await context.SavedFilters.AnyAsync(k => k.Person == me && k.Name == name, ct))
                        throw ProblemException.Field(
                            "name",
                            $"you have a saved filter '{name}' already",
                            "another name, or remove that one first"
                        );
                    if (await context.SavedFilters.CountAsync(k => k.Person == me, ct) >= MostFilters)
                        throw new ProblemException(
                            409,
                            "refused",
                            "Refused",
                            $"You have {MostFilters} saved filters, which is the most. Remove one first."
                        );
                    var row = new SavedFilterRow
                    {
                        Id = Guid.NewGuid().ToString("N")[..12],
                        Person = me,
                        Name = name,
                        List = given.List,
                        Filter = given.Filter.TrimStart('?'),
                        Shared = given.Shared,
                    };
                    context.SavedFilters.Add(row);
                    await context.SaveChangesAsync(ct);
                    return Line(row, me);
                }
            )
            .For(Role.Reader)
            .WithName("saveFilter")
            .WithSummary("Save a filter under a name")
            .Refuses(422);

    private static void RemoveFilter(RouteGroupBuilder api) =>
        api.MapDelete(
                "/saved-filters/{id}",
                async (string id, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    await using var context = databases.Open();
                    var me = http.Asker().Name;
                    if (await context.SavedFilters.Where(k => k.Id == id && k.Person == me).ExecuteDeleteAsync(ct) == 0)
                        throw ProblemException.NotFound("saved filter", id);
                    return TypedResults.NoContent();
                }
            )
            .For(Role.Reader)
            .WithName("removeFilter")
            .WithSummary("Remove one of your saved filters")
            .Refuses(404);

    private static SavedFilterLine Line(SavedFilterRow k, string me) =>
        new(k.Id, k.Name, k.List, k.Filter, k.Shared, k.Person, k.Person == me);
}

namespace Vellumkeep.Service.People;

/// <summary>
/// People for those who look after them: who may do what for whom, their passwords, sessions and tokens. Their records
/// are edited like any other.
/// </summary>
public static class PeopleEndpoints
{
    public static void MapPeople(this RouteGroupBuilder api)
    {
        ListPeople(api);
        OpenPerson(api);
        GivePassword(api);
        EndSessionOf(api);
        EndTokenOf(api);
    }

    private static void ListPeople(RouteGroupBuilder api) =>
        api.MapGet("/people", async (Databases databases, HttpContext http, CancellationToken ct) =>
            {
                await using var context = databases.Open();
                var names = new StoredNames(context, Scope.Everything);
                return (IReadOnlyList<PersonLine>)
                    [
                        .. (
                            await new RecordReader(context).AllAsync<Person>(http.Asker().Scope, RecordKind.Person, ct)
                        ).Select(p => Line(p, names)),
                    ];
            })
            .For(Role.Engineer)
            .WithName("listPeople")
            .WithSummary("People with their roles and customers, including those who left");

    private static void OpenPerson(RouteGroupBuilder api) =>
        api.MapGet(
                "/people/{name}",
                async (
                    string name,
                    Databases databases,
                    Access access,
                    SignIns signIns,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await using var context = databases.Open();
                    var kept = await FindAsync(context, http, name, ct);
                    var row = await context
                        .People.AsNoTracking()
                        .FirstOrDefaultAsync(p => p.Name == kept.Record.Code, ct);
                    http.Response.Headers.ETag = ETags.Of(kept.Version);
                    return new PersonPage(
                        Line(kept.Record, new StoredNames(context, Scope.Everything)),
                        kept.Version,
                        kept.Record.Reach,
                        kept.Record.Notes,
                        row?.PasswordHash.Length > 0,
                        await signIns.LockedAsync(kept.Record.Code, ct),
                        await access.ListAsync(kept.Record.Code, null, ct)
                    );
                }
            )
            .For(Role.Lead)
            .WithName("openPerson")
            .WithSummary("A person with their sessions and tokens")
            .Refuses(404);

    private static void GivePassword(RouteGroupBuilder api) =>
        api.MapPost(
                "/people/{name}/password",
                async (
                    string name,
                    Databases databases,
                    PeopleStore people,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await using var context = databases.Open();
                    var kept = await FindAsync(context, http, name, ct);
                    var made = Passwords.MakePassword();
                    await people.SetPasswordAsync(
                        new(http.Asker().Name, clock.GetUtcNow(), "give password", $"to {kept.Record.Code}"),
                        kept.Record.Code,
                        made,
                        mustReplace: true,
                        ct
                    );
                    return new GivenPassword(kept.Record.Code, made);
                }
            )
            .For(Role.Lead)
            .WithMetadata(new TellsSecret())
            .WithName("givePassword")
            .WithSummary("Set a new password for a person, shown once; they must replace it, and their sessions end")
            .Refuses(404);

    private static void EndSessionOf(RouteGroupBuilder api) =>
        api.MapDelete(
                "/people/{name}/sessions/{id}",
                async (
                    string name,
                    string id,
                    Access access,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var asker = http.Asker();
                    await access.EndSessionAsync(
                        asker,
                        new(asker.Name, clock.GetUtcNow(), "end session"),
                        SignIns.Fold(name),
                        id,
                        ct
                    );
                }
            )
            .For(Role.Lead)
            .WithName("endSessionOf")
            .WithSummary("End a person's session")
            .Refuses(404);

    private static void EndTokenOf(RouteGroupBuilder api) =>
        api.MapDelete(
                "/people/{name}/tokens/{id}",
                async (
                    string name,
                    string id,
                    Access access,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var asker = http.Asker();
                    await access.EndTokenAsync(
                        asker,
                        new(asker.Name, clock.GetUtcNow(), "end token"),
                        SignIns.Fold(name),
                        id,
                        ct
                    );
                }
            )
            .For(Role.Lead)
            .WithName("endTokenOf")
            .WithSummary("End a person's token")
            .Refuses(404);

    private static async Task<Kept<Person>> FindAsync(
        KeepContext context,
        HttpContext http,
        string name,
        CancellationToken ct
    ) =>
        await new RecordReader(context).ByCodeAsync<Person>(http.Asker().Scope, RecordKind.Person, name, ct)
        ?? throw ProblemException.NotFound(
            "person",
            name,
            await new RecordReader(context).NearAsync(http.Asker().Scope, RecordKind.Person, name, ct)
        );

    private static PersonLine Line(Person p, INames names) =>
        new(
            p.Code,
            p.Name,
            [.. p.Grants.Select(g => WrittenGrant.Write(g, names))],
            p.Left is { } left ? Scalars.Write(left) : null
        );
}

namespace Vellumkeep.Service.People;

/// <summary>
/// People: added, found behind a cookie or token, and their passwords. All of it in the database, so that a second
/// service on it knows the same.
/// </summary>
public sealed class PeopleStore(Databases databases, Keeper keeper, Passwords passwords, Access access)
{
    /// <summary>Adds a person with a password; without one nobody can sign in as them yet.</summary>
    public async Task AddAsync(
        Act act,
        string name,
        string display,
        IEnumerable<Grant> grants,
        string? password,
        DateOnly? left,
        CancellationToken ct
    )
    {
        name = SignIns.Fold(name);
        if (password is not null)
            passwords.Need(name, display, password);
        var form = WrittenPerson.Form.Write(
            new()
            {
                Code = name,
                Name = display,
                Grants = [.. grants],
                Left = left,
            },
            IdNames.Instance
        );
        await keeper.WriteAsync(
            act,
            async (writing, reader) =>
            {
                var (person, problems) = WrittenRecord.Read(RecordKind.Person, writing.NewId(), form, IdNames.Instance);
                if (person is null)
                    throw ProblemException.Field(problems[0].Field, problems[0].Wrong, problems[0].Right);
                if (await reader.ByCodeAsync<Person>(Scope.Everything, RecordKind.Person, name, ct) is not null)
                    throw ProblemException.Field("name", $"there is already a person {name}", "another sign-in name");
                writing.Put(person, 0);
                return true;
            },
            ct
        );
        if (password is not null)
            await SetPasswordAsync(act with { What = "password" }, name, password, mustReplace: false, ct);
    }

    public async Task<bool> AnybodyAsync(CancellationToken ct)
    {
        await using var context = databases.Open();
        return await context.People.AnyAsync(ct);
    }

    /// <summary>
    /// Sets a password. Every session and token made with the old one ends, but for <paramref name="but"/>, the one
    /// that asks.
    /// </summary>
    /// <returns>How many sessions and tokens ended.</returns>
    public async Task<Ended> SetPasswordAsync(
        Act act,
        string name,
        string password,
        bool mustReplace,
        CancellationToken ct,
        Asker? but = null
    )
    {
        await using (var context = databases.Open())
            passwords.Need(
                name,
                await context.People.Where(p => p.Name == name).Select(p => p.Display).FirstOrDefaultAsync(ct) ?? "",
                password
            );
        var hash = Passwords.Hash(name, password);
        var ended = new Ended(0, 0);
        await keeper.NoteAsync(act, ct, async context =>
        {
            if (
                await context
                    .People.Where(p => p.Name == name)
                    .ExecuteUpdateAsync(
                        u => u.SetProperty(p => p.PasswordHash, hash).SetProperty(p => p.MustReplace, mustReplace),
                        ct
                    ) == 0
            )
                throw ProblemException.NotFound("person", name);
            ended = await Access.EndAllAsync(context, name, but, ct);
            await SignIns.ForgiveAsync(context, name, ct);
        });
        return ended;
    }

    /// <summary>
    /// The asker behind a cookie or token; null when the person has left, or the session or token has ended since.
    /// </summary>
    public Task<Asker?> FindAsync(System.Security.Claims.ClaimsPrincipal user, CancellationToken ct) =>
        access.FindAsync(user, ct);
}

/// <summary>How many sessions and tokens ended.</summary>
public sealed record Ended(int Sessions, int Tokens);

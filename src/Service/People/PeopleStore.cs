using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Identity;

namespace Vellumkeep.Service.People;

/// <summary>People, their passwords (kept as slow hashes), sessions and tokens (kept as digests). All of it in the database, so that a second service on it knows the same.</summary>
public sealed class PeopleStore(Databases databases, Keeper keeper, TimeProvider clock, ServiceSettings settings)
{
    private const int MostWrongTries = 5;

    /// <summary>The passwords of the demo, which are printed and so are refused anywhere else.</summary>
    private const string DemoPasswords = "cold-store-";

    private static readonly TimeSpan Lockout = TimeSpan.FromMinutes(5);
    private static readonly PasswordHasher<string> Hasher = new();
    private static readonly string NobodysHash = Hasher.HashPassword("nobody", "nobody");

    /// <summary>Adds a person with a password; without one nobody can sign in as them yet.</summary>
    public async Task AddAsync(Act act, string name, string display, IEnumerable<Grant> grants, string? password, DateOnly? left, CancellationToken ct)
    {
        if (password is not null && Refusal(name, password) is var (wrong, right))
            throw ProblemException.Field("password", wrong, right);
        await keeper.WriteAsync(act, (writing, _) =>
        {
            writing.Put(new Person(writing.NewId(), name, display, [.. grants], null, left, null), 0);
            return Task.FromResult(true);
        }, ct);
        if (password is not null)
            await SetPasswordAsync(act with { What = "password" }, name, password, mustReplace: false, ct);
    }

    public async Task<bool> AnybodyAsync(CancellationToken ct)
    {
        await using var context = databases.Open();
        return await context.People.AnyAsync(ct);
    }

    /// <summary>The asker behind a checked cookie or token; null when the person has left, or the session or token has ended since.</summary>
    public async Task<Asker?> FindAsync(ClaimsPrincipal user, CancellationToken ct)
    {
        if (user.FindFirstValue(ClaimTypes.Name) is not { } name)
            return null;
        await using var context = databases.Open();
        var person = await context.People.AsNoTracking().FirstOrDefaultAsync(p => p.Name == name && !p.Disabled, ct);
        if (person is null)
            return null;
        var most = Grant.Roles.Parse(user.FindFirstValue(ClaimTypes.Role) ?? "lead").Value;
        if (user.FindFirstValue(ClaimTypes.Sid) is not { } session)
            return Asker.Of(person, most);
        var row = await context.Sessions.AsNoTracking().FirstOrDefaultAsync(s => s.Id == session && s.Person == name, ct);
        if (row is null)
            return null;
        var now = clock.GetUtcNow();
        if (now - Moment(row.SeenAt) > TimeSpan.FromMinutes(1))
            await context.Sessions.Where(s => s.Id == session).ExecuteUpdateAsync(u => u.SetProperty(s => s.SeenAt, Text(now)), ct);
        return Asker.Of(person, most, session);
    }

    /// <summary>The person, when name and password fit. After five wrong tries the name is locked for five minutes, whoever tries.</summary>
    public async Task<Asker> CheckAsync(string name, string password, CancellationToken ct)
    {
        await using var context = databases.Open();
        var person = await context.People.FirstOrDefaultAsync(p => p.Name == name, ct);
        var now = clock.GetUtcNow();
        if (person?.LockedUntil is { } until && Moment(until) > now)
            throw new ProblemException(429, "locked", "Locked for a while", $"Too many wrong tries for {name}. Try again in {Core.Quantities.Lifetime.Say((long)(Moment(until) - now).TotalSeconds + 1)}.");
        // The same work is done for a name that does not exist, so that the time tells nothing.
        var hash = person is { PasswordHash.Length: > 0 } ? person.PasswordHash : NobodysHash;
        var fits = Hasher.VerifyHashedPassword(name, hash, password) != PasswordVerificationResult.Failed && person is { PasswordHash.Length: > 0 };
        if (fits && !person!.Disabled && (settings.Demo is { Length: > 0 } || !password.StartsWith(DemoPasswords, StringComparison.OrdinalIgnoreCase)))
        {
            if (person.WrongTries > 0 || person.LockedUntil is not null)
                await context.People.Where(p => p.Name == name).ExecuteUpdateAsync(u => u.SetProperty(p => p.WrongTries, 0).SetProperty(p => p.LockedUntil, (string?)null), ct);
            return Asker.Of(person);
        }

        if (person is not null)
        {
            // Counted in the database in one stroke: tries at once, or at two services, are all counted.
            await context.People.Where(p => p.Name == name).ExecuteUpdateAsync(u => u.SetProperty(p => p.WrongTries, p => p.WrongTries + 1), ct);
            if (person.WrongTries + 1 >= MostWrongTries)
            {
                var locked = Text(now + Lockout);
                await keeper.NoteAsync(new(name, now, "locked out", $"after {MostWrongTries} wrong tries"), ct, c => c.People.Where(p => p.Name == name)
                    .ExecuteUpdateAsync(u => u.SetProperty(p => p.WrongTries, 0).SetProperty(p => p.LockedUntil, locked), ct));
            }
        }

        throw new ProblemException(401, "wrong-sign-in", "Not signed in", "Name and password do not fit together.");
    }

    /// <summary>Sets a password. Ends every session of the person but <paramref name="but"/>, because whoever knew the old one may hold them.</summary>
    public async Task SetPasswordAsync(Act act, string name, string password, bool mustReplace, CancellationToken ct, string? but = null)
    {
        if (Refusal(name, password) is var (wrong, right))
            throw ProblemException.Field("password", wrong, right);
        var hash = Hasher.HashPassword(name, password);
        await keeper.NoteAsync(act, ct, async context =>
        {
            if (await context.People.Where(p => p.Name == name).ExecuteUpdateAsync(u => u.SetProperty(p => p.PasswordHash, hash).SetProperty(p => p.MustReplace, mustReplace)
                    .SetProperty(p => p.WrongTries, 0).SetProperty(p => p.LockedUntil, (string?)null), ct) == 0)
                throw ProblemException.NotFound("person", name);
            await context.Sessions.Where(s => s.Person == name && s.Id != but).ExecuteDeleteAsync(ct);
        });
    }

    /// <summary>A password that nobody chose: four groups of letters and digits without look-alikes, 100 bits.</summary>
    public static string MakePassword() => string.Join('-', Enumerable.Range(0, 4).Select(_ => RandomNumberGenerator.GetString("abcdefghjkmnpqrstuvwxyz23456789", 5)));

    /// <summary>What speaks against a password; null when nothing does. The password itself is never repeated.</summary>
    private (string Wrong, string Right)? Refusal(string name, string password)
    {
        const string right = "at least 12 characters that do not hold your name, such as four unrelated words";
        return password.Length < 12 ? ($"it has {password.Length} characters", right)
            : password.Length > 200 ? ("it is longer than 200 characters", "12 to 200 characters")
            : password.Distinct().Count() < 5 ? ("it has fewer than five different characters", right)
            : password.Contains(name, StringComparison.OrdinalIgnoreCase) ? ("it holds the sign-in name", right)
            : password.Contains("vellumkeep", StringComparison.OrdinalIgnoreCase) || password.Contains("password", StringComparison.OrdinalIgnoreCase) ? ("it is the first thing that somebody would try", right)
            : settings.Demo is not { Length: > 0 } && password.StartsWith(DemoPasswords, StringComparison.OrdinalIgnoreCase) ? ("it is one of the demo's, which are printed", right)
            : null;
    }

    /// <summary>Begins a session for a browser and gives its id.</summary>
    public async Task<string> BeginSessionAsync(string person, string from, CancellationToken ct)
    {
        await using var context = databases.Open();
        var id = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(12));
        var now = Text(clock.GetUtcNow());
        context.Sessions.Add(new() { Id = id, Person = person, BeganAt = now, SeenAt = now, From = from.Length > 200 ? from[..200] : from });
        await context.SaveChangesAsync(ct);
        return id;
    }

    public async Task<AccessPage> AccessAsync(string person, string? current, CancellationToken ct)
    {
        await using var context = databases.Open();
        var sessions = await context.Sessions.AsNoTracking().Where(s => s.Person == person).OrderByDescending(s => s.SeenAt).ToListAsync(ct);
        var tokens = await context.Tokens.AsNoTracking().Where(t => t.Person == person).OrderBy(t => t.Name).ToListAsync(ct);
        return new(person, [.. sessions.Select(s => new SessionLine(s.Id, Moment(s.BeganAt), Moment(s.SeenAt), s.From, s.Id == current))],
            [.. tokens.Select(t => new TokenLine(t.Id, t.Name, t.Most, Moment(t.MadeAt.Length == 0 ? t.ExpiresAt : t.MadeAt), t.UsedAt is { } used ? Moment(used) : null, Moment(t.ExpiresAt)))]);
    }

    public Task EndSessionAsync(Act act, string person, string id, CancellationToken ct) => keeper.NoteAsync(act with { Reason = $"session of {person}" }, ct, async context =>
    {
        if (await context.Sessions.Where(s => s.Id == id && s.Person == person).ExecuteDeleteAsync(ct) == 0)
            throw ProblemException.NotFound("session", id);
    });

    public async Task<MadeToken> MakeTokenAsync(string person, string name, int days, string? most, CancellationToken ct)
    {
        if (days is < 1 or > 365)
            throw ProblemException.Field("days", $"{days} is not a life for a token", "1 to 365");
        if (string.IsNullOrWhiteSpace(name) || name.Length > 60)
            throw ProblemException.Field("name", "a token needs a name of at most 60 characters", "what it is for, such as laptop");
        var bound = Grant.Roles.Parse(most ?? "lead");
        if (!bound.Ok)
            throw ProblemException.Field("most", bound.Wrong!, bound.Right!);
        var token = "vk_" + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
        var now = clock.GetUtcNow();
        var row = new TokenRow
        {
            Id = Guid.NewGuid().ToString("N")[..12],
            Person = person,
            Name = name,
            Hash = Digest(token),
            Most = Grant.Roles.Of(bound.Value),
            MadeAt = Text(now),
            ExpiresAt = Text(now.AddDays(days)),
        };
        await keeper.NoteAsync(new(person, now, "make token", name), ct, context =>
        {
            context.Tokens.Add(row);
            return Task.CompletedTask;
        });
        return new(row.Id, name, token, Moment(row.ExpiresAt));
    }

    /// <summary>Whose token it is and the most it lets do; null when it is unknown or has run out.</summary>
    public async Task<(string Person, string Most)?> OfTokenAsync(string token, CancellationToken ct)
    {
        var digest = Digest(token);
        await using var context = databases.Open();
        var row = await context.Tokens.AsNoTracking().FirstOrDefaultAsync(t => t.Hash == digest, ct);
        var now = clock.GetUtcNow();
        if (row is null || Moment(row.ExpiresAt) <= now)
            return null;
        if (row.UsedAt is null || now - Moment(row.UsedAt) > TimeSpan.FromMinutes(5))
            await context.Tokens.Where(t => t.Id == row.Id).ExecuteUpdateAsync(u => u.SetProperty(t => t.UsedAt, Text(now)), ct);
        return (row.Person, row.Most);
    }

    public Task EndTokenAsync(Act act, string person, string id, CancellationToken ct) => keeper.NoteAsync(act with { Reason = $"token of {person}" }, ct, async context =>
    {
        if (await context.Tokens.Where(t => t.Id == id && t.Person == person).ExecuteDeleteAsync(ct) == 0)
            throw ProblemException.NotFound("token", id);
    });

    private static string Digest(string token) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));

    private static string Text(DateTimeOffset at) => at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);

    private static DateTimeOffset Moment(string text) => DateTimeOffset.Parse(text, CultureInfo.InvariantCulture);
}

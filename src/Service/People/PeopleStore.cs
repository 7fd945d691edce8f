using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Identity;

namespace Vellumkeep.Service.People;

/// <summary>People, their passwords (kept as slow hashes) and tokens (kept as digests).</summary>
public sealed class PeopleStore(Databases databases, TimeProvider clock)
{
    private const int MostWrongTries = 5;
    private static readonly TimeSpan Lockout = TimeSpan.FromMinutes(5);
    private static readonly PasswordHasher<string> Hasher = new();
    private static readonly string NobodysHash = Hasher.HashPassword("nobody", "nobody");

    public async Task AddAsync(string name, string display, string password, IEnumerable<Role> roles, IEnumerable<string>? customerIds, bool disabled, CancellationToken ct)
    {
        await using var context = databases.Open();
        context.People.Add(new()
        {
            Name = name,
            Display = display,
            Roles = string.Join(',', roles.Select(r => r.ToString().ToLowerInvariant())),
            Customers = customerIds is null ? "*" : string.Join(',', customerIds),
            PasswordHash = Hasher.HashPassword(name, password),
            Disabled = disabled,
        });
        await context.SaveChangesAsync(ct);
    }

    public async Task<bool> AnybodyAsync(CancellationToken ct)
    {
        await using var context = databases.Open();
        return await context.People.AnyAsync(ct);
    }

    public async Task<Asker?> FindAsync(string name, CancellationToken ct)
    {
        await using var context = databases.Open();
        var person = await context.People.AsNoTracking().FirstOrDefaultAsync(p => p.Name == name && !p.Disabled, ct);
        return person is null ? null : Asker.Of(person);
    }

    /// <summary>The person, when name and password fit. After five wrong tries the name is locked for five minutes, whoever tries.</summary>
    public async Task<Asker> CheckAsync(string name, string password, CancellationToken ct)
    {
        await using var context = databases.Open();
        var person = await context.People.FirstOrDefaultAsync(p => p.Name == name, ct);
        var now = clock.GetUtcNow();
        if (person?.LockedUntil is { } until && DateTimeOffset.Parse(until, CultureInfo.InvariantCulture) > now)
            throw new ProblemException(429, "locked", "Locked for a while", $"Too many wrong tries for {name}. Try again in {Core.Quantities.Lifetime.Say((long)(DateTimeOffset.Parse(until, CultureInfo.InvariantCulture) - now).TotalSeconds + 1)}.");
        // The same work is done for a name that does not exist, so that the time tells nothing.
        var fits = Hasher.VerifyHashedPassword(name, person?.PasswordHash ?? NobodysHash, password) != PasswordVerificationResult.Failed;
        if (person is not null && fits && !person.Disabled)
        {
            (person.WrongTries, person.LockedUntil) = (0, null);
            await context.SaveChangesAsync(ct);
            return Asker.Of(person);
        }

        if (person is not null && ++person.WrongTries >= MostWrongTries)
            (person.WrongTries, person.LockedUntil) = (0, (now + Lockout).ToString("O", CultureInfo.InvariantCulture));
        await context.SaveChangesAsync(ct);
        throw new ProblemException(401, "wrong-sign-in", "Not signed in", "Name and password do not fit together.");
    }

    public async Task<MadeToken> MakeTokenAsync(string person, string name, int days, CancellationToken ct)
    {
        if (days is < 1 or > 365)
            throw ProblemException.Field("days", $"{days} is not a life for a token", "1 to 365");
        if (string.IsNullOrWhiteSpace(name) || name.Length > 60)
            throw ProblemException.Field("name", "a token needs a name of at most 60 characters", "what it is for, such as laptop");
        var token = "vk_" + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
        var row = new TokenRow { Id = Guid.NewGuid().ToString("N")[..12], Person = person, Name = name, Hash = Digest(token), ExpiresAt = clock.GetUtcNow().AddDays(days).ToString("O", CultureInfo.InvariantCulture) };
        await using var context = databases.Open();
        context.Tokens.Add(row);
        await context.SaveChangesAsync(ct);
        return new(row.Id, name, token, DateTimeOffset.Parse(row.ExpiresAt, CultureInfo.InvariantCulture));
    }

    public async Task<string?> PersonOfTokenAsync(string token, CancellationToken ct)
    {
        var digest = Digest(token);
        await using var context = databases.Open();
        var row = await context.Tokens.AsNoTracking().FirstOrDefaultAsync(t => t.Hash == digest, ct);
        return row is not null && DateTimeOffset.Parse(row.ExpiresAt, CultureInfo.InvariantCulture) > clock.GetUtcNow() ? row.Person : null;
    }

    public async Task EndTokenAsync(string person, string id, CancellationToken ct)
    {
        await using var context = databases.Open();
        if (await context.Tokens.Where(t => t.Id == id && t.Person == person).ExecuteDeleteAsync(ct) == 0)
            throw ProblemException.NotFound("token", id);
    }

    private static string Digest(string token) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));
}

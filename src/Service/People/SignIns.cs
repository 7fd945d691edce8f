using System.Security.Cryptography;
using System.Text;

namespace Vellumkeep.Service.People;

/// <summary>
/// Whether name and password fit, and how often somebody may try. Every try is counted before it is judged, so that
/// tries at the same moment gain nothing, and names that nobody has are counted like any other, so that the answer does
/// not tell them apart.
/// </summary>
public sealed class SignIns(Databases databases, Passwords passwords, AuditLog audit, TimeProvider clock)
{
    /// <summary>
    /// Wrong tries at one name from one address: whoever guesses is stopped, and the person elsewhere is not.
    /// </summary>
    private static readonly Bound AtNameFromAddress = new(5, TimeSpan.FromMinutes(5));

    /// <summary>
    /// Wrong tries at one name from anywhere. It does not hold at an address from which that person has signed in
    /// before.
    /// </summary>
    private static readonly Bound AtName = new(50, TimeSpan.FromMinutes(15));

    /// <summary>Wrong tries from one address, whatever the name.</summary>
    private static readonly Bound FromAddress = new(30, TimeSpan.FromMinutes(15));

    private const int LongestName = 100;

    /// <summary>Addresses that are remembered of one person.</summary>
    private const int MostAddresses = 20;

    // Tries at one name from one address are judged one after the other: a right password typed twice at once is no
    // guessing.
    private readonly SemaphoreSlim[] doors = [.. Enumerable.Range(0, 64).Select(_ => new SemaphoreSlim(1))];

    private sealed record Bound(int Most, TimeSpan Within);

    /// <summary>A name as people are kept under it: small letters.</summary>
    public static string Fold(string? name)
    {
        var text = Typed.Trim(name ?? "").ToLowerInvariant();
        return text.Length > LongestName ? text[..LongestName] : text;
    }

    /// <summary>The person, when name and password fit and there were not too many wrong tries.</summary>
    /// <exception cref="ProblemException">401 when they do not fit, 429 with <c>Retry-After</c> after too many
    /// tries.</exception>
    public async Task<Asker> CheckAsync(string? typed, string? password, string address, CancellationToken ct)
    {
        var name = Fold(typed);
        var (pair, anywhere, any) = (KeyOf("pair", name, address), KeyOf("name", name), KeyOf("address", address));
        var door = doors[pair[0] % doors.Length];
        await door.WaitAsync(ct);
        try
        {
            await using var context = databases.Open();
            var person = await context.People.AsNoTracking().FirstOrDefaultAsync(p => p.Name == name, ct);
            var known = await context.KnownAddresses.AnyAsync(k => k.Person == name && k.Address == address, ct);
            var wait = await CountAsync(context, pair, AtNameFromAddress, ct);
            var waitAtAddress = await CountAsync(context, any, FromAddress, ct);
            var waitAtName = await CountAsync(context, anywhere, AtName, ct);
            if (new[] { wait, waitAtAddress, known ? null : waitAtName }.Max() is { } until)
            {
                audit.Later(person?.Name ?? "unknown", AuditLog.SignIn, "too many tries", AuditLog.Refused, address);
                throw TooMany(until);
            }

            if (passwords.Fits(name, person?.PasswordHash, password ?? "") && !person!.Disabled)
            {
                await LetInAsync(context, name, address, [pair], [any, anywhere], ct);
                return Asker.Of(person);
            }

            audit.Later(
                person?.Name ?? "unknown",
                AuditLog.SignIn,
                "wrong name or password",
                AuditLog.Refused,
                address
            );
            throw new ProblemException(401, "wrong-sign-in", "Not signed in", "Wrong name or password.");
        }
        finally
        {
            door.Release();
        }
    }

    /// <summary>
    /// Forgets the wrong tries at a name, from wherever they came: a lead has given a new password, or the name was let
    /// in on the machine itself.
    /// </summary>
    public static async Task ForgiveAsync(KeepContext context, string name, CancellationToken ct)
    {
        var addresses = await context
            .KnownAddresses.Where(k => k.Person == name)
            .Select(k => k.Address)
            .ToListAsync(ct);
        string[] keys = [KeyOf("name", name), .. addresses.Select(a => KeyOf("pair", name, a))];
        await context.SignInTries.Where(t => keys.Contains(t.Key)).ExecuteDeleteAsync(ct);
    }

    /// <summary>
    /// Until when a name is refused at addresses from which that person has never signed in; null when it is not.
    /// </summary>
    public async Task<DateTimeOffset?> LockedAsync(string name, CancellationToken ct)
    {
        await using var context = databases.Open();
        var key = KeyOf("name", name);
        var row = await context.SignInTries.AsNoTracking().FirstOrDefaultAsync(t => t.Key == key, ct);
        if (row is null || row.Count < AtName.Most)
            return null;
        var until = Moment(row.Since) + AtName.Within;
        return until > clock.GetUtcNow() ? until : null;
    }

    private static ProblemException TooMany(TimeSpan wait) =>
        new ProblemException(
            429,
            "too-many-tries",
            "Too many failed sign-ins",
            $"Too many failed sign-ins. Try again in {Core.Quantities.Lifetime.Say(Told(wait))}."
        ).After(wait);

    /// <summary>
    /// Counts one more try in one stroke of the database; gives how long to wait when it is one too many.
    /// </summary>
    private async Task<TimeSpan?> CountAsync(KeepContext context, string key, Bound bound, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var (at, old) = (Text(now), Text(now - bound.Within));
        // A span that is over begins anew.
        var rows = await context
            .SignInTries.FromSql(
                $"""
                insert into sign_in_tries (key, count, since) values ({key}, 1, {at})
                on conflict (key) do update set
                    count = case when sign_in_tries.since < {old} then 1 else sign_in_tries.count + 1 end,
                    since = case when sign_in_tries.since < {old} then {at} else sign_in_tries.since end
                returning key, count, since
                """
            )
            .AsNoTracking()
            .ToListAsync(ct);
        return rows[0].Count > bound.Most ? Moment(rows[0].Since) + bound.Within - now : null;
    }

    /// <summary>What was right is not counted as wrong, and the address is one of this person's from now on.</summary>
    private async Task LetInAsync(
        KeepContext context,
        string name,
        string address,
        string[] clear,
        string[] less,
        CancellationToken ct
    )
    {
        var now = Text(clock.GetUtcNow());
        await context.SignInTries.Where(t => clear.Contains(t.Key)).ExecuteDeleteAsync(ct);
        await context
            .SignInTries.Where(t => less.Contains(t.Key))
            .ExecuteUpdateAsync(u => u.SetProperty(t => t.Count, t => t.Count - 1), ct);
        if (
            await context
                .KnownAddresses.Where(k => k.Person == name && k.Address == address)
                .ExecuteUpdateAsync(u => u.SetProperty(k => k.LastAt, now), ct) == 0
        )
            await context.Database.ExecuteSqlAsync(
                $"""
                insert into known_addresses (person, address, last_at)
                values ({name}, {address}, {now}) on conflict (person, address) do nothing
                """,
                ct
            );
        var kept = await context
            .KnownAddresses.Where(k => k.Person == name)
            .OrderByDescending(k => k.LastAt)
            .Select(k => k.Address)
            .Take(MostAddresses)
            .ToListAsync(ct);
        await context.KnownAddresses.Where(k => k.Person == name && !kept.Contains(k.Address)).ExecuteDeleteAsync(ct);
        // Spans that are over are of no use.
        var old = Text(clock.GetUtcNow().AddHours(-1));
        await context.SignInTries.Where(t => string.Compare(t.Since, old) < 0).ExecuteDeleteAsync(ct);
        await audit.WriteAsync(name, AuditLog.SignIn, "", AuditLog.Done, address, ct);
    }

    private static string KeyOf(params string[] parts) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', parts))));

    private static string Text(DateTimeOffset at) => at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);

    private static DateTimeOffset Moment(string text) => DateTimeOffset.Parse(text, CultureInfo.InvariantCulture);

    /// <summary>
    /// A wait as it is told, in seconds: whole minutes above one, rounded up, so that it does not read otherwise by the
    /// second.
    /// </summary>
    private static long Told(TimeSpan wait)
    {
        var seconds = (long)wait.TotalSeconds + 1;
        return seconds <= 60 ? seconds : (seconds + 59) / 60 * 60;
    }
}

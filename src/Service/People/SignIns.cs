using System.Security.Cryptography;
using System.Text;

namespace Vellumkeep.Service.People;

/// <summary>
/// Whether name and password fit, and how often somebody may try. Every try is counted before it is judged, so that
/// tries at the same moment gain nothing, and names that nobody has are counted like any other, so that the answer does
/// not tell them apart. Nobody is kept out where they have signed in before: there, wrong tries make the next ones
/// slow.
/// </summary>
public sealed class SignIns(Databases databases, Passwords passwords, AuditLog audit, TimeProvider clock)
{
    /// <summary>
    /// Wrong tries at one name from one address: whoever guesses is stopped, and the person elsewhere is not. Where
    /// that person has signed in before, more tries are judged one after the other (<see cref="SignInLanes"/>).
    /// </summary>
    private static readonly Bound AtNameFromAddress = new(5, TimeSpan.FromMinutes(5));

    /// <summary>Wrong tries at one name from anywhere.</summary>
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

    /// <summary>What one try is counted under: the name from that address, the name, and the address.</summary>
    private sealed record Keys(string Pair, string Name, string Address);

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
        var keys = KeysOf(name, address);
        var door = doors[keys.Pair[0] % doors.Length];
        await door.WaitAsync(ct);
        try
        {
            await using var context = databases.Open();
            var person = await context.People.AsNoTracking().FirstOrDefaultAsync(p => p.Name == name, ct);
            var known = await IsKnownAsync(context, name, address, ct);
            var wait = await CountAsync(context, keys.Pair, AtNameFromAddress, ct, keys);
            var waitAtAddress = await CountAsync(context, keys.Address, FromAddress, ct);
            var waitAtName = await CountAsync(context, keys.Name, AtName, ct);
            if (!known && new[] { wait, waitAtAddress, waitAtName }.Max() is { } until)
            {
                audit.Later(person?.Name ?? "unknown", AuditLog.SignIn, "too many tries", AuditLog.Refused, address);
                throw TooMany(until);
            }

            if (passwords.Fits(name, person?.PasswordHash, password ?? "") && !person!.Disabled)
            {
                await LetInAsync(context, name, address, [keys.Pair], [keys.Address, keys.Name], ct);
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

    /// <summary>How a try at a name from an address is received.</summary>
    public async Task<SignInTreatment> StandingAsync(string name, string address, CancellationToken ct)
    {
        await using var context = databases.Open();
        if (!await IsKnownAsync(context, name, address, ct))
            return SignInTreatment.Stranger;
        var keys = KeysOf(name, address);
        var rows = await context
            .SignInTries.AsNoTracking()
            .Where(t => t.Key == keys.Pair || t.Key == keys.Address)
            .ToListAsync(ct);
        return rows.Any(r => Exceeded(r, r.Key == keys.Pair ? AtNameFromAddress : FromAddress) is not null)
            ? SignInTreatment.KnownAndDoubted
            : SignInTreatment.Known;
    }

    /// <summary>
    /// Forgets the wrong tries at a name, from wherever they came, and what was counted against those places: a lead
    /// has given a new password, or the name was allowed on the machine itself.
    /// </summary>
    public static async Task ForgiveAsync(KeepContext context, string name, CancellationToken ct)
    {
        var key = KeyOf("name", name);
        var known = await context.KnownAddresses.Where(k => k.Person == name).Select(k => k.Address).ToListAsync(ct);
        var tried = await context
            .SignInTries.Where(t => t.OfName == key && t.OfAddress != null)
            .Select(t => t.OfAddress!)
            .ToListAsync(ct);
        string[] keys = [key, .. tried, .. known.Select(a => KeyOf("address", a))];
        await context.SignInTries.Where(t => t.OfName == key || keys.Contains(t.Key)).ExecuteDeleteAsync(ct);
    }

    /// <summary>
    /// Until when a name is refused at addresses from which that person has never signed in; null when it is not.
    /// </summary>
    public async Task<DateTimeOffset?> LockedAsync(string name, CancellationToken ct)
    {
        await using var context = databases.Open();
        var key = KeyOf("name", name);
        var row = await context.SignInTries.AsNoTracking().FirstOrDefaultAsync(t => t.Key == key, ct);
        return row is null ? null : Exceeded(row, AtName);
    }

    private static Task<bool> IsKnownAsync(KeepContext context, string name, string address, CancellationToken ct) =>
        context.KnownAddresses.AnyAsync(k => k.Person == name && k.Address == address, ct);

    /// <summary>
    /// Until when no more tries are judged; null where there were not too many. A span in the future was counted by a
    /// clock that ran ahead, and holds nobody up.
    /// </summary>
    private DateTimeOffset? Exceeded(SignInTryRow row, Bound bound)
    {
        var (now, since) = (clock.GetUtcNow(), Moment(row.Since));
        var until = since + bound.Within;
        return row.Count >= bound.Most && since <= now && until > now ? until : null;
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
    private async Task<TimeSpan?> CountAsync(
        KeepContext context,
        string key,
        Bound bound,
        CancellationToken ct,
        Keys? of = null
    )
    {
        var now = clock.GetUtcNow();
        var (at, old) = (Text(now), Text(now - bound.Within));
        // A span that is over, or in the future, begins anew.
        var rows = await context
            .SignInTries.FromSql(
                $"""
                insert into sign_in_tries (key, of_name, of_address, count, since)
                values ({key}, {of?.Name}, {of?.Address}, 1, {at})
                on conflict (key) do update set
                    count = case when sign_in_tries.since < {old} or sign_in_tries.since > {at} then 1
                        else sign_in_tries.count + 1 end,
                    since = case when sign_in_tries.since < {old} or sign_in_tries.since > {at} then {at}
                        else sign_in_tries.since end
                returning key, of_name, of_address, count, since
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
        await context
            .SignInTries.Where(t => string.Compare(t.Since, old) < 0 || string.Compare(t.Since, now) > 0)
            .ExecuteDeleteAsync(ct);
        await audit.WriteAsync(name, AuditLog.SignIn, "", AuditLog.Done, address, ct);
    }

    private static Keys KeysOf(string name, string address) =>
        new(KeyOf("pair", name, address), KeyOf("name", name), KeyOf("address", address));

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

/// <summary>How a try to sign in is received.</summary>
public enum SignInTreatment
{
    /// <summary>Somebody who has not signed in under this name from this address before.</summary>
    Stranger,

    /// <summary>Somebody who has.</summary>
    Known,

    /// <summary>The same, after many wrong tries at this name or from this address.</summary>
    KnownAndDoubted,
}

using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;

namespace Vellumkeep.Service.People;

/// <summary>
/// Sessions of browsers and tokens of programs. A token lets do at most what its person may at the moment, and never
/// more than what it was made with: whoever asks by a token makes and ends only what is within its bound.
/// </summary>
public sealed class Access(Databases databases, Keeper keeper, LastActive lastActive, TimeProvider clock)
{
    /// <summary>The claim by which a token is found again: the digest of its value.</summary>
    public const string TokenClaim = "token";

    /// <summary>Tokens that one person may have at once.</summary>
    private const int MostTokens = 100;

    /// <summary>Sessions that one person may have at once; the oldest ends when another one begins.</summary>
    private const int MostSessions = 50;

    /// <summary>However much it is used, a session ends after so long.</summary>
    private static readonly TimeSpan LongestSession = TimeSpan.FromDays(7);

    public static string Digest(string token) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));

    /// <summary>
    /// The asker behind a cookie or token as things stand now; null when nothing lets them in any more.
    /// </summary>
    public async Task<Asker?> FindAsync(ClaimsPrincipal user, CancellationToken ct)
    {
        await using var context = databases.Open();
        if (user.FindFirstValue(TokenClaim) is { } digest)
        {
            var token = await context.Tokens.AsNoTracking().FirstOrDefaultAsync(t => t.Hash == digest, ct);
            if (
                token is null
                || Moment(token.ExpiresAt) <= clock.GetUtcNow()
                || await PersonAsync(context, token.Person, ct) is not { } maker
            )
                return null;
            lastActive.Token(token.Id);
            return Asker.Of(maker, Grant.Roles.Parse(token.Most).Value) with { Token = token.Id };
        }

        if (
            user.FindFirstValue(ClaimTypes.Sid) is not { } session
            || user.FindFirstValue(ClaimTypes.Name) is not { } name
        )
            return null;
        var oldest = Text(clock.GetUtcNow() - LongestSession);
        if (
            !await context.Sessions.AnyAsync(
                s => s.Id == session && s.Person == name && string.Compare(s.BeganAt, oldest) > 0,
                ct
            ) || await PersonAsync(context, name, ct) is not { } person
        )
            return null;
        lastActive.Session(session);
        return Asker.Of(person) with { Session = session };
    }

    private static Task<PersonRow?> PersonAsync(KeepContext context, string name, CancellationToken ct) =>
        context.People.AsNoTracking().FirstOrDefaultAsync(p => p.Name == name && !p.Disabled, ct);

    /// <summary>Begins a session for a browser and gives its id.</summary>
    /// <param name="replaces">The session that this browser had until now, whoever's it was; null when it had
    /// none.</param>
    public async Task<string> BeginSessionAsync(string person, string from, string? replaces, CancellationToken ct)
    {
        await using var context = databases.Open();
        var id = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(12));
        var now = Text(clock.GetUtcNow());
        context.Sessions.Add(
            new()
            {
                Id = id,
                Person = person,
                BeganAt = now,
                ActiveAt = now,
                From = from.Length > 200 ? from[..200] : from,
            }
        );
        await context.SaveChangesAsync(ct);
        var (kept, oldest) = (
            context
                .Sessions.Where(s => s.Person == person)
                .OrderByDescending(s => s.BeganAt)
                .ThenByDescending(s => s.Id)
                .Take(MostSessions)
                .Select(s => s.Id),
            Text(clock.GetUtcNow() - LongestSession)
        );
        await context
            .Sessions.Where(s =>
                s.Id == replaces
                || string.Compare(s.BeganAt, oldest) <= 0
                || (s.Person == person && s.Id != id && !kept.Contains(s.Id))
            )
            .ExecuteDeleteAsync(ct);
        return id;
    }

    public async Task<AccessPage> ListAsync(string person, string? current, CancellationToken ct)
    {
        await using var context = databases.Open();
        var sessions = await context.Sessions.AsNoTracking().Where(s => s.Person == person).ToListAsync(ct);
        var tokens = await context
            .Tokens.AsNoTracking()
            .Where(t => t.Person == person)
            .OrderBy(t => t.Name)
            .ToListAsync(ct);
        return new(
            person,
            [
                .. sessions
                    .OrderByDescending(lastActive.OfSession)
                    .Select(s => new SessionLine(
                        s.Id,
                        Moment(s.BeganAt),
                        lastActive.OfSession(s),
                        s.From,
                        s.Id == current
                    )),
            ],
            [
                .. tokens.Select(t => new TokenLine(
                    t.Id,
                    t.Name,
                    t.Most,
                    Moment(t.MadeAt),
                    lastActive.OfToken(t),
                    Moment(t.ExpiresAt)
                )),
            ]
        );
    }

    /// <summary>
    /// Ends a session. A session lets do all that its person may, so that no token with a bound ends one.
    /// </summary>
    public Task EndSessionAsync(Asker asker, Act act, string person, string id, CancellationToken ct)
    {
        if (asker.Most < Role.Lead)
            throw Beyond(asker, "ends no session, which lets do more");
        return keeper.NoteAsync(act with { Reason = $"session of {person}" }, ct, async context =>
        {
            if (await context.Sessions.Where(s => s.Id == id && s.Person == person).ExecuteDeleteAsync(ct) == 0)
                throw ProblemException.NotFound("session", id);
        });
    }

    /// <summary>
    /// Makes a token. Asked by a token, the new one lets do no more than that one and lives no longer.
    /// </summary>
    public async Task<MadeToken> MakeTokenAsync(Asker asker, string name, int days, string? most, CancellationToken ct)
    {
        if (days is < 1 or > 365)
            throw ProblemException.Field("days", $"{days} is not a life for a token", "1 to 365");
        if (string.IsNullOrWhiteSpace(name) || name.Length > 60 || Characters.Unfit(name) is not null)
            throw ProblemException.Field(
                "name",
                "a token needs a name of at most 60 characters",
                "what it is for, such as laptop"
            );
        var bound = Grant.Roles.Parse(most ?? Grant.Roles.Of(asker.Most));
        if (!bound.Ok)
            throw ProblemException.Field("most", bound.Wrong!, bound.Right!);
        if (bound.Value > asker.Most)
            throw Beyond(asker, $"makes none that lets do as much as a {Grant.Roles.Of(bound.Value)}");
        var token = "vk_" + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
        var now = clock.GetUtcNow();
        var expires = now.AddDays(days);
        var row = new TokenRow
        {
            Id = Guid.NewGuid().ToString("N")[..12],
            Person = asker.Name,
            Name = name.Trim(),
            Hash = Digest(token),
            Most = Grant.Roles.Of(bound.Value),
            MadeAt = Text(now),
            ExpiresAt = Text(expires),
        };
        await keeper.NoteAsync(new(asker.Name, now, "make token", row.Name), ct, async context =>
        {
            if (
                asker.Token is { } by
                && await context.Tokens.Where(t => t.Id == by).Select(t => t.ExpiresAt).FirstOrDefaultAsync(ct)
                    is { } end
                && Moment(end) < expires
            )
                row.ExpiresAt = end;
            if (await context.Tokens.CountAsync(t => t.Person == asker.Name, ct) >= MostTokens)
                throw new ProblemException(
                    409,
                    "refused",
                    "Refused",
                    $"{asker.Name} has {MostTokens} tokens, which is the most. End one first: vellumkeep access list"
                );
            context.Tokens.Add(row);
        });
        return new(row.Id, row.Name, token, Moment(row.ExpiresAt));
    }

    /// <summary>Ends a token. Asked by a token, only one that lets do no more than that one.</summary>
    public Task EndTokenAsync(Asker asker, Act act, string person, string id, CancellationToken ct) =>
        keeper.NoteAsync(act with { Reason = $"token of {person}" }, ct, async context =>
        {
            var row = await context.Tokens.AsNoTracking().FirstOrDefaultAsync(t => t.Id == id && t.Person == person, ct)
                ?? throw ProblemException.NotFound("token", id);
            if (Grant.Roles.Parse(row.Most).Value > asker.Most)
                throw Beyond(asker, $"ends none that lets do as much as a {row.Most}");
            await context.Tokens.Where(t => t.Id == id).ExecuteDeleteAsync(ct);
        });

    /// <summary>Ends every session and token of somebody but the one that asks.</summary>
    internal static async Task<Ended> EndAllAsync(KeepContext context, string person, Asker? but, CancellationToken ct)
    {
        var (session, token) = but?.Name == person ? (but.Session, but.Token) : (null, null);
        return new(
            await context.Sessions.Where(s => s.Person == person && s.Id != session).ExecuteDeleteAsync(ct),
            await context.Tokens.Where(t => t.Person == person && t.Id != token).ExecuteDeleteAsync(ct)
        );
    }

    private static ProblemException Beyond(Asker asker, string what) =>
        ProblemException.NotAllowed(
            $"This token has at most the role {Grant.Roles.Of(asker.Most)} and {what}. Sign in with the password instead."
        );

    private static string Text(DateTimeOffset at) => at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);

    private static DateTimeOffset Moment(string text) => DateTimeOffset.Parse(text, CultureInfo.InvariantCulture);
}

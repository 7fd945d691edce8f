using System.Security.Claims;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.Extensions.Options;

namespace Vellumkeep.Service.People;

/// <summary>
/// Signing in: by cookie for the console, by bearer token for programs; and one's own password, sessions and tokens.
/// </summary>
public static class SignInEndpoints
{
    public static void MapSignIn(this RouteGroupBuilder open, RouteGroupBuilder guarded)
    {
        SignIn(open, guarded);
        SignOut(open, guarded);
        MakeTokenByPassword(open, guarded);
        WhoAmI(open, guarded);
        ReplacePassword(open, guarded);
        OwnAccess(open, guarded);
        MakeToken(open, guarded);
        EndToken(open, guarded);
        EndSession(open, guarded);
    }

    private static void SignIn(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        open.MapPost(
                "/session",
                async (
                    SignIn given,
                    SignIns signIns,
                    Access access,
                    ITextGuard guard,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var asker = await signIns.CheckAsync(given.Name, given.Password, http.Address(), ct);
                    var browser = Browser(http);
                    var session = await access.BeginSessionAsync(
                        asker.Name,
                        $"{(guard.IsIn(browser) ? "a browser" : browser)} from {http.Address()}",
                        http.User.FindFirstValue(ClaimTypes.Sid),
                        ct
                    );
                    var identity = new ClaimsIdentity(
                        [new(ClaimTypes.Name, asker.Name), new(ClaimTypes.Sid, session)],
                        CookieAuthenticationDefaults.AuthenticationScheme
                    );
                    await http.SignInAsync(CookieAuthenticationDefaults.AuthenticationScheme, new(identity));
                    return Shown(asker, clock);
                }
            )
            .SigningIn()
            .WithName("signIn")
            .WithSummary("Sign in; sets the console's cookie")
            .Refuses(401, 429);

    private static void SignOut(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        open.MapDelete("/session", async (Access access, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            {
                http.NeedsConsole();
                if (await access.FindAsync(http.User, ct) is { Session: { } session } asker)
                    await access.EndSessionAsync(
                        asker,
                        new(asker.Name, clock.GetUtcNow(), "sign out"),
                        asker.Name,
                        session,
                        ct
                    );
                await http.SignOutAsync(CookieAuthenticationDefaults.AuthenticationScheme);
                return TypedResults.NoContent();
            })
            .Takes(Bounds.NoBody)
            .WithName("signOut")
            .WithSummary("Sign out; the session ends on the server as well");

    private static void MakeTokenByPassword(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        open.MapPost(
                "/tokens/by-password",
                async (TokenByPassword given, SignIns signIns, Access access, HttpContext http, CancellationToken ct) =>
                {
                    var asker = await signIns.CheckAsync(given.Name, given.Password, http.Address(), ct);
                    return await access.MakeTokenAsync(asker, given.TokenName ?? "", given.Days, null, ct);
                }
            )
            .SigningIn()
            .WithMetadata(new TellsSecret())
            .WithName("makeTokenByPassword")
            .WithSummary("Make a token with name and password; shown this once")
            .Refuses(401, 422, 429);

    private static void WhoAmI(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        guarded
            .MapGet("/session", (HttpContext http, TimeProvider clock) => Shown(http.Asker(), clock))
            .For(Role.Reader)
            .WithMetadata(new BeforeReplacing())
            .WithName("whoAmI")
            .WithSummary("Who is signed in");

    private static void ReplacePassword(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        guarded
            .MapPost(
                "/session/password",
                async (
                    ReplacePassword given,
                    SignIns signIns,
                    PeopleStore people,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var asker = http.Asker();
                    try
                    {
                        await signIns.CheckAsync(asker.Name, given.Old, asker.From, ct);
                    }
                    catch (ProblemException wrong) when (wrong.Status == 401)
                    {
                        throw ProblemException.Field(
                            "old",
                            "it is not the password you have now",
                            "the password you signed in with"
                        );
                    }

                    if (given.Old == given.New)
                        throw ProblemException.Field("new", "it is the old password", "a new password");
                    var ended = await people.SetPasswordAsync(
                        new(asker.Name, clock.GetUtcNow(), "password"),
                        asker.Name,
                        given.New ?? "",
                        mustReplace: false,
                        ct,
                        asker
                    );
                    return new PasswordReplaced(
                        ended.Sessions,
                        ended.Tokens,
                        asker.Token is null ? "this session" : "the token in use"
                    );
                }
            )
            .For(Role.Reader)
            .SigningIn()
            .WithMetadata(new BeforeReplacing())
            .WithMetadata(new TellsSecret())
            .WithName("replacePassword")
            .WithSummary(
                "Replace your password; every session and token made with the old one ends, except the one in use"
            )
            .Refuses(422, 429);

    private static void OwnAccess(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        guarded
            .MapGet("/access", async (Access access, HttpContext http, CancellationToken ct) =>
                await access.ListAsync(http.Asker().Name, http.Asker().Session, ct)
            )
            .For(Role.Reader)
            .WithName("ownAccess")
            .WithSummary("Your sessions and tokens");

    private static void MakeToken(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        guarded
            .MapPost("/tokens", async (NewToken given, Access access, HttpContext http, CancellationToken ct) =>
                await access.MakeTokenAsync(http.Asker(), given.Name ?? "", given.Days, given.Most, ct)
            )
            .For(Role.Reader)
            .WithMetadata(new TellsSecret())
            .WithName("makeToken")
            .WithSummary(
                "Make a token; shown this once. Most: its highest role; made with a token, at most that token's role"
            )
            .Refuses(422);

    private static void EndToken(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        guarded
            .MapDelete(
                "/tokens/{id}",
                async (string id, Access access, TimeProvider clock, HttpContext http, CancellationToken ct) =>
                {
                    var asker = http.Asker();
                    await access.EndTokenAsync(
                        asker,
                        new(asker.Name, clock.GetUtcNow(), "end token"),
                        asker.Name,
                        id,
                        ct
                    );
                }
            )
            .For(Role.Reader)
            .WithName("endToken")
            .WithSummary("End one of your tokens")
            .Refuses(404);

    private static void EndSession(RouteGroupBuilder open, RouteGroupBuilder guarded) =>
        guarded
            .MapDelete(
                "/sessions/{id}",
                async (string id, Access access, TimeProvider clock, HttpContext http, CancellationToken ct) =>
                {
                    var asker = http.Asker();
                    await access.EndSessionAsync(
                        asker,
                        new(asker.Name, clock.GetUtcNow(), "end session"),
                        asker.Name,
                        id,
                        ct
                    );
                }
            )
            .For(Role.Reader)
            .WithName("endSession")
            .WithSummary("End one of your sessions")
            .Refuses(404);

    private static RouteHandlerBuilder SigningIn(this RouteHandlerBuilder builder) =>
        builder.Takes(Bounds.SignIn).WithMetadata(new TriesPassword()).RequireRateLimiting(Limits.SignIn);

    /// <summary>What a browser says of itself, as far as it can be shown.</summary>
    private static string Browser(HttpContext http)
    {
        var told = new string([
            .. http.Request.Headers.UserAgent.ToString().Where(c => Characters.Unfit(c.ToString()) is null),
        ]);
        return told.Length > 150 ? told[..150] : told;
    }

    private static Me Shown(Asker a, TimeProvider clock) =>
        new(
            a.Name,
            a.Display,
            [.. a.Roles.Select(Grant.Roles.Of)],
            a.Scope.All,
            clock.GetUtcNow().ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            a.MustReplace
        );
}

/// <summary>
/// Reads <c>Authorization: Bearer vk_...</c> (RFC 6750, section 2.1). Whether there is such a token, and what it lets
/// do, is asked by <see cref="Access"/> when somebody has to be known.
/// </summary>
public sealed class TokenHandler(
    IOptionsMonitor<AuthenticationSchemeOptions> options,
    ILoggerFactory log,
    UrlEncoder encoder
) : AuthenticationHandler<AuthenticationSchemeOptions>(options, log, encoder)
{
    public const string SchemeName = "token";

    protected override Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        var header = Request.Headers.Authorization.ToString();
        if (!header.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase))
            return Task.FromResult(AuthenticateResult.NoResult());
        var identity = new ClaimsIdentity([new(Access.TokenClaim, Access.Digest(header[7..].Trim()))], SchemeName);
        return Task.FromResult(AuthenticateResult.Success(new(new(identity), SchemeName)));
    }
}

using System.Security.Claims;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.Extensions.Options;

namespace Vellumkeep.Service.People;

/// <summary>Signing in: by cookie for the console, by bearer token for programs; and one's own password, sessions and tokens.</summary>
public static class SignInEndpoints
{
    public static void MapSignIn(this RouteGroupBuilder open, RouteGroupBuilder guarded)
    {
        open.MapPost("/session", async (SignIn given, PeopleStore people, TimeProvider clock, HttpContext http, CancellationToken ct) =>
        {
            var asker = await people.CheckAsync(given.Name ?? "", given.Password ?? "", ct);
            var session = await people.BeginSessionAsync(asker.Name, $"{http.Request.Headers.UserAgent} from {http.Connection.RemoteIpAddress}", ct);
            var identity = new ClaimsIdentity([new(ClaimTypes.Name, asker.Name), new(ClaimTypes.Sid, session)], CookieAuthenticationDefaults.AuthenticationScheme);
            await http.SignInAsync(CookieAuthenticationDefaults.AuthenticationScheme, new(identity));
            return Shown(asker, clock);
        }).WithName("signIn").WithSummary("Sign in; sets the console's cookie").ProducesProblem(401).ProducesProblem(429);

        open.MapDelete("/session", async (PeopleStore people, TimeProvider clock, HttpContext http, CancellationToken ct) =>
        {
            if (await people.FindAsync(http.User, ct) is { Session: { } session } asker)
                await people.EndSessionAsync(new(asker.Name, clock.GetUtcNow(), "sign out"), asker.Name, session, ct);
            await http.SignOutAsync(CookieAuthenticationDefaults.AuthenticationScheme);
            return TypedResults.NoContent();
        }).WithName("signOut").WithSummary("Sign out; the session ends on the server as well");

        open.MapPost("/tokens/by-password", async (TokenByPassword given, PeopleStore people, CancellationToken ct) =>
        {
            var asker = await people.CheckAsync(given.Name ?? "", given.Password ?? "", ct);
            return await people.MakeTokenAsync(asker.Name, given.TokenName ?? "", given.Days, null, ct);
        }).WithMetadata(new TellsSecret()).WithName("makeTokenByPassword").WithSummary("Make a token with name and password; shown this once").ProducesProblem(401).ProducesProblem(422).ProducesProblem(429);

        guarded.MapGet("/session", (HttpContext http, TimeProvider clock) => Shown(http.Asker(), clock)).For(Role.Reader).WithMetadata(new BeforeReplacing()).WithName("whoAmI").WithSummary("Who is signed in");

        guarded.MapPost("/session/password", async (ReplacePassword given, PeopleStore people, TimeProvider clock, HttpContext http, CancellationToken ct) =>
        {
            var asker = http.Asker();
            try
            {
                await people.CheckAsync(asker.Name, given.Old ?? "", ct);
            }
            catch (ProblemException wrong) when (wrong.Status == 401)
            {
                throw ProblemException.Field("old", "it is not the password you have now", "the password you signed in with");
            }

            if (given.Old == given.New)
                throw ProblemException.Field("new", "it is the old password", "another one");
            await people.SetPasswordAsync(new(asker.Name, clock.GetUtcNow(), "password"), asker.Name, given.New ?? "", mustReplace: false, ct, asker.Session);
            return TypedResults.NoContent();
        }).For(Role.Reader).WithMetadata(new BeforeReplacing()).WithName("replacePassword").WithSummary("Replace one's own password; every other session of one's own ends").ProducesProblem(422);

        guarded.MapGet("/access", async (PeopleStore people, HttpContext http, CancellationToken ct) =>
            await people.AccessAsync(http.Asker().Name, http.Asker().Session, ct)).For(Role.Reader).WithName("ownAccess").WithSummary("One's own sessions and tokens");

        guarded.MapPost("/tokens", async (NewToken given, PeopleStore people, HttpContext http, CancellationToken ct) =>
            await people.MakeTokenAsync(http.Asker().Name, given.Name ?? "", given.Days, given.Most, ct)).For(Role.Reader).WithMetadata(new TellsSecret()).WithName("makeToken").WithSummary("Make a token; shown this once. Most: the role beyond which it lets do nothing").ProducesProblem(422);

        guarded.MapDelete("/tokens/{id}", async (string id, PeopleStore people, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            await people.EndTokenAsync(new(http.Asker().Name, clock.GetUtcNow(), "end token"), http.Asker().Name, id, ct)).For(Role.Reader).WithName("endToken").WithSummary("End a token of one's own").ProducesProblem(404);

        guarded.MapDelete("/sessions/{id}", async (string id, PeopleStore people, TimeProvider clock, HttpContext http, CancellationToken ct) =>
            await people.EndSessionAsync(new(http.Asker().Name, clock.GetUtcNow(), "end session"), http.Asker().Name, id, ct)).For(Role.Reader).WithName("endSession").WithSummary("End a session of one's own").ProducesProblem(404);
    }

    private static Me Shown(Asker a, TimeProvider clock) => new(a.Name, a.Display, [.. a.Roles.Select(Grant.Roles.Of)], a.Scope.All, clock.GetUtcNow().ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), a.MustReplace);
}

/// <summary>Reads <c>Authorization: Bearer vk_...</c>.</summary>
public sealed class TokenHandler(IOptionsMonitor<AuthenticationSchemeOptions> options, ILoggerFactory log, UrlEncoder encoder, PeopleStore people)
    : AuthenticationHandler<AuthenticationSchemeOptions>(options, log, encoder)
{
    public const string SchemeName = "token";

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        var header = Request.Headers.Authorization.ToString();
        if (!header.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase))
            return AuthenticateResult.NoResult();
        return await people.OfTokenAsync(header[7..].Trim(), Context.RequestAborted) is var (person, most)
            ? AuthenticateResult.Success(new(new(new ClaimsIdentity([new(ClaimTypes.Name, person), new(ClaimTypes.Role, most)], SchemeName)), SchemeName))
            : AuthenticateResult.Fail("unknown or expired token");
    }
}

using System.Security.Claims;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.Extensions.Options;

namespace Vellumkeep.Service.People;

/// <summary>Signing in: by cookie for the console, by bearer token for programs.</summary>
public static class SignInEndpoints
{
    public static void MapSignIn(this RouteGroupBuilder open, RouteGroupBuilder guarded)
    {
        open.MapPost("/session", async (SignIn given, PeopleStore people, TimeProvider clock, HttpContext http, CancellationToken ct) =>
        {
            var asker = await people.CheckAsync(given.Name ?? "", given.Password ?? "", ct);
            var identity = new ClaimsIdentity([new(ClaimTypes.Name, asker.Name)], CookieAuthenticationDefaults.AuthenticationScheme);
            await http.SignInAsync(CookieAuthenticationDefaults.AuthenticationScheme, new(identity));
            return Shown(asker, clock);
        }).WithName("signIn").WithSummary("Sign in; sets the console's cookie").ProducesProblem(401).ProducesProblem(429);

        open.MapDelete("/session", async (HttpContext http) =>
        {
            await http.SignOutAsync(CookieAuthenticationDefaults.AuthenticationScheme);
            return TypedResults.NoContent();
        }).WithName("signOut").WithSummary("Sign out");

        open.MapPost("/tokens/by-password", async (TokenByPassword given, PeopleStore people, CancellationToken ct) =>
        {
            var asker = await people.CheckAsync(given.Name ?? "", given.Password ?? "", ct);
            return await people.MakeTokenAsync(asker.Name, given.TokenName ?? "", given.Days, ct);
        }).WithName("makeTokenByPassword").WithSummary("Make a token with name and password; shown this once").ProducesProblem(401);

        guarded.MapGet("/session", (HttpContext http, TimeProvider clock) => Shown(http.Asker(), clock)).For(Role.Reader).WithName("whoAmI").WithSummary("Who is signed in");
        guarded.MapPost("/tokens", async (NewToken given, PeopleStore people, HttpContext http, CancellationToken ct) =>
            await people.MakeTokenAsync(http.Asker().Name, given.Name ?? "", given.Days, ct)).For(Role.Reader).WithName("makeToken").WithSummary("Make a token; shown this once");
        guarded.MapDelete("/tokens/{id}", async (string id, PeopleStore people, HttpContext http, CancellationToken ct) =>
            await people.EndTokenAsync(http.Asker().Name, id, ct)).For(Role.Reader).WithName("endToken").WithSummary("End a token of one's own");
    }

    private static Me Shown(Asker a, TimeProvider clock) => new(a.Name, a.Display, [.. a.Roles.Order().Select(r => r.ToString().ToLowerInvariant())], a.Scope.All, clock.GetUtcNow().ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
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
        var person = await people.PersonOfTokenAsync(header[7..].Trim(), Context.RequestAborted);
        return person is null
            ? AuthenticateResult.Fail("unknown or expired token")
            : AuthenticateResult.Success(new(new(new ClaimsIdentity([new(ClaimTypes.Name, person)], SchemeName)), SchemeName));
    }
}

using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Http.Features;

namespace Vellumkeep.Service.People;

/// <summary>What an endpoint asks of the asker.</summary>
public sealed record Needs(Role Role);

/// <summary>That an endpoint is for people who are signed in.</summary>
public sealed record SignedIn;

/// <summary>That an endpoint may be called while a given password has still to be replaced.</summary>
public sealed record BeforeReplacing;

/// <summary>The most octets that a call takes in; <see cref="Bounds.Body"/> where an endpoint says nothing.</summary>
public sealed record TakesUpTo(long Octets);

/// <summary>
/// Stands before every endpoint: how large a body may be, who asks, and whether they may. A body is not looked at
/// before that, so that a stranger's call costs nothing.
/// </summary>
public static class AccessControl
{
    private const string Key = "asker";

    public static Asker Asker(this HttpContext http) => (Asker)http.Items[Key]!;

    /// <summary>The asker, where the call was one for people who are signed in.</summary>
    public static Asker? AskerOrNobody(this HttpContext http) => http.Items[Key] as Asker;

    /// <summary>Whose share of the service a call takes: the person's; the address's, where nobody is known.</summary>
    public static string Caller(this HttpContext http) =>
        http.AskerOrNobody() is { } asker ? $"person {asker.Name}" : $"address {CallOrigin.Of(http)}";

    /// <summary>What somebody asks by, before anything is known about it.</summary>
    public static string Credential(HttpContext http) =>
        http.User.FindFirst(Access.TokenClaim)?.Value
        ?? http.User.FindFirst(System.Security.Claims.ClaimTypes.Sid)?.Value
        ?? CallOrigin.Of(http);

    /// <summary>The address that asks, as it is written down.</summary>
    public static string Address(this HttpContext http)
    {
        var address = http.Connection.RemoteIpAddress;
        return address is null ? "unknown" : (address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address).ToString();
    }

    public static RouteGroupBuilder Guarded(this RouteGroupBuilder group) => group.WithMetadata(new SignedIn());

    public static RouteHandlerBuilder For(this RouteHandlerBuilder builder, Role role) =>
        builder.WithMetadata(new Needs(role)).Refuses(401).Refuses(403);

    public static RouteHandlerBuilder Takes(this RouteHandlerBuilder builder, long octets) =>
        builder.WithMetadata(new TakesUpTo(octets));

    public static void UseGate(this WebApplication app) =>
        app.Use(
            async (http, next) =>
            {
                var metadata = http.GetEndpoint()?.Metadata;
                var most = metadata?.GetMetadata<TakesUpTo>()?.Octets ?? Bounds.Body;
                if (http.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } feature)
                    feature.MaxRequestBodySize = most;
                if (metadata?.GetMetadata<SignedIn>() is not null)
                    await LetInAsync(http, metadata);
                NeedAnnounced(http, most);
                await next(http);
            }
        );

    /// <summary>What is announced as too large is not waited for.</summary>
    private static void NeedAnnounced(HttpContext http, long most)
    {
        if (http.Request.ContentLength is { } length && length > most)
            throw TooLarge(most);
    }

    public static ProblemException TooLarge(long most) =>
        new(
            413,
            "too-large",
            "Too large",
            $"The body is too large. This call takes at most {Octets(most)}. Nothing was read."
        );

    private static string Octets(long octets) =>
        octets >= 1024 * 1024 ? $"{octets / 1024 / 1024} MiB" : $"{octets / 1024} KiB";

    /// <summary>Who asks, looked up in line with those who ask by the same cookie or token.</summary>
    private static async Task<Asker?> FindAsync(HttpContext http)
    {
        if (http.User.Identity is not { IsAuthenticated: true })
            return null;
        var services = http.RequestServices;
        using var place = await services
            .GetRequiredService<CallerLimits>()
            .AskerAsync(Credential(http), http.RequestAborted);
        return await services.GetRequiredService<Access>().FindAsync(http.User, http.RequestAborted);
    }

    private static async Task LetInAsync(HttpContext http, EndpointMetadataCollection metadata)
    {
        var found = await FindAsync(http)
            ?? throw new ProblemException(
                401,
                "not-signed-in",
                "Not signed in",
                "Sign in first: vellumkeep sign-in, or the console's sign-in page."
            );
        var asker = found with { From = http.Address() };
        http.Items[Key] = asker;
        var needs = metadata.GetMetadata<Needs>()?.Role ?? Role.Lead;
        if (!asker.Is(needs))
            throw ProblemException.NotAllowed(
                $"This needs the role {Grant.Roles.Of(needs)}; {asker.Name} is "
                    + $"{Core.Wording.Say.And(asker.Roles.Select(Grant.Roles.Of))}"
                    + $"{(asker.Most < Role.Lead ? $" and this token has at most the role {Grant.Roles.Of(asker.Most)}" : "")}"
                    + $"."
            );
        if (asker.MustReplace && metadata.GetMetadata<BeforeReplacing>() is null)
            throw new ProblemException(
                403,
                "replace-password",
                "The password must be replaced",
                "Somebody else set this password. Replace it first: vellumkeep person password, or the console's sign-in page."
            );
        if (
            asker.Session is not null
            && !HttpMethods.IsGet(http.Request.Method)
            && !HttpMethods.IsHead(http.Request.Method)
        )
            http.NeedsConsole();
    }

    /// <summary>
    /// Refuses a call by cookie without a header of our own: a cookie is sent by any page that a browser opens, the
    /// header only by ours.
    /// </summary>
    public static void NeedsConsole(this HttpContext http)
    {
        if (
            http.User.Identity?.AuthenticationType == CookieAuthenticationDefaults.AuthenticationScheme
            && !http.Request.Headers.ContainsKey("X-Vellumkeep-Console")
        )
            throw ProblemException.NotAllowed(
                "A call by cookie that changes something needs the header X-Vellumkeep-Console."
            );
    }
}

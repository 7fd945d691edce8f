using System.Security.Claims;

namespace Vellumkeep.Service.People;

/// <summary>The roles, from the least to the most. A lead has every right; the others have theirs and reading.</summary>
public enum Role
{
    Reader,
    Engineer,
    Reviewer,
    Lead,
}

/// <summary>Who asks: name, how to show it, roles, and what they may see.</summary>
public sealed record Asker(string Name, string Display, ImmutableHashSet<Role> Roles, Scope Scope)
{
    public bool Is(Role role) => role == Role.Reader || Roles.Contains(role) || Roles.Contains(Role.Lead);

    public static Asker Of(PersonRow person) => new(person.Name, person.Display,
        [.. person.Roles.Split(',', StringSplitOptions.RemoveEmptyEntries).Select(r => Enum.Parse<Role>(r, true))],
        person.Customers == "*" ? Scope.Everything : Scope.Of(person.Customers.Split(',', StringSplitOptions.RemoveEmptyEntries)));
}

/// <summary>What an endpoint asks of the asker; read by the one filter that enforces it.</summary>
public sealed record Needs(Role Role);

public static class AskerExtensions
{
    private const string Key = "asker";

    public static Asker Asker(this HttpContext http) => (Asker)http.Items[Key]!;

    /// <summary>Enforces on the server, for every call, that somebody is signed in and has the role the endpoint needs.</summary>
    public static RouteGroupBuilder Guarded(this RouteGroupBuilder group)
    {
        group.AddEndpointFilter(async (context, next) =>
        {
            var http = context.HttpContext;
            var people = http.RequestServices.GetRequiredService<PeopleStore>();
            var name = http.User.FindFirstValue(ClaimTypes.Name);
            var asker = name is null ? null : await people.FindAsync(name, http.RequestAborted);
            if (asker is null)
                throw new ProblemException(401, "not-signed-in", "Not signed in", "Sign in first: vellumkeep sign-in, or the console's sign-in page.");
            http.Items[Key] = asker;
            var needs = http.GetEndpoint()?.Metadata.GetMetadata<Needs>()?.Role ?? Role.Lead;
            if (!asker.Is(needs))
                throw ProblemException.NotAllowed($"This needs the role {needs.ToString().ToLowerInvariant()}; {asker.Name} is {string.Join(" and ", asker.Roles.Select(r => r.ToString().ToLowerInvariant()))}.");
            // A cookie is sent by any page that a browser opens; a header of our own only by ours.
            if (http.User.Identity?.AuthenticationType == Microsoft.AspNetCore.Authentication.Cookies.CookieAuthenticationDefaults.AuthenticationScheme
                && !HttpMethods.IsGet(http.Request.Method) && !HttpMethods.IsHead(http.Request.Method) && !http.Request.Headers.ContainsKey("X-Vellumkeep-Console"))
                throw ProblemException.NotAllowed("A call by cookie that changes something needs the header X-Vellumkeep-Console.");
            return await next(context);
        });
        return group;
    }

    public static RouteHandlerBuilder For(this RouteHandlerBuilder builder, Role role) =>
        builder.WithMetadata(new Needs(role)).ProducesProblem(401).ProducesProblem(403);
}

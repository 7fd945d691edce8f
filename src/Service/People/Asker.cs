using System.Security.Claims;

namespace Vellumkeep.Service.People;

/// <summary>Who asks: name, how to show it, what they may do for whom, and the most that their token lets them.</summary>
public sealed record Asker(string Name, string Display, ImmutableArray<Grant> Grants, Role Most = Role.Lead, bool MustReplace = false, string? Session = null)
{
    /// <summary>Somebody with these roles for all customers.</summary>
    public static Asker Of(string name, string display, params Role[] roles) => new(name, display, [.. roles.Select(r => new Grant(r, null))]);

    public static Asker Of(PersonRow person, Role most = Role.Lead, string? session = null) => new(person.Name, person.Display,
        [.. person.Grants.Split(';', StringSplitOptions.RemoveEmptyEntries).Select(g => Grant.Parse(g, IdNames.Instance).Value)], most, person.MustReplace, session);

    public IEnumerable<Role> Roles => Grants.Select(g => g.Role).Where(r => r <= Most || r == Role.Reader).DefaultIfEmpty(Role.Reader).Distinct().Order();

    /// <summary>What they may see: whatever role it is for, a role lets read.</summary>
    public Scope Scope => ScopeOf(Role.Reader);

    /// <summary>For whom they have a role.</summary>
    public Scope ScopeOf(Role role)
    {
        if (role > Most)
            return Scope.Of([]);
        var fitting = Grants.Where(g => role == Role.Reader || g.Role == role || g.Role == Role.Lead).ToArray();
        return fitting.Any(g => g.CustomerIds is null) ? Scope.Everything : Scope.Of(fitting.SelectMany(g => g.CustomerIds!.Value));
    }

    /// <summary>Whether they have a role for anybody.</summary>
    public bool Is(Role role) => role <= Most && (role == Role.Reader || Grants.Any(g => g.Role == role || g.Role == Role.Lead));

    /// <summary>Whether they have a role for an owner; for what is the house's (null), it has to be for all customers.</summary>
    public bool Is(Role role, string? ownerId) => ownerId is null ? ScopeOf(role).All : Is(role) && ScopeOf(role).Sees(ownerId);

    /// <summary>Refuses who lacks a role for an owner.</summary>
    public void Need(Role role, string? ownerId, string what)
    {
        if (!Is(role, ownerId))
            throw ProblemException.NotAllowed(ownerId is null
                ? $"{what} belongs to the house: this needs the role {Grant.Roles.Of(role)} for all customers, which {Name} has not."
                : $"This needs the role {Grant.Roles.Of(role)} for the customer of {what}, which {Name} has not. Ask a lead.");
    }
}

/// <summary>What an endpoint asks of the asker; read by the one filter that enforces it.</summary>
public sealed record Needs(Role Role);

/// <summary>That an endpoint may be called while a given password has still to be replaced.</summary>
public sealed record BeforeReplacing;

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
            var asker = await people.FindAsync(http.User, http.RequestAborted);
            if (asker is null)
                throw new ProblemException(401, "not-signed-in", "Not signed in", "Sign in first: vellumkeep sign-in, or the console's sign-in page.");
            http.Items[Key] = asker;
            var metadata = http.GetEndpoint()?.Metadata;
            var needs = metadata?.GetMetadata<Needs>()?.Role ?? Role.Lead;
            if (!asker.Is(needs))
                throw ProblemException.NotAllowed($"This needs the role {Grant.Roles.Of(needs)}; {asker.Name} is {Say.And(asker.Roles.Select(Grant.Roles.Of))}{(asker.Most < Role.Lead ? $" and this token lets do no more than a {Grant.Roles.Of(asker.Most)}" : "")}.");
            if (asker.MustReplace && metadata?.GetMetadata<BeforeReplacing>() is null)
                throw new ProblemException(403, "replace-password", "The password has to be replaced", "Somebody else gave this password. Replace it first: vellumkeep person password, or the console's sign-in page.");
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

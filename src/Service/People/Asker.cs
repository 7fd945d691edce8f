namespace Vellumkeep.Service.People;

/// <summary>
/// Who asks: name, how to show it, what they may do for whom, and the most that their token lets them.
/// </summary>
public sealed record Asker(
    string Name,
    string Display,
    ImmutableArray<Grant> Grants,
    Role Most = Role.Lead,
    bool MustReplace = false
)
{
    /// <summary>The session by which they ask; null when they ask by a token.</summary>
    public string? Session { get; init; }

    /// <summary>The token by which they ask; null when they ask by a session.</summary>
    public string? Token { get; init; }

    /// <summary>The address that asks.</summary>
    public string From { get; init; } = "here";

    /// <summary>Somebody with these roles for all customers.</summary>
    public static Asker Of(string name, string display, params Role[] roles) =>
        new(name, display, [.. roles.Select(r => new Grant(r, null))]);

    public static Asker Of(PersonRow person, Role most = Role.Lead) =>
        new(
            person.Name,
            person.Display,
            [
                .. person
                    .Grants.Split(';', StringSplitOptions.RemoveEmptyEntries)
                    .Select(g => WrittenGrant.Parse(g, IdNames.Instance).Value),
            ],
            most,
            person.MustReplace
        );

    public IEnumerable<Role> Roles =>
        Grants
            .Select(g => g.Role)
            .Where(r => r <= Most || r == Role.Reader)
            .DefaultIfEmpty(Role.Reader)
            .Distinct()
            .Order();

    /// <summary>What they may see: whatever role it is for, a role lets read.</summary>
    public Scope Scope => ScopeOf(Role.Reader);

    /// <summary>For whom they have a role.</summary>
    public Scope ScopeOf(Role role)
    {
        if (role > Most)
            return Scope.Of([]);
        var fitting = Grants.Where(g => role == Role.Reader || g.Role == role || g.Role == Role.Lead).ToArray();
        return fitting.Any(g => g.CustomerIds is null)
            ? Scope.Everything
            : Scope.Of(fitting.SelectMany(g => g.CustomerIds!.Value));
    }

    /// <summary>Whether they have a role for anybody.</summary>
    public bool Is(Role role) =>
        role <= Most && (role == Role.Reader || Grants.Any(g => g.Role == role || g.Role == Role.Lead));

    /// <summary>
    /// Whether they have a role for an owner; for what is the house's (null), it has to be for all customers.
    /// </summary>
    public bool Is(Role role, string? ownerId) =>
        ownerId is null ? ScopeOf(role).All : Is(role) && ScopeOf(role).Sees(ownerId);

    /// <summary>Refuses who lacks a role for an owner.</summary>
    public void Need(Role role, string? ownerId, string what)
    {
        if (!Is(role, ownerId))
            throw ProblemException.NotAllowed(
                ownerId is null
                    ? $"{what} belongs to all customers: it needs the role {Grant.Roles.Of(role)} for all "
                        + $"customers, which {Name} does not have."
                    : $"This needs the role {Grant.Roles.Of(role)} for the customer of {what}, which {Name} does "
                        + $"not have. Ask a lead."
            );
    }
}

namespace Vellumkeep.Contract;

/// <summary>A person in a list. Roles: <c>engineer</c> for all customers, or <c>reader for SAL</c>.</summary>
public sealed record PersonLine(string Name, string Called, IReadOnlyList<string> Roles, string? Left);

/// <summary>A person with what lets them in. LockedUntil: after wrong tries.</summary>
public sealed record PersonPage(
    PersonLine Person,
    int Version,
    string? Reach,
    string? Notes,
    bool HasPassword,
    DateTimeOffset? LockedUntil,
    AccessPage Access
);

/// <summary>The sessions and tokens of somebody.</summary>
public sealed record AccessPage(string Name, IReadOnlyList<SessionLine> Sessions, IReadOnlyList<TokenLine> Tokens);

/// <summary>A browser's session. Current: the one that asks.</summary>
public sealed record SessionLine(string Id, DateTimeOffset Began, DateTimeOffset LastActive, string From, bool Current);

/// <summary>
/// A token; its value was shown once and is not kept. Most: the role beyond which it lets do nothing.
/// </summary>
public sealed record TokenLine(
    string Id,
    string Name,
    string Most,
    DateTimeOffset Made,
    DateTimeOffset? Used,
    DateTimeOffset Expires
);

/// <summary>A password given to somebody, shown this once.</summary>
public sealed record GivenPassword(string Name, string Password);

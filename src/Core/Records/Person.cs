namespace Vellumkeep.Core.Records;

/// <summary>
/// The roles, from the least to the most. A lead has every right; the others have theirs and reading.
/// </summary>
public enum Role
{
    Reader,
    Engineer,
    Reviewer,
    Lead,
}

/// <summary>A role for some customers, or for all (null).</summary>
public sealed record Grant(Role Role, ImmutableArray<string>? CustomerIds)
{
    public static readonly Words<Role> Roles = new(
        "a role",
        (Role.Reader, "reader"),
        (Role.Engineer, "engineer"),
        (Role.Reviewer, "reviewer"),
        (Role.Lead, "lead")
    );
}

/// <summary>
/// Somebody who may sign in: the code is the sign-in name. Passwords, tokens and sessions are kept apart and are no
/// part of the record.
/// </summary>
public sealed record Person : IRecord
{
    public string Id { get; init; } = "";

    public string Code { get; init; } = "";

    public string Name { get; init; } = "";

    public ImmutableArray<Grant> Grants { get; init; } = [];

    public string? Reach { get; init; }

    /// <summary>The day on which they left; from then on nothing lets them in.</summary>
    public DateOnly? Left { get; init; }

    public string? Notes { get; init; }

    public RecordKind Kind => RecordKind.Person;

    public DateOnly? Retired => Left;
}

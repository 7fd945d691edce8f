namespace Vellumkeep.Core.Records;

/// <summary>
/// The roles, from the least to the most. A lead has every right; the others have theirs and reading.
/// </summary>
public enum Role
{
    /// <summary>May read.</summary>
    Reader,

    /// <summary>May draft and work changes, and correct records.</summary>
    Engineer,

    /// <summary>May approve changes.</summary>
    Reviewer,

    /// <summary>May do everything, people included.</summary>
    Lead,
}

/// <summary>A role for some customers, or for all (null).</summary>
/// <param name="Role">What they may do.</param>
/// <param name="CustomerIds">For whom; null for all.</param>
public sealed record Grant(Role Role, ImmutableArray<string>? CustomerIds)
{
    /// <summary>The words of the roles.</summary>
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
    /// <summary>What identifies it; never shown.</summary>
    public string Id { get; init; } = "";

    /// <summary>The sign-in name.</summary>
    public string Code { get; init; } = "";

    /// <summary>Their name.</summary>
    public string Name { get; init; } = "";

    /// <summary>What they may do, and for which customers.</summary>
    public ImmutableArray<Grant> Grants { get; init; } = [];

    /// <summary>How to reach them.</summary>
    public string? Reach { get; init; }

    /// <summary>The day on which they left; from then on nothing lets them in.</summary>
    public DateOnly? Left { get; init; }

    /// <summary>Anything else.</summary>
    public string? Notes { get; init; }

    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Person;

    /// <inheritdoc/>
    public DateOnly? Retired => Left;
}

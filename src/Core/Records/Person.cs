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

    /// <summary>Reads <c>engineer</c> (for all customers) or <c>reader for SAL, TID</c>.</summary>
    public static Parsed<Grant> Parse(string text, INames names)
    {
        var cut = text.IndexOf(" for ", StringComparison.OrdinalIgnoreCase);
        var role = Roles.Parse(cut < 0 ? text : text[..cut]);
        if (!role.Ok)
            return Parsed<Grant>.Fail(role.Wrong!, role.Right!);
        if (cut < 0)
            return Parsed<Grant>.Of(new(role.Value, null));
        var ids = ImmutableArray.CreateBuilder<string>();
        foreach (
            var code in text[(cut + 5)..]
                .Split([',', ' '], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                .Where(c => c != "and")
        )
            if (names.IdOf(RecordKind.Customer, code) is { } id)
                ids.Add(id);
            else
                return Parsed<Grant>.Fail(
                    $"there is no customer '{Core.Typed.Short(code)}'",
                    string.Join(
                        ", ",
                        Core.Typed.Nearest(code, names.Known(RecordKind.Customer))
                            .DefaultIfEmpty("the code of a customer")
                    )
                );
        return role.Value == Role.Lead ? Parsed<Grant>.Fail("a lead is a lead for all customers", "lead")
            : ids.Count == 0
                ? Parsed<Grant>.Fail(
                    $"'{Core.Typed.Short(text)}' names no customer",
                    "engineer for SAL, or engineer for all of them"
                )
            : Parsed<Grant>.Of(new(role.Value, ids.ToImmutable()));
    }

    public string Write(INames names) =>
        Roles.Of(Role)
        + (
            CustomerIds is { } ids
                ? " for "
                    + string.Join(
                        ", ",
                        ids.Select(i => names.TextOf(RecordKind.Customer, i)).Order(StringComparer.Ordinal)
                    )
                : ""
        );
}

/// <summary>
/// Somebody who may sign in: the code is the sign-in name. Passwords, tokens and sessions are kept apart and are no
/// part of the record.
/// </summary>
/// <param name="Left">The day on which they left; from then on nothing lets them in.</param>
public sealed record Person(
    string Id,
    string Code,
    string Name,
    ImmutableArray<Grant> Grants,
    string? Reach,
    DateOnly? Left,
    string? Notes
) : IRecord
{
    public RecordKind Kind => RecordKind.Person;

    public DateOnly? Retired => Left;

    public static Person? Read(string id, Fields f)
    {
        var code = f.Value(
            "code",
            "sign-in name, such as ines",
            t =>
                t.Length is >= 2 and <= 40
                && char.IsAsciiLetter(t[0])
                && t.All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c is '-' or '.')
                    ? Parsed<string>.Of(t)
                    : Parsed<string>.Fail(
                        $"'{Core.Typed.Short(t)}' is not a sign-in name",
                        "2 to 40 small letters, digits, hyphens or dots, beginning with a letter"
                    ),
            true
        ) ?? "";
        var name = f.Text("name", "how they are called");
        var grants = f.Values(
            "roles",
            "reader, engineer, reviewer, lead; each for all customers or, such as: engineer for SAL, TID",
            t => Grant.Parse(t, f.Names),
            Grant.Roles.All
        );
        if (!f.Describing && grants.IsEmpty && !f.Has("roles"))
            f.Refuse("roles", "'roles' is missing", "at least reader");
        var reach = f.OptionalText("reach", "how to reach them");
        var left = f.Value("left", "date on which they left", t => Scalars.Date(t).To(d => (DateOnly?)d));
        var notes = f.OptionalText("notes", "anything else", 4000);
        return f.Build(() => new Person(id, code, name, grants, reach, left, notes));
    }

    public MapNode Write(INames names) =>
        new MapWriter()
            .Add("code", Code)
            .Add("name", Name)
            .Texts("roles", Grants.Select(g => g.Write(names)))
            .Add("reach", Reach)
            .Add("left", Left is { } day ? Scalars.Write(day) : null)
            .Add("notes", Notes)
            .Done();
}

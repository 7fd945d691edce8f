namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a person with their roles.</summary>
public static class WrittenPerson
{
    /// <summary>Every field of a person, declared once for reading, writing and the schema.</summary>
    public static readonly Form<Person> Form = new Form<Person>(() => new())
        .Id(p => p.Id)
        .Value(p => p.Code, "code", "sign-in name, such as ines", Codecs.Of(SignInName), required: true)
        .Describing()
        .Text(p => p.Name, "name", "how they are called", required: true)
        .Describing()
        .Values(
            p => p.Grants,
            "roles",
            "reader, engineer, reviewer, lead; each for all customers or, such as: engineer for SAL, TID",
            names => new Codec<Grant>(
                text => WrittenGrant.Parse(text, names),
                grant => WrittenGrant.Write(grant, names)
            ),
            [.. Grant.Roles.All],
            atLeast: "at least reader"
        )
        .Text(p => p.Reach, "reach", "how to reach them")
        .Describing()
        .Value(p => p.Left, "left", "date on which they left", Codecs.Day)
        .Text(p => p.Notes, "notes", "anything else", 4000)
        .Describing();

    private static Parsed<string> SignInName(string text) =>
        text.Length is >= 2 and <= 40
        && char.IsAsciiLetter(text[0])
        && text.All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c is '-' or '.')
            ? Parsed<string>.Of(text)
            : Parsed<string>.Fail(
                $"'{Typed.Short(text)}' is not a sign-in name",
                "2 to 40 small letters, digits, hyphens or dots, beginning with a letter"
            );
}

/// <summary>A role as it is written: <c>engineer</c>, or <c>reader for SAL, TID</c>.</summary>
public static class WrittenGrant
{
    /// <summary>Reads <c>engineer</c> (for all customers) or <c>reader for SAL, TID</c>.</summary>
    public static Parsed<Grant> Parse(string text, INames names)
    {
        var cut = text.IndexOf(" for ", StringComparison.OrdinalIgnoreCase);
        var role = Grant.Roles.Parse(cut < 0 ? text : text[..cut]);
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
                    $"there is no customer '{Typed.Short(code)}'",
                    string.Join(
                        ", ",
                        Typed.Nearest(code, names.Known(RecordKind.Customer)).DefaultIfEmpty("the code of a customer")
                    )
                );
        return role.Value == Role.Lead ? Parsed<Grant>.Fail("a lead is a lead for all customers", "lead")
            : ids.Count == 0
                ? Parsed<Grant>.Fail(
                    $"'{Typed.Short(text)}' names no customer",
                    "engineer for SAL, or engineer for all of them"
                )
            : Parsed<Grant>.Of(new(role.Value, ids.ToImmutable()));
    }

    /// <summary>A grant as it is written: <c>engineer for BRI, TID</c>, or <c>reader for all</c>.</summary>
    public static string Write(Grant grant, INames names) =>
        Grant.Roles.Of(grant.Role)
        + (
            grant.CustomerIds is { } ids
                ? " for "
                    + string.Join(
                        ", ",
                        ids.Select(i => names.TextOf(RecordKind.Customer, i)).Order(StringComparer.Ordinal)
                    )
                : ""
        );
}

namespace Vellumkeep.Core.Records;

public enum OwnerKind
{
    Customer,
    OtherParty,
}

/// <summary>Somebody who can be asked.</summary>
public sealed record Contact(string Name, string? Role, string? Reach);

/// <summary>Days on which nothing may be changed, both included.</summary>
public sealed record Freeze(DateOnly From, DateOnly To, string Why);

/// <summary>
/// Who owns sites, gateways and tunnels: a customer, or another party that runs its own end. Has an address space of
/// its own: a prefix must be unique within it, not between owners.
/// </summary>
public sealed record Customer(
    string Id,
    string Code,
    string Name,
    OwnerKind Owner,
    string TimeZone,
    string? NamingPattern,
    ImmutableArray<Contact> Contacts,
    string? Notes
) : IRecord
{
    public static readonly Words<OwnerKind> Owners = new(
        "a kind of owner",
        (OwnerKind.Customer, "customer"),
        (OwnerKind.OtherParty, "other party")
    );

    public RecordKind Kind => RecordKind.Customer;

    public DateOnly? Retired { get; init; }

    public ImmutableArray<Freeze> Freezes { get; init; } = [];

    public static Customer? Read(string id, Fields f)
    {
        var code = f.Code("code", "short code, such as BRI");
        var name = f.Text("name", "name");
        var owner = f.Word("owner", "customer, or other party", Owners);
        var zone = f.Value("timeZone", "IANA time zone, such as Europe/London; Etc/UTC when left out", ZoneText);
        var pattern = f.OptionalText(
            "namingPattern",
            "what things are called on devices, with {tunnel}, {what} and {end}; the house pattern when left out",
            60
        );
        var contacts = f.Maps("contacts", "people who can be asked", c =>
        {
            var who = c.Text("name", "name");
            var role = c.OptionalText("role", "what they do");
            var reach = c.OptionalText("reach", "how to reach them");
            return c.Build(() => new Contact(who, role, reach));
        });
        var freezes = f.Maps("freezes", "days on which nothing may be changed", z =>
        {
            var from = z.Value("from", "first day", t => Scalars.Date(t).To(d => (DateOnly?)d), true);
            var to = z.Value("to", "last day", t => Scalars.Date(t).To(d => (DateOnly?)d), true);
            var because = z.Text("why", "why, such as: holiday weekend", 200);
            if (from > to)
                z.Refuse(
                    "to",
                    $"{Scalars.Write(to!.Value)} is before {Scalars.Write(from!.Value)}",
                    "a day on or after the first"
                );
            return z.Build(() => new Freeze(from!.Value, to!.Value, because));
        });
        var notes = f.OptionalText("notes", "anything else", 4000);
        var retired = f.Value("retired", "date on which it was taken out of use", t =>
            Scalars.Date(t).To(d => (DateOnly?)d)
        );
        return f.Build(() =>
            new Customer(id, code, name, owner ?? OwnerKind.Customer, zone ?? "Etc/UTC", pattern, contacts, notes)
            {
                Retired = retired,
                Freezes = freezes,
            }
        );
    }

    public MapNode Write() =>
        new MapWriter()
            .Add("code", Code)
            .Add("name", Name)
            .Add("owner", Owner == OwnerKind.Customer ? null : Owners.Of(Owner))
            .Add("timeZone", TimeZone)
            .Add("namingPattern", NamingPattern)
            .List("contacts", Contacts, c =>
                new MapWriter().Add("name", c.Name).Add("role", c.Role).Add("reach", c.Reach).Done()
            )
            .List("freezes", Freezes, z =>
                new MapWriter()
                    .Add("from", Scalars.Write(z.From))
                    .Add("to", Scalars.Write(z.To))
                    .Add("why", z.Why)
                    .Done()
            )
            .Add("notes", Notes)
            .Add("retired", Retired is { } day ? Scalars.Write(day) : null)
            .Done();

    internal static Parsed<string> ZoneText(string text) =>
        text.Contains('/')
        && text.Length <= 60
        && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '/' or '_' or '-' or '+')
            ? Parsed<string>.Of(text)
            : Parsed<string>.Fail(
                $"'{Typed.Short(text)}' is not a time zone",
                "an IANA name such as Europe/London or Etc/UTC"
            );
}

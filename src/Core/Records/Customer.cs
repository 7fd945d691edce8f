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
public sealed record Customer : IRecord
{
    public string Id { get; init; } = "";

    public string Code { get; init; } = "";

    public string Name { get; init; } = "";

    public OwnerKind Owner { get; init; } = OwnerKind.Customer;

    public string TimeZone { get; init; } = "Etc/UTC";

    public string? NamingPattern { get; init; }

    public ImmutableArray<Contact> Contacts { get; init; } = [];

    public string? Notes { get; init; }

    public static readonly Words<OwnerKind> Owners = new(
        "a kind of owner",
        (OwnerKind.Customer, "customer"),
        (OwnerKind.OtherParty, "other party")
    );

    public RecordKind Kind => RecordKind.Customer;

    public DateOnly? Retired { get; init; }

    public ImmutableArray<Freeze> Freezes { get; init; } = [];

    public static Parsed<string> ZoneText(string text) =>
        text.Contains('/')
        && text.Length <= 60
        && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '/' or '_' or '-' or '+')
            ? Parsed<string>.Of(text)
            : Parsed<string>.Fail(
                $"'{Typed.Short(text)}' is not a time zone",
                "an IANA name such as Europe/London or Etc/UTC"
            );
}

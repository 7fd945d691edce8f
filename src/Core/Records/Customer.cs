namespace Vellumkeep.Core.Records;

/// <summary>Whose sites they are.</summary>
public enum OwnerKind
{
    /// <summary>A customer of ours.</summary>
    Customer,

    /// <summary>Somebody with whom a customer has a tunnel.</summary>
    OtherParty,
}

/// <summary>Somebody who can be asked.</summary>
/// <param name="Name">As they are called.</param>
/// <param name="Role">What they are asked about; null when nobody said.</param>
/// <param name="Reach">How they are reached: a number or an address.</param>
public sealed record Contact(string Name, string? Role, string? Reach);

/// <summary>Days on which nothing may be changed, both included.</summary>
/// <param name="From">The first day.</param>
/// <param name="To">The last day.</param>
/// <param name="Why">What for, as it is told to whoever plans.</param>
public sealed record Freeze(DateOnly From, DateOnly To, string Why);

/// <summary>
/// Who owns sites, gateways and tunnels: a customer, or another party that runs its own end. Has an address space of
/// its own: a prefix must be unique within it, not between owners.
/// </summary>
public sealed record Customer : IRecord
{
    /// <summary>What identifies it; never shown.</summary>
    public string Id { get; init; } = "";

    /// <inheritdoc/>
    public string Code { get; init; } = "";

    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";

    /// <summary>A customer of ours, or another party.</summary>
    public OwnerKind Owner { get; init; } = OwnerKind.Customer;

    /// <summary>The time zone of its calendar, such as <c>Europe/London</c> (IANA time zone database).</summary>
    public string TimeZone { get; init; } = "Etc/UTC";

    /// <summary>
    /// How things are named on its devices, with {tunnel}, {what} and {end}; null for the house pattern.
    /// </summary>
    public string? NamingPattern { get; init; }

    /// <summary>The people to talk to.</summary>
    public ImmutableArray<Contact> Contacts { get; init; } = [];

    /// <summary>Anything else.</summary>
    public string? Notes { get; init; }

    /// <summary>The words of whose they are.</summary>
    public static readonly Words<OwnerKind> Owners = new(
        "a kind of owner",
        (OwnerKind.Customer, "customer"),
        (OwnerKind.OtherParty, "other party")
    );

    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Customer;

    /// <inheritdoc/>
    public DateOnly? Retired { get; init; }

    /// <summary>The days on which nothing may be changed.</summary>
    public ImmutableArray<Freeze> Freezes { get; init; } = [];

    // A machine without the database takes any name of its form: nothing that is right is refused there.
    private static readonly bool ZonesKnown = TimeZoneInfo.TryFindSystemTimeZoneById("Europe/London", out _);

    /// <summary>Reads the name of a time zone (IANA time zone database).</summary>
    public static Parsed<string> ZoneText(string text) =>
        text.Contains('/')
        && text.Length <= 60
        && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '/' or '_' or '-' or '+')
        && (!ZonesKnown || TimeZoneInfo.TryFindSystemTimeZoneById(text, out _))
            ? Parsed<string>.Of(text)
            : Parsed<string>.Fail(
                $"'{Typed.Short(text)}' is not a time zone",
                "an IANA name such as Europe/London or Etc/UTC"
            );
}

namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a customer.</summary>
public static class WrittenCustomer
{
    /// <summary>Somebody who can be asked.</summary>
    internal static readonly Form<Contact> OfContact = new Form<Contact>(() => new("", null, null))
        .Text(c => c.Name, "name", "name", required: true)
        .Text(c => c.Role, "role", "what they do")
        .Text(c => c.Reach, "reach", "how to reach them");

    private static readonly Form<Freeze> OfFreeze = new Form<Freeze>(() => new(default, default, ""))
        .Needs(z => z.From, "from", "first day", Codecs.Day)
        .Needs(z => z.To, "to", "last day", Codecs.Day)
        .Text(z => z.Why, "why", "why, such as: holiday weekend", required: true)
        .Rule(
            (f, z) =>
            {
                if (z.From > z.To)
                    f.Refuse(
                        "to",
                        $"{Scalars.Write(z.To)} is before {Scalars.Write(z.From)}",
                        "a day on or after the first"
                    );
            }
        );

    /// <summary>Every field of a customer, declared once for reading, writing and the schema.</summary>
    public static readonly Form<Customer> Form = new Form<Customer>(() => new())
        .Id(c => c.Id)
        .Code(c => c.Code, "code", "short code, such as BRI")
        .Describing()
        .Text(c => c.Name, "name", "name", required: true)
        .Describing()
        .Otherwise(c => c.Owner, "owner", "customer, or other party", Codecs.Word(Customer.Owners))
        .Value(
            c => c.TimeZone,
            "timeZone",
            "IANA time zone, such as Europe/London; Etc/UTC when left out",
            Codecs.TimeZone
        )
        .Describing()
        .Text(
            c => c.NamingPattern,
            "namingPattern",
            "what things are called on devices, with {tunnel}, {what} and {end}; the house pattern when left out",
            60
        )
        .Describing()
        .Maps(c => c.Contacts, "contacts", "people who can be asked", OfContact)
        .Named("contacts", "contact")
        .Describing()
        .Maps(c => c.Freezes, "freezes", "days on which nothing can be changed", OfFreeze)
        .Named("freezes", "freeze")
        .Text(c => c.Notes, "notes", "anything else", 4000)
        .Describing()
        .Value(c => c.Retired, "retired", "date on which it was retired", Codecs.Day);
}

namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a standing offer.</summary>
public static class WrittenOffer
{
    /// <summary>Every field of an offer, declared once for reading, writing and the schema.</summary>
    public static readonly Form<Offer> Form = new Form<Offer>(() => new())
        .Id(o => o.Id)
        .Code(o => o.Code, "code", "code, such as LAR-EVERYONE")
        .Describing()
        .Reference(
            o => o.CustomerId,
            "party",
            "code of the other party whose offer it is",
            RecordKind.Customer,
            required: true
        )
        .Text(o => o.Name, "name", "name", required: true)
        .Describing()
        .Value(
            o => o.Identity,
            "identity",
            "identity it sends to everyone, such as: fqdn peer.cloud.example",
            Codecs.Of(Identity.Parse)
        )
        .Values(o => o.Subnets, "subnets", "prefixes it lets others reach", Codecs.Prefix)
        .Settings(o => o.Settings, "asks", "settings it asks for")
        .Named("asks for")
        .Text(o => o.Notes, "notes", "anything else", 4000)
        .Describing()
        .Value(o => o.Retired, "retired", "date on which it was retired", Codecs.Day);
}

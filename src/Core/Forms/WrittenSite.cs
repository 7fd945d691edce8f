namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a site with its networks.</summary>
public static class WrittenSite
{
    private static readonly Form<TestPoint> OfTestPoint = new Form<TestPoint>(() => new(default, null, null))
        .Needs(t => t.Address, "address", "address", Codecs.Address)
        .Text(t => t.Service, "service", "the service there, such as ping or https")
        .Text(t => t.ConfirmedBy, "confirmedBy", "who can confirm it");

    /// <summary>Every field of a network of a site.</summary>
    internal static readonly Form<Network> OfNetwork = new Form<Network>(() => new(default, "", null, null, []))
        .Needs(n => n.Prefix, "prefix", "prefix, such as 10.61.0.0/24", Codecs.Prefix)
        .Text(n => n.Name, "name", "name", required: true)
        .Describing()
        .Text(n => n.Purpose, "purpose", "what it is for")
        .Describing()
        .Value(
            n => n.PresentedAs,
            "presentedAs",
            "the prefix that it is presented as in tunnels (1:1 NAT), of the same length",
            Codecs.Prefix
        )
        .Maps(n => n.TestPoints, "testPoints", "hosts that proof is taken from or to", OfTestPoint)
        .Named("test points", "test point")
        .Describing()
        .Rule(
            (f, n) =>
            {
                if (n.PresentedAs is { } shown && n.Prefix.Length != shown.Length)
                    f.Refuse(
                        "presentedAs",
                        $"{shown} is not as long as {n.Prefix}",
                        $"a prefix of length {n.Prefix.Length}"
                    );
            }
        );

    /// <summary>Every field of a site, declared once for reading, writing and the schema.</summary>
    public static readonly Form<Site> Form = new Form<Site>(() => new())
        .Id(s => s.Id)
        .Code(s => s.Code, "code", "code, such as BRI-CHURN")
        .Describing()
        .Reference(s => s.CustomerId, "customer", "code of the customer", RecordKind.Customer, required: true)
        .Text(s => s.Name, "name", "name", required: true)
        .Describing()
        .Value(s => s.TimeZone, "timeZone", "IANA time zone; the customer's when left out", Codecs.TimeZone)
        .Describing()
        .Value(
            s => s.GatewayIsDefaultRouter,
            "gatewayIsDefaultRouter",
            "yes or no: whether the VPN gateway is the site's default router",
            Codecs.YesNo
        )
        .Value(
            s => s.ReturnRoute,
            "returnRoute",
            "yes or no: whether the inner router has a return route to the VPN gateway",
            Codecs.YesNo
        )
        .Maps(s => s.Networks, "networks", "networks at the site", OfNetwork, askedFirst: true)
        .Named("networks", "network")
        .Text(s => s.Notes, "notes", "anything else", 4000)
        .Describing()
        .Value(s => s.Retired, "retired", "date on which it was retired", Codecs.Day);
}

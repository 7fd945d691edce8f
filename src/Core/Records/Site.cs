namespace Vellumkeep.Core.Records;

/// <summary>A host inside a network that proof is taken from or to.</summary>
public sealed record TestPoint(Address Address, string? Service, string? ConfirmedBy);

/// <summary>
/// A network of a site. <paramref name="PresentedAs"/> is the prefix it shows inside tunnels when it has to be
/// translated.
/// </summary>
public sealed record Network(
    Prefix Prefix,
    string Name,
    string? Purpose,
    Prefix? PresentedAs,
    ImmutableArray<TestPoint> TestPoints
)
{
    /// <summary>The prefix as it is seen inside a tunnel.</summary>
    public Prefix AsSeen => PresentedAs ?? Prefix;
}

/// <summary>A place of a customer, with its networks.</summary>
public sealed record Site(
    string Id,
    string Code,
    string CustomerId,
    string Name,
    string TimeZone,
    bool? GatewayIsDefaultRouter,
    ImmutableArray<Network> Networks,
    string? Notes
) : IRecord
{
    /// <summary>
    /// Whether an inner router has a route back to the VPN gateway, where the gateway is not the default router; null
    /// when nobody recorded it.
    /// </summary>
    public bool? ReturnRoute { get; init; }

    public RecordKind Kind => RecordKind.Site;

    public DateOnly? Retired { get; init; }

    /// <summary>
    /// The name of the network that is seen as <paramref name="prefix"/>, or of the one that contains it.
    /// </summary>
    public string? NameOf(Prefix prefix) =>
        (
            Networks.FirstOrDefault(n => n.AsSeen == prefix) ?? Networks.FirstOrDefault(n => n.AsSeen.Contains(prefix))
        )?.Name;

    public static Site? Read(string id, Fields f)
    {
        var code = f.Code("code", "code, such as BRI-CHURN");
        var customer = f.Reference("customer", "code of the customer", RecordKind.Customer, true);
        var name = f.Text("name", "name");
        var zone = f.Value("timeZone", "IANA time zone; the customer's when left out", Customer.ZoneText);
        var router = f.Value(
            "gatewayIsDefaultRouter",
            "yes or no: whether the VPN gateway is the site's default router",
            t => Scalars.YesNo(t).To(b => b ? "yes" : "no"),
            words: ["yes", "no"]
        );
        var networks = f.Maps("networks", "networks at the site", n =>
        {
            var prefix = n.Value(
                "prefix",
                "prefix, such as 10.61.0.0/24",
                t => Prefix.Parse(t).To(p => (Prefix?)p),
                true
            );
            var called = n.Text("name", "name");
            var purpose = n.OptionalText("purpose", "what it is for");
            var presented = n.Value(
                "presentedAs",
                "the prefix it is translated to inside tunnels, of the same length",
                t => Prefix.Parse(t).To(p => (Prefix?)p)
            );
            if (prefix is { } own && presented is { } shown && own.Length != shown.Length)
                n.Refuse("presentedAs", $"{shown} is not as long as {own}", $"a prefix of length {own.Length}");
            var points = n.Maps("testPoints", "hosts that proof is taken from or to", t =>
            {
                var address = t.Value(
                    "address",
                    "address",
                    x => Addressing.Address.Parse(x).To(a => (Address?)a),
                    true
                );
                var service = t.OptionalText("service", "what answers there, such as ping or https");
                var by = t.OptionalText("confirmedBy", "who can confirm it");
                return t.Build(() => new TestPoint(address!.Value, service, by));
            });
            return n.Build(() => new Network(prefix!.Value, called, purpose, presented, points));
        });
        var back = f.Value(
            "returnRoute",
            "yes or no: whether an inner router has a route back to the VPN gateway",
            t => Scalars.YesNo(t).To(b => (bool?)b),
            words: ["yes", "no"]
        );
        var notes = f.OptionalText("notes", "anything else", 4000);
        var retired = f.Value("retired", "date on which it was taken out of use", t =>
            Scalars.Date(t).To(d => (DateOnly?)d)
        );
        return f.Build(() =>
            new Site(
                id,
                code,
                customer!,
                name,
                zone ?? "Etc/UTC",
                router is null ? null : router == "yes",
                networks,
                notes
            )
            {
                ReturnRoute = back,
                Retired = retired,
            }
        );
    }

    public MapNode Write(INames names) =>
        new MapWriter()
            .Add("code", Code)
            .Add("customer", names.TextOf(RecordKind.Customer, CustomerId))
            .Add("name", Name)
            .Add("timeZone", TimeZone)
            .Add("gatewayIsDefaultRouter", GatewayIsDefaultRouter is { } d ? Scalars.Write(d) : null)
            .Add("returnRoute", ReturnRoute is { } back ? Scalars.Write(back) : null)
            .List("networks", Networks, n =>
                new MapWriter()
                    .Add("prefix", n.Prefix.ToString())
                    .Add("name", n.Name)
                    .Add("purpose", n.Purpose)
                    .Add("presentedAs", n.PresentedAs?.ToString())
                    .List("testPoints", n.TestPoints, t =>
                        new MapWriter()
                            .Add("address", t.Address.ToString())
                            .Add("service", t.Service)
                            .Add("confirmedBy", t.ConfirmedBy)
                            .Done()
                    )
                    .Done()
            )
            .Add("notes", Notes)
            .Add("retired", Retired is { } day ? Scalars.Write(day) : null)
            .Done();
}

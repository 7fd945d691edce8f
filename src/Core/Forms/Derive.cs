namespace Vellumkeep.Core.Forms;

/// <summary>A value that nobody typed, with where it came from.</summary>
/// <param name="Path">Where in the form it stands.</param>
/// <param name="Value">As it would be typed.</param>
/// <param name="From">What it follows from, in words.</param>
public sealed record Derived(FieldPath Path, string Value, string From);

/// <summary>
/// What the form of a new record need not ask, because it follows from what is there: a site's time zone from its
/// customer, a tunnel's name, customer and form from its gateways. Pure: the same form and records give the same. What
/// was typed is never replaced.
/// </summary>
public static class Derive
{
    /// <summary>Fills in what follows, and says of each value where it came from.</summary>
    public static (MapNode Form, ImmutableArray<Derived> Derived) Fill(
        RecordKind kind,
        MapNode form,
        INames names,
        Func<string, IRecord?> byId
    )
    {
        var derived = ImmutableArray.CreateBuilder<Derived>();
        T? Named<T>(RecordKind of, string? code)
            where T : class, IRecord =>
            code is { Length: > 0 } && names.IdOf(of, Typed.Trim(code)) is { } id ? byId(id) as T : null;
        void Put(string key, string? value, string from)
        {
            var path = FieldPath.Of(key);
            if (value is null || Edits.Find(form, path) is not (null or TextNode { Text: "" }))
                return;
            form = Edits.Put(form, path, new TextNode(value));
            derived.Add(new(path, value, from));
        }

        switch (kind)
        {
            case RecordKind.Site when Named<Customer>(RecordKind.Customer, form.Text("customer")) is { } customer:
                Put("timeZone", customer.TimeZone, $"{customer.Code}'s time zone");
                break;
            case RecordKind.Gateway
                when Named<Site>(RecordKind.Site, form.Text("site")) is { } site
                    && byId(site.CustomerId) is Customer owner:
                Put(
                    "runBy",
                    owner.Owner == OwnerKind.OtherParty ? "other party" : "us",
                    owner.Owner == OwnerKind.OtherParty
                        ? $"{owner.Code} is another party"
                        : "the house runs what nobody else does"
                );
                Put(
                    "platform",
                    names.IdOf(RecordKind.Platform, "unknown@1") is null ? null : "unknown@1",
                    "nobody said what it is"
                );
                break;
            case RecordKind.Tunnel:
                var (a, b) = (Gateway(EndName.A), Gateway(EndName.B));
                if (a is not { } x || b is not { } y)
                    break;
                var both = new[] { x.Owner, y.Owner }.Where(o => o.Owner == OwnerKind.Customer).ToArray();
                // A tunnel belongs to the customer of the far end: the near one is often the house's own hub.
                Put("customer", (both.Length == 0 ? y.Owner : both[^1]).Code, "the customer of the gateways");
                Put("name", $"{x.Site.Name} to {y.Site.Name}", "the two sites");
                Put("state", "planned", "new");
                Put(
                    "form",
                    new[] { x, y }.All(e => e.Platform.Forms.Contains(TunnelForm.RouteBased))
                        ? "route-based"
                        : "policy-based",
                    "what both platforms can do"
                );
                if (form.Find("agreed") is null)
                    form = form.With("agreed", MapNode.Empty);
                break;
            default:
                break;
        }

        return (form, derived.ToImmutable());

        (Customer Owner, Site Site, Gateway Gateway, Platform Platform)? Gateway(EndName end) =>
            Named<Gateway>(RecordKind.Gateway, (Edits.Find(form, TunnelPaths.Of(end).Gateway) as TextNode)?.Text)
                is { } g
            && byId(g.SiteId) is Site s
            && byId(s.CustomerId) is Customer c
            && byId(g.PlatformId) is Platform p
                ? (c, s, g, p)
                : null;
    }
}

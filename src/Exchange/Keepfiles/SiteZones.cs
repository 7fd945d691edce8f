namespace Vellumkeep.Exchange.Keepfiles;

/// <summary>A site of a file that says no time zone has its customer's.</summary>
public static class SiteZones
{
    /// <summary>
    /// The codes of the customers whose time zone sites of the file take, and that are not in the file.
    /// </summary>
    public static IReadOnlyCollection<string> Asked(Node root)
    {
        var own = CustomersIn(root).Select(c => c.Text("code") ?? "").ToHashSet(StringComparer.OrdinalIgnoreCase);
        return
        [
            .. SitesWithout(root)
                .Select(s => s.Text("customer") ?? "")
                .Where(c => c.Length > 0 && !own.Contains(c))
                .Distinct(StringComparer.OrdinalIgnoreCase),
        ];
    }

    /// <summary>The file with the time zones of customers in the sites that say none.</summary>
    /// <param name="zones">The time zones of customers that are not in the file, by their codes.</param>
    public static Node Taken(Node root, IReadOnlyDictionary<string, string> zones)
    {
        if (root is not MapNode map || map.Find("sites") is not ListNode sites)
            return root;
        var known = new Dictionary<string, string>(zones, StringComparer.OrdinalIgnoreCase);
        foreach (var customer in CustomersIn(root))
            if (customer is { } c && c.Text("code") is { } code && c.Text("timeZone") is { } zone)
                known[code] = zone;
        return map.With(
            "sites",
            new ListNode([
                .. sites.Items.Select(site =>
                    site is MapNode s
                    && s.Find("timeZone") is null
                    && s.Text("customer") is { } customer
                    && known.TryGetValue(customer, out var zone)
                        ? s.With("timeZone", new TextNode(zone))
                        : site
                ),
            ])
        );
    }

    private static IEnumerable<MapNode> CustomersIn(Node root) => Maps(root, "customers");

    private static IEnumerable<MapNode> SitesWithout(Node root) =>
        Maps(root, "sites").Where(s => s.Find("timeZone") is null);

    private static IEnumerable<MapNode> Maps(Node root, string list) =>
        ((root as MapNode)?.Find(list) as ListNode)?.Items.OfType<MapNode>() ?? [];
}

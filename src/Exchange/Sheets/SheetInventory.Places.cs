using System.Globalization;

namespace Vellumkeep.Exchange.Sheets;

/// <summary>Customers, sites and gateways that rows name.</summary>
public sealed partial class SheetInventory
{
    private (string Code, Customer? Known)? CustomerOf(int row)
    {
        var said = Cell(row, "customer") ?? everyone;
        if (said is null)
        {
            problems.Add(
                new(
                    row + 1,
                    null,
                    "",
                    "the customer of this tunnel is missing",
                    "a column with the customer, or one customer for the whole sheet"
                )
            );
            return null;
        }

        if (known.Customer(said) is { } there)
            return (there.Code, there);
        var key = Typed.Folded(said);
        if (!customers.TryGetValue(key, out var made))
        {
            var code = Code(said) is { } short_ && short_.Length <= 6 ? short_.ToUpperInvariant() : Short(said);
            customers[key] = made = Line(new MapWriter().Add("code", code).Add("name", said).Done(), row);
            notes.Add(new(row + 1, null, $"{said} is not known yet; the import adds it as customer {code}"));
        }

        return (made.Text("code")!, null);
    }

    /// <summary>
    /// The gateway of an end: one that is there, one that the sheet named before, or a new one with its site.
    /// </summary>
    private string? GatewayOf(End end, (string Code, Customer? Known) customer)
    {
        var address =
            end.Outer is { } outer && Address.Parse(outer) is { Ok: true } fixedAddress
                ? fixedAddress.Value
                : (Address?)null;
        if (end.Gateway is { } named && Code(named) is { } coded && known.Gateway(coded) is { } byCode)
            return byCode.Code;
        if (address is { } at && known.AtOuter(at) is { } byOuter)
            return byOuter.Code;
        var key =
            end.Gateway is not null ? "g:" + Typed.Folded(end.Gateway)
            : address is not null ? $"a:{address}"
            : $"s:{customer.Code}:{Typed.Folded(end.Site ?? end.Outer!)}";
        if (!gatewayAt.TryGetValue(key, out var code) && address is not null)
            gatewayAt.TryGetValue($"a:{address}", out code);
        if (code is not null)
        {
            AddUplink(code, end);
            AddNetworks(gateways[code].Text("site")!, end);
            return code;
        }

        var site = SiteOf(end, customer);
        code =
            end.Gateway is { } device
            && Code(device) is { } usable
            && !known.HasCode(RecordKind.Gateway, usable)
            && !gateways.ContainsKey(usable)
                ? usable
                : Free(
                    RecordKind.Gateway,
                    Slug(end.Gateway ?? $"{customer.Code}-{end.Site ?? end.Outer}", false)
                        + (end.Gateway is null ? "-gw" : ""),
                    gateways.ContainsKey
                );
        var platform = PlatformOf(code, end);
        gateways[code] = Line(
            new MapWriter()
                .Add("code", code)
                .Add("site", site)
                .Add("platform", platform?.Code ?? "unknown@1")
                .Add(
                    "uplinks",
                    new ListNode([
                        new MapWriter()
                            .Add("label", "outer")
                            .Add(
                                "address",
                                end.Outer is { } known1
                                    ? new TextNode(known1)
                                    : new MapWriter().Add("pending", "nobody yet").Done()
                            )
                            .Done(),
                    ])
                )
                .Add("notes", platform is null && end.Platform is { } said ? $"Platform in the sheet: {said}" : null)
                .Done(),
            end.Row
        );
        gatewayAt[key] = code;
        if (address is not null)
            gatewayAt[$"a:{address}"] = code;
        return code;
    }

    /// <summary>The same device with another outer address has another uplink.</summary>
    private void AddUplink(string code, End end)
    {
        if (
            end.Outer is { } more
            && gateways[code].Find("uplinks") is ListNode uplinks
            && uplinks.Items.OfType<MapNode>().All(u => u.Text("address") != more)
        )
            gateways[code] = Line(
                gateways[code]
                    .With(
                        "uplinks",
                        new ListNode([
                            .. uplinks.Items,
                            new MapWriter()
                                .Add("label", $"outer-{uplinks.Items.Length + 1}")
                                .Add("address", more)
                                .Done(),
                        ])
                    ),
                end.Row
            );
    }

    private Platform? PlatformOf(string code, End end)
    {
        var platform = end.Platform is { } model ? known.Platform(model) : null;
        if (platform is null)
        {
            needsUnknown = true;
            if (end.Platform is { } unheard)
                notes.Add(
                    new(
                        end.Row + 1,
                        null,
                        $"Row {end.Row + 1}: no platform profile is called '{Typed.Short(unheard)}'; {code} gets "
                            + $"the platform 'unknown'"
                    )
                );
        }

        return platform;
    }

    private string SiteOf(End end, (string Code, Customer? Known) customer)
    {
        var name = end.Site ?? end.Gateway ?? end.Outer!;
        if (customer.Known is { } owner && known.Site(owner, name) is { } there)
            return there.Code;
        var key = $"{customer.Code}:{Typed.Folded(name)}";
        if (!sites.TryGetValue(key, out var site))
        {
            var code = Free(RecordKind.Site, $"{customer.Code}-{Slug(name, true)}", siteKeys.ContainsKey);
            siteKeys[code] = key;
            sites[key] = site = Line(
                new MapWriter().Add("code", code).Add("customer", customer.Code).Add("name", name).Done(),
                end.Row
            );
        }

        AddNetworks(site.Text("code")!, end);
        return site.Text("code")!;
    }

    private void AddNetworks(string code, End end)
    {
        if (!siteKeys.TryGetValue(code, out var key))
            return;
        var site = sites[key];
        var networks = (site.Find("networks") as ListNode)?.Items ?? [];
        foreach (
            var subnet in end.Subnets.Where(s =>
                networks.OfType<MapNode>().All(n => n.Text("prefix") != s.Prefix.ToString())
            )
        )
            networks = networks.Add(
                new MapWriter()
                    .Add("prefix", subnet.Prefix.ToString())
                    .Add("name", subnet.Name ?? subnet.Prefix.ToString())
                    .Done()
            );
        if (!networks.IsEmpty)
            sites[key] = Line(site.With("networks", new ListNode(networks)), site.Line - 1);
    }

    private static readonly HashSet<string> Meaningless =
    [
        .. "the a an and of st ltd limited plc inc llc co company group & sons".Split(' '),
    ];

    /// <summary>
    /// The first letters of the first word of a name that tells it from others: three, or as many more as it takes to
    /// be nobody else's.
    /// </summary>
    private string Short(string name)
    {
        var words = Slug(name, true).Split('-').Where(w => w.Length > 0).ToArray();
        var word = words.FirstOrDefault(w => w.Length > 2 && !Meaningless.Contains(w.ToLowerInvariant())) ?? words[0];
        bool Taken(string code) =>
            known.HasCode(RecordKind.Customer, code) || customers.Values.Any(m => m.Text("code") == code);
        for (var length = Math.Min(3, word.Length); length <= Math.Min(6, word.Length); length++)
            if (!Taken(word[..length]))
                return word[..length];
        return Free(RecordKind.Customer, word[..Math.Min(3, word.Length)], Taken);
    }

    private string Free(RecordKind kind, string wanted, Func<string, bool> taken)
    {
        var start =
            wanted.Length > 36 ? wanted[..36].TrimEnd('-')
            : wanted.Length < 2 ? wanted + "X"
            : wanted;
        var code = start;
        for (var n = 2; taken(code) || known.HasCode(kind, code); n++)
            code = $"{start}-{n.ToString(CultureInfo.InvariantCulture)}";
        return code;
    }

    private static string? Code(string text) =>
        text.Length is >= 2 and <= 40
        && char.IsAsciiLetterOrDigit(text[0])
        && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '.')
        && text.Any(char.IsLetter)
            ? text
            : null;

    private static string Slug(string text, bool upper)
    {
        var slug = string.Join(
            '-',
            text.Split([' ', '-', '_', '/', '.', ',', '(', ')', ':', '\''], StringSplitOptions.RemoveEmptyEntries)
                .Select(w => new string([.. w.Where(char.IsAsciiLetterOrDigit)]))
                .Where(w => w.Length > 0)
        );
        slug = slug.Length == 0 ? "X1" : slug;
        return upper ? slug.ToUpperInvariant() : slug.ToLowerInvariant();
    }
}

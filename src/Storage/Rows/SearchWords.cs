using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Storage.Rows;

/// <summary>
/// The words by which records are found. A search asks for words that begin as it does, so that an index answers it.
/// </summary>
public static class SearchWords
{
    /// <summary>The field of words that are not the record's own but of what it refers to.</summary>
    public const string Around = "around";

    private const int Longest = 80;

    /// <summary>The words of a text: the whole of it, and its parts between marks, in small letters.</summary>
    public static IEnumerable<string> Split(string text)
    {
        var all = Typed.Trim(text).ToLowerInvariant();
        if (all.Length == 0)
            return [];
        // An address is one word: nobody looks for the 113 in it, and it is found by its beginning all the same.
        if (all.Length <= Longest && Prefix.Parse(all).Ok)
            return [all];
        var words = new List<string>();
        var start = -1;
        for (var i = 0; i <= all.Length; i++)
        {
            var inWord = i < all.Length && char.IsLetterOrDigit(all[i]);
            if (inWord && start < 0)
                start = i;
            else if (!inWord && start >= 0)
            {
                words.Add(all[start..Math.Min(i, start + Longest)]);
                start = -1;
            }
        }

        if (all.Length <= Longest && !all.Contains(' '))
            words.Add(all);
        // A name or code in the middle of a sentence is found whole as well: gw.brindle.example, BRI-ASHLOW, 10.4.7.9.
        words.AddRange(
            all.Split([' ', ',', ';', '(', ')'], StringSplitOptions.RemoveEmptyEntries).Where(w => w.Length <= Longest)
        );
        return words.Distinct();
    }

    internal static IEnumerable<WordRow> Of(IRecord record) => Rows(record.Id, Texts(record));

    /// <summary>
    /// The words of what a tunnel refers to: its customer, gateways, sites, platforms, outer addresses and the networks
    /// it joins.
    /// </summary>
    internal static IEnumerable<WordRow> AroundOf(TunnelView view) =>
        Rows(
            view.Tunnel.Id,
            new[] { view.Customer.Code, view.Customer.Name }
                .Concat(
                    view.Ends.SelectMany(e =>
                        new[]
                        {
                            e.Gateway.Code,
                            e.Site.Name,
                            e.Site.Code,
                            e.Platform.Title,
                            e.OuterText,
                            e.IdentitySent.Value?.Value,
                            e.PeerAddress.Value?.ToString(),
                        }.Concat(
                            e.Site.Networks.Where(n => view.Tunnel.Agreed.Pairs.Any(p => p.On(e.Name) == n.AsPresented))
                                .Select(n => n.Name)
                        )
                    )
                )
                .Select(t => (Around, t))
        );

    private static IEnumerable<WordRow> Rows(string id, IEnumerable<(string Field, string? Text)> texts) =>
        texts
            .Where(t => !string.IsNullOrEmpty(t.Text))
            .SelectMany(t => Split(t.Text!).Select(w => (t.Field, Word: w)))
            .Distinct()
            .Select(w => new WordRow
            {
                Word = w.Word,
                RecordId = id,
                Field = w.Field,
            });

    private static IEnumerable<(string Field, string? Text)> Texts(IRecord record) =>
        record switch
        {
            Customer c => [("code", c.Code), ("name", c.Name), .. Contacts(c.Contacts), ("notes", c.Notes)],
            Site s =>
            [
                ("code", s.Code),
                ("name", s.Name),
                .. s.Networks.SelectMany(n => new[] { ("network", (string?)n.Name), ("purpose", n.Purpose) }),
                ("notes", s.Notes),
            ],
            Gateway g =>
            [
                ("code", g.Code),
                .. g.Uplinks.SelectMany(u =>
                    new[]
                    {
                        ("uplink", (string?)u.Label),
                        ("outer address", u.Outer?.ToString()),
                        ("outer address", u.Address.Value?.ToString()),
                    }
                ),
                .. g.SharedEntries.Select(h => ("shared entry", (string?)h.Name)),
                ("notes", g.Notes),
            ],
            Platform p => [("code", p.Code), ("name", p.Title), ("family", p.Family)],
            Suite s => [("code", s.Code), ("about", s.About)],
            Offer o => [("code", o.Code), ("name", o.Name), ("identity", o.Identity?.Value)],
            Person p => [("code", p.Code), ("name", p.Name)],
            Change c => [("code", c.Code), ("title", c.Title)],
            Tunnel t =>
            [
                ("code", t.Code),
                ("name", t.Name),
                ("purpose", t.Purpose),
                .. t.Tags.Select(x => ("tag", (string?)x)),
                .. Contacts(t.Contacts),
                ("notes", t.Notes),
                ("identity", t.Agreed.IdentityA?.Value),
                ("identity", t.Agreed.IdentityB?.Value),
                .. new[] { t.A, t.B }.SelectMany(e =>
                    new[]
                    {
                        ("identity", e.IdentitySent?.Value?.Value),
                        ("identity", e.IdentityExpected?.Value?.Value),
                        ("peer address", e.PeerAddress?.Value?.ToString()),
                    }.Concat(e.PrefixNames.Select(n => ("name on the device", (string?)n.Name)))
                ),
            ],
            _ => [],
        };

    private static IEnumerable<(string, string?)> Contacts(IEnumerable<Contact> contacts) =>
        contacts.SelectMany(c => new[] { ("contact", (string?)c.Name), ("contact", c.Reach) });
}

namespace Vellumkeep.Storage.Reading;

/// <summary>What a search found: by which field, and the word or prefix that fitted.</summary>
public sealed record SearchFound(
    RecordKind Kind,
    string Code,
    string Name,
    string Owner,
    string? State,
    string Field,
    string Fits
);

/// <summary>What was found, and whether there is more of it than was asked for.</summary>
public sealed record SearchPage(IReadOnlyList<SearchFound> Found, bool More);

/// <summary>Anything by a beginning of one of its words, an address or a prefix.</summary>
public sealed class SearchList(KeepContext context)
{
    /// <summary>
    /// What a text finds anywhere: records by their words (codes first), by what they refer to when those are few, and
    /// for an address or prefix what contains or overlaps it, outer addresses too.
    /// </summary>
    public async Task<SearchPage> SearchAsync(Scope scope, string text, int most, CancellationToken ct)
    {
        var found = await AllAsync(scope, text, most + 1, ct);
        return new([.. found.Take(most)], found.Count > most);
    }

    private async Task<IReadOnlyList<SearchFound>> AllAsync(Scope scope, string text, int most, CancellationToken ct)
    {
        var visible = scope.Over(context, context.Records.AsNoTracking());
        return Question(text) is { } asked
            ? await AroundAsync(visible, asked.Prefix, asked.Containing, asked.Inside, most, ct)
            : await WordsAsync(visible, text, most, ct);
    }

    /// <summary>What contains a prefix, the nearest first; then what lies in it, in order.</summary>
    private async Task<IReadOnlyList<SearchFound>> AroundAsync(
        IQueryable<RecordRow> visible,
        Prefix prefix,
        bool containing,
        bool inside,
        int most,
        CancellationToken ct
    )
    {
        var around = !containing
            ? []
            : await (
                from p in context.Containing(prefix)
                join r in visible on p.RecordId equals r.Id
                orderby p.Low descending, p.High, r.Kind, r.CodeKey
                select new
                {
                    p.Low,
                    p.High,
                    p.Role,
                    r.Kind,
                    r.Id,
                    r.Code,
                    r.Name,
                    r.OwnerId,
                    r.State,
                }
            )
                .Take(most * 2)
                .ToListAsync(ct);
        var within = !inside
            ? []
            : await (
                from p in context.Inside(prefix)
                join r in visible on p.RecordId equals r.Id
                orderby p.Low
                select new
                {
                    p.Low,
                    p.High,
                    p.Role,
                    r.Kind,
                    r.Id,
                    r.Code,
                    r.Name,
                    r.OwnerId,
                    r.State,
                }
            )
                .Take(most * 2)
                .ToListAsync(ct);
        return await OwnedAsync(
            [
                .. around
                    .Concat(within)
                    .GroupBy(l => (l.Id, l.Low, l.High))
                    // What was agreed is told before that it was entered too.
                    .Select(g => g.OrderBy(l => l.Role == "entered" ? 1 : 0).First())
                    .Take(most)
                    .Select(l =>
                        (
                            new SearchFound(
                                l.Kind,
                                l.Code,
                                l.Name,
                                "",
                                l.State,
                                l.Role,
                                AddressText.Between(prefix.Family, l.Low, l.High).ToString()
                            ),
                            l.OwnerId
                        )
                    ),
            ],
            ct
        );
    }

    /// <summary>What has words that begin so: codes first, what only refers to such a record last.</summary>
    private async Task<IReadOnlyList<SearchFound>> WordsAsync(
        IQueryable<RecordRow> visible,
        string text,
        int most,
        CancellationToken ct
    )
    {
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(w => w.Trim(',', ';', '(', ')'))
            .Where(w => w.Length > 0)
            .OrderByDescending(w => w.Length)
            .Take(6)
            .ToArray();
        if (words.Length == 0)
            return [];
        var found = new List<(SearchFound, string?)>();
        foreach (var around in new[] { false, true })
        {
            if (found.Count >= most)
                break;
            var rows =
                from w in Found(words[0])
                where (w.Field == SearchWords.Around) == around
                join r in visible on w.RecordId equals r.Id
                select new
                {
                    w.Word,
                    w.Field,
                    r,
                };
            foreach (var more in words[1..])
            {
                var others = Found(more);
                rows = rows.Where(x => others.Any(w => w.RecordId == x.r.Id));
            }

            // In the order of the words, so that a common beginning is not gone through to its end; the word itself
            // comes first.
            var exact = words[0].ToLowerInvariant();
            var some = (
                await rows.OrderBy(x => x.Word)
                    .Select(x => new
                    {
                        x.r.Kind,
                        x.r.Code,
                        x.r.Name,
                        x.r.OwnerId,
                        x.r.State,
                        x.Field,
                        x.Word,
                    })
                    .Take(most * 6)
                    .ToListAsync(ct)
            )
                .OrderBy(x =>
                    x.Field == "code" && x.Word == exact ? 0
                    : x.Field == "code" ? 1
                    : 2
                )
                .ThenBy(x => x.Kind)
                .ThenBy(x => x.Code, StringComparer.OrdinalIgnoreCase)
                .ToList();
            foreach (var x in some.DistinctBy(x => (x.Kind, x.Code)))
                if (found.All(f => f.Item1.Kind != x.Kind || f.Item1.Code != x.Code))
                    found.Add((new(x.Kind, x.Code, x.Name, "", x.State, x.Field, x.Word), x.OwnerId));
        }

        return await OwnedAsync([.. found.Take(most)], ct);
    }

    /// <summary>
    /// A text that asks about a prefix: the prefix alone (what contains it and what lies in it), or with words that say
    /// which of the two is meant: <c>what contains 10.4.7.9</c>, <c>everything inside 10.4.0.0/16</c>.
    /// </summary>
    internal static (Prefix Prefix, bool Containing, bool Inside)? Question(string text)
    {
        var words = text.Split([' ', ',', '?'], StringSplitOptions.RemoveEmptyEntries);
        if (words.Length is 0 or > 6 || Prefix.Parse(words[^1]) is not { Ok: true } prefix)
            return null;
        var (containing, inside) = (false, false);
        foreach (var word in words[..^1])
        {
            switch (word.ToLowerInvariant())
            {
                case "contains" or "contain" or "containing" or "holds" or "around":
                    containing = true;
                    break;
                case "inside" or "in" or "within" or "under":
                    inside = true;
                    break;
                case "what" or "which" or "everything" or "all" or "anything" or "is" or "lies" or "overlaps":
                    break;
                default:
                    return null;
            }
        }

        return (prefix.Value, containing || !inside, inside || !containing);
    }

    private async Task<IReadOnlyList<SearchFound>> OwnedAsync(
        IReadOnlyList<(SearchFound Found, string? OwnerId)> found,
        CancellationToken ct
    )
    {
        var ids = found.Select(f => f.OwnerId).OfType<string>().Distinct().ToArray();
        var owners = await context
            .Records.AsNoTracking()
            .Where(r => EF.Parameter(ids).Contains(r.Id))
            .Select(r => new { r.Id, r.Code })
            .ToDictionaryAsync(r => r.Id, r => r.Code, ct);
        return
        [
            .. found.Select(f => f.Found with { Owner = f.OwnerId is { } id ? owners.GetValueOrDefault(id, "") : "" }),
        ];
    }

    internal static (string From, string To) Range(string beginning) =>
        (beginning.ToLowerInvariant(), beginning.ToLowerInvariant() + '\uffff');

    internal IQueryable<WordRow> Found(string beginning)
    {
        var (from, to) = Range(beginning);
        return context.Words.Where(w => string.Compare(w.Word, from) >= 0 && string.Compare(w.Word, to) < 0);
    }
}

namespace Vellumkeep.Storage.Reading;

/// <summary>
/// What several lists ask. Nothing in a list reads a record's body to decide what to leave out; ids of which there may
/// be any number are given as one parameter, because a statement takes only so many.
/// </summary>
internal static class ListQueries
{
    /// <summary>
    /// Prefixes in use that contain one, itself among them. Prefixes contain one another or are apart, so that what
    /// contains one begins at one of the 33 (IPv6: 129) addresses at which a prefix around it can begin.
    /// </summary>
    public static IQueryable<PrefixRow> Containing(this KeepContext context, Prefix prefix)
    {
        var (high, family) = (AddressText.Of(prefix.Last), (int)prefix.Family);
        string[] begins =
        [
            .. Enumerable
                .Range(0, prefix.Length + 1)
                .Select(l => AddressText.Of(Prefix.Around(prefix.First, l).First))
                .Distinct(),
        ];
        return context
            .Prefixes.AsNoTracking()
            .Where(p => p.Family == family && begins.Contains(p.Low) && string.Compare(p.High, high) >= 0);
    }

    /// <summary>Prefixes in use that lie in one and are smaller than it.</summary>
    public static IQueryable<PrefixRow> Inside(this KeepContext context, Prefix prefix)
    {
        var (low, high, family) = (AddressText.Of(prefix.First), AddressText.Of(prefix.Last), (int)prefix.Family);
        return context
            .Prefixes.AsNoTracking()
            .Where(p =>
                p.Family == family
                && string.Compare(p.Low, low) >= 0
                && string.Compare(p.Low, high) <= 0
                && string.Compare(p.High, high) <= 0
                && !(p.Low == low && p.High == high)
            );
    }

    /// <summary>
    /// Records that a text finds: by the beginnings of their codes and words, or by an address or prefix that they
    /// have.
    /// </summary>
    public static IQueryable<RecordRow> WithText(this KeepContext context, IQueryable<RecordRow> rows, string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return rows;
        if (SearchList.Question(text) is var (prefix, _, _))
        {
            var at = context.Containing(prefix).Concat(context.Inside(prefix)).Select(p => p.RecordId);
            return rows.Where(r => at.Contains(r.Id));
        }

        foreach (var word in text.Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(4))
        {
            var found = new SearchList(context).Found(word).Select(w => w.RecordId);
            var (from, to) = SearchList.Range(word);
            var (fromKey, toKey) = (from.ToUpperInvariant(), to.ToUpperInvariant());
            rows = rows.Where(r =>
                found.Contains(r.Id)
                || (string.Compare(r.CodeKey, fromKey) >= 0 && string.Compare(r.CodeKey, toKey) < 0)
            );
        }

        return rows;
    }

    public static IQueryable<RecordRow> Page(IQueryable<RecordRow> rows, string? after, int most) =>
        (after is null ? rows : rows.Where(r => string.Compare(r.CodeKey, after) > 0))
            .OrderBy(r => r.CodeKey)
            .Take(most);
}

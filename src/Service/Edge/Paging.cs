namespace Vellumkeep.Service.Edge;

/// <summary>
/// Lists come in pages: 100 to a page unless asked otherwise, and whole when they are asked for as a file.
/// </summary>
public static class Paging
{
    /// <summary>The most rows of a list that is asked for as a file.</summary>
    public const int InFile = 100_000;

    public static int Most(HttpContext http, int? asked, int highest = 2000) =>
        http.Request.Query.ContainsKey("as") ? InFile : Math.Clamp(asked ?? 100, 1, highest);

    /// <summary>A page of a list that is ordered by code; the cursor is the last code in capitals.</summary>
    public static async Task<Page<TShown>> ByCodeAsync<T, TShown>(
        HttpContext http,
        int? asked,
        Func<int, Task<IReadOnlyList<T>>> read,
        Func<T, string> code,
        Func<T, TShown> show,
        int highest = 2000
    )
    {
        var most = Most(http, asked, highest);
        var found = await read(most + 1);
        return new(
            [.. found.Take(most).Select(show)],
            found.Count > most ? code(found[most - 1]).ToUpperInvariant() : null
        );
    }
}

using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>What is found by words, and saved filters.</summary>
public sealed partial class KeepClient
{
    public Task<SearchResult> SearchAsync(string text, CancellationToken ct) =>
        GetAsync<SearchResult>("search" + Query(("q", text), ("most", "200")), ct);

    public Task<IReadOnlyList<SavedFilterLine>> SavedFiltersAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<SavedFilterLine>>("saved-filters", ct);

    public Task<SavedFilterLine> SaveFilterAsync(SaveFilter given, CancellationToken ct) =>
        SendAsync<SavedFilterLine>(HttpMethod.Post, "saved-filters", given, null, ct);

    public Task RemoveFilterAsync(string id, CancellationToken ct) =>
        SendAsync(HttpMethod.Delete, $"saved-filters/{Uri.EscapeDataString(id)}", new { }, null, ct);
}

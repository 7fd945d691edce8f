using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Core.Wording;

namespace Vellumkeep.Cli.Commands;

/// <summary>Tunnels in a list, filtered.</summary>
internal sealed partial class TunnelCommands
{
    private Command List() =>
        frame.List(
            "list",
            "tunnels by code, with their verdict",
            "tunnels",
            async (p, c, ct) => [.. (await FilterAsync(p, c, ct)).Select(f => (f.Key, f.Value))],
            async (p, c, ct) =>
            {
                var filter = await FilterAsync(p, c, ct);
                var items = await AllAsync(c, filter, ct);
                frame.Shows(p, items, () =>
                {
                    if (items.Count == 0)
                        screen.Line("No tunnel matches. Use fewer options.");
                    Printing.Tunnels(screen, items, items.Count);
                });
                return 0;
            },
            customer,
            state,
            finding,
            severity,
            find,
            then,
            savedFilter
        );

    /// <summary>The saved filter where one is named, narrowed further by what is asked beside it.</summary>
    private async Task<Dictionary<string, string?>> FilterAsync(ParseResult p, KeepClient c, CancellationToken ct)
    {
        var filter = p.GetValue(savedFilter) is { } kept ? await KeptAsync(c, kept, ct) : [];
        foreach (var (key, value) in Asked(p))
            if (value is not null)
                filter[key] = value;
        return filter;
    }

    private Dictionary<string, string?> Asked(ParseResult p) =>
        new()
        {
            ["customer"] = p.GetValue(customer),
            ["state"] = p.GetValue(state),
            ["finding"] = p.GetValue(finding),
            ["severity"] = p.GetValue(severity),
            ["q"] = p.GetValue(find),
            ["on"] = p.GetValue(then),
        };

    /// <summary>The filter that is saved under a name, as the console saves it: like the query of an address.</summary>
    private static async Task<Dictionary<string, string?>> KeptAsync(KeepClient c, string wanted, CancellationToken ct)
    {
        var saved = (await c.SavedFiltersAsync(ct)).Where(k => k.List == "tunnels").ToArray();
        var kept = saved.FirstOrDefault(k => k.Name.Equals(wanted, StringComparison.OrdinalIgnoreCase));
        if (kept is null)
            throw new Refusal(
                3,
                NearCodes.Among(saved.Select(k => k.Name), wanted).Refusal("saved filter of tunnels", wanted)
            );
        return kept
            .Filter.Split('&', StringSplitOptions.RemoveEmptyEntries)
            .Select(x => x.Split('=', 2))
            .ToDictionary(x => x[0], x => (string?)Uri.UnescapeDataString(x[^1].Replace('+', ' ')));
    }

    /// <summary>Every tunnel that fits, page after page to the end.</summary>
    private static async Task<List<TunnelSummary>> AllAsync(
        KeepClient c,
        Dictionary<string, string?> filter,
        CancellationToken ct
    )
    {
        var items = new List<TunnelSummary>();
        string? cursor = null;
        do
        {
            var page = await c.TunnelsAsync(
                filter.GetValueOrDefault("customer"),
                filter.GetValueOrDefault("state"),
                filter.GetValueOrDefault("finding"),
                filter.GetValueOrDefault("severity"),
                filter.GetValueOrDefault("q"),
                cursor,
                ct,
                filter.GetValueOrDefault("on")
            );
            items.AddRange(page.Items);
            cursor = page.Cursor;
        } while (cursor is not null);
        return items;
    }
}

using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Saved filters of lists.</summary>
internal static class SavedFilterCommands
{
    public static Command Make(Frame f)
    {
        var s = f.Screen;
        var (list, filter) = (
            new Option<string>("--list") { Description = "tunnels or findings", Required = true },
            new Option<string>("--filter")
            {
                Description = "as in the address of the list: 'customer=BRI&severity=blocks'",
                Required = true,
            }
        );
        var shared = new Option<bool>("--shared") { Description = "for everybody" };
        var called = new Argument<string>("name") { Description = "name of the saved filter" };
        return Frame.Thing(
            "saved-filter",
            "saved filters of lists",
            f.Verb("list", "your own and the shared ones", async (p, c, ct) =>
            {
                var all = await c.SavedFiltersAsync(ct);
                f.Shows(p, all, () =>
                    s.Table(
                        ["name", "list", "by", "filter"],
                        all.Select(k =>
                            (IReadOnlyList<string>)
                                [s.In("strong", k.Name), k.List, k.Shared ? $"{k.By}, shared" : k.By, k.Filter]
                        )
                    )
                );
                return 0;
            }),
            f.Verb(
                "save",
                "save a filter",
                async (p, c, ct) =>
                {
                    var kept = await c.SaveFilterAsync(
                        new(p.GetValue(called)!, p.GetValue(list)!, p.GetValue(filter)!, p.GetValue(shared)),
                        ct
                    );
                    f.Shows(p, kept, () => s.Line($"Saved: {kept.Name}."));
                    return 0;
                },
                called,
                list,
                filter,
                shared
            ),
            f.Verb(
                "remove",
                "remove one of your saved filters",
                async (p, c, ct) =>
                {
                    var kept = (await c.SavedFiltersAsync(ct)).FirstOrDefault(k =>
                        k.Mine && k.Name.Equals(p.GetValue(called), StringComparison.OrdinalIgnoreCase)
                    )
                        ?? throw new Refusal(
                            3,
                            $"You have no saved filter '{p.GetValue(called)}'. Next: vellumkeep saved-filter list"
                        );
                    await c.RemoveFilterAsync(kept.Id, ct);
                    s.Line($"Removed: {kept.Name}.");
                    return 0;
                },
                called
            )
        );
    }
}

using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Search, saved filters and history.</summary>
internal static partial class PeopleCommands
{
    private static Command OfSearch(Frame f)
    {
        var s = f.Screen;
        var words = new Argument<string[]>("text")
        {
            Description = "a code, name, contact, identity, address, prefix or finding",
        };
        return f.Verb(
            "find",
            "find records by the beginning of a word; an address finds the prefixes that contain it",
            async (p, c, ct) =>
            {
                var found = await c.SearchAsync(string.Join(' ', p.GetValue(words)!), ct);
                f.Shows(p, found, () =>
                {
                    if (found.Finding is { } title)
                        s.Line(
                            $"{found.Asked.ToUpperInvariant()} is a finding: {title}. Next: vellumkeep findings "
                                + $"--code {found.Asked.ToUpperInvariant()}"
                        );
                    else if (found.Hits.Count == 0)
                        s.Line(
                            $"No record has a word that begins with {found.Asked}. Addresses are found by a whole "
                                + $"address or prefix, such as 10.61.8.0/22."
                        );
                    s.Table(
                        ["kind", "code", "customer", "by", "fits", "state", "name"],
                        found.Hits.Select(h =>
                            (IReadOnlyList<string>)
                                [h.Kind, s.In("strong", h.Code), h.Customer, h.Field, h.Fits, h.State ?? "", h.Name]
                        )
                    );
                    if (found.More)
                        s.Line(
                            $"These are the first {found.Hits.Count}. Enter more letters, another word, or a longer prefix."
                        );
                });
                return found.Hits.Count == 0 && found.Finding is null ? 3 : 0;
            },
            words
        );
    }

    private static Command OfSavedFilters(Frame f)
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

    private static Command OfHistory(Frame f) =>
        Frame.Thing(
            "history",
            "who did what, and whether the history is intact",
            Commits(f, f.Screen),
            Verify(f, f.Screen),
            Audit(f, f.Screen)
        );

    /// <summary>What both lists of the history are narrowed by.</summary>
    private sealed record Narrowed
    {
        public Option<string?> Who { get; } = Frame.Text("--who", "sign-in name");

        public Option<string?> From { get; } = Frame.Text("--from", "first day");

        public Option<string?> To { get; } = Frame.Text("--to", "last day");

        public Option<int> Limit { get; } =
            new("--limit") { Description = "most lines to show", DefaultValueFactory = _ => 50 };
    }

    private static Command Commits(Frame f, Screen s)
    {
        var by = new Narrowed();
        var customer = Frame.Text("--customer", "code");
        var kind = Frame.Text("--kind", "tunnel, gateway, site, ...");
        return f.List(
            "list",
            "who did what, newest first",
            "history",
            p =>
                [
                    ("who", p.GetValue(by.Who)),
                    ("customer", p.GetValue(customer)),
                    ("kind", p.GetValue(kind)),
                    ("from", p.GetValue(by.From)),
                    ("to", p.GetValue(by.To)),
                    ("most", "500"),
                ],
            async (p, c, ct) =>
            {
                var page = await c.CommitsAsync(
                    p.GetValue(by.Who),
                    p.GetValue(customer),
                    p.GetValue(kind),
                    p.GetValue(by.From),
                    p.GetValue(by.To),
                    null,
                    p.GetValue(by.Limit),
                    ct
                );
                f.Shows(p, page, () =>
                {
                    NothingFits(s, page.Items.Count);
                    s.Table(
                        ["commit", "when (UTC)", "who", "what", "records", "why"],
                        page.Items.Select(x =>
                            (IReadOnlyList<string>)
                                [
                                    $"{x.Number}",
                                    $"{x.At:yyyy-MM-dd HH:mm}",
                                    x.Who,
                                    x.Change is { } change ? $"{x.What} {change}" : x.What,
                                    string.Join(
                                        ", ",
                                        x.Records.Where(r => r.Code != x.Change).Take(3).Select(r => r.Code)
                                    ) + (x.Records.Count > 3 ? $" and {x.Records.Count - 3} more" : ""),
                                    x.Reason ?? "",
                                ]
                        )
                    );
                    GoesOn(s, page.Cursor, "--who, --customer, --from, --to");
                });
                return 0;
            },
            by.Who,
            customer,
            kind,
            by.From,
            by.To,
            by.Limit
        );
    }

    private static Command Verify(Frame f, Screen s) =>
        f.Verb("verify", "compute every digest of the chain again", async (p, c, ct) =>
        {
            var v = await c.VerifyAsync(ct);
            f.Shows(p, v, () =>
            {
                s.Line(
                    v.Broken is { } at
                        ? $"Broken at commit {at}: it or one of its records was altered afterwards. The "
                            + $"{v.Commits} commits before it are intact."
                        : $"All {v.Commits} commits are intact. The last digest is {v.Digest}."
                );
                s.Line(
                    v.Differs.Count == 0
                        ? "Records, grants and people match the history."
                        : "Altered outside the history:"
                );
                foreach (var one in v.Differs)
                    s.Line($"  {one}");
            });
            return v.Broken is null && v.Differs.Count == 0 ? 0 : 1;
        });

    private static Command Audit(Frame f, Screen s)
    {
        var by = new Narrowed();
        var act = Frame.Text("--act", "sign in, call, export, show key, backup, unlock");
        var outcome = Frame.Text("--outcome", "done or refused");
        return f.Verb(
            "audit",
            "sign-ins, refusals, exports, backups and keys shown, with the address; for leads",
            async (p, c, ct) =>
            {
                var page = await c.AuditAsync(
                    p.GetValue(by.Who),
                    p.GetValue(act),
                    p.GetValue(outcome),
                    p.GetValue(by.From),
                    p.GetValue(by.To),
                    null,
                    p.GetValue(by.Limit),
                    ct
                );
                f.Shows(p, page, () =>
                {
                    NothingFits(s, page.Items.Count);
                    s.Table(
                        ["when (UTC)", "who", "what", "outcome", "about", "from"],
                        page.Items.Select(x =>
                            (IReadOnlyList<string>)
                                [
                                    $"{x.At:yyyy-MM-dd HH:mm:ss}",
                                    x.Who,
                                    x.What,
                                    x.Outcome == "refused" ? s.In("stops", x.Outcome) : x.Outcome,
                                    x.About,
                                    x.From,
                                ]
                        )
                    );
                    GoesOn(s, page.Cursor, "--who, --act, --outcome, --from, --to");
                });
                return 0;
            },
            by.Who,
            act,
            outcome,
            by.From,
            by.To,
            by.Limit
        );
    }

    private static void NothingFits(Screen s, int lines)
    {
        if (lines == 0)
            s.Line("Nothing in the history matches. Use fewer options.");
    }

    private static void GoesOn(Screen s, string? cursor, string options)
    {
        if (cursor is not null)
            s.Line(s.In("soft", $"There is more: narrow it with {options}, or raise --limit."));
    }
}

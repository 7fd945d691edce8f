using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Who did what, and whether the history is intact.</summary>
internal static class HistoryCommands
{
    public static Command Make(Frame f) =>
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

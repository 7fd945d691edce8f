using System.CommandLine;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Commands;

/// <summary>People and what lets them in; search, kept lists and history.</summary>
internal static class PeopleCommands
{
    public static IEnumerable<Command> Make(Frame f)
    {
        var s = f.Screen;
        var name = new Argument<string>("name") { Description = "sign-in name" };
        var (session, token, person) = (
            Frame.Text("--session", "id of a session to end"),
            Frame.Text("--token", "id of a token to end"),
            Frame.Text("--person", "sign-in name; oneself when left out")
        );
        yield return Frame.Thing(
            "person",
            "people: who may do what, for whom",
            [
                f.List(
                    "list",
                    "people with their roles",
                    "people",
                    _ => [],
                    async (p, c, ct) =>
                    {
                        var list = await c.PeopleAsync(ct);
                        f.Shows(p, list, () =>
                            s.Table(
                                ["name", "called", "left", "roles"],
                                list.Select(x =>
                                    (IReadOnlyList<string>)
                                        [s.In("strong", x.Name), x.Called, x.Left ?? "", string.Join("; ", x.Roles)]
                                )
                            )
                        );
                        return 0;
                    }
                ),
                Frame.Verb(
                    "show",
                    "a person with their sessions and tokens",
                    async (p, c, ct) =>
                    {
                        var x = await c.PersonAsync(p.GetValue(name)!, ct);
                        f.Shows(p, x, () =>
                        {
                            s.Line(
                                $"{s.In("strong", x.Person.Name)}  {x.Person.Called}, {string.Join("; ", x.Person.Roles)}{(x.Person.Left is { } left ? $", left {left}" : x.HasPassword ? "" : ", cannot sign in: no password yet")}{(x.LockedUntil is { } until ? $", locked until {until:HH:mm} UTC" : "")}"
                            );
                            Access(s, x.Access);
                        });
                        return 0;
                    },
                    name
                ),
                .. RecordCommands.Verbs(f, "people", "person"),
                Frame.Verb(
                    "give-password",
                    "give somebody a password, shown this once; they have to replace it",
                    async (p, c, ct) =>
                    {
                        var made = await c.GivePasswordAsync(p.GetValue(name)!, ct);
                        f.Shows(p, made, () =>
                            s.Line(
                                $"{made.Password}\nShown this once. {made.Name} has to replace it at the next sign-in; every session and token of theirs has ended."
                            )
                        );
                        return 0;
                    },
                    name
                ),
                Frame.Verb(
                    "password",
                    "replace one's own password; both are read from prompts or from two lines of standard input",
                    async (p, c, ct) =>
                    {
                        var done = await c.ReplacePasswordAsync(
                            new(Session.Password("Old password: "), Session.Password("New password: ")),
                            ct
                        );
                        f.Shows(p, done, () =>
                            s.Line(
                                $"Replaced. {done.SessionsEnded} sessions and {done.TokensEnded} tokens made with the old password have ended; {done.Stays} stays."
                            )
                        );
                        return 0;
                    }
                ),
            ]
        );
        yield return Frame.Thing(
            "access",
            "sessions and tokens",
            Frame.Verb("list", "one's own sessions and tokens", async (p, c, ct) =>
            {
                var x = await c.AccessAsync(ct);
                f.Shows(p, x, () => Access(s, x));
                return 0;
            }),
            MakeToken(f),
            Frame.Verb(
                "end",
                "end a session or token, one's own or (a lead) somebody else's",
                async (p, c, ct) =>
                {
                    if (p.GetValue(session) is null == p.GetValue(token) is null)
                        throw new Refusal(2, "Say one of --session ID and --token ID.");
                    await c.EndAccessAsync(
                        p.GetValue(person),
                        p.GetValue(token) is not null,
                        p.GetValue(session) ?? p.GetValue(token)!,
                        ct
                    );
                    s.Line("Ended.");
                    return 0;
                },
                session,
                token,
                person
            )
        );

        var backup = new Argument<string>("file") { Description = "the file to write" };
        yield return Frame.Verb(
            "backup",
            "the whole database as one file, while the service runs; restored with: vellumkeep service restore FILE --data FOLDER",
            async (p, c, ct) =>
            {
                var (file, part) = (p.GetValue(backup)!, p.GetValue(backup) + ".part");
                await using (var to = PrivateFile.Create(part))
                    await c.BackupAsync(to, ct);
                File.Move(part, file, true);
                s.Line(
                    $"Written: {file}, {new FileInfo(file).Length:N0} octets. It holds digests of passwords and tokens: guard it."
                );
                return 0;
            },
            backup
        );

        var words = new Argument<string[]>("text")
        {
            Description = "a code, name, contact, identity, address, prefix or finding",
        };
        yield return Frame.Verb(
            "find",
            "find anything by the beginnings of its words; an address finds what contains it",
            async (p, c, ct) =>
            {
                var found = await c.SearchAsync(string.Join(' ', p.GetValue(words)!), ct);
                f.Shows(p, found, () =>
                {
                    if (found.Finding is { } title)
                        s.Line(
                            $"{found.Asked.ToUpperInvariant()} is a finding: {title}. Next: vellumkeep findings --code {found.Asked.ToUpperInvariant()}"
                        );
                    else if (found.Hits.Count == 0)
                        s.Line($"Nothing begins with {found.Asked}, and nothing contains it.");
                    s.Table(
                        ["kind", "code", "customer", "by", "fits", "state", "name"],
                        found.Hits.Select(h =>
                            (IReadOnlyList<string>)
                                [h.Kind, s.In("strong", h.Code), h.Customer, h.Field, h.Fits, h.State ?? "", h.Name]
                        )
                    );
                });
                return found.Hits.Count == 0 && found.Finding is null ? 3 : 0;
            },
            words
        );

        var (list, filter) = (
            new Option<string>("--list") { Description = "tunnels or findings", Required = true },
            new Option<string>("--filter")
            {
                Description = "as in the address of the list: 'customer=BRI&severity=blocks'",
                Required = true,
            }
        );
        var shared = new Option<bool>("--shared") { Description = "for everybody" };
        var called = new Argument<string>("name") { Description = "name of the list" };
        yield return Frame.Thing(
            "kept-list",
            "filters of lists, kept under a name",
            Frame.Verb("list", "one's own and the shared ones", async (p, c, ct) =>
            {
                var all = await c.KeptListsAsync(ct);
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
            Frame.Verb(
                "keep",
                "keep a filter",
                async (p, c, ct) =>
                {
                    var kept = await c.KeepListAsync(
                        new(p.GetValue(called)!, p.GetValue(list)!, p.GetValue(filter)!, p.GetValue(shared)),
                        ct
                    );
                    f.Shows(p, kept, () => s.Line($"Kept: {kept.Name}."));
                    return 0;
                },
                called,
                list,
                filter,
                shared
            ),
            Frame.Verb(
                "let-go",
                "let go of a list of one's own",
                async (p, c, ct) =>
                {
                    var kept = (await c.KeptListsAsync(ct)).FirstOrDefault(k =>
                        k.Mine && k.Name.Equals(p.GetValue(called), StringComparison.OrdinalIgnoreCase)
                    ) ?? throw new Refusal(3, $"You keep no list '{p.GetValue(called)}'.");
                    await c.LetGoOfListAsync(kept.Id, ct);
                    s.Line($"Gone: {kept.Name}.");
                    return 0;
                },
                called
            )
        );

        var (who, customer, kind, from, to) = (
            Frame.Text("--who", "sign-in name"),
            Frame.Text("--customer", "code"),
            Frame.Text("--kind", "tunnel, gateway, site, ..."),
            Frame.Text("--from", "first day"),
            Frame.Text("--to", "last day")
        );
        var most = new Option<int>("--most") { Description = "at most so many", DefaultValueFactory = _ => 50 };
        var (act, outcome) = (
            Frame.Text("--act", "sign in, call, export, backup, show key, ..."),
            Frame.Text("--outcome", "done or refused")
        );
        yield return Frame.Thing(
            "history",
            "who did what, and whether the history holds",
            f.List(
                "list",
                "who did what, newest first",
                "history",
                p =>
                    [
                        ("who", p.GetValue(who)),
                        ("customer", p.GetValue(customer)),
                        ("kind", p.GetValue(kind)),
                        ("from", p.GetValue(from)),
                        ("to", p.GetValue(to)),
                        ("most", "500"),
                    ],
                async (p, c, ct) =>
                {
                    var page = await c.CommitsAsync(
                        p.GetValue(who),
                        p.GetValue(customer),
                        p.GetValue(kind),
                        p.GetValue(from),
                        p.GetValue(to),
                        null,
                        p.GetValue(most),
                        ct
                    );
                    f.Shows(p, page, () =>
                    {
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
                        if (page.Cursor is not null)
                            s.Line(
                                s.In(
                                    "soft",
                                    "There is more: narrow it with --who, --customer, --from, --to, or raise --most."
                                )
                            );
                    });
                    return 0;
                },
                who,
                customer,
                kind,
                from,
                to,
                most
            ),
            Frame.Verb("verify", "compute every digest of the chain anew", async (p, c, ct) =>
            {
                var v = await c.VerifyAsync(ct);
                f.Shows(p, v, () =>
                {
                    s.Line(
                        v.Broken is { } at
                            ? $"Broken at commit {at}: it or a body under it was altered after it was written. {v.Commits} before it hold."
                            : $"All {v.Commits} commits hold. The last digest is {v.Digest}."
                    );
                    s.Line(
                        v.Differs.Count == 0
                            ? "Records, grants and people are as the history says."
                            : "Altered beside the history:"
                    );
                    foreach (var one in v.Differs)
                        s.Line($"  {one}");
                });
                return v.Broken is null && v.Differs.Count == 0 ? 0 : 1;
            }),
            Frame.Verb(
                "audit",
                "who signed in, was refused, took an export or a backup out, or was shown a key, and from where; for leads",
                async (p, c, ct) =>
                {
                    var page = await c.AuditAsync(
                        p.GetValue(who),
                        p.GetValue(act),
                        p.GetValue(outcome),
                        p.GetValue(from),
                        p.GetValue(to),
                        null,
                        p.GetValue(most),
                        ct
                    );
                    f.Shows(p, page, () =>
                    {
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
                        if (page.Cursor is not null)
                            s.Line(
                                s.In(
                                    "soft",
                                    "There is more: narrow it with --who, --act, --outcome, --from, --to, or raise --most."
                                )
                            );
                    });
                    return 0;
                },
                who,
                act,
                outcome,
                from,
                to,
                most
            )
        );
    }

    private static Command MakeToken(Frame f)
    {
        var name = new Argument<string>("name") { Description = "what it is for" };
        var days = new Option<int>("--days")
        {
            Description = "how long it lives, 1 to 365",
            DefaultValueFactory = _ => 30,
        };
        var most = Frame.Text("--most", "the role beyond which it lets do nothing: reader, engineer, reviewer, lead");
        return Frame.Verb(
            "make-token",
            "make a token for a program, shown this once",
            async (p, c, ct) =>
            {
                var made = await c.MakeTokenAsync(new(p.GetValue(name)!, p.GetValue(days), p.GetValue(most)), ct);
                f.Shows(p, made, () =>
                    f.Screen.Line($"{made.Token}\nShown this once; it runs out on {made.ExpiresAt:yyyy-MM-dd}.")
                );
                return 0;
            },
            name,
            days,
            most
        );
    }

    private static void Access(Screen s, AccessPage a)
    {
        s.Table(
            ["session", "began (UTC)", "last seen", "from"],
            a.Sessions.Select(x =>
                (IReadOnlyList<string>)[x.Id, $"{x.Began:yyyy-MM-dd HH:mm}", $"{x.Seen:yyyy-MM-dd HH:mm}", x.From]
            )
        );
        s.Table(
            ["token", "name", "lets do", "runs out", "last used (UTC)"],
            a.Tokens.Select(x =>
                (IReadOnlyList<string>)
                    [
                        x.Id,
                        x.Name,
                        $"at most {x.Most}",
                        $"{x.Expires:yyyy-MM-dd}",
                        x.Used is { } used ? $"{used:yyyy-MM-dd HH:mm}" : "never",
                    ]
            )
        );
        if (a.Sessions.Count + a.Tokens.Count == 0)
            s.Line("No session and no token.");
    }
}

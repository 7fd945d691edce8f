using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Commands;

/// <summary>People and what lets them in; search, saved filters and history.</summary>
internal static partial class PeopleCommands
{
    public static IEnumerable<Command> Make(Frame f) =>
        [OfPeople(f), OfAccess(f), OfBackup(f), OfSearch(f), OfSavedFilters(f), OfHistory(f)];

    private static Command OfPeople(Frame f)
    {
        var s = f.Screen;
        var name = new Argument<string>("name") { Description = "sign-in name" };
        return Frame.Thing(
            "person",
            "people, their roles and customers",
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
                f.Verb(
                    "show",
                    "a person with their sessions and tokens",
                    async (p, c, ct) =>
                    {
                        var x = await c.PersonAsync(p.GetValue(name)!, ct);
                        f.Shows(p, x, () =>
                        {
                            s.Line(
                                $"{s.In("strong", x.Person.Name)}  {x.Person.Called}, "
                                    + $"{string.Join("; ", x.Person.Roles)}"
                                    + (
                                        x.Person.Left is { } left ? $", left {left}"
                                        : x.HasPassword ? ""
                                        : ", cannot sign in: no password yet"
                                    )
                                    + $"{(x.LockedUntil is { } until ? $", locked until {until:HH:mm} UTC" : "")}"
                            );
                            Access(s, x.Access);
                        });
                        return 0;
                    },
                    name
                ),
                .. RecordCommands.Verbs(f, "people", "person"),
                .. Passwords(f, name),
            ]
        );
    }

    private static Command[] Passwords(Frame f, Argument<string> name)
    {
        var s = f.Screen;
        return
        [
            f.Verb(
                "give-password",
                "set a person's password, shown once; they must replace it",
                async (p, c, ct) =>
                {
                    var made = await c.GivePasswordAsync(p.GetValue(name)!, ct);
                    f.Shows(p, made, () =>
                        s.Line(
                            $"{made.Password}\nShown once. {made.Name} must replace it at the next sign-in. "
                                + $"Every session and token of {made.Name} has ended."
                        )
                    );
                    return 0;
                },
                name
            ),
            f.Verb(
                "password",
                "replace your password; both are read from prompts or from two lines of standard input",
                async (p, c, ct) =>
                {
                    var done = await c.ReplacePasswordAsync(
                        new(f.Session.Password("Old password: "), f.Session.Password("New password: ")),
                        ct
                    );
                    f.Shows(p, done, () =>
                        s.Line(
                            $"Replaced. {done.SessionsEnded} sessions and {done.TokensEnded} tokens made with "
                                + $"the old password have ended; {done.Stays} stays."
                        )
                    );
                    return 0;
                }
            ),
        ];
    }

    private static Command OfAccess(Frame f)
    {
        var s = f.Screen;
        var session = Frame.Text("--session", "id of a session to end");
        var token = Frame.Text("--token", "id of a token to end");
        var person = Frame.Text("--person", "sign-in name; yourself when left out");
        return Frame.Thing(
            "access",
            "sessions and tokens",
            f.Verb("list", "your sessions and tokens", async (p, c, ct) =>
            {
                var x = await c.AccessAsync(ct);
                f.Shows(p, x, () => Access(s, x));
                return 0;
            }),
            MakeToken(f),
            f.Verb(
                "end",
                "end a session or token: your own or, as a lead, another person's",
                async (p, c, ct) =>
                {
                    if (p.GetValue(session) is null == p.GetValue(token) is null)
                        throw new Refusal(2, "Give either --session ID or --token ID.");
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
    }

    private static Command OfBackup(Frame f)
    {
        var s = f.Screen;
        var backup = new Argument<string>("file") { Description = "the file to write" };
        return f.Verb(
            "backup",
            "the whole database as one file, while the service runs; restored with: vellumkeep service restore "
                + "FILE --data FOLDER",
            async (p, c, ct) =>
            {
                var file = f.Around.Written(p.GetValue(backup)!);
                var part = file + ".part";
                await using (var to = PrivateFile.Create(part))
                    await c.BackupAsync(to, ct);
                File.Move(part, file, true);
                s.Line(
                    $"Written: {file}, {new FileInfo(file).Length:N0} octets. It contains digests of passwords and "
                        + $"tokens. Store it safely."
                );
                return 0;
            },
            backup
        );
    }

    private static Command MakeToken(Frame f)
    {
        var name = new Argument<string>("name") { Description = "what it is for" };
        var days = new Option<int>("--days")
        {
            Description = "days until it expires, 1 to 365",
            DefaultValueFactory = _ => 30,
        };
        var most = Frame.Text("--role", "the role that it has at most: reader, engineer, reviewer, lead");
        return f.Verb(
            "make-token",
            "make a token for a program, shown this once",
            async (p, c, ct) =>
            {
                var made = await c.MakeTokenAsync(new(p.GetValue(name)!, p.GetValue(days), p.GetValue(most)), ct);
                f.Shows(p, made, () =>
                    f.Screen.Line($"{made.Token}\nShown once. It expires on {made.ExpiresAt:yyyy-MM-dd}.")
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
            ["session", "began (UTC)", "last active (UTC)", "from"],
            a.Sessions.Select(x =>
                (IReadOnlyList<string>)[x.Id, $"{x.Began:yyyy-MM-dd HH:mm}", $"{x.LastActive:yyyy-MM-dd HH:mm}", x.From]
            )
        );
        s.Table(
            ["token", "name", "role", "expires", "last used (UTC)"],
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

using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>People, their roles and passwords.</summary>
internal static class PersonCommands
{
    public static Command Make(Frame f)
    {
        var s = f.Screen;
        var name = new Argument<string>("name") { Description = "sign-in name" };
        return Frame.Thing(
            "person",
            "people, their roles and customers",
            [
                f.List(
                    "people with their roles",
                    "people",
                    (c, ct) => c.PeopleAsync(ct),
                    ["name", "called", "left", "roles"],
                    x => [s.In("strong", x.Name), x.Called, x.Left ?? "", string.Join("; ", x.Roles)]
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
                            AccessCommands.Print(s, x.Access);
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
}

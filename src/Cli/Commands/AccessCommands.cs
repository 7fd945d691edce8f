using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Commands;

/// <summary>Sessions and tokens: listed, made, ended.</summary>
internal static class AccessCommands
{
    public static Command Make(Frame f)
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
                f.Shows(p, x, () => Print(s, x));
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

    internal static void Print(Screen s, AccessPage a)
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

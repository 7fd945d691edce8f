using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Client;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Signing in and out.</summary>
internal static class SignInCommands
{
    public static IReadOnlyList<Command> Make(Frame frame)
    {
        var screen = frame.Screen;
        var made = new List<Command>();
        var url = new Option<string>("--url")
        {
            Description = "address of the service",
            DefaultValueFactory = _ => frame.Around.Variable("VELLUMKEEP_URL") ?? "http://127.0.0.1:5080",
        };
        var name = Text("--name", "sign-in name");
        var signIn = new Command("sign-in", "sign in; the password is read from a prompt or from standard input")
        {
            url,
            name,
        };
        signIn.SetAction(
            async (p, ct) =>
            {
                var who = p.GetValue(name);
                if (who is null)
                {
                    if (frame.Around.InRedirected)
                        throw new Refusal(2, "No name is given. Next: vellumkeep sign-in --name ines");
                    frame.Around.Error.Write("Name: ");
                    who = frame.Around.In.ReadLine() ?? "";
                }

                using var client = new KeepClient(Session.Address(p.GetValue(url)!), null);
                var made = await client.TokenByPasswordAsync(
                    new(who, frame.Session.Password("Password: "), $"command line on {Environment.MachineName}", 30),
                    ct
                );
                frame.Session.Keep(p.GetValue(url)!, made.Token, who);
                screen.Line($"Signed in as {who} until {made.ExpiresAt:yyyy-MM-dd}.");
                return 0;
            }
        );
        made.Add(signIn);
        var signOut = new Command("sign-out", "sign out: delete the token stored here");
        signOut.SetAction(_ =>
        {
            frame.Session.End();
            screen.Line("Signed out here.");
            return 0;
        });
        made.Add(signOut);
        return made;
    }
}

using System.CommandLine;
using Vellumkeep.Cli.Commands;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli;

/// <summary>The whole command: what it is made of, and one run of it.</summary>
public static class CommandLine
{
    // @file is proof here, and no list of arguments.
    private static readonly ParserConfiguration PlainArguments = new() { ResponseFileTokenReplacer = null };

    /// <summary>Runs the command once and gives its exit status; docs/command.md has the list.</summary>
    public static async Task<int> RunAsync(string[] args, Surroundings around)
    {
        var parsed = Make(new Frame(around)).Parse(args, PlainArguments);
        var wrong = Misuse.Of(parsed);
        if (wrong.Count > 0)
        {
            around.Error.WriteLine(string.Join(" ", wrong));
            around.Error.WriteLine($"Next: {Misuse.PathOf(parsed)} --help");
            return 2;
        }

        var invoked = new InvocationConfiguration
        {
            EnableDefaultExceptionHandler = false,
            Output = around.Out,
            Error = around.Error,
        };
        return await Failures.ToStatusAsync(around.Error, () => parsed.InvokeAsync(invoked));
    }

    private static RootCommand Make(Frame frame)
    {
        var root = new RootCommand(
            "Both ends of site-to-site IPsec tunnels: recorded, compared, rehearsed, and changed with a plan. "
                + "Words and codes: vellumkeep glossary, or docs/glossary.md."
        )
        {
            frame.Json,
        };
        Command[] things =
        [
            .. SignInCommands.Make(frame),
            .. TodayCommand.Make(frame),
            TunnelCommands.Make(frame),
            .. FindingCommands.Make(frame),
            GatewayCommands.Make(frame),
            CustomerCommands.Make(frame),
            PlatformCommands.Make(frame),
            SuiteCommands.Make(frame),
            AddressCommands.Make(frame),
            .. RecordCommands.Make(frame).Where(c => c.Name != "copy"),
            PersonCommands.Make(frame),
            AccessCommands.Make(frame),
            BackupCommand.Make(frame),
            SearchCommand.Make(frame),
            SavedFilterCommands.Make(frame),
            HistoryCommands.Make(frame),
        ];
        foreach (var thing in things)
            root.Add(thing);
        foreach (
            var (name, plural, kind) in new[]
            {
                ("tunnel", "tunnels", "tunnel"),
                ("gateway", "gateways", "gateway"),
                ("customer", "customers", "customer"),
                ("platform", "platforms", "platform profile"),
                ("suite", "suites", "suite"),
            }
        )
        foreach (var verb in RecordCommands.Verbs(frame, plural, kind, history: name != "tunnel"))
            root.Subcommands.Single(c => c.Name == name).Add(verb);
        root.Subcommands.Single(c => c.Name == "site").Add(SiteCommands.Show(frame));
        root.Subcommands.Single(c => c.Name == "tunnel").Add(RecordCommands.Make(frame).Single(c => c.Name == "copy"));
        root.Add(KeyCommands.Make(frame));
        root.Add(CalcCommands.Make(frame));
        root.Add(GlossaryCommand.Make(frame));
        root.Add(CompletionCommand.Make(frame));
        foreach (var thing in ImportCommands.Make(frame).Append(ChangeCommands.Make(frame)))
            root.Add(thing);

        return root;
    }
}

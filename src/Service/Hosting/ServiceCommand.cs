using System.CommandLine;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// What the service was started to do: to serve, or one of the acts on the machine itself. File and name where the act
/// takes one.
/// </summary>
public sealed record Started(string What, string? Argument, IReadOnlyDictionary<string, string?> Settings);

/// <summary>The service's own command line. What cannot be read is told in one line, and nothing starts.</summary>
public static class ServiceCommand
{
    public const string Serve = "serve";

    private static readonly (string Option, string Setting, string About)[] Options =
    [
        ("--urls", "urls", "where to listen, such as http://127.0.0.1:5080"),
        ("--data", "Vellumkeep:Data", "the folder of the SQLite database (data)"),
        ("--postgres", "Vellumkeep:Postgres", "a PostgreSQL connection string, instead of SQLite"),
        (
            "--key-folder",
            "Vellumkeep:KeyFolder",
            "the folder of the keys that secrets at rest are encrypted with (DATA-keys)"
        ),
        ("--house", "Vellumkeep:House", "the code of the customer record that is your own company"),
        ("--review-within-hours", "Vellumkeep:ReviewWithinHours", "within how many hours urgent work is reviewed (24)"),
        ("--largest-import", "Vellumkeep:LargestImport", "the most records of one import (200,000)"),
        (
            "--trusted-proxies",
            "Vellumkeep:TrustedProxies",
            "addresses or prefixes of the proxies in front, with commas between (none)"
        ),
        ("--demo", "Vellumkeep:Demo", "a folder with the demo scenario, for an empty database"),
        ("--clock", "Vellumkeep:Clock", "a fixed time for the clock of the demo"),
    ];

    private static readonly (string Name, string? Argument, string About)[] Acts =
    [
        ("backup", "FILE", "write the whole database to a file"),
        ("restore", "FILE", "restore a backup into an empty database"),
        ("add-lead", "NAME", "add a lead; the password comes on standard input"),
        ("unlock", "NAME", "unlock a name after failed sign-ins"),
        ("re-encrypt", null, "make a new key and encrypt every secret with it"),
        (
            "give-up",
            "KEY",
            "give up what is encrypted with a key that is lost for good; the reason comes on standard input"
        ),
        ("schema", null, "print the JSON Schema of the keepfile"),
        ("glossary", null, "print the glossary as Markdown"),
        ("openapi", null, "print the description of the HTTP interface"),
    ];

    /// <summary>
    /// What was asked for; or null and the status to end with, when that was help, the version, or something that
    /// cannot be.
    /// </summary>
    public static (Started? Started, int Status) Read(string[] args)
    {
        var options = Options
            .Select(o =>
                (
                    o.Setting,
                    Option: new Option<string?>(o.Option)
                    {
                        Description = o.About,
                        Recursive = true,
                        Arity = ArgumentArity.ExactlyOne,
                    }
                )
            )
            .ToArray();
        var root = new RootCommand(
            "Vellumkeep's service: the HTTP interface and the console. Without a command it runs."
        );
        foreach (var (_, option) in options)
            root.Add(option);
        Started? started = null;
        Started Of(ParseResult parsed, string what, string? argument) =>
            new(
                what,
                argument,
                options
                    .Select(o => (o.Setting, Value: parsed.GetValue(o.Option)))
                    .Where(o => o.Value is not null)
                    .ToDictionary(o => o.Setting, o => o.Value)
            );
        root.SetAction(parsed =>
        {
            started = Of(parsed, Serve, null);
        });
        foreach (var (name, takes, about) in Acts)
        {
            var command = new Command(name, about);
            var argument = takes is null ? null : new Argument<string>(takes);
            if (argument is not null)
                command.Add(argument);
            command.SetAction(parsed =>
            {
                started = Of(parsed, name, argument is null ? null : parsed.GetValue(argument));
            });
            root.Add(command);
        }

        var parsed = root.Parse(args);
        if (parsed.Errors.Count > 0)
        {
            Refuse(Misused(parsed));
            return (null, 2);
        }

        var status = parsed.Invoke();
        return (started, status);
    }

    /// <summary>What is wrong with the line, and what there is instead.</summary>
    private static string Misused(ParseResult parsed) =>
        parsed.UnmatchedTokens.FirstOrDefault() switch
        {
            null => $"{parsed.Errors[0].Message.TrimEnd('.')}. Expected: what --help lists.",
            ['-', ..] and var option =>
                $"The service has no option '{option}'. Expected: {string.Join(", ", Options.Select(o => o.Option))}.",
            var word =>
                $"The service has no command '{word}'. Expected: {string.Join(", ", Acts.Select(a => a.Name))}.",
        };

    /// <summary>A start that cannot be: one line, and no more.</summary>
    public static void Refuse(string what)
    {
        var line = what.ReplaceLineEndings(" ");
        Console.Error.WriteLine(line);
        // Whoever keeps the log elsewhere is told on the screen as well.
        if (Console.IsErrorRedirected && !Console.IsOutputRedirected)
            Console.Out.WriteLine(line);
    }
}

using System.CommandLine;
using System.Text.Json;
using Vellumkeep.Client;

namespace Vellumkeep.Cli.Terminal;

/// <summary>What every command is made with: the screen, the one --json option, and the two kinds of verb.</summary>
internal sealed class Frame(Surroundings around)
{
    private static readonly JsonSerializerOptions Written = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public Surroundings Around { get; } = around;

    public Screen Screen { get; } = new(around);

    /// <summary>Who is signed in here, and where the service is.</summary>
    public Session Session { get; } = new(around);

    public Option<bool> Json { get; } = new("--json") { Description = "the same facts for programs", Recursive = true };

    /// <summary>A keepfile to work on alone, without a service.</summary>
    public Option<string?> File { get; } =
        new("--file") { Description = "a keepfile; use it alone, without a service" };

    /// <summary>A sheet to write instead of showing the list.</summary>
    public Option<string?> Output { get; } =
        new("--output") { Description = "write the list to a sheet instead: a file ending in .csv or .xlsx" };

    public static Argument<string> Name(string of) =>
        new("name") { Description = $"code of the {of}; a unique beginning is enough" };

    public static Option<string?> Text(string name, string about) => new(name) { Description = about };

    /// <summary>The exit status of what was looked at: 1 when any of it blocks.</summary>
    public static int Blocks(IEnumerable<string> severities) => severities.Contains("blocks") ? 1 : 0;

    /// <summary>
    /// The exit status of tunnels that were looked at: 1 when one is blocked, 7 when nobody can tell of one yet whether it
    /// comes up. The service says which; no command has a rule of its own.
    /// </summary>
    public static int Stands(IEnumerable<string> standings) =>
        standings.ToHashSet() is var all && all.Contains("blocked") ? 1
        : all.Contains("undetermined") ? 7
        : 0;

    public void Shows<T>(ParseResult p, T value, Action print)
    {
        if (p.GetValue(Json))
            Screen.Line(JsonSerializer.Serialize(value, Written));
        else
        {
            print();
            // A list with nothing in it says so.
            if (value is System.Collections.ICollection { Count: 0 } && Screen.IsBlank)
                Screen.Line("There is none.");
        }
    }

    public static Command Thing(string name, string about, params Command[] verbs)
    {
        var c = new Command(name, about);
        foreach (var v in verbs)
            c.Add(v);
        return c;
    }

    /// <summary>A verb that asks the service.</summary>
    public Command Verb(
        string name,
        string about,
        Func<ParseResult, KeepClient, CancellationToken, Task<int>> run,
        params Symbol[] takes
    ) =>
        Alone(
            name,
            about,
            async (p, ct) =>
            {
                using var client = Session.Open();
                return await run(p, client, ct);
            },
            takes
        );

    /// <summary>A list that can be written to a sheet, narrowed by what was asked.</summary>
    public Command List(
        string name,
        string about,
        string list,
        Func<ParseResult, (string Key, string? Value)[]> narrowed,
        Func<ParseResult, KeepClient, CancellationToken, Task<int>> run,
        params Symbol[] takes
    ) => List(name, about, list, (p, _, _) => Task.FromResult(narrowed(p)), run, takes);

    /// <summary>A verb that shows a list, or with --output writes it to a sheet.</summary>
    public Command List(
        string name,
        string about,
        string list,
        Func<ParseResult, KeepClient, CancellationToken, Task<(string Key, string? Value)[]>> narrowed,
        Func<ParseResult, KeepClient, CancellationToken, Task<int>> run,
        params Symbol[] takes
    ) =>
        Verb(
            name,
            about,
            async (p, client, ct) =>
            {
                if (p.GetValue(Output) is not { } file)
                    return await run(p, client, ct);
                await WriteListAsync(client, list, file, await narrowed(p, client, ct), ct);
                return 0;
            },
            [.. takes, Output]
        );

    /// <summary>A list that is not narrowed: its rows as a table.</summary>
    public Command List<T>(
        string about,
        string list,
        Func<KeepClient, CancellationToken, Task<IReadOnlyList<T>>> ask,
        string[] headings,
        Func<T, string[]> row
    ) =>
        List(
            "list",
            about,
            list,
            _ => [],
            async (p, client, ct) =>
            {
                var rows = await ask(client, ct);
                Shows(p, rows, () => Screen.Table(headings, rows.Select(row)));
                return 0;
            }
        );

    /// <summary>Writes a drawing to a file.</summary>
    public async Task<int> DrawAsync(string svg, string file, CancellationToken ct)
    {
        await System.IO.File.WriteAllTextAsync(Around.Written(file), svg, ct);
        Screen.Line($"Written: {file}");
        return 0;
    }

    /// <summary>Writes a list to a sheet, in the form that the file is named for.</summary>
    public async Task WriteListAsync(
        KeepClient client,
        string list,
        string file,
        (string Key, string? Value)[] narrowed,
        CancellationToken ct
    )
    {
        var form = Path.GetExtension(file).TrimStart('.').ToLowerInvariant();
        if (form is not ("csv" or "xlsx"))
            throw new Refusal(
                2,
                $"'{file}' ends in neither .csv nor .xlsx. Expected: --output {Path.GetFileNameWithoutExtension(file)}.csv"
            );
        await System.IO.File.WriteAllBytesAsync(
            Around.Written(file),
            await client.ListAsync(list, form, narrowed, ct),
            ct
        );
        Screen.Line($"Written: {file}");
    }

    /// <summary>A verb that needs no service.</summary>
    public static Command Alone(
        string name,
        string about,
        Func<ParseResult, CancellationToken, Task<int>> run,
        params Symbol[] takes
    )
    {
        var c = new Command(name, about);
        foreach (var t in takes)
            if (t is Option o)
                c.Add(o);
            else
                c.Add((Argument)t);
        c.SetAction(run);
        return c;
    }

    /// <summary>
    /// A verb that reads facts from the service, or from a keepfile alone when one is given with --file.
    /// </summary>
    public Command Reads(
        string name,
        string about,
        Func<ParseResult, IFacts, CancellationToken, Task<int>> run,
        params Symbol[] takes
    ) =>
        Alone(
            name,
            about,
            async (p, ct) =>
            {
                using IFacts facts = p.GetValue(File) is { } file
                    ? FileFacts.Read(file, Around.In)
                    : new ServiceFacts(Session.Open());
                return await run(p, facts, ct);
            },
            [.. takes, File]
        );
}

using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Keepfiles and sheets in, keepfiles out.</summary>
internal static class ImportCommands
{
    public static IReadOnlyList<Command> Make(Frame frame) => [Import(frame), Export(frame)];

    private static Command Import(Frame frame)
    {
        var screen = frame.Screen;
        var file = new Argument<string>("file")
        {
            Description = "a keepfile, or a sheet (.xlsx, .csv); - for a keepfile on standard input",
        };
        var dry = new Option<bool>("--dry-run") { Description = "show what would be new and altered" };
        var reason = Text("--reason", "why, if it alters a tunnel in service");
        var column = new Option<string[]>("--column")
        {
            Description =
                "of a sheet: heading=field where a column was matched wrongly, such as 'WAN=a.outer'; can be repeated",
        };
        var ofCustomer = Text("--customer", "of a sheet: the customer, if no column has it");
        var leave = new Option<bool>("--leave-out")
        {
            Description = "of a sheet: leave out the rows that cannot be read",
        };
        return frame.Verb(
            "import",
            "import a keepfile, all or nothing; or a sheet, whole rows or none",
            async (p, c, ct) =>
            {
                var path = p.GetValue(file)!;
                if (path != "-" && !File.Exists(path))
                    throw new Refusal(3, $"There is no file {path}.");
                if (path != "-" && new FileInfo(path).Length > 64 * 1024 * 1024)
                    throw new Refusal(
                        2,
                        $"{path} is larger than 64 MB. Expected: several files, one for each group of customers."
                    );
                if (Path.GetExtension(path).ToLowerInvariant() is ".xlsx" or ".csv" or ".tsv")
                {
                    var sheet = await c.ImportSheetAsync(
                        Path.GetFileName(path),
                        await File.ReadAllBytesAsync(path, ct),
                        p.GetValue(column) ?? [],
                        p.GetValue(ofCustomer),
                        p.GetValue(leave),
                        p.GetValue(dry),
                        ct,
                        Progress(frame.Around)
                    );
                    frame.Shows(p, sheet, () => Printing.Sheet(screen, sheet));
                    return
                        sheet.Problems.Count > 0
                        || sheet.Outcome?.FindingsAdded.Any(f => f.Severity == "blocks") == true
                        ? 1
                        : 0;
                }

                var o = await c.ImportAsync(
                    path == "-" ? await frame.Around.In.ReadToEndAsync(ct) : await File.ReadAllTextAsync(path, ct),
                    p.GetValue(dry),
                    p.GetValue(reason),
                    ct,
                    Progress(frame.Around)
                );
                frame.Shows(p, o, () => Printing.Import(screen, o));
                return Blocks(o.FindingsAdded.Select(f => f.Severity));
            },
            file,
            dry,
            reason,
            column,
            ofCustomer,
            leave
        );
    }

    private static Command Export(Frame frame)
    {
        var customer = Text("--customer", "code; everything when left out");
        var output = Text("--output", "file to write");
        return frame.Verb(
            "export",
            "a keepfile of everything, or of one customer",
            async (p, c, ct) =>
            {
                var text = await c.ExportAsync(p.GetValue(customer), ct);
                if (p.GetValue(output) is { } to)
                    await PrivateFile.WriteAsync(to, text, ct);
                else
                    frame.Screen.Write(text);
                return 0;
            },
            customer,
            output
        );
    }

    // Long work is told on a terminal, on a line of its own that goes when the work is done.
    private static Action<string, int, int>? Progress(Surroundings around) =>
        around.ErrorRedirected && around.Variable("VELLUMKEEP_FORCE_TERMINAL") is null
            ? null
            : (doing, done, of) =>
                around.Error.Write(
                    of == 0 || done == of ? $"\r{new string(' ', 60)}\r" : $"\r{done:N0} of {of:N0} {doing} …   "
                );
}

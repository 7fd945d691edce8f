using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Core.Parsing;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

internal sealed partial class DraftCommands
{
    /// <summary>With what every kind takes.</summary>
    private DraftChange Whole(ParseResult p, DraftChange asked) =>
        asked with
        {
            Title = p.GetValue(title),
            Reason = p.GetValue(why)!,
            WindowStart = p.GetValue(start),
            WindowMinutes = p.GetValue(minutes),
            WindowWhyShort = p.GetValue(whyShort),
        };

    private static string[]? Some(ParseResult p, Option<string[]> option) =>
        p.GetValue(option) is { Length: > 0 } list ? list : null;

    private static FreeStepGiven FreeStep(string text) =>
        text.Split(' ', 3, StringSplitOptions.RemoveEmptyEntries) is [var part, var where, var what]
            ? new(part, where, what, null, null, null)
            : throw new Refusal(
                2,
                $"'{Typed.Short(text)}' is not a step. Expected: part, where and what, such as: "
                    + $"build B Fit the spare power supply"
            );

    private Command Draft(string verb, string about, Func<ParseResult, DraftChange> given, params Symbol[] takes) =>
        Drafted(verb, about, (p, _, _) => Task.FromResult(given(p)), takes);

    private Command Drafted(
        string verb,
        string about,
        Func<ParseResult, KeepClient, CancellationToken, Task<DraftChange>> given,
        params Symbol[] takes
    ) =>
        frame.Verb(
            verb,
            about,
            async (p, c, ct) =>
            {
                var asked = Whole(p, await given(p, c, ct));
                var made = p.GetValue(dryRun) ? await c.LookAsync(asked, ct) : await c.DraftAsync(asked, ct);
                frame.Shows(p, made, () =>
                {
                    Printing.Change(screen, made);
                    if (p.GetValue(dryRun))
                        screen.Line("\nDry run: nothing was kept.");
                });
                return Blocks(made.FindingsAdded.Select(f => f.Severity));
            },
            [.. takes, why, title, start, minutes, whyShort, dryRun]
        );
}

using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Changes: reviewed, worked, recorded.</summary>
internal sealed partial class ChangeCommands(Frame frame)
{
    private readonly Screen screen = frame.Screen;
    private readonly Argument<string> name = Name("change");
    private readonly Option<string?> remarkOn = Text("--on-value", "the label of the value of the step");
    private readonly Argument<int> number = new Argument<int>("number") { Description = "number of the pending value" };
    private readonly Argument<string> value = new Argument<string>("value") { Description = "the value" };
    private readonly Option<string> reviewer = new Option<string>("--reviewer")
    {
        Description = "sign-in name of the second person: somebody who may approve the change",
        Required = true,
    };
    private readonly Option<string> because = new Option<string>("--reason")
    {
        Description = "why it cannot wait",
        Required = true,
    };
    private readonly Option<string?> output = Text("--output", "a file to write it to");
    private readonly Option<string?> wall = Text(
        "--local-start",
        "start in the local time of an end's site, such as 2026-11-27T21:00"
    );
    private readonly Option<string?> wallOf = Text(
        "--at-end",
        "the end whose local time it is: A (when left out) or B"
    );
    private readonly Option<string?> proof = Text("--proof", "proof: a line, or @file with the device's output");
    private readonly Option<string?> proofFile = Text(
        "--proof-file",
        "a file stored with the record: a screen shot, a saved configuration; at most 4 MiB"
    );
    private readonly Option<DateTimeOffset?> start = new Option<DateTimeOffset?>("--start")
    {
        Description = "start of the window, such as 2026-11-26T22:00Z",
    };
    private readonly Option<int?> minutes = new Option<int?>("--minutes") { Description = "length of the window" };
    private readonly Option<string?> state = Text("--state", "open, or a state");
    private readonly Option<string?> whyShort = Text(
        "--why-short",
        "why the window is long enough although the planned work takes longer"
    );
    private readonly Option<string?> remark = Text("--remark", "a remark");
    private readonly Option<int?> stepNumber = new Option<int?>("--on-step")
    {
        Description = "the step a remark is on",
    };
    private readonly Option<bool> approve = new Option<bool>("--approve") { Description = "approve it as planned" };
    private readonly Option<bool> back = new Option<bool>("--return")
    {
        Description = "return it to its author; --remark says what to change",
    };
    private readonly Argument<int[]> steps = new Argument<int[]>("steps")
    {
        Description = "number of the step, or of several that are alike",
        Arity = ArgumentArity.OneOrMore,
    };
    private readonly Option<string?> withoutProof = Text(
        "--without-proof",
        "why a proving step is done without proof; the record and the closing say it"
    );
    private readonly Option<bool> done = new Option<bool>("--done") { Description = "it was done" };
    private readonly Option<bool> failed = new Option<bool>("--failed")
    {
        Description = "it was tried and failed; --remark says what happened",
    };
    private readonly Option<bool> skip = new Option<bool>("--skip")
    {
        Description = "it is skipped; --reason says why",
    };
    private readonly Option<string?> set = Text("--set-to", "the value that was set instead of the planned one");
    private readonly Option<string?> reason = Text("--reason", "why");
    private readonly Option<string?> planned = Text(
        "--planned",
        "the planned value that it replaces, if the step has several"
    );

    public static Command Make(Frame frame) => new ChangeCommands(frame).Make();

    private Command Make() =>
        Thing(
            "change",
            "changes: drafted, reviewed, worked, recorded",
            List(),
            DraftCommands.Make(frame),
            Show(),
            Act("submit", "send it for review"),
            Review(),
            Begin(),
            Step(),
            TakeBack(),
            Act("take-in", "take corrections that were made meanwhile into it"),
            Act("close", "close it: the records become as built"),
            Act("back-out", "back out: the records are not changed"),
            Act("recompute", "make the plan again after records behind it have changed"),
            Fill(),
            Window(),
            ConfirmWindow(),
            Urgent(),
            ConfirmUrgent(),
            Remark(),
            PlayIt(),
            Written("record", "the record as Markdown, to standard output or a file", "record"),
            Written("calendar", "the window as iCalendar, to standard output or a file", "window.ics"),
            Act("review-after", "review urgent work afterwards"),
            Act("drop", "drop it")
        );

    private Command List() =>
        frame.Verb(
            "list",
            "changes, newest first",
            async (p, c, ct) =>
            {
                var list = await c.ChangesAsync(p.GetValue(state), null, ct);
                frame.Shows(p, list, () => Printing.Changes(screen, list));
                return 0;
            },
            state
        );

    private Command Show() =>
        frame.Verb(
            "show",
            "the work order and run sheet",
            async (p, c, ct) =>
            {
                var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                frame.Shows(p, change, () => Printing.Change(screen, change));
                return 0;
            },
            name
        );

    private Command PlayIt() =>
        frame.Verb(
            "play",
            "what each tunnel carries while the plan is worked, step by step",
            async (p, c, ct) =>
            {
                var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                frame.Shows(p, change.Play, () => PlayPrinting.Play(screen, change));
                return 0;
            },
            name
        );

    private Command Window() =>
        frame.Verb(
            "window",
            "set the window, or clear it: no --start; approval lapses until a reviewer confirms the new window",
            async (p, c, ct) =>
            {
                var after = await c.WindowAsync(
                    (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                    new(p.GetValue(start), p.GetValue(minutes))
                    {
                        LocalStart = p.GetValue(wall),
                        End = p.GetValue(wallOf),
                        WhyShort = p.GetValue(whyShort),
                        Reason = p.GetValue(reason),
                    },
                    ct
                );
                frame.Shows(p, after, () =>
                {
                    screen.Line(
                        after.WindowAtA is null
                            ? $"{after.Code} has no window."
                            : $"{after.Code}: "
                                + $"{after.WindowAtA}{(after.WindowAtB != after.WindowAtA ? $"; at B {after.WindowAtB}" : "")}."
                    );
                    screen.Verdict(after.Verdict);
                    Printing.PlanFindings(screen, after);
                });
                return 0;
            },
            name,
            start,
            wall,
            wallOf,
            minutes,
            whyShort,
            reason
        );

    private Command Begin() =>
        frame.Verb(
            "begin",
            "begin the work; outside its window with --reason",
            async (p, c, ct) =>
            {
                var code = (await c.ChangeAsync(p.GetValue(name)!, ct)).Code;
                var after = await c.ActAsync(code, "begin", new(p.GetValue(reason), null), null, ct);
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            reason
        );

    private Command ConfirmWindow() =>
        frame.Verb(
            "confirm-window",
            "approve the window alone, where nothing else changed since approval",
            async (p, c, ct) =>
            {
                var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                var after = await c.ActAsync(change.Code, "confirm-window", new(null, null), change.Version, ct);
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name
        );

    private Command Act(string verb, string about, Func<ChangePage, ParseResult, string>? said = null) =>
        frame.Verb(
            verb,
            about,
            async (p, c, ct) =>
            {
                var after = await c.ActAsync(
                    (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                    verb,
                    new(p.GetValue(remark), null),
                    null,
                    ct
                );
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            remark
        );
}

using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using Vellumkeep.Core.Parsing;

namespace Vellumkeep.Cli.Commands;

/// <summary>The verbs that every kind of record has: form, add, edit, retire, history, versions.</summary>
internal sealed class RecordVerbs(Frame f, string plural, string kind)
{
    private readonly Screen s = f.Screen;
    private readonly Argument<string> name = Frame.Name(kind);
    private readonly Argument<string> code = new Argument<string>("code") { Description = $"code of the new {kind}" };
    private readonly Option<string[]> set = new Option<string[]>("--set")
    {
        Description =
            "a value by its path, such as: --set 'name=Cold hall'; an empty value removes it; can be repeated",
    };
    private readonly Option<string?> from = Frame.Text(
        "--form",
        "a file with the record in keepfile text, as the verb form prints it; - for standard input"
    );
    private readonly Option<string?> reason = Frame.Text("--reason", "why, if it alters how a tunnel works");
    private readonly Option<string> why = new Option<string>("--reason") { Description = "why", Required = true };
    private readonly Option<bool> dry = new Option<bool>("--dry-run")
    {
        Description = "show what it would do, with findings added and removed",
    };
    private readonly Option<string?> on = Frame.Text("--as-of", "a day, such as 2026-11-03: as it was recorded then");
    private readonly Option<int[]> between = new Option<int[]>("--between")
    {
        Description = "two version numbers: what differs between them",
        Arity = new ArgumentArity(2, 2),
        AllowMultipleArgumentsPerToken = true,
    };

    public Command[] Make(bool history) => [Form(), Add(), Edit(), Retire(), .. history ? new[] { History() } : []];

    private Command Form() =>
        f.Verb(
            "form",
            $"the {kind} in keepfile text, to edit and give back with edit --form",
            async (p, c, ct) =>
            {
                var form = await c.FormAsync(plural, p.GetValue(name)!, p.GetValue(on), ct);
                f.Shows(p, form, () => f.Screen.Write(form.Text));
                return 0;
            },
            name,
            on
        );

    private Command Add() =>
        f.Verb(
            "add",
            $"add a {kind}; values that follow from other records can be left out",
            async (p, c, ct) =>
            {
                var made = await c.AddAsync(plural, await GivenAsync(p, p.GetValue(code), ct), p.GetValue(dry), ct);
                f.Shows(p, made, () => RecordCommands.Written(s, made));
                return Blocks(made);
            },
            code,
            set,
            from,
            reason,
            dry
        );

    private Command Edit() =>
        f.Verb(
            "edit",
            $"edit a {kind}; what alters how tunnels work needs a reason",
            async (p, c, ct) =>
            {
                var now = await c.FormAsync(plural, p.GetValue(name)!, null, ct);
                var made = await c.WriteAsync(
                    plural,
                    now.Code,
                    now.Version,
                    await GivenAsync(p, null, ct),
                    p.GetValue(dry),
                    ct
                );
                f.Shows(p, made, () => RecordCommands.Written(s, made));
                return Blocks(made);
            },
            name,
            set,
            from,
            reason,
            dry
        );

    private Command Retire() =>
        f.Verb(
            kind == "person" ? "leave" : "retire",
            kind == "person" ? "a person has left: they can no longer sign in" : $"retire a {kind}",
            async (p, c, ct) =>
            {
                var now = await c.FormAsync(plural, p.GetValue(name)!, null, ct);
                var made = await c.RetireAsync(plural, now.Code, now.Version, p.GetValue(why)!, p.GetValue(dry), ct);
                f.Shows(p, made, () => RecordCommands.Written(s, made));
                return Blocks(made);
            },
            name,
            why,
            dry
        );

    private Command History() =>
        f.Verb(
            "history",
            "who changed what, when; or what differs between two versions",
            async (p, c, ct) =>
            {
                if (p.GetValue(between) is [var x, var y])
                {
                    var v = await c.VersionsAsync(plural, p.GetValue(name)!, x, y, ct);
                    f.Shows(p, v, () =>
                    {
                        s.Line(
                            $"{s.In("strong", v.Code)}  version {v.From} of {v.FromAt:yyyy-MM-dd HH:mm} and "
                                + $"{v.To} of {v.ToAt:yyyy-MM-dd HH:mm}"
                        );
                        RecordCommands.Differences(s, v.Differences);
                    });
                    return 0;
                }

                var h = await c.HistoryAsync(plural, p.GetValue(name)!, ct);
                f.Shows(p, h, () => Printing.History(s, h));
                return 0;
            },
            name,
            between
        );

    private async Task<WriteRecord> GivenAsync(ParseResult p, string? newCode, CancellationToken ct)
    {
        var path = p.GetValue(from);
        if (path is not (null or "-") && !File.Exists(path))
            throw new Refusal(3, $"There is no file {path}.");
        var text =
            path is null ? null
            : path == "-" ? await f.Around.In.ReadToEndAsync(ct)
            : await File.ReadAllTextAsync(path, ct);
        var sets = (p.GetValue(set) ?? []).Select(Pair).ToList();
        if (newCode is not null && text is null)
            sets.InsertRange(
                0,
                kind is "suite" or "platform profile" && newCode.Split('@') is [var plain, var version]
                    ? [new("code", plain), new("version", version)]
                    : [new SetValue("code", newCode)]
            );
        return text is null && sets.Count == 0
            ? throw new Refusal(2, "Nothing to change is given. Expected: --set 'name=...', or --form FILE")
            : new(null, text, sets, p.GetValue(reason));
    }

    private static int Blocks(RecordWritten w) => w.FindingsAdded.Any(x => x.Severity == "blocks") ? 1 : 0;

    private static SetValue Pair(string text)
    {
        var cut = text.IndexOf('=');
        return cut > 0
            ? new(text[..cut].Trim(), text[(cut + 1)..].Trim() is { Length: > 0 } value ? value : null)
            : throw new Refusal(
                2,
                $"'{Typed.Short(text)}' is not a path with a value. Expected: --set 'name=Cold hall'"
            );
    }
}

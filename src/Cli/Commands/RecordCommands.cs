using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using Vellumkeep.Core.Parsing;

namespace Vellumkeep.Cli.Commands;

/// <summary>The verbs that every kind of record has: form, add, edit, retire, history, versions.</summary>
internal static class RecordCommands
{
    public static Command[] Verbs(Frame f, string plural, string kind, bool history = true)
    {
        var s = f.Screen;
        var name = Frame.Name(kind);
        var code = new Argument<string>("code") { Description = $"code of the new {kind}" };
        var set = new Option<string[]>("--set")
        {
            Description =
                "a value by its path, such as: --set 'name=Cold hall'; an empty value removes it; can be repeated",
        };
        var from = Frame.Text(
            "--form",
            "a file with the record in keepfile text, as the verb form prints it; - for standard input"
        );
        var reason = Frame.Text("--reason", "why, if it alters how a tunnel works");
        var why = new Option<string>("--reason") { Description = "why", Required = true };
        var dry = new Option<bool>("--dry-run")
        {
            Description = "show what it would do, with findings added and removed",
        };
        var on = Frame.Text("--as-of", "a day, such as 2026-11-03: as it was recorded then");
        var between = new Option<int[]>("--between")
        {
            Description = "two version numbers: what differs between them",
            Arity = new ArgumentArity(2, 2),
            AllowMultipleArgumentsPerToken = true,
        };

        async Task<WriteRecord> Given(ParseResult p, string? newCode, CancellationToken ct)
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

        var verbs = new List<Command>
        {
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
            ),
            f.Verb(
                "add",
                $"add a {kind}; values that follow from other records can be left out",
                async (p, c, ct) =>
                {
                    var made = await c.AddAsync(plural, await Given(p, p.GetValue(code), ct), p.GetValue(dry), ct);
                    f.Shows(p, made, () => Written(s, made));
                    return Blocks(made);
                },
                code,
                set,
                from,
                reason,
                dry
            ),
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
                        await Given(p, null, ct),
                        p.GetValue(dry),
                        ct
                    );
                    f.Shows(p, made, () => Written(s, made));
                    return Blocks(made);
                },
                name,
                set,
                from,
                reason,
                dry
            ),
            f.Verb(
                kind == "person" ? "leave" : "retire",
                kind == "person" ? "a person has left: they can no longer sign in" : $"retire a {kind}",
                async (p, c, ct) =>
                {
                    var now = await c.FormAsync(plural, p.GetValue(name)!, null, ct);
                    var made = await c.RetireAsync(
                        plural,
                        now.Code,
                        now.Version,
                        p.GetValue(why)!,
                        p.GetValue(dry),
                        ct
                    );
                    f.Shows(p, made, () => Written(s, made));
                    return Blocks(made);
                },
                name,
                why,
                dry
            ),
        };
        if (history)
            verbs.Add(
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
                                Differences(s, v.Differences);
                            });
                            return 0;
                        }

                        var h = await c.HistoryAsync(plural, p.GetValue(name)!, ct);
                        f.Shows(p, h, () => Printing.History(s, h));
                        return 0;
                    },
                    name,
                    between
                )
            );
        return [.. verbs];
    }

    /// <summary>The kinds that have no page of their own on the command line beyond their form.</summary>
    public static IEnumerable<Command> Make(Frame f)
    {
        var s = f.Screen;
        foreach (
            var (plural, kind, about) in new[]
            {
                ("sites", "site", "sites, their networks and test points"),
                ("offers", "offer", "standing offers: what another party asks of everyone"),
            }
        )
        {
            var customer = Frame.Text("--customer", "code");
            var on = Frame.Text("--as-of", "a day: as they were recorded then");
            yield return Frame.Thing(
                kind,
                about,
                [
                    f.List(
                        "list",
                        $"{plural} by code",
                        $"records/{plural}",
                        p => [("customer", p.GetValue(customer)), ("on", p.GetValue(on))],
                        async (p, c, ct) =>
                        {
                            var list = await c.RecordsAsync(plural, p.GetValue(customer), p.GetValue(on), ct);
                            f.Shows(p, list, () =>
                                s.Table(
                                    [kind, "state", "name"],
                                    list.Select(r =>
                                        (IReadOnlyList<string>)[s.In("strong", r.Code), r.State ?? "", r.Name]
                                    )
                                )
                            );
                            return 0;
                        },
                        customer,
                        on
                    ),
                    .. Verbs(f, plural, kind == "offer" ? "standing offer" : kind),
                ]
            );
        }

        var (source, target) = (
            Frame.Name("tunnel"),
            new Argument<string>("new-code") { Description = "code of the new tunnel" }
        );
        yield return f.Verb(
            "copy",
            "a copy of a tunnel in keepfile text, for: tunnel add CODE --form -",
            async (p, c, ct) =>
            {
                var form = await c.CopyAsync(p.GetValue(source)!, p.GetValue(target)!, ct);
                f.Shows(p, form, () => f.Screen.Write(form.Text));
                return 0;
            },
            source,
            target
        );
    }

    public static void Written(Screen s, RecordWritten w)
    {
        s.Line(
            $"{s.In("strong", w.Code)} "
                + $"{(w.As == "nothing" ? "is so already" : w.DryRun ? $"would be {w.As}" : $"{w.As}, version {w.Version}")}."
        );
        foreach (var d in w.Derived)
            s.Line($"  {d.Path}  {d.Value}  {s.In("soft", $"from {d.From}")}");
        Differences(s, w.Differences);
        if (w.DryRun && w.Altered.Count > 0)
            s.Wrapped(
                $"{string.Join(", ", w.Altered)} alter{(w.Altered.Count == 1 ? "s" : "")} how tunnels work. Add --reason.",
                0,
                "weak"
            );
        Printing.FindingChanges(s, w.DryRun, w.FindingsAdded, w.FindingsRemoved);
    }

    private static void Differences(Screen s, IReadOnlyList<Difference> differences)
    {
        foreach (var d in differences)
            s.Wrapped($"{d.Path}: {d.Before ?? "nothing"} → {d.After ?? "nothing"}", 2);
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

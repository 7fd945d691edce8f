using System.CommandLine;
using System.Net;
using System.Text.Json;
using Vellumkeep.Cli;
using Vellumkeep.Cli.Commands;
using Vellumkeep.Client;
using Vellumkeep.Contract;

var screen = new Screen();
var frame = new Frame(screen);
var json = frame.Json;
var root = new RootCommand(
    "Both ends of site-to-site IPsec tunnels: kept, compared, rehearsed, and changed with a plan."
)
{
    json,
};

Argument<string> Name(string of) => Frame.Name(of);
Option<string?> Text(string name, string about) => Frame.Text(name, about);
void Shows<T>(ParseResult p, T value, Action print) => frame.Shows(p, value, print);
Command Thing(string name, string about, params Command[] verbs) => Frame.Thing(name, about, verbs);
Command Verb(
    string name,
    string about,
    Func<ParseResult, KeepClient, CancellationToken, Task<int>> run,
    params Symbol[] takes
) => Frame.Verb(name, about, run, takes);

// Long work is told on a terminal, on a line of its own that goes when the work is done.
static Action<string, int, int>? Progress() =>
    Console.IsErrorRedirected && Environment.GetEnvironmentVariable("VELLUMKEEP_FORCE_TERMINAL") is null
        ? null
        : (doing, done, of) =>
            Console.Error.Write(
                of == 0 || done == of ? $"\r{new string(' ', 60)}\r" : $"\r{done:N0} of {of:N0} {doing} …   "
            );
static int Blocks(IEnumerable<FindingPage> findings) => findings.Any(f => f.Severity == "blocks") ? 1 : 0;

// sign-in
{
    var url = new Option<string>("--url")
    {
        Description = "address of the service",
        DefaultValueFactory = _ => Environment.GetEnvironmentVariable("VELLUMKEEP_URL") ?? "http://127.0.0.1:5080",
    };
    var name = Text("--name", "sign-in name");
    var signIn = new Command("sign-in", "sign in once; the password is read from a prompt or from standard input")
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
                if (Console.IsInputRedirected)
                    throw new Refusal(2, "No name is given. Next: vellumkeep sign-in --name ines");
                Console.Error.Write("Name: ");
                who = Console.ReadLine() ?? "";
            }

            using var client = new KeepClient(Session.Address(p.GetValue(url)!), null);
            var made = await client.TokenByPasswordAsync(
                new(who, Session.Password("Password: "), $"command line on {Environment.MachineName}", 30),
                ct
            );
            Session.Keep(p.GetValue(url)!, made.Token, who);
            screen.Line($"Signed in as {who} until {made.ExpiresAt:yyyy-MM-dd}.");
            return 0;
        }
    );
    root.Add(signIn);
    var signOut = new Command("sign-out", "forget the token kept here");
    signOut.SetAction(_ =>
    {
        Session.End();
        screen.Line("Signed out here.");
        return 0;
    });
    root.Add(signOut);
}

root.Add(Verb("today", "what waits: reviews, windows, work under way, what blocks", async (p, c, ct) =>
    {
        var t = await c.TodayAsync(ct);
        Shows(p, t, () =>
        {
            screen.Verdict(t.Verdict);
            foreach (
                var (head, list) in new[]
                {
                    ("To review", t.ToReview),
                    ("Under way", t.UnderWay),
                    ("Approved", t.Windows),
                    ("Yours", t.Mine),
                }
            )
            {
                if (list.Count == 0)
                    continue;
                screen.Line("\n" + screen.In("strong", head));
                Printing.Changes(screen, list);
            }

            if (t.Blocking.Count > 0)
                screen.Line("\n" + screen.In("strong", "Blocks"));
            screen.Table(
                ["tunnel", "code", "what"],
                t.Blocking.Select(f => (IReadOnlyList<string>)[f.Tunnel, f.Code, f.What.Text])
            );
        });
        return t.Blocking.Count > 0 ? 1 : 0;
    }));

// tunnel
{
    var all = new Option<bool>("--all") { Description = "every row and note" };
    var end = new Option<string>("--end") { Description = "A or B", Required = true };
    var (customer, state, finding, severity, find) = (
        Text("--customer", "code"),
        Text("--state", "planned, building, in service, suspended, retired"),
        Text("--finding", "code, such as PAIR-05"),
        Text("--severity", "blocks, degrades, risk, note"),
        Text("--find", "words, an address or a prefix")
    );
    var reason = Text("--reason", "why");
    var how = Text("--how", "read, saved configuration, other party's sheet, typed");
    var on = Text("--on", "date, today when left out");
    var value = Text("--value", "the value that was seen");
    var row = new Option<string[]>("--row")
    {
        Description = "key of a row, such as pfs, espLifetime, identityOfB, subnetsOfA",
        Required = true,
        AllowMultipleArgumentsPerToken = true,
    };
    var from = Text("--from", "A or B: only with that end starting");
    var with = new Option<string[]>("--with")
    {
        Description =
            "a value to try, as though it were set: 'A pfs=required DH 14'; may be given several times, nothing is kept",
    };

    static MendValueLine Tried(string text)
    {
        var (end, equals) = (text.TrimStart(), text.IndexOf('='));
        return end.Length > 2 && end[0] is 'A' or 'B' or 'a' or 'b' && end[1] == ' ' && equals > 0
            ? new(end[..1].ToUpperInvariant(), text[..equals].Trim()[1..].Trim(), text[(equals + 1)..].Trim())
            : throw new Refusal(2, $"'{text}' is not a value to try. Right would be: --with 'A pfs=required DH 14'");
    }
    var (title, purpose, notes) = (
        Text("--title", "new name"),
        Text("--purpose", "what it is for"),
        Text("--notes", "anything else")
    );
    var then = Text("--on", "a day, such as 2026-11-03: as it was recorded then");
    var keptList = Text("--kept", "name of a kept list");
    var name = Name("tunnel");
    root.Add(
        Thing(
            "tunnel",
            "tunnels and their two ends",
            frame.List(
                "list",
                "tunnels by code, with their verdict",
                "tunnels",
                p =>
                    [
                        ("customer", p.GetValue(customer)),
                        ("state", p.GetValue(state)),
                        ("finding", p.GetValue(finding)),
                        ("severity", p.GetValue(severity)),
                        ("q", p.GetValue(find)),
                        ("on", p.GetValue(then)),
                    ],
                async (p, c, ct) =>
                {
                    if (p.GetValue(keptList) is { } wanted)
                    {
                        var kept = (await c.KeptListsAsync(ct)).FirstOrDefault(k =>
                            k.List == "tunnels" && k.Name.Equals(wanted, StringComparison.OrdinalIgnoreCase)
                        )
                            ?? throw new Refusal(
                                3,
                                $"No list of tunnels is kept as '{wanted}'. Next: vellumkeep kept-list list"
                            );
                        var filter = kept
                            .Filter.Split('&', StringSplitOptions.RemoveEmptyEntries)
                            .Select(x => x.Split('=', 2))
                            .ToDictionary(x => x[0], x => Uri.UnescapeDataString(x[^1].Replace('+', ' ')));
                        var those = await c.TunnelsAsync(
                            filter.GetValueOrDefault("customer"),
                            filter.GetValueOrDefault("state"),
                            filter.GetValueOrDefault("finding"),
                            filter.GetValueOrDefault("severity"),
                            filter.GetValueOrDefault("q"),
                            null,
                            ct
                        );
                        Shows(p, those.Items, () => PlaceCommands.Tunnels(screen, those.Items));
                        return 0;
                    }

                    var items = new List<TunnelSummary>();
                    string? cursor = null;
                    do
                    {
                        var page = await c.TunnelsAsync(
                            p.GetValue(customer),
                            p.GetValue(state),
                            p.GetValue(finding),
                            p.GetValue(severity),
                            p.GetValue(find),
                            cursor,
                            ct,
                            p.GetValue(then)
                        );
                        items.AddRange(page.Items);
                        cursor = page.Cursor;
                    } while (cursor is not null && items.Count < 5000);
                    Shows(p, items, () =>
                    {
                        if (items.Count == 0)
                            screen.Line("No tunnel fits. Leave an option out to see more.");
                        PlaceCommands.Tunnels(screen, items);
                    });
                    return 0;
                },
                customer,
                state,
                finding,
                severity,
                find,
                then,
                keptList
            ),
            frame.Reads(
                "show",
                "a tunnel: verdict, what differs, findings, open changes",
                async (p, c, ct) =>
                {
                    var t = await c.TunnelAsync(p.GetValue(name)!, ct, p.GetValue(then));
                    Shows(p, t, () => Printing.Tunnel(screen, t, p.GetValue(all)));
                    return Blocks(t.Findings);
                },
                name,
                all,
                then
            ),
            frame.Reads(
                "rehearse",
                "the negotiation from either side, what stops it, what would mend it, and the hours after",
                async (p, c, ct) =>
                {
                    var r = await c.RehearsalAsync(p.GetValue(name)!, [.. (p.GetValue(with) ?? []).Select(Tried)], ct);
                    if (p.GetValue(from) is { } side && side.ToUpperInvariant() is not ("A" or "B"))
                        throw new Refusal(2, $"'{side}' is not an end. Right would be: --from A, or --from B");
                    Shows(p, r, () => RehearsalPrinting.Rehearsal(screen, r, p.GetValue(from), p.GetValue(all)));
                    return new[] { r.FromA, r.FromB }.Any(x => x.Outcome == "up" && x.Later is null) ? 0 : 1;
                },
                name,
                from,
                with,
                all
            ),
            frame.Reads(
                "compare",
                "both ends row by row",
                async (p, c, ct) =>
                {
                    var t = await c.TunnelAsync(p.GetValue(name)!, ct);
                    Shows(p, t.Rows, () => Printing.Compare(screen, t, p.GetValue(all)));
                    return Blocks(t.Findings);
                },
                name,
                all
            ),
            Verb(
                "confirm",
                "write down that somebody looked and an end has this value",
                async (p, c, ct) =>
                {
                    var t = await c.TunnelAsync(p.GetValue(name)!, ct);
                    var after = await c.ConfirmAsync(
                        t.Code,
                        t.Version,
                        new(
                            p.GetValue(end)!,
                            p.GetValue(row)!,
                            p.GetValue(how) ?? "typed",
                            p.GetValue(on),
                            p.GetValue(value)
                        ),
                        ct
                    );
                    Shows(p, after, () => Rows(after, p.GetValue(row)!, "Confirmed"));
                    return 0;
                },
                name,
                end,
                row,
                how,
                on,
                value
            ),
            Verb(
                "correct",
                "correct what is recorded of an end, with a reason",
                async (p, c, ct) =>
                {
                    var t = await c.TunnelAsync(p.GetValue(name)!, ct);
                    if (p.GetValue(row)! is not [var only])
                        throw new Refusal(2, "One row at a time is corrected. Right would be: --row pfs");
                    var after = await c.CorrectAsync(
                        t.Code,
                        t.Version,
                        new(
                            p.GetValue(end)!,
                            only,
                            p.GetValue(value) ?? "",
                            p.GetValue(reason) ?? "",
                            p.GetValue(how),
                            p.GetValue(on)
                        ),
                        ct
                    );
                    Shows(p, after, () => Rows(after, [only], "Corrected"));
                    return Blocks(after.Findings);
                },
                name,
                end,
                row,
                value,
                reason,
                how,
                on
            ),
            Verb(
                "describe",
                "edit name, purpose and notes",
                async (p, c, ct) =>
                {
                    var t = await c.TunnelAsync(p.GetValue(name)!, ct);
                    var after = await c.DescribeAsync(
                        t.Code,
                        t.Version,
                        new(p.GetValue(title), p.GetValue(purpose), p.GetValue(notes), null),
                        ct
                    );
                    Shows(p, after, () => screen.Line($"{after.Code}  {after.Name}"));
                    return 0;
                },
                name,
                title,
                purpose,
                notes
            ),
            Verb(
                "history",
                "who changed what, when, under which change",
                async (p, c, ct) =>
                {
                    var h = await c.HistoryAsync(p.GetValue(name)!, ct);
                    Shows(p, h, () => Printing.History(screen, h));
                    return 0;
                },
                name
            )
        )
    );

    void Rows(TunnelPage t, string[] keys, string word)
    {
        foreach (var r in t.Rows.Where(r => keys.Contains(r.Key, StringComparer.OrdinalIgnoreCase)))
            screen.Line(
                $"{word}: {t.Code} {r.Label}: A {r.A.Text ?? "unknown"} {screen.Stroke(r.Form)} B {r.B.Text ?? "unknown"}"
            );
        screen.Verdict(t.Verdict);
    }
}

// findings
{
    var (tunnel, gateway, customer, code, severity) = (
        Text("--tunnel", "code"),
        Text("--gateway", "code"),
        Text("--customer", "code"),
        Text("--code", "code of a check, such as PATH-03"),
        Text("--severity", "blocks, degrades, risk, note")
    );
    var findings = frame.Reads(
        "findings",
        "what is wrong or weak, worst first",
        async (p, c, ct) =>
        {
            var found = await c.FindingsAsync(
                p.GetValue(tunnel),
                p.GetValue(gateway),
                p.GetValue(customer),
                p.GetValue(code),
                p.GetValue(severity),
                ct
            );
            Shows(p, found, () =>
            {
                Printing.Findings(screen, found, true);
                screen.Line(found.Count == 0 ? "Nothing was found." : $"{found.Count} findings.");
            });
            return Blocks(found);
        },
        tunnel,
        gateway,
        customer,
        code,
        severity
    );
    var which = new Argument<string>("code") { Description = "code of the finding, such as STR-09" };
    var subject = Text("--subject", "what of the tunnel it is about, when there is more than one");
    var why = Text("--reason", "why it may stay as it is");
    var until = Text("--until", "last day, such as 2027-03-31");
    var on = Frame.Name("tunnel");
    async Task<(TunnelPage Tunnel, FindingPage Finding)> One(ParseResult p, KeepClient c, CancellationToken ct)
    {
        var t = await c.TunnelAsync(p.GetValue(on)!, ct);
        var found = t
            .Findings.Where(f =>
                f.Code.Equals(p.GetValue(which), StringComparison.OrdinalIgnoreCase)
                && (p.GetValue(subject) is not { } s || f.Subject == s)
            )
            .ToArray();
        return found.Length == 1
            ? (t, found[0])
            : throw new Refusal(
                found.Length == 0 ? 3 : 2,
                found.Length == 0
                    ? $"{t.Code} has no finding {p.GetValue(which)}."
                    : $"{t.Code} has {found.Length} findings {p.GetValue(which)}. Say which: {string.Join(", ", found.Select(f => $"--subject '{f.Subject}'"))}"
            );
    }

    findings.Add(
        Verb(
            "accept",
            "accept a finding of a tunnel as it stands, with a reason and an end date",
            async (p, c, ct) =>
            {
                var (t, f) = await One(p, c, ct);
                await c.AcceptAsync(
                    t.Code,
                    t.Version,
                    new(f.Code, f.Subject, f.Digest, p.GetValue(why) ?? "", p.GetValue(until) ?? ""),
                    ct
                );
                screen.Line(
                    $"Accepted until {p.GetValue(until)}: {t.Code} {f.Code}. It comes back that day, or when its values move."
                );
                return 0;
            },
            on,
            which,
            subject,
            why,
            until
        )
    );
    findings.Add(
        Verb(
            "withdraw",
            "take an acceptance back",
            async (p, c, ct) =>
            {
                var (t, f) = await One(p, c, ct);
                await c.WithdrawAsync(t.Code, t.Version, new(f.Code, f.Subject), ct);
                screen.Line($"No longer accepted: {t.Code} {f.Code}.");
                return 0;
            },
            on,
            which,
            subject
        )
    );
    root.Add(findings);
}

foreach (var place in PlaceCommands.Make(frame))
    root.Add(place);
foreach (var more in RecordCommands.Make(frame).Where(c => c.Name != "copy").Concat(PeopleCommands.Make(frame)))
    root.Add(more);
foreach (
    var (thing, plural, kind) in new[]
    {
        ("tunnel", "tunnels", "tunnel"),
        ("gateway", "gateways", "gateway"),
        ("customer", "customers", "customer"),
        ("platform", "platforms", "platform profile"),
        ("suite", "suites", "suite"),
    }
)
foreach (var verb in RecordCommands.Verbs(frame, plural, kind, history: thing != "tunnel"))
    root.Subcommands.Single(c => c.Name == thing).Add(verb);
root.Subcommands.Single(c => c.Name == "site").Add(PlaceCommands.Site(frame));
root.Subcommands.Single(c => c.Name == "tunnel").Add(RecordCommands.Make(frame).Single(c => c.Name == "copy"));
root.Add(KeyCommands.Make(frame));
root.Add(CalcCommands.Make(frame));

// import and export
{
    var file = new Argument<string>("file")
    {
        Description = "a keepfile, or a sheet (.xlsx, .csv); - for a keepfile on standard input",
    };
    var dry = new Option<bool>("--dry-run") { Description = "show what would be added and changed" };
    var reason = Text("--reason", "why, when it alters something in service");
    var column = new Option<string[]>("--column")
    {
        Description =
            "of a sheet: heading=field where the guess is wrong, such as 'WAN=a.outer'; may be given several times",
    };
    var ofCustomer = Text("--customer", "of a sheet: whose tunnels they are, when no column says so");
    var leave = new Option<bool>("--leave-out") { Description = "of a sheet: leave out the rows that cannot be read" };
    root.Add(
        Verb(
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
                        $"{path} is larger than 64 MB. Right would be: several files, one for each group of customers."
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
                        Progress()
                    );
                    Shows(p, sheet, () => Printing.Sheet(screen, sheet));
                    return
                        sheet.Problems.Count > 0
                        || sheet.Outcome?.FindingsAdded.Any(f => f.Severity == "blocks") == true
                        ? 1
                        : 0;
                }

                var o = await c.ImportAsync(
                    path == "-" ? await Console.In.ReadToEndAsync(ct) : await File.ReadAllTextAsync(path, ct),
                    p.GetValue(dry),
                    p.GetValue(reason),
                    ct,
                    Progress()
                );
                Shows(p, o, () => Printing.Import(screen, o));
                return o.FindingsAdded.Any(f => f.Severity == "blocks") ? 1 : 0;
            },
            file,
            dry,
            reason,
            column,
            ofCustomer,
            leave
        )
    );
    var customer = Text("--customer", "code; everything when left out");
    var output = Text("--output", "file to write");
    root.Add(
        Verb(
            "export",
            "a keepfile of everything, or of one customer",
            async (p, c, ct) =>
            {
                var text = await c.ExportAsync(p.GetValue(customer), ct);
                if (p.GetValue(output) is { } to)
                    await PrivateFile.WriteAsync(to, text, ct);
                else
                    Console.Out.Write(text);
                return 0;
            },
            customer,
            output
        )
    );
}

// change
{
    var name = Name("change");
    var tunnel = new Argument<string>("tunnel") { Description = "code of the tunnel" };
    var side = new Option<string>("--end")
    {
        Description = "the side that the prefixes are on: A or B",
        Required = true,
    };
    var add = new Option<string[]>("--add")
    {
        Description = "prefixes, such as 10.61.40.0/24",
        AllowMultipleArgumentsPerToken = true,
    };
    var remove = new Option<string[]>("--remove")
    {
        Description = "prefixes that are to go",
        AllowMultipleArgumentsPerToken = true,
    };
    var (addOther, removeOther) = (
        new Option<string[]>("--add-other")
        {
            Description = "prefixes to add on the other side, in the same change",
            AllowMultipleArgumentsPerToken = true,
        },
        new Option<string[]>("--remove-other")
        {
            Description = "prefixes that are to go on the other side",
            AllowMultipleArgumentsPerToken = true,
        }
    );
    var remarkOn = Text("--on-value", "the value of the step that is meant, by its label");
    var also = new Option<string[]>("--also")
    {
        Description = "further tunnels",
        AllowMultipleArgumentsPerToken = true,
    };
    var suite = Text("--suite", "suite with its version; the strongest that both ends can do when left out");
    var gateway = new Argument<string>("gateway") { Description = "code of the gateway" };
    var platform = new Argument<string>("platform")
    {
        Description = "platform profile with its version, such as alderquay-major@1",
    };
    var beside = Text("--beside", "outer address of the new device, when it is built beside the old one");
    var uplink = Text("--uplink", "label of the uplink; the first when left out");
    var address = new Argument<string>("address") { Description = "the new outer address" };
    var built = new Argument<string?>("tunnel")
    {
        Description = "a tunnel that is recorded as planned; left out with --code",
        Arity = ArgumentArity.ZeroOrOne,
    };
    var (newCode, newName, customer) = (
        Text("--code", "code of a tunnel that is not there yet"),
        Text("--name", "its name"),
        Text("--customer", "whose it is; the owner of gateway A when left out")
    );
    var (gatewayA, gatewayB, uplinkA, uplinkB) = (
        Text("--a", "gateway at end A"),
        Text("--b", "gateway at end B"),
        Text("--uplink-a", "uplink at end A"),
        Text("--uplink-b", "uplink at end B")
    );
    var pairs = new Option<string[]>("--pair")
    {
        Description = "pairs wanted, A first: 10.50.0.0/24,10.51.0.0/24",
        AllowMultipleArgumentsPerToken = true,
    };
    var byHand = new Option<string[]>("--step")
    {
        Description = "a step: part, where and what, such as: build B Fit the spare power supply",
    };
    var leftFrom = Text("--left-from", "a change that is done: the steps that it skipped");
    var (number, value) = (
        new Argument<int>("number") { Description = "number of the pending value" },
        new Argument<string>("value") { Description = "the value" }
    );
    var (named, because) = (
        new Option<string>("--named")
        {
            Description = "sign-in name of the second person: somebody who may approve the change",
            Required = true,
        },
        new Option<string>("--why") { Description = "why it cannot wait", Required = true }
    );
    var output = Text("--output", "a file to write it to");
    var (wall, wallOf) = (
        Text("--wall", "begin as a clock on the wall shows it at the site of an end, such as 2026-11-27T21:00"),
        Text("--at-end", "the end at whose site it hangs: A (when left out) or B")
    );
    var proof = Text("--proof", "what proves it: a line, or @file with what the device said");
    var proofFile = Text(
        "--proof-file",
        "a file kept beside the record: a screen shot, a saved configuration; at most 4 MiB"
    );
    var reach = new Option<string[]>("--reach")
    {
        Description = "prefixes on the other side; all when left out",
        AllowMultipleArgumentsPerToken = true,
    };
    var why = new Option<string>("--why") { Description = "what it is for", Required = true };
    var title = Text("--title", "title");
    var start = new Option<DateTimeOffset?>("--start")
    {
        Description = "begin of the window, such as 2026-11-26T22:00Z",
    };
    var minutes = new Option<int?>("--minutes") { Description = "length of the window" };
    var state = Text("--state", "open, or a state");
    var remark = Text("--remark", "a remark");
    var stepNumber = new Option<int?>("--on-step") { Description = "the step a remark is on" };
    var (approve, back) = (new Option<bool>("--approve"), new Option<bool>("--return"));
    var step = new Argument<int>("step") { Description = "number of the step" };
    var (done, failed) = (new Option<bool>("--done"), new Option<bool>("--failed"));
    var skip = new Option<bool>("--skip");
    var (set, reason, planned) = (
        Text("--set", "what was set instead"),
        Text("--reason", "why"),
        Text("--planned", "which value it stands for, where the step has several")
    );

    Command Act(string verb, string about, Func<ChangePage, ParseResult, string>? said = null) =>
        Verb(
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
                Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            remark
        );

    void Told(ChangePage c)
    {
        screen.Line($"{screen.In("strong", c.Code)} is {c.State}.");
        screen.Verdict(c.Verdict);
        if (c.State == "under way" && c.Steps.FirstOrDefault(s => s.Outcome is null or "failed") is { } next)
        {
            screen.Wrapped(
                $"Next, step {next.Number}{(next.Where == "us" ? "" : $" at {next.Where}{(Printing.Device(c, next) is { } device ? $" on {device}" : "")}")}: {(next.Asked is null ? "" : $"ask {next.Asked}: ")}{next.Do.Text}{(next.Stops is null ? "" : $" {next.Stops.Text}")}"
            );
            Printing.StepValues(screen, next, 4);
            if (next.Proof is not null)
                screen.Wrapped($"proof: {next.Proof.Text}", 4, "soft");
        }

        if (c.LeftOver.Count > 0)
            screen.Wrapped(
                $"Left over: {string.Join("; ", c.LeftOver)}. Next: vellumkeep change draft free {c.Tunnel} --left-from {c.Code} --why \"...\"",
                0,
                "weak"
            );
    }

    DraftChange Of(ParseResult p, Argument<string>? about) =>
        new(
            about is null ? null : p.GetValue(about),
            null,
            null,
            null,
            p.GetValue(title),
            p.GetValue(why)!,
            p.GetValue(start),
            p.GetValue(minutes)
        );
    string[]? Some(ParseResult p, Option<string[]> option) => p.GetValue(option) is { Length: > 0 } list ? list : null;
    FreeStepGiven FreeStep(string text) =>
        text.Split(' ', 3, StringSplitOptions.RemoveEmptyEntries) is [var part, var where, var what]
            ? new(part, where, what, null, null, null)
            : throw new Refusal(
                2,
                $"'{text}' is not a step. Right would be: part, where and what, such as: build B Fit the spare power supply"
            );
    Command Draft(string verb, string about, Func<ParseResult, DraftChange> given, params Symbol[] takes) =>
        Drafted(verb, about, (p, _, _) => Task.FromResult(given(p)), takes);
    Command Drafted(
        string verb,
        string about,
        Func<ParseResult, KeepClient, CancellationToken, Task<DraftChange>> given,
        params Symbol[] takes
    ) =>
        Verb(
            verb,
            about,
            async (p, c, ct) =>
            {
                var made = await c.DraftAsync(await given(p, c, ct), ct);
                Shows(p, made, () => Printing.Change(screen, made));
                return made.FindingsAdded.Any(f => f.Severity == "blocks") ? 1 : 0;
            },
            [.. takes, why, title, start, minutes]
        );
    Command Written(string verb, string about, string path) =>
        Verb(
            verb,
            about,
            async (p, c, ct) =>
            {
                var text = await c.TextAsync(
                    $"changes/{Uri.EscapeDataString((await c.ChangeAsync(p.GetValue(name)!, ct)).Code)}/{path}",
                    ct
                );
                if (p.GetValue(output) is { } file)
                {
                    await File.WriteAllTextAsync(file, text, ct);
                    screen.Line($"Written to {file}.");
                }
                else
                    Console.Out.Write(text);
                return 0;
            },
            name,
            output
        );
    ProofFileGiven? FileOf(ParseResult p)
    {
        if (p.GetValue(proofFile) is not { } path)
            return null;
        if (!File.Exists(path))
            throw new Refusal(2, $"There is no file {path}. Right would be: a file of at most 4 MiB that is there.");
        return new FileInfo(path).Length > 4 << 20
            ? throw new Refusal(
                2,
                $"{path} is larger than 4 MiB. Right would be: of a large capture, the part that proves it."
            )
            : new(Path.GetFileName(path), Convert.ToBase64String(File.ReadAllBytes(path)));
    }

    string? ProofOf(ParseResult p) =>
        p.GetValue(proof) is { } text
            ? text.StartsWith('@')
                ? File.Exists(text[1..])
                    ? File.ReadAllText(text[1..])
                    : throw new Refusal(
                        2,
                        $"There is no file {text[1..]}. Right would be: @ and a file that is there, or the proof itself."
                    )
                : text
            : null;

    root.Add(
        Thing(
            "change",
            "changes: drafted, reviewed, worked, recorded",
            Verb(
                "list",
                "changes, newest first",
                async (p, c, ct) =>
                {
                    var list = await c.ChangesAsync(p.GetValue(state), null, ct);
                    Shows(p, list, () => Printing.Changes(screen, list));
                    return 0;
                },
                state
            ),
            Thing(
                "draft",
                "say what should be different; the plan is computed",
                Draft(
                    "subnets",
                    "these prefixes, on this side of this tunnel, and of others that the network joins",
                    p =>
                        Of(p, tunnel) with
                        {
                            End = p.GetValue(side),
                            Add = p.GetValue(add),
                            Reach = Some(p, reach),
                            Remove = Some(p, remove),
                            Also = Some(p, also),
                            AddOther = Some(p, addOther),
                            RemoveOther = Some(p, removeOther),
                        },
                    tunnel,
                    side,
                    add,
                    remove,
                    reach,
                    also,
                    addOther,
                    removeOther
                ),
                Draft(
                    "tunnel",
                    "build a tunnel: one that is recorded as planned, or a new one between two gateways",
                    p =>
                        p.GetValue(newCode) is { } made
                            ? Of(p, null) with
                            {
                                Kind = "new tunnel",
                                Suite = p.GetValue(suite),
                                New = new(
                                    made,
                                    p.GetValue(newName),
                                    p.GetValue(customer),
                                    p.GetValue(gatewayA) ?? "",
                                    p.GetValue(gatewayB) ?? "",
                                    p.GetValue(uplinkA),
                                    p.GetValue(uplinkB),
                                    p.GetValue(pairs) ?? []
                                ),
                            }
                            : Of(p, null) with
                            {
                                Kind = "new tunnel",
                                Tunnel = p.GetValue(built),
                            },
                    built,
                    newCode,
                    newName,
                    gatewayA,
                    gatewayB,
                    uplinkA,
                    uplinkB,
                    customer,
                    pairs,
                    suite
                ),
                Draft(
                    "rekey",
                    "new keys for these tunnels",
                    p => Of(p, tunnel) with { Kind = "rekey", Also = Some(p, also) },
                    tunnel,
                    also
                ),
                Draft(
                    "strengthen",
                    "better protection for a tunnel",
                    p => Of(p, tunnel) with { Kind = "strengthen", Suite = p.GetValue(suite) },
                    tunnel,
                    suite
                ),
                Draft(
                    "platform",
                    "another platform for a gateway, with every tunnel that ends on it",
                    p =>
                        Of(p, null) with
                        {
                            Kind = "replace platform",
                            Gateway = p.GetValue(gateway),
                            Platform = p.GetValue(platform),
                            Beside = p.GetValue(beside),
                        },
                    gateway,
                    platform,
                    beside
                ),
                Draft(
                    "address",
                    "another outer address for a gateway",
                    p =>
                        Of(p, null) with
                        {
                            Kind = "address move",
                            Gateway = p.GetValue(gateway),
                            Address = p.GetValue(address),
                            Uplink = p.GetValue(uplink),
                        },
                    gateway,
                    address,
                    uplink
                ),
                Draft(
                    "retire",
                    "take a tunnel out of service, at both ends",
                    p => Of(p, tunnel) with { Kind = "retire" },
                    tunnel
                ),
                Drafted(
                    "free",
                    "steps written by hand, for what no kind covers, or what a change left over",
                    async (p, c, ct) =>
                    {
                        var left = p.GetValue(leftFrom) is { } from ? await c.ChangeAsync(from, ct) : null;
                        if (left is { LeftSteps.Count: 0 })
                            throw new Refusal(
                                2,
                                $"{left.Code} left no step over. Right would be: a change that is done and skipped one."
                            );
                        FreeStepGiven[] steps =
                        [
                            .. left?.LeftSteps ?? [],
                            .. (p.GetValue(byHand) ?? []).Select(FreeStep),
                        ];
                        return steps.Length > 0
                            ? Of(p, tunnel) with
                            {
                                Kind = "free",
                                Steps = steps,
                            }
                            : throw new Refusal(
                                2,
                                "No step is named. Right would be: --step, once for each, or --left-from with the change that left steps over."
                            );
                    },
                    tunnel,
                    byHand,
                    leftFrom
                )
            ),
            Verb(
                "show",
                "the work order and run sheet",
                async (p, c, ct) =>
                {
                    var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                    Shows(p, change, () => Printing.Change(screen, change));
                    return 0;
                },
                name
            ),
            Act("submit", "send it for review"),
            Verb(
                "review",
                "approve it, or return it with a remark",
                async (p, c, ct) =>
                {
                    if (p.GetValue(approve) == p.GetValue(back))
                        throw new Refusal(2, "Say --approve or --return.");
                    var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                    var after = await c.ActAsync(
                        change.Code,
                        p.GetValue(approve) ? "approve" : "return",
                        new(p.GetValue(remark), p.GetValue(stepNumber)),
                        change.Version,
                        ct
                    );
                    Shows(p, after, () => Told(after));
                    return 0;
                },
                name,
                approve,
                back,
                remark,
                stepNumber
            ),
            Act("begin", "begin the work"),
            Verb(
                "step",
                "note an attempt at a step",
                async (p, c, ct) =>
                {
                    var outcome = (p.GetValue(done), p.GetValue(skip), p.GetValue(failed)) switch
                    {
                        (true, false, false) => "done",
                        (false, true, false) => "skipped",
                        (false, false, true) => "failed",
                        _ => throw new Refusal(2, "Say --done, --skip or --failed."),
                    };
                    var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                    var text = p.GetValue(remark)
                        ?? (outcome == "skipped" && p.GetValue(set) is null ? p.GetValue(reason) : null);
                    var after = await c.AttemptAsync(
                        change.Code,
                        p.GetValue(step),
                        new(outcome, text, p.GetValue(planned), p.GetValue(set), p.GetValue(reason), ProofOf(p))
                        {
                            File = FileOf(p),
                        },
                        ct
                    );
                    Shows(p, after, () => Told(after));
                    return 0;
                },
                name,
                step,
                done,
                skip,
                failed,
                remark,
                set,
                planned,
                reason,
                proof,
                proofFile
            ),
            Act("close", "close it: the inventory becomes what was built"),
            Act("back-out", "back out: the inventory stays as it was"),
            Act("recompute", "make the plan anew when what it rests on has moved"),
            Verb(
                "fill",
                "fill in a value that was pending; what depends on it is computed anew",
                async (p, c, ct) =>
                {
                    var after = await c.FillAsync(
                        (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                        new(p.GetValue(number), p.GetValue(value)!),
                        ct
                    );
                    Shows(p, after, () => Told(after));
                    return 0;
                },
                name,
                number,
                value
            ),
            Verb(
                "window",
                "set the window, or clear it: no --start",
                async (p, c, ct) =>
                {
                    var after = await c.WindowAsync(
                        (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                        new(p.GetValue(start), p.GetValue(minutes))
                        {
                            Wall = p.GetValue(wall),
                            End = p.GetValue(wallOf),
                        },
                        ct
                    );
                    Shows(p, after, () =>
                    {
                        screen.Line(
                            after.WindowAtA is null
                                ? $"{after.Code} has no window."
                                : $"{after.Code}: {after.WindowAtA}{(after.WindowAtB != after.WindowAtA ? $"; at B {after.WindowAtB}" : "")}."
                        );
                        Printing.PlanFindings(screen, after);
                    });
                    return 0;
                },
                name,
                start,
                wall,
                wallOf,
                minutes
            ),
            Verb(
                "urgent",
                "ask a second person to let urgent work begin before it is reviewed; they confirm it for themselves",
                async (p, c, ct) =>
                {
                    var after = await c.UrgentAsync(
                        (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                        new(p.GetValue(named)!, p.GetValue(because)!),
                        ct
                    );
                    Shows(p, after, () => Told(after));
                    return 0;
                },
                name,
                named,
                because
            ),
            Verb(
                "confirm-urgent",
                "let urgent work begin that you were asked about, as you read it now; it is reviewed afterwards",
                async (p, c, ct) =>
                {
                    var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                    var after = await c.ActAsync(
                        change.Code,
                        "confirm-urgent",
                        new(p.GetValue(remark), null),
                        change.Version,
                        ct
                    );
                    Shows(p, after, () => Told(after));
                    return 0;
                },
                name,
                remark
            ),
            Verb(
                "remark",
                "remark on it, on a step or on the whole",
                async (p, c, ct) =>
                {
                    var after = await c.ActAsync(
                        (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                        "remark",
                        new(p.GetValue(remark), p.GetValue(stepNumber)) { Value = p.GetValue(remarkOn) },
                        null,
                        ct
                    );
                    Shows(p, after, () => Told(after));
                    return 0;
                },
                name,
                remark,
                stepNumber,
                remarkOn
            ),
            Written("record", "the record as Markdown, to standard output or a file", "record"),
            Written("calendar", "the window as iCalendar, to standard output or a file", "window.ics"),
            Act("review-after", "review urgent work afterwards"),
            Act("drop", "drop it")
        )
    );
}

var parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    Console.Error.WriteLine(string.Join(" ", parsed.Errors.Select(e => e.Message)));
    Console.Error.WriteLine(
        $"Next: vellumkeep {string.Join(' ', args.TakeWhile(a => !a.StartsWith('-')).Take(2))} --help"
    );
    return 2;
}

try
{
    return await parsed.InvokeAsync(new() { EnableDefaultExceptionHandler = false });
}
catch (Refusal r)
{
    Console.Error.WriteLine(r.Message);
    return r.Status;
}
catch (ServiceProblem p)
{
    Console.Error.WriteLine(p.Message);
    if (p.Body is { ValueKind: JsonValueKind.Object } body && body.TryGetProperty("problems", out var problems))
        foreach (
            var one in problems
                .EnumerateArray()
                .Skip(p.Type.EndsWith(":unreadable-cells", StringComparison.Ordinal) ? 0 : 1)
                .Take(20)
        )
            Console.Error.WriteLine(
                $"  {(p.Type.EndsWith(":unreadable-cells", StringComparison.Ordinal) ? "row" : "line")} {one.GetProperty("line")}, {one.GetProperty("field")}: {one.GetProperty("wrong")}. Right would be: {one.GetProperty("right")}"
            );
    return p.Status switch
    {
        HttpStatusCode.NotFound => 3,
        HttpStatusCode.Conflict when p.Type.EndsWith(":refused", StringComparison.Ordinal) => 5,
        HttpStatusCode.PreconditionFailed or HttpStatusCode.Conflict => 4,
        HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden or HttpStatusCode.TooManyRequests => 5,
        >= HttpStatusCode.InternalServerError => 6,
        _ => 2,
    };
}
catch (HttpRequestException)
{
    Console.Error.WriteLine("The service is not reachable. Is it running? Next: make demo, or set VELLUMKEEP_URL.");
    return 6;
}
catch (OperationCanceledException)
{
    Console.Error.WriteLine(
        "Cut off before the service answered. What was asked may have been done: look before you ask again."
    );
    return 6;
}
catch (IOException e)
{
    Console.Error.WriteLine($"{e.Message.TrimEnd('.')}. Nothing more was done.");
    return 6;
}
catch (Exception e)
{
    // Nothing that should happen; whoever reads it can do more with one line than with our insides.
    Console.Error.WriteLine(
        $"Something failed here that should not have: {e.Message} Next: tell whoever looks after Vellumkeep what you typed."
    );
    return 6;
}

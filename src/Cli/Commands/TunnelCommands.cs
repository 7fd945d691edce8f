using System.CommandLine;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Core.Wording;
using static Vellumkeep.Cli.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Tunnels and their two ends.</summary>
internal sealed class TunnelCommands(Frame frame)
{
    private readonly Screen screen = frame.Screen;
    private readonly Option<bool> all = new Option<bool>("--all") { Description = "every row and note" };
    private readonly Option<string> end = new Option<string>("--end") { Description = "A or B", Required = true };
    private readonly Option<string?> customer = Text("--customer", "code");
    private readonly Option<string?> state = Text("--state", "planned, building, in service, suspended, retired");
    private readonly Option<string?> finding = Text("--finding", "code, such as PAIR-05");
    private readonly Option<string?> severity = Text("--severity", "blocks, degrades, risk, note");
    private readonly Option<string?> find = Text("--find", "words, an address or a prefix");
    private readonly Option<string?> reason = Text("--reason", "why");
    private readonly Option<string?> how = Text("--how", "read, saved configuration, other party's sheet, typed");
    private readonly Option<string?> on = Text("--date", "day on which it was looked at; today when left out");
    private readonly Option<string?> value = Text("--value", "the value that the device has");
    private readonly Option<string[]> row = new Option<string[]>("--row")
    {
        Description = "key of a row, such as pfs, espLifetime, identityOfB, subnetsOfA",
        Required = true,
        AllowMultipleArgumentsPerToken = true,
    };
    private readonly Option<string?> from = Text("--initiator", "A or B: only with that end as the initiator");
    private readonly Option<string[]> with = new Option<string[]>("--with")
    {
        Description = "a value to try: 'A pfs=required DH 14'; can be repeated, nothing is stored",
    };
    private readonly Option<string?> title = Text("--title", "new name");
    private readonly Option<string?> purpose = Text("--purpose", "what it is for");
    private readonly Option<string?> notes = Text("--notes", "anything else");
    private readonly Option<string?> then = Text("--as-of", "a day, such as 2026-11-03: as it was recorded then");
    private readonly Option<string?> savedFilter = Text("--saved-filter", "name of a saved filter");
    private readonly Argument<string> name = Name("tunnel");

    public static Command Make(Frame frame) => new TunnelCommands(frame).Make();

    private Command Make() =>
        Thing(
            "tunnel",
            "tunnels and their two ends",
            List(),
            Show(),
            Rehearse(),
            Compare(),
            Confirm(),
            Correct(),
            Describe(),
            History()
        );

    private Command List() =>
        frame.List(
            "list",
            "tunnels by code, with their verdict",
            "tunnels",
            p => [.. Asked(p).Select(f => (f.Key, f.Value))],
            async (p, c, ct) =>
            {
                var filter = p.GetValue(savedFilter) is { } kept ? await KeptAsync(c, kept, ct) : Asked(p);
                var items = await AllAsync(c, filter, ct);
                frame.Shows(p, items, () =>
                {
                    if (items.Count == 0)
                        screen.Line("No tunnel matches. Use fewer options.");
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
            savedFilter
        );

    private Dictionary<string, string?> Asked(ParseResult p) =>
        new()
        {
            ["customer"] = p.GetValue(customer),
            ["state"] = p.GetValue(state),
            ["finding"] = p.GetValue(finding),
            ["severity"] = p.GetValue(severity),
            ["q"] = p.GetValue(find),
            ["on"] = p.GetValue(then),
        };

    /// <summary>The filter that is saved under a name, as the console saves it: like the query of an address.</summary>
    private static async Task<Dictionary<string, string?>> KeptAsync(KeepClient c, string wanted, CancellationToken ct)
    {
        var saved = (await c.SavedFiltersAsync(ct)).Where(k => k.List == "tunnels").ToArray();
        var kept = saved.FirstOrDefault(k => k.Name.Equals(wanted, StringComparison.OrdinalIgnoreCase));
        if (kept is null)
            throw new Refusal(
                3,
                NearCodes.Among(saved.Select(k => k.Name), wanted).Refusal("saved filter of tunnels", wanted)
            );
        return kept
            .Filter.Split('&', StringSplitOptions.RemoveEmptyEntries)
            .Select(x => x.Split('=', 2))
            .ToDictionary(x => x[0], x => (string?)Uri.UnescapeDataString(x[^1].Replace('+', ' ')));
    }

    /// <summary>Every tunnel that fits, page after page to the end.</summary>
    private static async Task<List<TunnelSummary>> AllAsync(
        KeepClient c,
        Dictionary<string, string?> filter,
        CancellationToken ct
    )
    {
        var items = new List<TunnelSummary>();
        string? cursor = null;
        do
        {
            var page = await c.TunnelsAsync(
                filter.GetValueOrDefault("customer"),
                filter.GetValueOrDefault("state"),
                filter.GetValueOrDefault("finding"),
                filter.GetValueOrDefault("severity"),
                filter.GetValueOrDefault("q"),
                cursor,
                ct,
                filter.GetValueOrDefault("on")
            );
            items.AddRange(page.Items);
            cursor = page.Cursor;
        } while (cursor is not null);
        return items;
    }

    private Command Show() =>
        frame.Reads(
            "show",
            "a tunnel: verdict, what differs, findings, open changes",
            async (p, c, ct) =>
            {
                var t = await c.TunnelAsync(p.GetValue(name)!, ct, p.GetValue(then));
                frame.Shows(p, t, () => Printing.Tunnel(screen, t, p.GetValue(all)));
                return Blocks(t.Findings.Select(f => f.Severity));
            },
            name,
            all,
            then
        );

    private Command Rehearse() =>
        frame.Reads(
            "rehearse",
            "the negotiation with either end as initiator: where it stops, the fixes, and the hours after",
            async (p, c, ct) =>
            {
                var r = await c.RehearsalAsync(p.GetValue(name)!, [.. (p.GetValue(with) ?? []).Select(Tried)], ct);
                if (p.GetValue(from) is { } side && side.ToUpperInvariant() is not ("A" or "B"))
                    throw new Refusal(2, $"'{side}' is not an end. Expected: --initiator A, or --initiator B");
                frame.Shows(p, r, () => RehearsalPrinting.Rehearsal(screen, r, p.GetValue(from), p.GetValue(all)));
                return new[] { r.FromA, r.FromB }.Any(x => x.Outcome == "up" && x.Later is null) ? 0 : 1;
            },
            name,
            from,
            with,
            all
        );

    private Command Compare() =>
        frame.Reads(
            "compare",
            "both ends row by row",
            async (p, c, ct) =>
            {
                var t = await c.TunnelAsync(p.GetValue(name)!, ct);
                frame.Shows(p, t.Rows, () => Printing.Compare(screen, t, p.GetValue(all)));
                return Blocks(t.Findings.Select(f => f.Severity));
            },
            name,
            all
        );

    private Command Confirm() =>
        frame.Verb(
            "confirm",
            "record that an end has this value, as checked on the device",
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
                frame.Shows(p, after, () => Rows(after, p.GetValue(row)!, "Confirmed"));
                return 0;
            },
            name,
            end,
            row,
            how,
            on,
            value
        );

    private Command Correct() =>
        frame.Verb(
            "correct",
            "correct what is recorded of an end, with a reason",
            async (p, c, ct) =>
            {
                var t = await c.TunnelAsync(p.GetValue(name)!, ct);
                if (p.GetValue(row)! is not [var only])
                    throw new Refusal(2, "Only one row can be corrected at a time. Expected: --row pfs");
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
                frame.Shows(p, after, () => Rows(after, [only], "Corrected"));
                return Blocks(after.Findings.Select(f => f.Severity));
            },
            name,
            end,
            row,
            value,
            reason,
            how,
            on
        );

    private Command Describe() =>
        frame.Verb(
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
                frame.Shows(p, after, () => screen.Line($"{after.Code}  {after.Name}"));
                return 0;
            },
            name,
            title,
            purpose,
            notes
        );

    private Command History() =>
        frame.Verb(
            "history",
            "who changed what, when, under which change",
            async (p, c, ct) =>
            {
                var h = await c.HistoryAsync(p.GetValue(name)!, ct);
                frame.Shows(p, h, () => Printing.History(screen, h));
                return 0;
            },
            name
        );

    private static FixValueLine Tried(string text)
    {
        var (end, equals) = (text.TrimStart(), text.IndexOf('='));
        return end.Length > 2 && end[0] is 'A' or 'B' or 'a' or 'b' && end[1] == ' ' && equals > 0
            ? new(end[..1].ToUpperInvariant(), text[..equals].Trim()[1..].Trim(), text[(equals + 1)..].Trim())
            : throw new Refusal(2, $"'{text}' is not a value to try. Expected: --with 'A pfs=required DH 14'");
    }

    private void Rows(TunnelPage t, string[] keys, string word)
    {
        foreach (var r in t.Rows.Where(r => keys.Contains(r.Key, StringComparer.OrdinalIgnoreCase)))
            screen.Line(
                $"{word}: {t.Code} {r.Label}: A {r.A.Text ?? "unknown"} {screen.Stroke(r.Form)} B {r.B.Text ?? "unknown"}"
            );
        screen.Verdict(t.Verdict);
    }
}

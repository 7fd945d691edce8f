using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using Vellumkeep.Core.Parsing;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Tunnels and their two ends.</summary>
internal sealed partial class TunnelCommands(Frame frame)
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

    private Command Show() =>
        frame.Reads(
            "show",
            "a tunnel: verdict, what differs, findings, open changes",
            async (p, c, ct) =>
            {
                var t = await c.TunnelAsync(p.GetValue(name)!, ct, p.GetValue(then));
                frame.Shows(p, t, () => Printing.Tunnel(screen, t, p.GetValue(all)));
                return Stands([t.Standing]);
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
                    throw new Refusal(
                        2,
                        $"'{Typed.Short(side)}' is not an end. Expected: --initiator A, or --initiator B"
                    );
                frame.Shows(p, r, () => RehearsalPrinting.Rehearsal(screen, r, p.GetValue(from), p.GetValue(all)));
                return Stands([r.Standing]);
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
                return Stands([t.Standing]);
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
                return Stands([after.Standing]);
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
            : throw new Refusal(
                2,
                $"'{Typed.Short(text)}' is not a value to try. Expected: --with 'A pfs=required DH 14'"
            );
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

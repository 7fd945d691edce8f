using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Terminal;

/// <summary>
/// The ladder in characters: the initiator on the side where the story starts, the stop as a gap at the end that
/// refuses.
/// </summary>
internal static class RehearsalPrinting
{
    private const int Across = 40;

    public static void Rehearsal(Screen s, RehearsalPage r, string? from, bool all)
    {
        s.Line($"{s.In("strong", r.Tunnel)}  {r.Name}\n");
        s.Verdict(r.Verdict);
        var sides = new[] { r.FromA, r.FromB }
            .Where(x => from is null || x.Initiator.Equals(from, StringComparison.OrdinalIgnoreCase))
            .ToArray();
        foreach (var side in sides)
            // A side that does not begin is told in a line, unless it is asked for or neither begins.
            if (
                side.Outcome == "does not initiate"
                && from is null
                && !all
                && sides.Any(x => x.Outcome != "does not initiate")
            )
                s.Wrapped($"\n{side.Initiator} does not initiate: {side.Stops[0].Why.Text}", 0, "soft");
            else
                Side(s, side);
        Times(s, r);
        if (r.Fallback is { } fallback)
            s.Wrapped($"\n{fallback.Text}");
        if (r.Pairings.Count > 1)
        {
            s.Line("\n" + s.In("strong", "Pairs of uplinks"));
            s.Table(
                ["A over", "B over", "A initiates", "B initiates", "stop"],
                r.Pairings.Select(p =>
                    (IReadOnlyList<string>)
                        [p.UplinkA, p.UplinkB, p.WhenAInitiates, p.WhenBInitiates, p.Stop?.Text ?? ""]
                )
            );
        }
    }

    private static void Side(Screen s, RehearsedSide side)
    {
        var other = side.Initiator == "A" ? "B" : "A";
        s.Line(
            $"\n{s.In("strong", side.Title.Text)}"
                + $"{new string(' ', Math.Max(2, s.Width - side.Title.Text.Length - side.Outcome.Length))}"
                + $"{s.In(side.Outcome is "up" ? "holds" : side.Outcome is "undetermined" ? "soft" : "stops", side.Outcome)}"
        );
        s.Line(
            $"     "
                + $"{s.In(side.Initiator.ToLowerInvariant(), side.Initiator)}{new string(' ', Across)}"
                + $"{s.In(other.ToLowerInvariant(), other)}"
        );
        var told = 0;
        foreach (var x in side.Exchanges.Where(x => !x.IfFixed))
        {
            Told(x.Number - 1);
            Exchange(s, side, x);
        }

        Told(int.MaxValue);
        foreach (var x in side.Exchanges.Where(x => x.IfFixed))
            Exchange(s, side, x);
        if (side.Stops.Count == 0 && side.FindOut.Count == 0 && side.Later is null)
            s.Line(
                s.In(
                    "soft",
                    $"     "
                        + $"{(side.IkeProposal is null ? "" : side.IkeProposal + ", then ")}{side.EspProposal}"
                        + $"{(side.Pfs is null ? "" : $", PFS {side.Pfs}")}"
                )
            );
        if (side.Lost.Count > 0)
        {
            s.Wrapped($"Passes: {Few(side.Passing)}", 2, "soft");
            s.Wrapped($"Lost: {Few(side.Lost)}", 2, "stops");
        }

        foreach (var q in side.FindOut)
            s.Wrapped(q.Text, 2, "weak");
        if (side.Later is { } later)
            s.Wrapped($"Later: {later.Text}", 2, "stops");
        Fixes(
            s,
            side.Stops.Count > 0
                ? side.Stops[0].Exchange == 0
                    ? "Fixes that make it initiate"
                    : side.Stops[0].Kind == "narrowed"
                        ? "Fixes that make all of it pass"
                        : "Fixes for this stop"
                : "",
            side.Fixes
        );
        Fixes(s, "Fixes that prevent that", side.LaterFixes);
        foreach (var a in side.Assumed)
            s.Wrapped($"{a.Text}", 2, "soft");

        void Told(int upTo)
        {
            for (; told < side.Stops.Count && side.Stops[told].Exchange <= upTo; told++)
            {
                var o = side.Stops[told];
                var head =
                    o.Kind == "narrowed" ? "Narrowed here"
                    : told == 0 ? "Stops here"
                    : "Then";
                var by = (o.RefusedBy, o.Kind) switch
                {
                    (_, "narrowed") => $"by {o.RefusedBy}",
                    (_, "no traffic") => "no traffic passes",
                    (_, "not sent") => "not sent",
                    (null, _) => "no packet arrives",
                    (_, "no response") => $"{o.RefusedBy} does not respond",
                    _ => $"{o.RefusedBy} refuses, {o.Notify}",
                };
                s.Wrapped($"{head}: {by}. {o.Why.Text} {o.Code}", 5, told == 0 ? "stops" : "weak");
            }
        }
    }

    private static string Few(IReadOnlyList<string> pairs) =>
        string.Join(", ", pairs.Take(4)) + (pairs.Count > 4 ? $" and {pairs.Count - 4} more" : "");

    /// <summary>A message as an arrow between the ends, and what it carries beside it.</summary>
    private static void Exchange(Screen s, RehearsedSide side, ExchangeLine x)
    {
        var stop = side
            .Stops.Where(o => o.Exchange == x.Number && o.Pairs.Count == 0)
            .Cast<StopLine?>()
            .FirstOrDefault();
        var right = x.From == side.Initiator;
        var shown = x.IfFixed ? $"if fixed: {x.Name}" : x.Name;
        var line = x.IfFixed ? '┄' : '─';
        var body = (right ? new string(line, 2) + " " + shown + " " : " " + shown + " " + new string(line, 2));
        body = right ? body.PadRight(Across - 2, line) : body.PadLeft(Across - 2, line);
        // The gap stands at the end that refuses: at the receiver's, for the message that it gets.
        var refused = stop is not null && !x.IfFixed;
        var drawn = right
            ? refused
                ? body[..^4] + "┤  ├ "
                : body + "▶"
            : refused
                ? " ┤  ├" + body[4..]
                : "◀" + body;
        var lines = Screen.Lines(x.Carries.Text, Math.Max(24, s.Width - Across - 12)).ToArray();
        s.Line(
            $"{x.Number, 3}  │{(refused ? s.In("stops", drawn) : x.IfFixed ? s.In("soft", drawn) : drawn)}│   "
                + $"{(x.IfFixed ? s.In("soft", lines[0]) : lines[0])}"
        );
        foreach (var more in lines[1..])
            s.Line($"     │{new string(' ', Across - 1)}│   {(x.IfFixed ? s.In("soft", more) : more)}");
    }

    /// <summary>What a fix leads to, what it adds, and whom it interrupts.</summary>
    private static string After(FixLine fix)
    {
        var leads =
            fix is { Passes: true, Risks.Count: 0 } ? "Passes; not weaker than before"
            : fix.Passes ? "Passes"
            : fix.Next is null ? $"Then {fix.Outcome}"
            : $"Then {fix.Outcome}: {fix.Next.Text}";
        var adds = fix.Risks.Count > 0 ? $"Adds {string.Join(", ", fix.Risks)}." : "";
        string[] parts = [leads.TrimEnd('.') + ".", adds, fix.Interrupts ?? ""];
        return string.Join(" ", parts.Where(p => p.Length > 0));
    }

    private static void Fixes(Screen s, string head, IReadOnlyList<FixLine> fixes)
    {
        if (fixes.Count == 0)
            return;
        s.Line("  " + s.In("strong", head));
        foreach (var m in fixes)
        {
            s.Wrapped(m.Says.Text, 4);
            s.Wrapped(After(m), 6, "soft");
            s.Line(
                s.In("soft", $"      {string.Join(" ", m.Values.Select(v => $"--with '{v.End} {v.Row}={v.Value}'"))}")
            );
        }
    }

    /// <summary>A bar for each layer, with a mark for each rekey by whichever end is first.</summary>
    private static void Times(Screen s, RehearsalPage r)
    {
        var t = r.Timeline;
        if (t.Marks.Count == 0)
            return;
        const int wide = 72;
        s.Line("\n" + s.In("strong", $"The first {Core.Quantities.Lifetime.Say(t.Length)}"));
        foreach (var layer in new[] { "IKE", "ESP" })
        {
            var bar = new string('─', wide).ToCharArray();
            foreach (var m in t.Marks.Where(m => m.Layer == layer))
            {
                var at = (int)Math.Min(wide - 1, m.From * wide / t.Length);
                bar[at] = m.Kind switch
                {
                    "lost" => '┤',
                    "rekey refused" => '╳',
                    "reauthentication" => '┿',
                    _ => bar[at] is '┤' or '╳' ? bar[at] : '┼',
                };
            }

            var lost = t.Marks.FirstOrDefault(m => m.Layer == layer && m.Kind == "lost");
            var text = new string(bar);
            if (lost is not null && (int)Math.Min(wide - 1, lost.From * wide / t.Length) is var cut)
                text = text[..(cut + 1)] + new string('┄', wide - cut - 1);
            var first = t.Marks.First(m => m.Layer == layer || t.Marks.All(x => x.Layer != layer));
            s.Line($"{layer}  {text}");
            if (first.Layer == layer)
                s.Wrapped(
                    $"{first.Kind} by {first.By} at {Range(first)}{(lost is null ? "" : $", drops at {Range(lost)}")}; "
                        + string.Join(", ", t.Lives.Where(l => l.Layer == layer).Select(Expires)),
                    5,
                    "soft"
                );
        }

        foreach (var note in t.Notes)
            s.Wrapped(note, 0, "soft");
        static string Range(TimelineMark m) =>
            m.From == m.To
                ? Core.Quantities.Lifetime.Say(m.To)
                : $"{Core.Quantities.Lifetime.Say(m.From)} to {Core.Quantities.Lifetime.Say(m.To)}";
    }

    private static string Expires(LifeLine life) =>
        $"{life.End}'s SA expires at {(life.Drops is { } at ? Core.Quantities.Lifetime.Say(at) : "a time not known")}";
}
